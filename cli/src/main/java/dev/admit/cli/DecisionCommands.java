package dev.admit.cli;

import dev.admit.contract.CheckView;
import dev.admit.contract.CountView;
import dev.admit.contract.DecisionView;
import dev.admit.contract.FixView;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

@Command(
        name = "decision",
        description = "Why requests were let through or refused.",
        subcommands = {
            DecisionCommands.ListAll.class,
            DecisionCommands.Show.class,
            DecisionCommands.CountAll.class,
            DecisionCommands.Follow.class
        })
final class DecisionCommands {
    private static final DateTimeFormatter TIME =
            DateTimeFormatter.ofPattern("HH:mm:ss").withZone(ZoneOffset.UTC);

    /** What narrows a list, a count, or what is followed. */
    static final class Narrowed {
        @Option(names = "--client", description = "By name or id.")
        String client;

        @Option(names = "--person", description = "By address or id.")
        String person;

        @Option(names = "--api", description = "By name.")
        String api;

        @Option(names = "--route", description = "As a route is shown: 'GET /tides/**'.")
        String route;

        @Option(names = "--verdict", paramLabel = "WORD", description = "admitted or refused.")
        String verdict;

        @Option(names = "--reason", paramLabel = "WORD", description = "Such as wrong-audience.")
        String reason;

        @Option(names = "--endpoint", paramLabel = "WORD", description = "token, gateway or admin.")
        String endpoint;

        @Option(names = "--since", paramLabel = "TIME", description = "A time, or a length of time ago such as 1h.")
        String since;

        @Option(names = "--until", paramLabel = "TIME", description = "A time, or a length of time ago.")
        String until;

        String query(Common common, String... more) {
            String[] all = {
                "issuer",
                common.issuer(),
                "client",
                client,
                "person",
                person,
                "api",
                api,
                "route",
                route,
                "verdict",
                verdict,
                "reason",
                reason,
                "endpoint",
                endpoint,
                "since",
                since,
                "until",
                until
            };
            String[] both = java.util.Arrays.copyOf(all, all.length + more.length);
            System.arraycopy(more, 0, both, all.length, more.length);
            return Http.query(both);
        }
    }

    private static final List<String> HEADS = List.of("TIME", "VERDICT", "", "CLIENT", "REQUEST", "DECISION");

    static List<String> row(DecisionView it) {
        return List.of(
                TIME.format(it.at()),
                Output.mark(it.reason() == null ? it.verdict() : it.reason()),
                String.valueOf(it.answered()),
                it.client().isEmpty() ? it.clientId() : it.client(),
                it.method() + " " + it.path(),
                it.id());
    }

    @Command(
            name = "list",
            description =
                    "List decisions, newest first: those of the issuer, and those that reached none. Times of day "
                            + "are in UTC.",
            footer = {"", "Example: admit decision list --verdict refused --client tide-buoy-07 --since 1h"})
    static final class ListAll implements Runnable {
        @Mixin
        Common common;

        @Mixin
        Narrowed narrowed;

        @Option(names = "--limit", paramLabel = "N", description = "At most so many lines. Default: ${DEFAULT-VALUE}.")
        int most = 20;

        @Override
        public void run() {
            List<DecisionView> all =
                    common.admin().list("/decisions" + narrowed.query(common), DecisionView.class, most);
            common.say(all, () -> {
                if (all.isEmpty()) common.out().done("No decision fits.", null);
                else
                    common.out()
                            .table(
                                    HEADS,
                                    all.stream().map(DecisionCommands::row).toList(),
                                    4);
            });
        }
    }

    @Command(
            name = "count",
            description = "Count the decisions that are kept, over all time or in stretches of it.",
            footer = {
                "",
                "Example: admit decision count --by reason --since 1d",
                "Example: admit decision count --by client --per 1h --verdict refused"
            })
    static final class CountAll implements Runnable {
        @Mixin
        Common common;

        @Mixin
        Narrowed narrowed;

        @Option(
                names = "--by",
                paramLabel = "WORD",
                description = "client, person, api, route, verdict, reason or endpoint. Default: ${DEFAULT-VALUE}.")
        String by = "reason";

        @Option(names = "--per", paramLabel = "TIME", description = "In stretches so long, such as 1h.")
        String per;

        @Override
        public void run() {
            List<CountView> all = common.admin()
                    .list("/decisions/counts" + narrowed.query(common, "by", by, "per", per), CountView.class, 10_000);
            common.say(all, () -> {
                if (all.isEmpty()) common.out().done("No decision fits.", null);
                else if (per == null)
                    common.out()
                            .table(
                                    List.of("DECISIONS", by.toUpperCase(java.util.Locale.ROOT)),
                                    all.stream()
                                            .map(it -> List.of(String.valueOf(it.decisions()), what(it)))
                                            .toList(),
                                    1);
                else
                    common.out()
                            .table(
                                    List.of("FROM", "DECISIONS", by.toUpperCase(java.util.Locale.ROOT)),
                                    all.stream()
                                            .map(it -> List.of(
                                                    String.valueOf(it.from()),
                                                    String.valueOf(it.decisions()),
                                                    what(it)))
                                            .toList(),
                                    2);
            });
        }

