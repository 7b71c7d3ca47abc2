package dev.admit.gateway;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Whose word on the caller's address is taken. */
class TrustedProxiesTest {
    private final TrustedProxies proxies = TrustedProxies.of(List.of("10.0.0.0/8", "192.0.2.7", "2001:db8::/32"));

    @ParameterizedTest(name = "{0} says {1}: {2}")
    @CsvSource(delimiter = '|', nullValues = "nothing", textBlock = """
            203.0.113.1  | 198.51.100.9                           | 203.0.113.1
            10.1.2.3     | nothing                                | 10.1.2.3
            10.1.2.3     | 198.51.100.9                           | 198.51.100.9
            10.1.2.3     | 1.1.1.1, 198.51.100.9                  | 198.51.100.9
            10.1.2.3     | 1.1.1.1, 198.51.100.9, 192.0.2.7       | 198.51.100.9
            192.0.2.7    | 10.9.9.9, 10.8.8.8                     | 10.9.9.9
            10.1.2.3     | [2001:db9::1]:8080                     | 2001:db9::1
            2001:db8::5  | 2001:db9::1                            | 2001:db9::1
            10.1.2.3     | unknown                                | 10.1.2.3
            10.1.2.3     | localhost, 10.4.4.4                    | 10.4.4.4
            10.1.2.3     | 198.51.100.9, _hidden                  | 10.1.2.3
            10.1.2.3     | 198.51.100.9, 10.1                     | 10.1.2.3
            10.1.2.3     | 198.51.100.9,                          | 198.51.100.9""")
    void theLastStrangerInTheListIsTheCaller(String peer, String forwarded, String caller) {
        assertThat(proxies.caller(peer, forwarded)).isEqualTo(caller);
    }

    @Test
    void withoutTrustedOnesTheHeaderSaysNothing() {
        assertThat(TrustedProxies.of(List.of()).caller("10.1.2.3", "198.51.100.9"))
                .isEqualTo("10.1.2.3");
    }

    @ParameterizedTest
    @ValueSource(strings = {"nowhere.example", "10.0.0.0/99", "10.0.0", "*"})
    void whatIsNoAddressIsNotTrusted(String pattern) {
        assertThatThrownBy(() -> TrustedProxies.of(List.of(pattern))).isInstanceOf(IllegalArgumentException.class);
    }
}
