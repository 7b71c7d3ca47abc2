package dev.admit.core.plan;

import java.time.Instant;
import java.util.Locale;
import java.util.Optional;

/**
 * A client's part in a plan.
 *
 * @param reason why it was declined, paused or ended; may be empty
 * @param accepted the terms, where the plan had any
 * @param onVersion the version of the plan that it keeps for a while; empty for the one that is there now
 * @param moving the plan that it goes over to once that is approved
 * @param barred whether another request for the plan waits for approval, even where none is usual: it was declined, or
 *     ended by others or while it was paused
 * @param decided who approved, declined, paused, resumed or ended it; empty while nobody did
 */
public record Subscription(
        String id,
        String issuerId,
        String clientId,
        String planId,
        Status status,
        String reason,
        Optional<Accepted> accepted,
        Optional<Long> onVersion,
        Optional<Moving> moving,
        boolean barred,
        Act requested,
        Optional<Act> decided,
        long version) {

    public enum Status {
        WAITING,
        ACTIVE,
        PAUSED,
        DECLINED,
        ENDED;

        /** Whether something may still become of it. */
        public boolean isLive() {
            return this == WAITING || this == ACTIVE || this == PAUSED;
        }

        @Override
        public String toString() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /** @param by what people call them */
    public record Act(String by, Instant at) {}

    /** @param terms their version */
    public record Accepted(long terms, String by, Instant at) {}

    public record Moving(String planId, Optional<Accepted> accepted) {}

    public Subscription decided(Status now, String why, Act by) {
        return new Subscription(
                id,
                issuerId,
                clientId,
                planId,
                now,
                why,
                accepted,
                onVersion,
                moving,
                barred,
                requested,
                Optional.of(by),
                version + 1);
    }

    /** At once on another plan, or waiting to be. */
    public Subscription moved(String plan, Optional<Accepted> terms, boolean atOnce) {
        return new Subscription(
                id,
                issuerId,
                clientId,
                atOnce ? plan : planId,
                status,
                reason,
                atOnce ? terms : accepted,
                atOnce ? Optional.empty() : onVersion,
                atOnce ? Optional.empty() : Optional.of(new Moving(plan, terms)),
                barred,
                requested,
                decided,
                version + 1);
    }

    public Subscription staying() {
        return new Subscription(
                id,
                issuerId,
                clientId,
                planId,
                status,
                reason,
                accepted,
                onVersion,
                Optional.empty(),
                barred,
                requested,
                decided,
                version + 1);
    }

    /** With the terms that are there now accepted. */
    public Subscription accepting(Accepted terms) {
        return new Subscription(
                id,
                issuerId,
                clientId,
                planId,
                status,
                reason,
                Optional.of(terms),
                onVersion,
                moving,
                barred,
                requested,
                decided,
                version + 1);
    }

    /** With the next request waiting for approval. */
    public Subscription barring() {
        return new Subscription(
                id, issuerId, clientId, planId, status, reason, accepted, onVersion, moving, true, requested, decided,
                version);
    }
}
