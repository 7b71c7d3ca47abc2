package dev.admit.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.PrintWriter;
import java.io.StringWriter;
import java.time.Instant;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class OutputTest {
    private static final Instant NOW = Instant.parse("2026-06-01T12:00:00Z");
    private final StringWriter written = new StringWriter();
    private final Output plain = new Output(new PrintWriter(written), false, " --issuer pier");
    private final Output coloured = new Output(new PrintWriter(written), true, "");

    @Test
    void tablesFitAHundredColumnsAndTheNamedColumnGivesWay() {
        plain.table(List.of("A", "B", "C"), List.of(List.of("short", "long ".repeat(40), "whole")), 1);
        assertThat(written.toString().lines())
                .allSatisfy(line -> assertThat(line.length()).isLessThanOrEqualTo(100));
        assertThat(written.toString()).contains("short").contains("…").contains("whole");
    }

    @Test
    void aNameThatIsTooLongStandsWholeAndItsRowGoesOnBeneath() {
        String name = "n".repeat(70);
        plain.table(
                List.of("NAME", "KIND", "LIFE", "WORDS"),
                List.of(
                        List.of("short", "both", "in-use", "Many words ".repeat(9)),
                        List.of(name, "x".repeat(20), "closing", "w")),
                3);
        assertThat(written.toString().lines()).hasSize(4).allSatisfy(line -> assertThat(line.length())
                .isLessThanOrEqualTo(100));
        List<String> lines = written.toString().lines().toList();
        assertThat(lines.get(2)).isEqualTo(name);
        assertThat(lines.get(3).indexOf("x".repeat(20)))
                .isEqualTo(lines.get(0).indexOf("KIND"))
                .isEqualTo(lines.get(1).indexOf("both"));
        assertThat(lines.get(3).indexOf("closing")).isEqualTo(lines.get(1).indexOf("in-use"));
    }

    @Test
    void whatCameFromElsewhereCannotSteerTheTerminal() {
        plain.table(List.of("A"), List.of(List.of("\u001b[2J\u0007gone\u009b")));
        plain.fields("Name", "\u001b]0;title\u0007");
        assertThat(written.toString())
                .doesNotContain("\u001b")
                .doesNotContain("\u0007")
                .doesNotContain("\u009b")
                .contains("gone");
    }

    @Test
    void aVerdictIsToldByShapeAndWordAlsoWithoutColour() {
        assertThat(plain.verdict("admitted")).isEqualTo("● admitted");
        assertThat(plain.verdict("refused")).isEqualTo("⊟ refused");
        assertThat(plain.verdict("waiting")).isEqualTo("◐ waiting");
        assertThat(coloured.verdict("refused")).contains("\u001b[31m").contains("⊟ refused");
    }

    @Test
    void colourInATableLeavesItsColumnsAlone() {
        coloured.table(List.of("V", "X"), List.of(List.of("● admitted", "x"), List.of("⊟ no", "x")));
        List<Integer> places = written.toString()
                .lines()
                .skip(1)
                .map(line -> line.replaceAll("\u001b\\[\\d+m", "").indexOf('x'))
                .toList();
        assertThat(places).containsExactly(12, 12);
    }

    @Test
    void theNextStepMeansTheSameIssuer() {
        plain.done("Done.", "admit api list");
        assertThat(written.toString()).contains("Next: admit api list --issuer pier");
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(textBlock = """
            2026-06-01T12:00:30Z, in 30 s
            2026-06-01T11:46:00Z, 14 min ago
            2026-06-01T20:00:00Z, in 8 h
            2026-08-30T11:59:58Z, in 90 days""")
    void timesAreToldFromNow(Instant time, String told) {
        assertThat(Output.relative(time, NOW)).isEqualTo(told);
        assertThat(Output.when(time, NOW)).isEqualTo(told + " (" + time + ")");
    }

    @Test
    void longValuesGoOnUnderThemselves() {
        plain.fields("Name", "word ".repeat(60).strip(), "Empty", "", "Other", "x");
        assertThat(written.toString().lines())
                .allSatisfy(line -> assertThat(line.length()).isLessThanOrEqualTo(100));
        assertThat(written.toString()).doesNotContain("Empty").contains("\n       word");
    }
}
