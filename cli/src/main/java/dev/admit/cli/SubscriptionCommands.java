package dev.admit.cli;

import dev.admit.contract.Changed;
import dev.admit.contract.SubscriptionAnswer;
import dev.admit.contract.SubscriptionView;
import dev.admit.contract.SubscriptionWanted;
import dev.admit.contract.UsageView;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Predicate;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.JsonNode;

@Command(
        name = "subscription",
        description = "Parts that clients have in plans.",
        subcommands = {
            SubscriptionCommands.ListAll.class,
            SubscriptionCommands.Show.class,
            SubscriptionCommands.Add.class,
            SubscriptionCommands.Approve.class,
            SubscriptionCommands.Decline.class,
            SubscriptionCommands.Pause.class,
            SubscriptionCommands.Resume.class,
            SubscriptionCommands.Move.class,
            SubscriptionCommands.AcceptTerms.class,
            SubscriptionCommands.End.class
        })
final class SubscriptionCommands {
    private static final Set<String> LIVE = Set.of("waiting", "active", "paused");

    @Command(
            name = "list",
            description = "List subscriptions, the newest first.",
            footer = {"", "Example: admit subscription list --status waiting"})
    static final class ListAll implements Runnable {
        @Mixin
        Common common;

        @Option(names = "--status", paramLabel = "WORD", description = "waiting, active, paused, declined or ended.")
        String status;

        @Option(names = "--client", paramLabel = "CLIENT", description = "Only those of this client.")
        String client;

        @Option(names = "--plan", paramLabel = "PLAN", description = "Only those to this plan.")
        String plan;

        @Option(names = "--limit", paramLabel = "N", description = "At most so many lines. Default: ${DEFAULT-VALUE}.")
        int most = 1000;

        @Override
        public void run() {
            List<SubscriptionView> all = common.admin()
                    .list(
                            common.path("subscriptions") + Http.query("status", status, "client", client, "plan", plan),
                            SubscriptionView.class,
                            most);
            common.say(all, () -> {
                if (all.isEmpty()) common.out().done("No subscription here.", "admit subscription add CLIENT PLAN");
                else
                    common.out()
                            .table(
                                    List.of("STATUS", "CLIENT", "PLAN", "REQUESTED", "BY", "DECIDED"),
                                    all.stream()
                                            .map(it -> List.of(
                                                    Output.mark(it.status()),
                                                    it.client(),
                                                    it.movingTo() == null
                                                            ? it.plan()
                                                            : it.plan() + " → " + it.movingTo(),
                                                    Output.relative(it.requestedAt(), common.now()),
                                                    Output.plain(it.requestedBy()),
                                                    it.decidedAt() == null
                                                            ? ""
                                                            : Output.plain(String.valueOf(it.decidedBy())) + ", "
                                                                    + Output.relative(it.decidedAt(), common.now())))
                                            .toList());
            });
        }
    }

    /** Client and plan, which together name a subscription. */
    abstract static class OfClient implements Runnable {
        @Mixin
        Common common;

        @Parameters(index = "0", paramLabel = "CLIENT")
        String client;

        @Parameters(index = "1", paramLabel = "PLAN")
        String plan;

        SubscriptionView find(Predicate<SubscriptionView> wanted) {
            List<SubscriptionView> all = common.admin()
                    .list(common.path("subscriptions") + Http.query("client", client), SubscriptionView.class, 1000);
            return all.stream()
                    .filter(wanted)
                    .findFirst()
                    .orElseThrow(() -> new Failure(
                            Failure.REFUSED,
                            "%s has no subscription to %s of that kind. See what it has with: %s"
                                    .formatted(
                                            client,
                                            plan,
                                            Http.command("admit subscription list --client %s", client))));
        }

        /** The one that is live, else the newest. */
        SubscriptionView its() {
            List<SubscriptionView> all = common.admin()
                    .list(
                            common.path("subscriptions") + Http.query("client", client, "plan", plan),
                            SubscriptionView.class,
                            1000);
            return all.stream()
                    .filter(it -> LIVE.contains(it.status()))
                    .findFirst()
                    .or(() -> all.stream().findFirst())
                    .orElseGet(() -> find(it -> it.plan().equals(plan)));
        }

        void act(SubscriptionView on, String verb, Object body) {
            Admin.Answer<JsonNode> said = common.admin()
                    .change(
                            "POST",
                            common.path("subscriptions", on.id(), verb),
                            "\"" + on.version() + "\"",
                            body,
                            JsonNode.class);
            told(common, said);
        }
    }

    private static void told(Common common, Admin.Answer<JsonNode> said) {
        Changed<SubscriptionView> changed = common.admin().read(said.json(), new TypeReference<>() {});
        SubscriptionView now = changed.now();
        common.say(said.json(), () -> {
            common.out().notes(changed.notes());
            common.out()
                    .done(
                            "%s to %s: %s".formatted(now.client(), now.plan(), Output.plain(now.sentence())),
                            Http.command("admit subscription show %s %s", now.client(), now.plan()));
        });
    }

    @Command(
            name = "show",
            description = "Show a subscription, and what was used of it.",
            footer = {"", "Example: admit subscription show quayside-board open-water"})
    static final class Show extends OfClient {
        private static final int WIDEST = 40;

