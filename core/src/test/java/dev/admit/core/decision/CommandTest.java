package dev.admit.core.decision;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class CommandTest {
    @ParameterizedTest(name = "{0}")
    @CsvSource(
            quoteCharacter = '"',
            value = {"tides.read,tides.read", "two words,'two words'", "it's,'it'\\''s'", "$(x),'$(x)'", "*,'*'"})
    void aWordIsTakenAsItStands(String word, String quoted) {
        assertThat(Command.of("approval", "grant", "buoy", word)).isEqualTo("admit approval grant buoy " + quoted);
    }

    @Test
    void onlyTheFirstArgumentIsCalledByItsName() {
        assertThat(Command.named("admit client show tides", "tides", "tide-desk"))
                .isEqualTo("admit client show tide-desk");
        assertThat(Command.named("admit approval grant tide-desk tides.read", "tides", "tide-desk"))
                .isEqualTo("admit approval grant tide-desk tides.read");
        assertThat(Command.named("admit token fetch tides --scope 'a tides b'", "tides", "tide-desk"))
                .isEqualTo("admit token fetch tide-desk --scope 'a tides b'");
        assertThat(Command.named("admit person change pe_1 --add-role pilot", "pe_1", "a`x`@saltmarsh.example"))
                .isEqualTo("admit person change 'a`x`@saltmarsh.example' --add-role pilot");
    }

    @Test
    void theIssuerIsNamedOnceAndWhereItCounts() {
        assertThat(Command.at("harbour", "Look with: admit client show buoy"))
                .isEqualTo("Look with: admit client show buoy --issuer harbour");
        assertThat(Command.at("harbour", "admit client show buoy --issuer gullwing"))
                .isEqualTo("admit client show buoy --issuer gullwing");
        assertThat(Command.at("harbour", "admit issuer change harbour --domain x"))
                .isEqualTo("admit issuer change harbour --domain x");
        assertThat(Command.at("harbour", "Check both.")).isEqualTo("Check both.");
    }
}
