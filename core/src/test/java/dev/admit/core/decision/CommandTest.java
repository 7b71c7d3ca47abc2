package dev.admit.core.decision;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
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
    void onlyWhatItIsDoneToIsCalledByItsName() {
        assertThat(line(Action.of("client", "show", "tides").named("tides", "tide-desk")))
                .isEqualTo("admit client show tide-desk");
        assertThat(line(Action.of("approval", "grant", "tide-desk", "tides").named("tides", "other")))
                .isEqualTo("admit approval grant tide-desk tides");
        assertThat(line(Action.of("person", "change", "pe_1")
                        .with("add-role", "pilot")
                        .named("pe_1", "a`x`@saltmarsh.example")))
                .isEqualTo("admit person change 'a`x`@saltmarsh.example' --add-role pilot");
    }

    @Test
    void anActIsAtTheIssuerThatIsMeantUnlessItIsOfNone() {
        assertThat(line(Action.of("client", "show", "buoy").at("harbour").at("gullwing")))
                .isEqualTo("admit client show buoy --issuer harbour");
        assertThat(line(Action.of("issuer", "change", "harbour")
                        .with("add-grant-type", "refresh_token")
                        .at("harbour")))
                .isEqualTo("admit issuer change harbour --add-grant-type refresh_token");
        assertThat(line(Action.onRoute("show", "GET,POST /tides/{gauge}")))
                .isEqualTo("admit route show GET,POST '/tides/{gauge}'");
    }

    @Test
    void aLineOfBeforeIsReadAsTheActItWas() {
        for (Action action : List.of(
                Action.of("route", "list"),
                Action.of("approval", "grant", "buoy", "two words").at("harbour"),
                Action.of("person", "reset", "it's@saltmarsh.example").with("factor", ""),
                Action.of("trusted-issuer", "change", "ti_1")
                        .with("add-scope", "sea.wide=tides.read")
                        .at("harbour"),
                Action.of("token", "fetch", "desk").with("scope", "a b").with("issuer-like", "$(x)")))
            assertThat(Command.read(line(action))).as(line(action)).contains(action);
        assertThat(Command.read("Check both.")).isEmpty();
    }

    /** What was kept is read whatever it is: a decision that cannot be shown explains nothing. */
    @Test
    void aLineThatIsNoActStopsNobodyFromReadingItsDecision() {
        assertThat(Command.read("admit token fetch desk --scope a b")).isEmpty();
        assertThat(Command.read("admit sign-in --credential FILE").map(Command::line))
                .contains("admit sign-in --credential FILE");
        assertThat(Command.read("admit client show '")).isPresent();
        String longest = "x".repeat(200_000);
        assertThat(Command.read("admit client show " + longest).orElseThrow().on())
                .containsExactly(longest);
    }

    private static String line(Action action) {
        return Command.line(action);
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