        @Override
        public void run() {
            SubscriptionView it = its();
            UsageView usage = common.admin()
                    .get(common.path("subscriptions", it.id(), "usage"), UsageView.class)
                    .value();
            common.say(Map.of("subscription", it, "usage", usage), () -> {
                common.out()
                        .fields(
                                "Client",
                                it.client(),
                                "Plan",
                                it.plan(),
                                "Status",
                                common.out().verdict(it.status()),
                                "Requested",
                                Output.when(it.requestedAt(), common.now()) + ", by " + it.requestedBy(),
                                "Terms",
                                it.termsAccepted() == null
                                        ? ""
                                        : "version %d, accepted by %s %s"
                                                .formatted(
                                                        it.termsAccepted(),
                                                        it.acceptedBy(),
                                                        Output.when(it.acceptedAt(), common.now())));
                common.out().line(Output.plain(it.sentence()));
                for (UsageView.Quota quota : usage.quotas())
                    common.out()
                            .line("%d of %d used (%s); it begins anew %s."
                                    .formatted(
                                            quota.used(),
                                            quota.most(),
                                            quota.quota(),
                                            Output.relative(quota.endsAt(), common.now())));
                long most = usage.days().stream()
                        .mapToLong(day -> day.admitted() + day.limited())
                        .max()
                        .orElse(0);
                if (most == 0) common.out().line("Nothing came by it in the last 30 days.");
                else
                    common.out()
                            .table(
                                    List.of("DAY", "ADMITTED", "LIMITED", ""),
                                    usage.days().stream()
                                            .filter(day -> day.admitted() + day.limited() > 0)
                                            .map(day -> List.of(
                                                    day.day(),
                                                    String.valueOf(day.admitted()),
                                                    String.valueOf(day.limited()),
                                                    bar(day.admitted(), most, "█") + bar(day.limited(), most, "░")))
                                            .toList());
            });
        }

        private static String bar(long part, long most, String of) {
            return of.repeat((int) Math.ceilDiv(part * WIDEST, most));
        }
    }

    @Command(
            name = "add",
            description = "Subscribe a client to a plan; it waits where its plan wants approval.",
            footer = {"", "Example: admit subscription add quayside-board open-water"})
    static final class Add extends OfClient {
        @Option(names = "--accept-terms", paramLabel = "VERSION", description = "{SubscriptionWanted.acceptTerms}.")
        Long acceptTerms;

        @Override
        public void run() {
            told(
                    common,
                    common.admin()
                            .post(
                                    common.path("clients", client, "subscriptions"),
                                    new SubscriptionWanted(plan, acceptTerms),
                                    JsonNode.class));
        }
    }

    @Command(
            name = "approve",
            description = "Approve a subscription, or its move to a plan.",
            footer = {"", "Example: admit subscription approve berth-desk trade"})
    static final class Approve extends OfClient {
        @Override
        public void run() {
            SubscriptionView it = find(one -> plan.equals(one.movingTo())
                    || one.plan().equals(plan) && Set.of("waiting", "declined").contains(one.status()));
            act(it, "approve", new SubscriptionAnswer(plan, null));
        }
    }

    @Command(
            name = "decline",
            description = "Decline a subscription, or its move to a plan; the reason is told.",
            footer = {"", "Example: admit subscription decline berth-desk trade --reason 'Ask again in spring.'"})
    static final class Decline extends OfClient {
        @Option(names = "--reason", paramLabel = "TEXT", required = true, description = "Why; the other side reads it.")
        String reason;

        @Override
        public void run() {
            SubscriptionView it = find(one -> plan.equals(one.movingTo())
                    || one.plan().equals(plan) && one.status().equals("waiting"));
            act(it, "decline", new SubscriptionAnswer(plan, reason));
        }
    }

    @Command(
            name = "pause",
            description = "Let nothing pass by a subscription until it is resumed.",
            footer = {"", "Example: admit subscription pause quayside-board open-water --reason 'It floods the gauges.'"
            })
    static final class Pause extends OfClient {
        @Option(names = "--reason", paramLabel = "TEXT", required = true, description = "Why; the other side reads it.")
        String reason;

        @Override
        public void run() {
            act(its(), "pause", new SubscriptionAnswer(null, reason));
        }
    }

    @Command(
            name = "resume",
            description = "Let calls pass again by a subscription that is paused.",
            footer = {"", "Example: admit subscription resume quayside-board open-water"})
    static final class Resume extends OfClient {
        @Override
        public void run() {
            act(its(), "resume", new SubscriptionAnswer(null, null));
        }
    }

    @Command(
            name = "move",
            description = "Move a subscription to another plan; what was used goes on counting.",
            footer = {"", "Example: admit subscription move quayside-board open-water trade"})
    static final class Move extends OfClient {
        @Parameters(index = "2", paramLabel = "OTHER", description = "The plan that it moves to.")
        String to;

        @Option(names = "--accept-terms", paramLabel = "VERSION", description = "{SubscriptionWanted.acceptTerms}.")
        Long acceptTerms;

        @Override
        public void run() {
            act(its(), "move", new SubscriptionWanted(to, acceptTerms));
        }
    }

    @Command(
            name = "accept-terms",
            description = "Accept the terms of a plan after they changed.",
            footer = {"", "Example: admit subscription accept-terms quayside-board open-water 2"})
    static final class AcceptTerms extends OfClient {
        @Parameters(index = "2", paramLabel = "VERSION", description = "Of the terms, as the plan shows it.")
        long terms;

        @Override
        public void run() {
            act(its(), "accept-terms", new SubscriptionWanted(null, terms));
        }
    }

    @Command(
            name = "end",
            description = "End a subscription for good.",
            footer = {"", "Example: admit subscription end quayside-board open-water"})
    static final class End extends OfClient {
        @Option(names = "--reason", paramLabel = "TEXT", description = "Why.")
        String reason;

        @Override
        public void run() {
            act(its(), "end", new SubscriptionAnswer(null, reason));
        }
    }
}
