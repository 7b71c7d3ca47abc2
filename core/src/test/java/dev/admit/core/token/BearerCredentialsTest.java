package dev.admit.core.token;

import static org.assertj.core.api.Assertions.assertThat;

import dev.admit.core.decision.Endpoint;
import dev.admit.core.decision.Recorder;
import java.time.Instant;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class BearerCredentialsTest {

    private static String verdict(List<String> headers, String query) {
        Recorder decision = new Recorder(Endpoint.GATEWAY, Instant.EPOCH);
        String token = decision.take(BearerCredentials.read(headers, query));
        return token != null ? token : decision.refusal().orElseThrow().reason().toString();
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(delimiter = '|', textBlock = """
            Bearer abc.def-_~+/==   | abc.def-_~+/==
            bearer abc              | abc
            BEARER   abc            | abc
            Basic abc               | no-token
            Bearerabc               | no-token
            Bearer                  | malformed-authorization
            Bearer a b              | malformed-authorization
            Bearer a,b              | malformed-authorization
            Bearer "abc"            | malformed-authorization
            Bearer =abc             | malformed-authorization
            Bearer ===              | malformed-authorization
            Bearer abc, Bearer def  | malformed-authorization""")
    void theHeaderIsReadToTheLetter(String header, String verdict) {
        assertThat(verdict(List.of(header), null)).isEqualTo(verdict);
    }

    @Test
    void twoHeadersAreTwoTokens() {
        assertThat(verdict(List.of("Bearer a", "Bearer a"), null)).isEqualTo("two-tokens");
    }

    @ParameterizedTest(name = "?{0}: {1}")
    @CsvSource(textBlock = """
            access_token=abc,       token-in-query
            a=b&access_token=abc,   token-in-query
            access_token,           token-in-query
            my_access_token=abc,    abc
            access_tokens=abc,      abc
            q=access_token,         abc""")
    void aTokenInTheQueryIsRefusedEvenBesideAGoodOne(String query, String verdict) {
        assertThat(verdict(List.of("Bearer abc"), query)).isEqualTo(verdict);
    }
}
