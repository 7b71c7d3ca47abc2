package dev.admit.cli;

import dev.admit.contract.CheckView;
import dev.admit.contract.DecisionView;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

@Command(name = "decision", description = "Why requests were let through or refused.", subcommands = {DecisionCommands.ListAll.class, DecisionCommands.Show.class})
final class DecisionCommands {
    private static final DateTimeFormatter TIME = DateTimeFormatter.ofPattern("HH:mm:ss").withZone(ZoneOffset.UTC);

    @Command(name = "list", description = "List decisions, newest first: those of the issuer, and those that reached none. Times of day are in UTC.", footer = {"", "Example: admit decision list --verdict refused --client tide-buoy-07"})
    static final class ListAll implements Runnable {
        @Mixin Common common;
        @Option(names = "--client", description = "By name or id.") String client;
        @Option(names = "--route", description = "As a route is shown: 'GET /tides/**'.") String route;
        @Option(names = "--verdict", paramLabel = "WORD", description = "admitted or refused.") String verdict;
        @Option(names = "--reason", paramLabel = "WORD", description = "Such as wrong-audience.") String reason;
        @Option(names = "--plane", paramLabel = "WORD", description = "token, gateway or admin.") String plane;
        @Option(names = "--most", paramLabel = "N", description = "At most so many. Default: ${DEFAULT-VALUE}.") int most = 20;

        @Override public void run() {
            String query = "/decisions" + Http.query("issuer", common.issuer(), "client", client, "route", route, "verdict", verdict, "reason", reason, "plane", plane);
            List<DecisionView> all = common.admin().list(query, DecisionView.class, most);
            common.say(all, () -> {
                if (all.isEmpty()) common.out().done("No decision fits.", null);
                else common.out().table(List.of("TIME", "VERDICT", "", "CLIENT", "REQUEST", "DECISION"), all.stream().map(it -> List.of(TIME.format(it.at()),
                        Output.mark(it.reason() == null ? it.verdict() : it.reason()), String.valueOf(it.answered()),
                        it.client().isEmpty() ? it.clientId() : it.client(), it.method() + " " + it.path(), it.id())).toList(), 4);
            });
        }
    }

    @Command(name = "show", description = "Show a decision: its checks, the values compared, what would mend it.", footer = {"", "Example: admit decision show dec_…"})
    static final class Show implements Runnable {
        @Mixin Common common;
        @Parameters(paramLabel = "DECISION") String id;

        @Override public void run() {
            Admin.Answer<DecisionView> answer = common.admin().get("/decisions/" + Http.encoded(id), DecisionView.class);
            common.say(answer.json(), () -> tell(common.out(), answer.value()));
        }

        private void tell(Output out, DecisionView it) {
            out.line("%s  %s %s  answered %d".formatted(out.verdict(it.verdict()), it.method(), Output.plain(it.path()), it.answered()));
            for (CheckView check : it.checks()) {
                if (!check.outcome().equals("refused")) continue;
                out.line("");
                out.line(out.strong("Refused by the check " + check.check() + " (" + it.reason() + ")"));
                out.fields("  expected", check.expected(), "  came", check.came(), "  mend", it.mend().sentence(), "  command", it.mend().command(), "  who acts", it.mend().who());
            }
            out.line("");
            List<List<String>> rows = new ArrayList<>();
            for (CheckView check : it.checks()) {
                boolean refused = check.outcome().equals("refused");
                String expected = refused ? "as above" : check.why() != null ? check.why() : check.expected();
                rows.add(List.of(Output.mark(check.outcome()), check.check(), expected, refused || check.came() == null ? "" : check.came()));
            }
            out.table(List.of("OUTCOME", "CHECK", "EXPECTED", "CAME"), rows);
            out.line("");
            out.fields("When", Output.when(it.at(), common.now()), "Where", "the " + (it.plane().equals("token") ? "token endpoint" : it.plane().equals("admin") ? "admin API" : "gateway"),
                    "Issuer", it.issuer(), "Client", it.client().isEmpty() ? it.clientId() : it.client() + " (" + it.clientId() + ")", "Scopes", it.scopes(), "API", it.api(),
                    "Route", it.route().isEmpty() ? "" : it.route() + ", revision " + it.revision(), "From", it.from(), "Took", it.micros() + " µs",
                    "Done", String.join("; ", it.done()));
        }
    }
}
