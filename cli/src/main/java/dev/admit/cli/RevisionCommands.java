package dev.admit.cli;

import dev.admit.contract.Changed;
import dev.admit.contract.RevisionView;
import dev.admit.contract.RouteView;
import dev.admit.contract.WhyWanted;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.JsonNode;

@Command(
        name = "revision",
        description = "The numbered states of an issuer's routes: who changed what, and restoring one.",
        subcommands = {
            RevisionCommands.ListAll.class,
            RevisionCommands.Show.class,
            RevisionCommands.RestoreRevision.class
        })
final class RevisionCommands {

    @Command(
            name = "list",
            description = "List the revisions, newest first.",
            footer = {"", "Example: admit revision list"})
    static final class ListAll implements Runnable {
        @Mixin
        Common common;

        @Option(names = "--limit", paramLabel = "N", description = "At most so many lines. Default: ${DEFAULT-VALUE}.")
        int most = 20;

        @Override
        public void run() {
            List<RevisionView> all = common.admin().list(common.path("revisions"), RevisionView.class, most);
            common.say(all, () -> {
                if (all.isEmpty())
                    common.out().done("No route yet.", "admit route add GET /PATH/** --api API --scope SCOPE");
                else
                    common.out()
                            .table(
                                    List.of("REVISION", "WHEN", "WHO", "CHANGED", "WHY"),
                                    all.stream()
                                            .map(it -> List.of(
                                                    String.valueOf(it.number()),
                                                    Output.relative(it.at(), common.now()),
                                                    it.who(),
                                                    Output.plain(String.join("; ", it.changed())),
                                                    Output.plain(it.why())))
                                            .toList(),
                                    3);
            });
        }
    }

    @Command(
            name = "show",
            description = "Show a revision: what it changed, and the routes as they stood with it.",
            footer = {"", "Example: admit revision show 7"})
    static final class Show implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "REVISION")
        long number;

        @Override
        public void run() {
            Admin.Answer<RevisionView> answer =
                    common.admin().get(common.path("revisions", String.valueOf(number)), RevisionView.class);
            RevisionView it = answer.value();
            common.say(answer.json(), () -> {
                common.out()
                        .fields(
                                "Revision",
                                String.valueOf(it.number()),
                                "Made",
                                Output.when(it.at(), common.now()),
                                "By",
                                it.who(),
                                "Why",
                                Output.plain(it.why()));
                it.changed().forEach(line -> common.out().line("Changed  " + Output.plain(line)));
                common.out().line("");
                RouteCommands.table(
                        common.out(),
                        common.admin()
                                .list(
                                        common.path("revisions", String.valueOf(number), "routes"),
                                        RouteView.class,
                                        10_000));
            });
        }
    }

    @Command(
            name = "restore",
            description = "Put the routes as they stood with a revision: routes alone, never a key, a withdrawal or a "
                    + "switch-off. It is live when the command returns.",
            footer = {"", "Example: admit revision restore 7 --why 'the new one was too strict'"})
    static final class RestoreRevision implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "REVISION")
        long number;

        @Option(names = "--why", description = "Why; kept with the revision.")
        String why;

        @Option(
                names = "--confirm",
                paramLabel = "REVISION",
                description = "The number again, when the routes let more pass than now.")
        String confirm;

        @Override
        public void run() {
            Admin.Answer<JsonNode> answer = common.admin()
                    .post(
                            common.path("revisions", String.valueOf(number), "restore") + Confirm.query(confirm),
                            new WhyWanted(why),
                            JsonNode.class);
            Changed<RevisionView> made = common.admin().read(answer.json(), new TypeReference<>() {});
            common.say(answer.json(), () -> {
                common.out().notes(made.notes());
                if (made.notes().isEmpty()) {
                    made.now().changed().forEach(line -> common.out().line(Output.plain(line)));
                    common.out()
                            .done(
                                    "The routes stand as with revision %d, live with revision %d."
                                            .formatted(number, made.now().number()),
                                    "admit revision restore %d"
                                            .formatted(made.now().number() - 1));
                }
            });
        }
    }
}
