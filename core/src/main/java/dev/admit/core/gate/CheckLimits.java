package dev.admit.core.gate;

import dev.admit.core.configuration.GuardedRoute;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Checked;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.limit.Count;
import dev.admit.core.limit.Counters;
import dev.admit.core.limit.Quotas;
import dev.admit.core.plan.SubscriptionUse;
import dev.admit.core.route.Limits;
import dev.admit.core.token.VerifiedToken;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicBoolean;
import org.jspecify.annotations.Nullable;

/** The stages that hold a request to the limits of its route: how large it is, how often it comes, how many at once. */
final class CheckLimits {
    private final Counters counters;
    private final Quotas quotas;
    private final SubscriptionUse use;
    private final long mostBody;

    /** @param mostBody bytes; a larger body is refused whatever a route says */
    CheckLimits(Counters counters, Quotas quotas, SubscriptionUse use, long mostBody) {
        this.counters = counters;
        this.quotas = quotas;
        this.use = use;
        this.mostBody = mostBody;
    }

    /** @return the route, whose headers are few enough */
    static Checked<GuardedRoute> headers(GateRequest request, GuardedRoute route) {
        if (route.route().limits().headers().isEmpty()) return Checked.passed(route);
        int most = route.route().limits().headers().get();
        int bytes = request.headerBytes().getAsInt();
        String expected = "at most %d bytes of headers".formatted(most);
        return bytes <= most
                ? Checked.passed(route, CheckResult.passed("headers", expected, bytes + " bytes"))
                : Checked.refused(
                        "headers",
                        Reason.HEADERS_TOO_LARGE,
                        expected,
                        bytes + " bytes",
                        Fix.of("Send fewer or shorter headers; or have the limit raised on the route."));
    }

    /** @return the route, whose bodies may be as large as this one; that it is, is no line of the decision */
    Checked<GuardedRoute> body(GateRequest request, GuardedRoute route) {
        long most = route.route().limits().mostBody(mostBody);
        long bytes = request.bodyBytes().getAsLong();
        return bytes <= most
                ? Checked.passed(route)
                : Checked.refused(
                        "body",
                        Reason.BODY_TOO_LARGE,
                        "at most " + most + " bytes",
                        bytes + " bytes",
                        Fix.of("Send less, or in parts."));
    }

    /**
     * What counting came to.
     *
     * @param checks one for each rate and quota, up to the first that has no room
     * @param telling of the limit that has no room left, or else of the one that is nearest to its end
     */
    record Counted(List<CheckResult> checks, Optional<Count> telling) {
        static final Counted NOTHING = new Counted(List.of(), Optional.empty());
    }

    /**
     * Takes one of what each rate and quota has left: of the route, then of the plan.
     *
     * @param subscribed by which the request passes; empty where it needs none
     */
    Counted count(
            GateRequest request,
            GuardedRoute route,
            Optional<VerifiedToken> token,
            Optional<CheckSubscription.Found> subscribed,
            Instant at) {
        Limits limits = route.route().limits();
        if (!limits.counts() && subscribed.isEmpty()) return Counted.NOTHING;
        Counting counting = new Counting();
        String id = route.route().id();
        for (Limits.Rate rate : limits.rates())
            if (!counting.passes(rate(id, rate, whom(rate.by(), request, token), ON_ROUTE))) return counting.counted();
        for (Limits.Quota quota : limits.quotas())
            if (!counting.passes(quota(id, quota, whom(quota.by(), request, token), at, ON_ROUTE)))
                return counting.counted();
        subscribed.ifPresent(it -> ofPlan(it, counting, at));
        return counting.counted();
    }

    private void ofPlan(CheckSubscription.Found it, Counting counting, Instant at) {
        String id = it.subscriptionId();
        boolean passes = it.content().rates().stream().allMatch(rate -> counting.passes(rate(id, rate, "", OF_PLAN)))
                && it.content().quotas().stream().allMatch(quota -> {
                    OfOne counted = quota(id, quota, "", at, OF_PLAN);
                    use.counted(id, quota, counted.count(), at);
                    return counting.passes(counted);
                });
        if (passes) use.admitted(id, at);
        else use.limited(id, at);
    }

    private record OfOne(CheckResult check, Count count) {}

    private static final String ON_ROUTE = "have the limit raised on the route";
    private static final String OF_PLAN = "move the subscription to another plan";

    private OfOne rate(String of, Limits.Rate rate, String whom, String way) {
        Count count = counters.take(of, rate, whom);
        return new OfOne(checked("rate", Reason.RATE_EXCEEDED, count, way), count);
    }

    private OfOne quota(String of, Limits.Quota quota, String whom, Instant at, String way) {
        Count count = quotas.take(of, quota, whom, at);
        return new OfOne(checked("quota", Reason.QUOTA_EXCEEDED, count, way), count);
    }

    /** Collects what was counted, up to the first that has no room. */
    private static final class Counting {
        private final List<CheckResult> checks = new ArrayList<>(2);
        private @Nullable Count telling;

        boolean passes(OfOne it) {
            checks.add(it.check());
            boolean passes = it.count().passes();
            if (!passes || telling == null || it.count().remaining() < telling.remaining()) telling = it.count();
            return passes;
        }

        Counted counted() {
            return new Counted(checks, Optional.ofNullable(telling));
        }
    }

    private static String whom(Limits.By by, GateRequest request, Optional<VerifiedToken> token) {
        return switch (by) {
            case CLIENT -> token.map(VerifiedToken::clientId).orElse("");
            case PERSON -> token.map(VerifiedToken::subject).orElse("");
            case ADDRESS -> request.from();
            case ROUTE -> "";
        };
    }

    private static CheckResult checked(String check, Reason reason, Count count, String way) {
        String expected = "at most " + count.words();
        if (count.passes()) return CheckResult.passed(check, expected, "room for %d more".formatted(count.remaining()));
        long seconds = Math.max(1, (count.room().toMillis() + 999) / 1000);
        return CheckResult.refused(
                check,
                reason,
                expected,
                "more",
                Fix.of("Wait %d s, and call less often; or %s.".formatted(seconds, way)));
    }

    /**
     * Room among the requests under way. It is looked at last, because it has to be given back.
     *
     * @return what gives it back, once however often it is run
     */
    Checked<Runnable> room(GuardedRoute route) {
        Optional<Integer> most = route.route().limits().concurrent();
        if (most.isEmpty()) return NO_ROOM_TAKEN;
        String id = route.route().id();
        if (counters.enter(id, most.get())) {
            AtomicBoolean left = new AtomicBoolean();
            return Checked.passed(() -> {
                if (left.compareAndSet(false, true)) counters.leave(id);
            });
        }
        return Checked.refused(
                "concurrent",
                Reason.TOO_MANY_CONCURRENT,
                "at most %d concurrent requests".formatted(most.get()),
                "one more",
                Fix.of("Wait for one to end; or have the limit raised on the route."));
    }

    private static final Checked<Runnable> NO_ROOM_TAKEN = Checked.passed(GateOutcome.Admitted.NOTHING);
}
