package dev.admit.core.key;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class SealedJsonTest {
    private final MasterKey key = new MasterKey(MasterKey.generate());
    private final SealedJson sealed = new SealedJson(key, "one use", 1_000);

    @Test
    void whatWasSealedOpensAndSaysNothingOutside() {
        String text = sealed.seal(Map.of("who", "corin", "until", 12L));
        assertThat(text).matches("[A-Za-z0-9_-]+").doesNotContain("corin");
        assertThat(sealed.open(text).orElseThrow())
                .containsEntry("who", "corin")
                .containsEntry("until", 12L);
        assertThat(sealed.seal(Map.of("who", "corin")))
                .as("never twice the same")
                .isNotEqualTo(sealed.seal(Map.of("who", "corin")));
    }

    @Test
    void itOpensUnderItsOwnNameAndKeyAlone() {
        String text = sealed.seal(Map.of("who", "corin"));
        assertThat(new SealedJson(key, "another use", 1_000).open(text)).isEmpty();
        assertThat(new SealedJson(new MasterKey(MasterKey.generate()), "one use", 1_000).open(text))
                .isEmpty();
        assertThat(new SealedJson(key, "one use", 20).open(text))
                .as("longer than is looked at")
                .isEmpty();
    }

    @Test
    void oneChangedLetterIsNotIt() {
        String text = sealed.seal(Map.of("who", "corin"));
        for (int at = 0; at < text.length() - 1; at++) {
            char other = text.charAt(at) == 'A' ? 'B' : 'A';
            assertThat(sealed.open(text.substring(0, at) + other + text.substring(at + 1)))
                    .as("letter %d", at)
                    .isEmpty();
        }
    }

    @ParameterizedTest
    @ValueSource(strings = {"", "A", "not base64!", "====", "AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA"})
    void whatWasMadeUpIsNotIt(String text) {
        assertThat(sealed.open(text)).isEmpty();
    }
}
