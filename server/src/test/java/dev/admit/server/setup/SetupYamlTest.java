package dev.admit.server.setup;

import static org.assertj.core.api.Assertions.assertThat;

import dev.admit.core.change.FieldFault;
import dev.admit.core.setup.Setup;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** A setup file as text: read with the place of what is wrong, whatever a person makes of it. */
class SetupYamlTest {
    private static final String FILE = """
            issuer: harbour
            apis:
              tides:
                audience: https://tides.saltmarsh.example
                scopes:
                  tides.read: {effect: reads}
            clients:
              desk: {redirect_uris: ["https://a.example/back", "https://b.example/back"]}
            """;

    private static SetupYaml.Reading.Good good(String file, String stage) {
        return (SetupYaml.Reading.Good) SetupYaml.read(file, Optional.ofNullable(stage));
    }

    private static FieldFault fault(String file, String stage) {
        return ((SetupYaml.Reading.Malformed) SetupYaml.read(file, Optional.ofNullable(stage)))
                .faults()
                .getFirst();
    }

    @ParameterizedTest(name = "{0} at {1}")
    @CsvSource({
        "/issuer, 'line 1, column 1'",
        "/apis/tides/audience, 'line 4, column 5'",
        "/apis/tides/scopes/tides.read/effect, 'line 6, column 20'",
        "/clients/desk/redirect_uris/1, 'line 8, column 52'"
    })
    void everyMemberHasItsPlace(String pointer, String place) {
        assertThat(good(FILE, null).places()).containsEntry(pointer, place);
    }

    @Test
    void aFaultTakesTheNearestPlaceAroundIt() {
        FieldFault placed = SetupYaml.placed(
                new FieldFault("/apis/tides/upstream", "an address", "nothing", "Add it."),
                good(FILE, null).places());
        assertThat(placed.received()).isEqualTo("nothing at line 3, column 3");
        assertThat(SetupYaml.placed(
                                new FieldFault("/elsewhere", "x", "y", "z"),
                                good(FILE, null).places())
                        .received())
                .isEqualTo("y");
    }

    @Test
    void whatIsWrittenReadsAsTheSame() {
        Setup setup = good(FILE, null).setup();
        String written = SetupYaml.write(setup, "as it was");
        assertThat(written)
                .startsWith("# as it was\nissuer: harbour\n\napis:\n")
                .doesNotContain("null");
        assertThat(good(written, null).setup()).isEqualTo(setup);
    }

    @Test
    void wordsThatYamlWouldTakeForSomethingElseSurvive() {
        Setup.ClientPart part = new Setup.ClientPart(
                "no",
                "yes: # not a comment",
                null,
                null,
                null,
                List.of("on", "1.0", "~", "- x", "a\u00e9🦀"),
                null,
                null,
                null,
                null,
                null,
                null,
                null,
                null,
                null,
                null,
                null,
                null,
                null,
                null,
                null,
                null,
                null,
                null,
                null);
        Setup setup =
                new Setup("harbour", "null", null, null, null, null, null, java.util.Map.of("desk", part), null, null);
        assertThat(good(SetupYaml.write(setup, "x"), null).setup()).isEqualTo(setup);
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource(delimiter = '|', textBlock = """
            empty        |                                                      | issuer
            a list       | [1, 2]                                               | another type
            two members  | {issuer: a, issuer: b}                               | YAML
            a tab        | "issuer:\\n\\tx: 1"                                  | another type
            a tag        | issuer: !!java.lang.Runtime [x]                      | another type
            a number     | {issuer: [harbour]}                                  | another type
            no end       | {issuer: harbour                                     | YAML""")
    void whatIsNoSetupFileIsTold(String what, String file, String expected) {
        assertThat(fault(file == null ? "" : file, null).expected() + " "
                        + fault(file == null ? "" : file, null).fix())
                .contains(expected);
    }

    @Test
    void bombsAreRefusedBeforeTheyGrow() {
        assertThat(fault("issuer: " + "[".repeat(100_000), null).received()).isNotEmpty();
        assertThat(fault("issuer: x\n" + "a: ".repeat(1) + "{a: ".repeat(5_000), null)
                        .received())
                .isNotEmpty();
        StringBuilder laughs =
                new StringBuilder("issuer: harbour\ntitle: &a0 [lol, lol, lol, lol, lol, lol, lol, lol, lol]\n");
        for (int i = 1; i < 10; i++)
            laughs.append("x%d: &a%d [%s]\n".formatted(i, i, ("*a%d, ".formatted(i - 1)).repeat(9)));
        assertThat(fault(laughs.toString(), null).received()).isNotEmpty();
        assertThat(fault("#" + "x".repeat(2_000_001), null).expected()).contains("at most 2000000 characters");
    }

    @Test
    void aStagesFileCannotSayWhoMayDoWhat() {
        assertThat(good(FILE, "apis: {tides: {audience: 'https://other.example'}}")
                        .setup()
                        .apis()
                        .get("tides")
                        .audience())
                .isEqualTo("https://other.example");
        assertThat(fault(FILE, "apis: {tides: {scopes: {tides.read: {effect: changes}}}}")
                        .received())
                .contains("'effect' at line 1, column 38 of the stage's file");
        assertThat(fault(FILE, "clients: {nobody: {redirect_uris: []}}").expected())
                .isEqualTo("something that the setup file has too");
        assertThat(fault(FILE, "issuer: other").pointer()).isEqualTo("/issuer");
        assertThat(good(FILE, "issuer: harbour").setup().issuer())
                .as("saying the same is no difference")
                .isEqualTo("harbour");
        assertThat(fault(FILE, "apis: {tides: {upstrem: x}}").received())
                .contains("the unknown member 'upstrem' at line 1, column 16 of the stage's file");
    }

    /** What stands under its name says it there and nowhere else. */
    @Test
    void aNameIsNotSaidTwice() {
        assertThat(fault("issuer: harbour\napis:\n  tides:\n    scopes:\n      tides.read: {name: x}", null)
                        .received())
                .contains("the unknown member 'name' at line 5");
        assertThat(fault("issuer: harbour\nsettings: {title: x}", null).pointer())
                .isEqualTo("/settings/title");
        assertThat(SetupSchema.schema().toString())
                .doesNotContain("properties={name=")
                .contains("listed=");
    }
}