        private String what(CountView it) {
            return !it.what().isEmpty() ? it.what() : by.equals("reason") ? "admitted" : "none";
        }
    }

    static void pause() {
        try {
            Thread.sleep(700);
        } catch (InterruptedException ended) {
            Thread.currentThread().interrupt();
            throw new Failure(Failure.FAULT, "Interrupted.");
        }
    }

    @Command(
            name = "follow",
            description = "Show decisions as they are made, until interrupted.",
            footer = {"", "Example: admit decision follow --client night-audit"})
    static final class Follow implements Runnable {
        @Mixin
        Common common;

        @Mixin
        Narrowed narrowed;

        @Option(names = "--limit", paramLabel = "N", description = "End after so many.")
        int most = Integer.MAX_VALUE;

        @Override
        public void run() {
            Optional<DecisionView> newest =
                    common.admin().list("/decisions" + narrowed.query(common), DecisionView.class, 1).stream()
                            .findFirst();
            for (int shown = 0; shown < most; ) {
                pause();
                String known = newest.map(DecisionView::id).orElse("");
                newest.ifPresent(it -> narrowed.since = it.at().toString()); // what is older is known
                List<DecisionView> fresh =
                        common.admin().list("/decisions" + narrowed.query(common), DecisionView.class, 200).stream()
                                .filter(it -> it.id().compareTo(known) > 0)
                                .toList();
                for (DecisionView it : fresh.reversed()) {
                    if (shown++ >= most) return;
                    newest = Optional.of(it);
                    common.say(it, () -> common.out().line(String.join("  ", row(it))));
                }
            }
        }
    }

    @Command(
            name = "show",
            description = "Show a decision: its checks, the values compared, how to fix it.",
            footer = {"", "Example: admit decision show dec_…"})
    static final class Show implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "DECISION")
        String id;

        @Override
        public void run() {
            Admin.Answer<DecisionView> answer =
                    common.admin().get("/decisions/" + Http.encoded(id), DecisionView.class);
            common.say(answer.json(), () -> tell(common.out(), answer.value()));
        }

        private static String took(@Nullable Integer nanos) {
            return nanos == null
                    ? ""
                    : nanos < 100_000 ? "%.1f µs".formatted(nanos / 1000.0) : "%d µs".formatted(nanos / 1000);
        }

        private void tell(Output out, DecisionView it) {
            out.line("%s  %s %s  answered %d"
                    .formatted(out.verdict(it.verdict()), it.method(), Output.plain(it.path()), it.answered()));
            for (CheckView check : it.checks()) {
                if (!check.outcome().equals("refused")) continue;
                out.line("");
                out.line(out.strong("Refused by the check " + check.check() + " (" + it.reason() + ")"));
                out.fields("  expected", check.expected(), "  received", check.received());
                FixView fix = it.fix();
                if (fix != null)
                    out.fields("  fix", fix.sentence(), "  command", fix.command(), "  who acts", fix.who());
            }
            out.line("");
            List<List<String>> rows = new ArrayList<>();
            for (CheckView check : it.checks()) {
                boolean refused = check.outcome().equals("refused");
                String expected = refused ? "as above" : check.why() != null ? check.why() : check.expected();
                rows.add(List.of(
                        Output.mark(check.outcome()),
                        check.check(),
                        took(check.nanos()),
                        expected,
                        refused || check.received() == null ? "" : check.received()));
            }
            out.table(List.of("OUTCOME", "CHECK", "TOOK", "EXPECTED", "CAME"), rows);
            out.line("");
            out.fields(
                    "When",
                    Output.when(it.at(), common.now()),
                    "Where",
                    "the "
                            + (it.endpoint().equals("token")
                                    ? "token endpoint"
                                    : it.endpoint().equals("admin") ? "admin API" : "gateway"),
                    "Issuer",
                    it.issuer(),
                    "Client",
                    it.client().isEmpty() ? it.clientId() : it.client() + " (" + it.clientId() + ")",
                    "Scopes",
                    it.scopes(),
                    "API",
                    it.api(),
                    "Route",
                    it.route().isEmpty() ? "" : it.route() + ", revision " + it.revision(),
                    "From",
                    it.from(),
                    "Took",
                    it.micros() + " µs",
                    "Done",
                    String.join("; ", it.done()));
        }
    }
}
