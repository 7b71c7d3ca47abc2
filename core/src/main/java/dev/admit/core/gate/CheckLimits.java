package dev.admit.core.gate;

import dev.admit.core.configuration.GuardedRoute;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Checked;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.limit.Count;
import dev.admit.core.limit.Counters;
import dev.admit.core.limit.Quotas;
import dev.admit.core.route.Limits;
import dev.admit.core.token.VerifiedToken;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicBoolean;

/** The stages that hold a request to the limits of its route: how large it is, how often it comes, how many at once. */
final class CheckLimits {
    private final Counters counters;
    private final Quotas quotas;
    private final long mostBody;

    /** @param mostBody bytes; a larger body is refused whatever a route says */
    CheckLimits(Counters counters, Quotas quotas, long mostBody) {
        this.counters = counters;
        this.quotas = quotas;
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

    /** Takes one of what each rate and quota of the route has left. */
    Counted count(GateRequest request, GuardedRoute route, Optional<VerifiedToken> token, Instant at) {
        Limits limits = route.route().limits();
        if (!limits.counts()) return Counted.NOTHING;
        List<CheckResult> checks = new ArrayList<>(2);
        Count nearest = null;
        for (Limits.Rate rate : limits.rates()) {
            Count count = counters.take(route.route().id(), rate, whom(rate.by(), request, token));
            checks.add(checked("rate", Reason.RATE_EXCEEDED, count));
            if (!count.passes()) return new Counted(checks, Optional.of(count));
            if (nearest == null || count.remaining() < nearest.remaining()) nearest = count;
        }
        for (Limits.Quota quota : limits.quotas()) {
            Count count = quotas.take(route.route().id(), quota, whom(quota.by(), request, token), at);
            checks.add(checked("quota", Reason.QUOTA_EXCEEDED, count));
            if (!count.passes()) return new Counted(checks, Optional.of(count));
            if (nearest == null || count.remaining() < nearest.remaining()) nearest = count;
        }
        return new Counted(checks, Optional.ofNullable(nearest));
    }

    private static String whom(Limits.By by, GateRequest request, Optional<VerifiedToken> token) {
        return switch (by) {
            case CLIENT -> token.map(VerifiedToken::clientId).orElse("");
            case PERSON -> token.map(VerifiedToken::subject).orElse("");
            case ADDRESS -> request.from();
            case ROUTE -> "";
        };
    }

    private static CheckResult checked(String check, Reason reason, Count count) {
        String expected = "at most " + count.words();
        if (count.passes()) return CheckResult.passed(check, expected, "room for %d more".formatted(count.remaining()));
        long seconds = Math.max(1, (count.room().toMillis() + 999) / 1000);
        return CheckResult.refused(
                check,
                reason,
                expected,
                "more",
                Fix.of("Wait %d s, and call less often; or have the limit raised on the route.".formatted(seconds)));
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
