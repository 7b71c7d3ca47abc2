package dev.admit.cli;

import dev.admit.contract.Changed;
import dev.admit.contract.PlanOperation;
import dev.admit.contract.PlanView;
import dev.admit.contract.PlanWanted;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.JsonNode;

@Command(
        name = "plan",
        description = "Plans: calls and limits that clients subscribe to.",
        subcommands = {
            PlanCommands.ListAll.class,
            PlanCommands.Show.class,
            PlanCommands.Add.class,
            PlanCommands.Change.class,
            PlanCommands.Remove.class
        })
final class PlanCommands {

    @Command(
            name = "list",
            description = "List the plans.",
            footer = {"", "Example: admit plan list"})
    static final class ListAll implements Runnable {
        @Mixin
        Common common;

        @Override
        public void run() {
            List<PlanView> all = common.admin().list(common.path("plans"), PlanView.class, 10_000);
            common.say(all, () -> {
                if (all.isEmpty())
                    common.out().done("No plan yet.", "admit plan add NAME --operation 'API GET /path/**'");
                else
                    common.out()
                            .table(
                                    List.of("PLAN", "APIS", "LIMITS", "APPROVAL", "CLIENTS", "WAITING"),
                                    all.stream()
                                            .map(it -> List.of(
                                                    it.name(),
                                                    String.join(
                                                            " ",
                                                            it.operations().stream()
                                                                    .map(PlanOperation::api)
                                                                    .distinct()
                                                                    .toList()),
                                                    limits(it),
                                                    it.approval(),
                                                    String.valueOf(it.subscriptions()),
                                                    String.valueOf(it.waiting())))
                                            .toList());
            });
        }

        private static String limits(PlanView it) {
            return String.join(", ", it.rates())
                    + (it.rates().isEmpty() || it.quotas().isEmpty() ? "" : ", ")
                    + String.join(", ", it.quotas());
        }
    }

