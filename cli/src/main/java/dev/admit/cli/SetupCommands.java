package dev.admit.cli;

import dev.admit.contract.SetupView;
import dev.admit.contract.SetupWanted;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.dataformat.yaml.YAMLMapper;

@Command(
        name = "setup",
        description = "An issuer, or a piece of it, as one file: written out, compared, loaded.",
        subcommands = {
            SetupCommands.Export.class,
            SetupCommands.Compare.class,
            SetupCommands.Load.class,
            SetupCommands.Schema.class
        })
final class SetupCommands {

    @Command(
            name = "export",
            description = "Print the setup file of an issuer, or of one API or client.",
            footer = {"", "Example: admit setup export > harbour.yaml", "Example: admit setup export --api tides"})
    static final class Export implements Runnable {
        @Mixin
        Common common;

        @Option(names = "--api", paramLabel = "NAME", description = "Only this API, with its scopes and routes.")
        String api;

        @Option(names = "--client", paramLabel = "NAME", description = "Only this client.")
        String client;

        @Override
        public void run() {
            common.admin().text(common.path("setup") + Http.query("api", api, "client", client), common.out());
        }
    }

    /** A file, its stage, and what they refer to. */
    static final class TheFile {
        @Parameters(paramLabel = "FILE")
        Path file;

        @Option(
                names = "--stage",
                paramLabel = "FILE",
                description = "A second file with the values that differ here: addresses and limits.")
        Path stage;

        @Option(names = "--remove-unlisted", description = "Remove what the issuer has and the file does not list.")
        boolean removeUnlisted;

        @Spec(Spec.Target.MIXEE)
        CommandSpec command;

        /** The command that loads it, with all that was said. */
        String load(String issuer) {
            return Http.command("admit setup load %s", file)
                    + (stage == null ? "" : Http.command(" --stage %s", stage))
                    + (removeUnlisted ? " --remove-unlisted" : "")
                    + Http.command(" --confirm %s", issuer);
        }

        SetupWanted wanted() {
            String text = read(file);
            return stage == null
                    ? new SetupWanted(text, null, secrets(text), removeUnlisted)
                    : new SetupWanted(text, read(stage), secrets(text, read(stage)), removeUnlisted);
        }

        static String read(Path path) {
            try {
                return Files.readString(path);
            } catch (IOException unreadable) {
                throw new Failure(
                        Failure.WRONG_USAGE,
                        "%s cannot be read (%s). Name a setup file."
                                .formatted(path, unreadable.getClass().getSimpleName()));
            }
        }

        /**
         * What the clients' secrets refer to, here where the file lies. Whether the file is right, the service says,
         * line by line.
         */
        private Map<String, String> secrets(String... texts) {
            Map<String, String> secrets = new HashMap<>();
            for (String text : texts) {
                JsonNode whole;
                try {
                    whole = new YAMLMapper().readTree(text);
                } catch (JacksonException toldByTheService) {
                    continue;
                }
                secretsOf(whole.path("clients"), "", secrets);
                secretsOf(whole.path("upstream_credentials"), "upstream-credential ", secrets);
            }
            return secrets;
        }

        private void secretsOf(JsonNode things, String before, Map<String, String> secrets) {
            things.properties().forEach(one -> {
                JsonNode secret = one.getValue().path("secret");
                for (String how : List.of("from_env", "from_file")) {
                    if (secret.path(how).isString())
                        secrets.put(
                                before + one.getKey(),
                                resolve(one.getKey(), how, secret.path(how).asString()));
                }
            });
        }

        private String resolve(String client, String how, String where) {
            String value = how.equals("from_env")
                    ? Surroundings.of(command).variable(where)
                    : read(file.toAbsolutePath().resolveSibling(where)).strip();
            if (value == null || value.isBlank()) {
                throw new Failure(
                        Failure.WRONG_USAGE,
                        "The secret of %s is to come from %s, which is empty. Set it before loading."
                                .formatted(client, where));
            }
            return value;
        }
    }

