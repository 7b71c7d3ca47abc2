package dev.admit.core.person;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class TimeCodeTest {
    private static final byte[] SEED = "12345678901234567890".getBytes(StandardCharsets.US_ASCII);

    /** The vectors of RFC 6238, appendix B, for HMAC-SHA-1; of their eight digits the last six. */
    @ParameterizedTest
    @CsvSource({
        "59, 287082",
        "1111111109, 081804",
        "1111111111, 050471",
        "1234567890, 005924",
        "2000000000, 279037",
        "20000000000, 353130"
    })
    void itSaysWhatTheStandardSays(long seconds, String code) {
        assertThat(TimeCode.at(SEED, Instant.ofEpochSecond(seconds))).isEqualTo(code);
    }

    @Test
    void aClockMayBeOneStepOff() {
        Instant now = Instant.ofEpochSecond(1_234_567_890);
        String code = TimeCode.at(SEED, now);
        assertThat(TimeCode.stepOf(code, SEED, now)).hasValue(1_234_567_890 / 30);
        assertThat(TimeCode.stepOf(code, SEED, now.plusSeconds(30))).hasValue(1_234_567_890 / 30);
        assertThat(TimeCode.stepOf(code, SEED, now.plusSeconds(60))).isEmpty();
        assertThat(TimeCode.stepOf("", SEED, now)).isEmpty();
    }

    @Test
    void aSeedIsWrittenAsAuthenticatorsTakeIt() {
        assertThat(TimeCode.base32("foobar".getBytes(StandardCharsets.US_ASCII)))
                .as("RFC 4648 §10")
                .isEqualTo("MZXW6YTBOI");
    }
}
