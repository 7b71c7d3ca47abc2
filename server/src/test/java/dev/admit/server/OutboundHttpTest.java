package dev.admit.server;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.admit.core.trust.FindKeys;
import java.net.InetAddress;
import java.net.URI;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** An address that a client names leads nowhere inside. */
class OutboundHttpTest {

    @ParameterizedTest
    @CsvSource({
        "127.0.0.1, true",
        "10.1.2.3, true",
        "172.16.0.1, true",
        "192.168.1.1, true",
        "169.254.169.254, true",
        "100.64.0.1, true",
        "0.0.0.0, true",
        "224.0.0.1, true",
        "255.255.255.255, true",
        "::1, true",
        "fe80::1, true",
        "fc00::1, true",
        "fd12::1, true",
        "64:ff9b::7f00:1, true",
        "::ffff:10.0.0.1, true",
        "8.8.8.8, false",
        "172.32.0.1, false",
        "100.128.0.1, false",
        "2001:4860:4860::8888, false"
    })
    void innerAddressesAreKnown(String address, boolean inner) throws Exception {
        assertThat(OutboundHttp.isInner(InetAddress.getByName(address))).isEqualTo(inner);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "http://keys.example/jwks",
                "https://127.0.0.1/jwks",
                "https://localhost/jwks",
                "https://[::1]/jwks",
                "https://10.0.0.1/jwks",
                "https://u:p@keys.example/jwks",
                "file:///etc/passwd",
                "ftp://keys.example/"
            })
    void nothingButHttpsToTheOutsideIsFetched(String address) {
        assertThat(new OutboundHttp(OutboundHttp.Reach.OUTSIDE).keysAt(URI.create(address)))
                .isEmpty();
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "http://127.0.0.1:1/jwks",
                "http://localhost:1/jwks",
                "https://10.0.0.1/jwks",
                "https://169.254.169.254/latest",
                "https://[fd12::1]/jwks"
            })
    void aServerOutsideNamesNoAddressInside(String address) {
        OutboundHttp fetch = new OutboundHttp(OutboundHttp.Reach.ANYWHERE);
        URI outside = URI.create("https://8.8.8.8/.well-known/openid-configuration");
        assertThatThrownBy(() -> fetch.from(URI.create(address), outside))
                .isInstanceOf(FindKeys.NotFetched.class)
                .hasMessageContaining("inside this network");
        assertThatThrownBy(() -> fetch.post(URI.create(address), outside, null, "grant_type=x"))
                .isInstanceOf(FindKeys.NotFetched.class)
                .hasMessageContaining("inside this network");
    }

    @Test
    void aServerInsideMayNameAnother() {
        OutboundHttp fetch = new OutboundHttp(OutboundHttp.Reach.ANYWHERE);
        assertThatThrownBy(() ->
                        fetch.from(URI.create("http://127.0.0.1:1/jwks"), URI.create("http://localhost:2/metadata")))
                .as("it was tried, and nobody is there")
                .isInstanceOf(FindKeys.NotFetched.class)
                .satisfies(why -> assertThat(why.getMessage()).doesNotContain("inside this network"));
    }
}
