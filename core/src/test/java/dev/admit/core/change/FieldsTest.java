package dev.admit.core.change;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class FieldsTest {
    private final Fields fields = new Fields();

    @ParameterizedTest(name = "name ''{0}'': {1}")
    @CsvSource(nullValues = "null", textBlock = """
            tide-buoy-07,  good
            a,             good
            null,          bad
            '',            bad
            '   ',         bad
            Tide,          bad
            a--b,          bad
            -a,            bad
            a_b,           bad
            a b,           bad
            tïde,          bad
            ../etc,        bad""")
    void namesAreLowerCaseWordsWithHyphens(String name, String verdict) {
        fields.name("/name", name);
        assertThat(fields.faulty()).isEqualTo(verdict.equals("bad"));
    }

    @Test
    void spacesAreTakenOffAndThatIsTold() {
        assertThat(fields.name("/name", "  tides\t")).isEqualTo("tides");
        assertThat(fields.notes()).containsExactly("Spaces around name were taken off.");
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "a\nb",
                "a\r\nSet-Cookie: x",
                "a\u0000b",
                "a\u202Eb",
                "a\u200Bb",
                "a\u2028b",
                "\uD800",
                "\u0085x\u0085y"
            })
    void linesHoldNoHiddenCharacter(String text) {
        fields.line("/title", text, null, 100);
        assertThat(fields.faults()).singleElement().satisfies(fault -> assertThat(fault.received())
                .startsWith("the character U+")
                .doesNotContain("\n"));
    }

    @ParameterizedTest(name = "audience {0}: {1}")
    @CsvSource(nullValues = "null", textBlock = """
            https://tides.saltmarsh.example,      good
            urn:harbour:tides,                    good
            http://127.0.0.1:9470/x,              good
            tides,                                bad
            /tides,                               bad
            https://tides.example#part,           bad
            https://tides.example/#,              bad
            https://,                             bad
            https:tides,                          bad
            'https://tides example',              bad
            null,                                 bad""")
    void audiencesAreAbsoluteUrisWithoutFragment(String audience, String verdict) {
        fields.absoluteUri("/audience", audience);
        assertThat(fields.faulty()).isEqualTo(verdict.equals("bad"));
    }

    @ParameterizedTest(name = "upstream {0}: {1}")
    @CsvSource(textBlock = """
            http://127.0.0.1:9481,           http://127.0.0.1:9481
            http://127.0.0.1:9481/base/,     http://127.0.0.1:9481/base
            ftp://x.example,                 bad
            file:///etc/passwd,              bad
            http://a:b@x.example,            bad
            http://x.example?q=1,            bad""")
    void upstreamsCanBeCalled(String upstream, String expected) {
        assertThat(fields.upstream("/upstream", upstream).map(Object::toString).orElse("bad"))
                .isEqualTo(expected);
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(textBlock = """
            15m,   PT15M
            8h,    PT8H
            90d,   PT2160H
            0d,    bad
            -1d,   bad
            5,     bad
            1y,    bad
            999999d, bad""")
    void lengthsOfTimeAreANumberAndAUnit(String text, String expected) {
        assertThat(fields.duration("/lifetime", text, Duration.ZERO, Duration.ofDays(400))
                        .map(Object::toString)
                        .orElse("bad"))
                .isEqualTo(expected);
    }

    @Test
    void faultsAreCollectedAndLongValuesAreShortened() {
        fields.name("/name", "X".repeat(500));
        fields.line("/title", "y".repeat(500), null, 200);
        assertThat(fields.faults()).hasSize(2);
        assertThat(fields.faults().getFirst().received()).hasSizeLessThan(100);
    }
}
