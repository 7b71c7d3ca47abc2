package dev.admit.core.token;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.util.Base64;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class CompactJwsTest {
    private static final long SEED = 20_271_128;
    private static final String GOOD = part("{\"alg\":\"ES256\",\"kid\":\"k\"}") + "." + part("{\"iss\":\"x\",\"n\":1}")
            + "." + Base64.getUrlEncoder().withoutPadding().encodeToString(new byte[64]);

    private static String part(String json) {
        return Base64.getUrlEncoder().withoutPadding().encodeToString(json.getBytes(StandardCharsets.UTF_8));
    }

    private static boolean isRead(String header, String payload) {
        return CompactJws.read(part(header) + "." + part(payload) + "." + part("signature"))
                .isPresent();
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "null",
                "[]",
                "1",
                "\"x\"",
                "true",
                "",
                " ",
                "{",
                "{}x",
                "{} {}",
                "{'a':1}",
                "{a:1}",
                "{\"a\":1,}",
                "{\"a\":1,\"a\":2}",
                "{\"a\":{\"b\":1,\"b\":1}}",
                "{\"a\":1,\"\\u0061\":2}",
                "{\"a\":NaN}",
                "{\"a\":01}",
                "{\"a\":1e999999999}",
                "//x\n{}",
                "{\"a\":\"\n\"}",
                "\uFEFF{}"
            })
    void whatIsNoObjectToTheLetterIsNotRead(String json) {
        assertThat(isRead(json, "{\"iss\":\"x\"}")).as("as a header").isFalse();
        assertThat(isRead("{\"alg\":\"ES256\"}", json)).as("as a payload").isFalse();
    }

    @Test
    void nestingComesToAnEnd() {
        assertThat(isRead("{\"alg\":\"ES256\"}", "{\"a\":" + "[".repeat(5_000) + "]".repeat(5_000) + "}"))
                .isFalse();
        assertThat(isRead("{\"alg\":\"ES256\"}", "{\"a\":".repeat(1_000) + "1" + "}".repeat(1_000)))
                .isFalse();
        assertThat(isRead("{\"alg\":\"ES256\"}", "{\"a\":[[{\"b\":[1]}]]}")).isTrue();
    }

    @Test
    void oneTokenHasOneSpelling() {
        assertThat(CompactJws.read(GOOD)).isPresent();
        Random random = new Random(SEED);
        String alphabet = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789-_";
        int last = alphabet.indexOf(GOOD.charAt(GOOD.length() - 1));
        for (int bits = 1; bits < 16; bits++) { // 64 bytes end in a character of which four bits stand for nothing
            assertThat(CompactJws.read(GOOD.substring(0, GOOD.length() - 1) + alphabet.charAt(last ^ bits)))
                    .as("%d", bits)
                    .isEmpty();
        }
        for (String more : List.of("=", "==", " ", "\n", "\t", "\r\n", ".", "%3D", "\u00a0")) {
            assertThat(CompactJws.read(GOOD + more)).isEmpty();
            assertThat(CompactJws.read(more + GOOD)).isEmpty();
            assertThat(CompactJws.read(GOOD.replaceFirst("\\.", more + "."))).isEmpty();
        }
        assertThat(CompactJws.read(GOOD.replace('-', '+').replace('_', '/') + "+"))
                .isEmpty();
        for (int i = 0; i < 2_000; i++) {
            int at = random.nextInt(GOOD.length());
            String other = GOOD.substring(0, at) + (char) (32 + random.nextInt(200)) + GOOD.substring(at + 1);
            // Whatever is read is another token, never this one in another spelling.
            CompactJws.read(other).ifPresent(it -> assertThat(
                            new String(it.signingInput(), StandardCharsets.US_ASCII) + "." + it.signature())
                    .isEqualTo(other));
        }
    }

    @Test
    void valuesOfEveryTypeInEveryPlaceAreReadOrNotButNeverThrown() {
        List<String> values = List.of(
                "null",
                "[]",
                "{}",
                "1",
                "-1",
                "1.5",
                "1e400",
                "\"\"",
                "\"x\"",
                "true",
                "[null]",
                "[[1]]",
                "{\"x\":null}",
                "99999999999999999999",
                "\"\\ud800\"");
        List<String> names = List.of(
                "alg",
                "kid",
                "typ",
                "crit",
                "jku",
                "jwk",
                "x5c",
                "b64",
                "iss",
                "sub",
                "aud",
                "exp",
                "nbf",
                "iat",
                "jti",
                "scope",
                "client_id",
                "act",
                "cnf",
                "auth_time",
                "acr");
        for (String name : names) {
            for (String value : values) {
                String json = "{\"alg\":\"ES256\",\"iss\":\"x\"}"
                        .replaceFirst("\\{", "{\"" + name + "\":" + value + ",")
                        .replaceFirst(",\"" + name + "\":\"[^\"]*\"", "");
                CompactJws.read(part(json) + "." + part(json) + "." + part("s"));
            }
        }
    }
}
