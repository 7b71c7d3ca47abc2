package dev.admit.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import picocli.CommandLine;
import picocli.CommandLine.Model.ArgSpec;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Model.OptionSpec;
import picocli.CommandLine.Model.PositionalParamSpec;

/** {@code docs/cli.md} ends with what the commands say of themselves; its first half is written by hand. */
class CommandReferenceTest {
    private static final String MADE = "<!-- From here on made by CommandReferenceTest. -->\n";
    /** Those of every command are told once. */
    private static final List<String> EVERYWHERE =
            List.of("--help", "--version", "--json", "--issuer", "--server", "--debug");

    @Test
    void theReferenceIsMadeFromTheCommands() throws IOException {
        Path file = Path.of(System.getProperty("basedir", ".")).resolve("../docs/cli.md");
        String text = Files.readString(file);
        String fresh = text.substring(0, text.indexOf(MADE) + MADE.length()) + reference();
        if ("write".equals(System.getProperty("admit.docs"))) Files.writeString(file, fresh);
        assertThat(Files.readString(file))
                .as("mvn test -pl cli -am -Dtest=CommandReferenceTest -Dadmit.docs=write makes it anew")
                .isEqualTo(fresh);
    }

    /** A reader of help finds a sentence behind every option and every word. */
    @Test
    void everyOptionSaysWhatItDoes() {
        List<String> silent = new ArrayList<>();
        each(Admit.commandLine(Surroundings.ofProcess()), "admit", (name, command) -> {
            for (ArgSpec one : command.args())
                if (one instanceof OptionSpec
                        && !hidden(one)
                        && String.join("", one.description()).isBlank()) silent.add(name + " " + label(one));
        });
        assertThat(silent).isEmpty();
    }

    /** What stands for a member of the admin API says what its record says, in help as in the reference. */
    @Test
    void anOptionSpeaksWithTheSentenceOfItsMember() {
        CommandLine line = Admit.commandLine(Surroundings.ofProcess());
        each(line, "admit", (name, command) -> assertThat(command.commandLine().getUsageMessage())
                .as(name)
                .doesNotContainPattern("\\{[A-Z]\\w+\\.\\w+}"));
        String help =
                line.getSubcommands().get("client").getSubcommands().get("add").getUsageMessage();
        assertThat(help.replaceAll("\\s+", " "))
                .contains("Who answers for it: a name, an address or a number; may be said again.")
                .doesNotContain("{ClientWanted");
    }

    private interface Each {
        void with(String name, CommandSpec command);
    }

    private static void each(CommandLine line, String name, Each then) {
        if (line.getSubcommands().isEmpty()) then.with(name, line.getCommandSpec());
        line.getSubcommands().forEach((word, sub) -> {
            if (!word.equals("help")) each(sub, name + " " + word, then);
        });
    }

    private static String reference() {
        StringBuilder text = new StringBuilder("\n## Every command\n");
        each(Admit.commandLine(Surroundings.ofProcess()), "admit", (name, command) -> {
            text.append("\n### %s\n\n%s\n"
                    .formatted(name, said(command.usageMessage().description())));
            List<ArgSpec> own = command.args().stream()
                    .filter(it -> !hidden(it) && !(it instanceof OptionSpec option && isEverywhere(option)))
                    .toList();
            if (own.isEmpty()) return;
            text.append("\n| word or option | |\n| --- | --- |\n");
            own.forEach(it -> text.append("| `%s` | %s |\n".formatted(label(it), said(it.description()))));
        });
        return text.toString();
    }

    private static boolean isEverywhere(OptionSpec option) {
        return Arrays.stream(option.names()).anyMatch(EVERYWHERE::contains);
    }

    private static boolean hidden(ArgSpec one) {
        return one.hidden();
    }

    private static String label(ArgSpec one) {
        String value = one.arity().max() == 0 ? "" : one.paramLabel();
        if (one instanceof PositionalParamSpec word) return word.paramLabel();
        return (String.join(", ", ((OptionSpec) one).names()) + " " + value).strip();
    }

    private static String said(String[] lines) {
        return Arrays.stream(lines)
                .map(Descriptions::told)
                .map(it -> it.replace("%n", " ").replace("%%", "%").replaceAll("@\\|[^ ]+ (.*?)\\|@", "$1"))
                .collect(Collectors.joining(" "))
                .replaceAll("\\s+", " ")
                .replace("|", "\\|")
                .replace("<", "&lt;")
                .strip();
    }
}
