package dev.admit.core.subscription;

import dev.admit.core.plan.Plan;
import dev.admit.core.plan.Subscription;
import java.time.Instant;
import java.time.ZoneOffset;
import org.jspecify.annotations.Nullable;

/** How a subscription stands, in a sentence or two: the same ones on every surface. */
public final class SubscriptionSentences {
    private SubscriptionSentences() {}

    /** @param movingTo the name of the plan that it goes over to; null for none */
    public static String of(Subscription it, Plan plan, @Nullable String movingTo, Instant now) {
        String because =
                it.reason().isEmpty() ? "." : ": " + it.reason() + (it.reason().endsWith(".") ? "" : ".");
        String stands =
                switch (it.status()) {
                    case WAITING -> "It waits for an owner of one of the APIs to approve it.";
                    case ACTIVE -> "Calls that %s covers pass.".formatted(plan.name());
                    case PAUSED -> "It is paused, and nothing passes by it" + because;
                    case DECLINED -> "It was declined" + because;
                    case ENDED -> "It ended" + because;
                };
        StringBuilder said = new StringBuilder(stands);
        if (it.status() == Subscription.Status.ACTIVE && movingTo != null)
            said.append(" It moves to %s once that is approved.".formatted(movingTo));
        if (it.status().isLive())
            plan.earlier(it.onVersion())
                    .map(Plan.Earlier::until)
                    .filter(now::isBefore)
                    .ifPresent(until -> said.append(" It keeps what the plan was until %s."
                            .formatted(until.atZone(ZoneOffset.UTC).toLocalDate())));
        boolean others = it.status().isLive()
                && plan.terms().wantAcceptance()
                && it.accepted()
                        .filter(terms -> terms.terms() == plan.terms().version())
                        .isEmpty();
        if (others) said.append(" The terms changed since they were accepted.");
        return said.toString();
    }
}