    private static String changes(SetupView it) {
        return it.steps().size() == 1 ? "1 change" : it.steps().size() + " changes";
    }

    static void tell(Output out, SetupView it) {
        tell(out, it.steps());
        out.notes(it.notes());
    }

    /** What differs, one thing a line and its members beneath. */
    static void tell(Output out, List<SetupView.Step> steps) {
        for (SetupView.Step step : steps) {
            String mark =
                    switch (step.verb()) {
                        case "added" -> "+";
                        case "removed" -> "-";
                        default -> "~";
                    };
            out.line("%s %s".formatted(mark, step.what()));
            for (SetupView.Difference one : step.members()) {
                out.line("    %s: %s → %s"
                        .formatted(
                                one.member(),
                                one.before().isEmpty() ? "nothing" : Output.plain(one.before()),
                                one.after().isEmpty() ? "nothing" : Output.plain(one.after())));
            }
        }
    }

    @Command(
            name = "compare",
            description = "Show what loading a file would change.",
            footer = {"", "Example: admit setup compare harbour.yaml --stage live.yaml"})
    static final class Compare implements Runnable {
        @Mixin
        Common common;

        @Mixin
        TheFile file;

        @Override
        public void run() {
            Admin.Answer<SetupView> answer = common.admin().post("/setup/compare", file.wanted(), SetupView.class);
            common.say(answer.json(), () -> {
                tell(common.out(), answer.value());
                if (answer.value().steps().isEmpty())
                    common.out().done("Nothing would change: what runs is as the file says.", null);
                else
                    common.out()
                            .done(
                                    changes(answer.value()) + ", altogether or not at all.",
                                    file.load(answer.value().issuer()));
            });
        }
    }

    @Command(
            name = "load",
            description = "Load a file, altogether or not at all. What would change is shown first.",
            footer = {"", "Example: admit setup load harbour.yaml --confirm harbour"})
    static final class Load implements Callable<Integer> {
        @Mixin
        Common common;

        @Mixin
        TheFile file;

        @Option(
                names = "--confirm",
                paramLabel = "ISSUER",
                description = "The issuer's name: go on without showing first.")
        String confirm;

        @Override
        public Integer call() {
            SetupWanted wanted = file.wanted();
            if (confirm == null) {
                Admin.Answer<SetupView> would = common.admin().post("/setup/compare", wanted, SetupView.class);
                if (would.value().steps().isEmpty()) {
                    common.say(would.json(), () -> common.out()
                            .done("Nothing changes: what runs is as the file says.", null));
                    return 0;
                }
                common.say(would.json(), () -> {
                    tell(common.out(), would.value());
                    common.out()
                            .done(
                                    "Nothing is changed yet.",
                                    file.load(would.value().issuer()));
                });
                return Failure.REFUSED;
            }
            Admin.Answer<SetupView> answer = common.admin().post("/setup/load", wanted, SetupView.class);
            if (!confirm.equals(answer.value().issuer()))
                common.out()
                        .line("Note: the file is of the issuer "
                                + answer.value().issuer() + ".");
            common.say(answer.json(), () -> {
                tell(common.out(), answer.value());
                answer.value().made().forEach((client, secret) -> {
                    common.out().line("");
                    common.out().line(common.out().strong(client));
                    ShownSecret.tell(common.out(), secret);
                });
                common.out()
                        .done(
                                answer.value().steps().isEmpty()
                                        ? "Nothing changed: what runs is as the file says."
                                        : "It is live: " + changes(answer.value()) + ".",
                                "admit audit list");
            });
            return 0;
        }
    }

    @Command(
            name = "schema",
            description = "Print the JSON Schema of setup files, for editors.",
            footer = {"", "Example: admit setup schema > setup.schema.json"})
    static final class Schema implements Runnable {
        @Mixin
        Common common;

        @Override
        public void run() {
            common.out()
                    .json(common.admin().get("/setup/schema", JsonNode.class).json());
        }
    }
}