    @Command(
            name = "show",
            description = "Show a plan, with its terms.",
            footer = {"", "Example: admit plan show open-water"})
    static final class Show implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "PLAN")
        String name;

        @Override
        public void run() {
            Admin.Answer<PlanView> answer = common.admin().get(common.path("plans", name), PlanView.class);
            PlanView it = answer.value();
            common.say(answer.json(), () -> {
                common.out()
                        .fields(
                                "Plan",
                                it.name(),
                                "Title",
                                Output.plain(it.title()),
                                "Description",
                                Output.plain(it.description()),
                                "Clients",
                                it.subscriptions() + (it.waiting() == 0 ? "" : ", and %d wait".formatted(it.waiting())),
                                "Terms",
                                it.terms().isEmpty() ? "none" : "version " + it.termsVersion(),
                                "Changed",
                                Output.when(it.changedAt(), common.now()));
                it.sentences().forEach(common.out()::line);
                for (PlanView.Earlier was : it.earlier()) {
                    common.out()
                            .line("Until %s, %d %s it as it was:"
                                    .formatted(
                                            Output.when(was.until(), common.now()),
                                            was.subscriptions(),
                                            was.subscriptions() == 1 ? "client keeps" : "clients keep"));
                    was.sentences().forEach(sentence -> common.out().line("  " + sentence));
                }
                if (!it.terms().isEmpty()) {
                    common.out().line("");
                    it.terms().lines().map(Output::plain).forEach(common.out()::line);
                }
            });
        }
    }

    /** What a plan is. */
    static final class FieldOptions {
        @Option(names = "--title", paramLabel = "TEXT", description = "{PlanWanted.title}.")
        String title;

        @Option(names = "--description", paramLabel = "TEXT", description = "{PlanWanted.description}.")
        String description;

        @Option(
                names = "--operation",
                paramLabel = "CALLS",
                description =
                        "What it covers: API, methods and path, such as 'tides GET /tides/**'; without methods for "
                                + "any; may be said again.")
        List<String> operations;

        @Option(names = "--rate", paramLabel = "TEXT", description = "{PlanWanted.rates}; may be said again.")
        List<String> rates;

        @Option(names = "--quota", paramLabel = "TEXT", description = "{PlanWanted.quotas}; may be said again.")
        List<String> quotas;

        @Option(
                names = "--approval",
                paramLabel = "WORD",
                description = "{PlanWanted.approval}: automatic or owner. Default: owner.")
        String approval;

        @Option(names = "--secret-lifetime", paramLabel = "TIME", description = "{PlanWanted.secretLifetime}.")
        String secretLifetime;

        @Option(names = "--terms", paramLabel = "FILE", description = "{PlanWanted.terms}.")
        Path terms;

        @Nullable
        String readTerms() {
            return terms == null ? null : TextFile.read(terms, "a file of Markdown in UTF-8");
        }
    }

    /** {@code tides GET,POST /tides/**}. */
    private static PlanOperation read(String said) {
        String[] parts = said.strip().split("\\s+");
        if (parts.length < 2 || parts.length > 3)
            throw new Failure(
                    Failure.WRONG_USAGE,
                    "An operation is an API, methods and a path, such as 'tides GET /tides/**'; received %s."
                            .formatted(Output.plain(said)));
        return new PlanOperation(
                parts[0],
                parts.length == 3 && !parts[1].equals("ANY") ? List.of(parts[1].split(",")) : List.of(),
                parts[parts.length - 1]);
    }

    private static String written(PlanOperation it) {
        String methods = it.methods() == null || it.methods().isEmpty() ? "" : String.join(",", it.methods()) + " ";
        return "%s %s%s".formatted(it.api(), methods, it.path());
    }

    private static @Nullable List<PlanOperation> read(@Nullable List<String> said) {
        return said == null ? null : said.stream().map(PlanCommands::read).toList();
    }

    @Command(
            name = "add",
            description = "Offer a plan.",
            footer = {
                "",
                "Example: admit plan add open-water --operation 'tides GET /tides/**' --rate '60 per 1m by client' "
                        + "--approval automatic"
            })
    static final class Add implements Runnable {
        @Mixin
        Common common;

        @Mixin
        FieldOptions fields;

        @Parameters(paramLabel = "NAME")
        String name;

        @Override
        public void run() {
            Admin.Answer<JsonNode> answer = common.admin()
                    .post(
                            common.path("plans"),
                            new PlanWanted(
                                    name,
                                    fields.title,
                                    fields.description,
                                    read(fields.operations),
                                    fields.rates,
                                    fields.quotas,
                                    fields.approval,
                                    fields.secretLifetime,
                                    fields.readTerms(),
                                    null),
                            JsonNode.class);
            told(common, answer, Http.command("admit subscription add CLIENT %s", name));
        }
    }

    @Command(
            name = "change",
            description = "Change a plan; what is not named stays.",
            footer = {"", "Example: admit plan change open-water --rate '30 per 1m by client' --keep-until 30d"})
    static final class Change implements Runnable {
        @Mixin
        Common common;

        @Mixin
        FieldOptions fields;

        @Parameters(paramLabel = "PLAN")
        String name;

        @Option(names = "--keep-until", paramLabel = "TIME", description = "{PlanWanted.keepUntil}.")
        String keepUntil;

        @Option(
                names = "--confirm",
                paramLabel = "PLAN",
                description = "The plan's name, said again, when the change touches clients that are subscribed.")
        String confirm;

        @Spec
        CommandSpec command;

        @Override
        public void run() {
            String path = common.path("plans", name);
            Admin.Answer<PlanView> old = common.admin().get(path, PlanView.class);
            PlanView was = old.value();
            Lists lists = Lists.of(command);
            Admin.Answer<JsonNode> answer = common.admin()
                    .change(
                            "PATCH",
                            path + Confirm.query(confirm),
                            old.etag().orElse("*"),
                            new PlanWanted(
                                    null,
                                    fields.title,
                                    fields.description,
                                    read(lists.list(
                                            "--operation",
                                            fields.operations,
                                            was.operations().stream()
                                                    .map(PlanCommands::written)
                                                    .toList())),
                                    lists.list("--rate", fields.rates, was.rates()),
                                    lists.list("--quota", fields.quotas, was.quotas()),
                                    fields.approval,
                                    fields.secretLifetime,
                                    fields.readTerms(),
                                    keepUntil),
                            JsonNode.class);
            told(common, answer, Http.command("admit plan show %s", name));
        }
    }

    private static void told(Common common, Admin.Answer<JsonNode> answer, String next) {
        Changed<PlanView> changed = common.admin().read(answer.json(), new TypeReference<>() {});
        common.say(answer.json(), () -> {
            common.out().notes(changed.notes());
            changed.now().sentences().forEach(common.out()::line);
            common.out().done("The plan %s is there.".formatted(changed.now().name()), next);
        });
    }

    @Command(
            name = "remove",
            description = "Remove a plan, with the subscriptions to it.",
            footer = {"", "Example: admit plan remove open-water"})
    static final class Remove implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "PLAN")
        String name;

        @Option(
                names = "--confirm",
                paramLabel = "PLAN",
                description = "The plan's name, said again, when clients are subscribed.")
        String confirm;

        @Override
        public void run() {
            common.admin().remove(common.path("plans", name) + Confirm.query(confirm), JsonNode.class);
            common.say(Map.of("removed", name), () -> common.out()
                    .done("The plan %s is gone.".formatted(name), "admit plan list"));
        }
    }
}
