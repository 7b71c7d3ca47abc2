package dev.admit.cli;

import dev.admit.contract.Changed;
import dev.admit.contract.MailView;
import java.util.List;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.JsonNode;

@Command(
        name = "outbox",
        description = "The outbox: the mail of the last days, sent or not.",
        subcommands = {MailCommands.ListAll.class, MailCommands.Show.class})
final class MailCommands {

    @Command(
            name = "list",
            description = "List the mail of an issuer, the newest first.",
            footer = {"", "Example: admit outbox list --to tobias.wren@saltmarsh.example"})
    static final class ListAll implements Runnable {
        @Mixin
        Common common;

        @Option(names = "--to", paramLabel = "ADDRESS", description = "Only to this address.")
        String to;

        @Option(names = "--limit", paramLabel = "N", description = "At most so many lines. Default: ${DEFAULT-VALUE}.")
        int most = 50;

        @Override
        public void run() {
            List<MailView> all =
                    common.admin().list(common.path("outbox") + Http.query("to", to), MailView.class, most);
            common.say(all, () -> {
                if (all.isEmpty()) common.out().done("No mail here.", null);
                else
                    common.out()
                            .table(
                                    List.of("MAIL", "TO", "SUBJECT", "WRITTEN", "STATUS"),
                                    all.stream()
                                            .map(it -> List.of(
                                                    it.id(),
                                                    it.to(),
                                                    it.subject(),
                                                    Output.relative(it.writtenAt(), common.now()),
                                                    stands(it)))
                                            .toList(),
                                    2);
            });
        }
    }

    private static String stands(MailView it) {
        return it.sentAt() != null ? "sent" : it.fault().isEmpty() ? "in the outbox" : "not sent";
    }

    @Command(
            name = "show",
            description = "Show a mail. A code in it is hidden.",
            footer = {"", "Example: admit outbox show ml_01m84gvah1pccs88z3kmy7 --reveal"})
    static final class Show implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "MAIL")
        String id;

        @Option(
                names = "--reveal",
                description =
                        "Show the code as well, where the mail was not sent. For administrators; the audit says so.")
        boolean reveal;

        @Override
        public void run() {
            Admin.Answer<?> answer = reveal
                    ? common.admin().post(common.path("outbox", id, "reveal"), Map.of(), JsonNode.class)
                    : common.admin().get(common.path("outbox", id), MailView.class);
            MailView it = reveal
                    ? common.admin()
                            .<Changed<MailView>>read(answer.json(), new TypeReference<>() {})
                            .now()
                    : (MailView) answer.value();
            common.say(answer.json(), () -> {
                common.out()
                        .fields(
                                "To",
                                it.to(),
                                "Subject",
                                it.subject(),
                                "Written",
                                Output.when(it.writtenAt(), common.now()),
                                "Status",
                                stands(it),
                                "Fault",
                                it.fault());
                common.out().line("");
                it.body().lines().forEach(line -> common.out().line(Output.plain(line)));
                if (it.hidden())
                    common.out()
                            .done(
                                    "A code is hidden in it.",
                                    "An administrator sees it with: "
                                            + Http.command("admit outbox show %s --reveal", it.id()));
            });
        }
    }
}
