package dev.admit.core.approval;

import dev.admit.core.change.Actor;
import java.time.Instant;
import java.util.Locale;
import java.util.Optional;

/**
 * What a client requests, and the answer to it.
 *
 * @param decidedBy who gave, declined or withdrew it; empty while it waits
 * @param expiresAt until when a granted one holds; empty for as long as nobody withdraws it
 * @param reason why it was declined or withdrawn; may be empty
 * @param lastWord whether an administrator said no, so that only an administrator can say yes
 * @param byStanding whether it was granted by the standing approval of the scope
 */
public record Approval(
        String id,
        String issuerId,
        String clientId,
        String scopeId,
        String scopeName,
        Status status,
        Instant requestedAt,
        String requestedBy,
        Optional<Instant> decidedAt,
        Optional<String> decidedBy,
        Optional<Instant> expiresAt,
        String reason,
        boolean lastWord,
        boolean byStanding,
        long version) {

    public enum Status {
        WAITING,
        GRANTED,
        DECLINED,
        WITHDRAWN,
        EXPIRED;

        @Override
        public String toString() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /** The status with time taken into account: what was granted for a while ends by itself. */
    public Status statusAt(Instant now) {
        boolean over = status == Status.GRANTED
                && expiresAt.filter(end -> !now.isBefore(end)).isPresent();
        return over ? Status.EXPIRED : status;
    }

    public boolean isGrantedAt(Instant now) {
        return statusAt(now) == Status.GRANTED;
    }

    /**
     * Whether a person answered it, with a yes, a no or an end: from then on only people answer it, also when it is
     * requested again. A request that waits for the first time has version 1.
     */
    boolean wasAnswered() {
        return version > 1 && !byStanding;
    }

    Approval granted(Instant now, String by, Optional<Instant> until) {
        return new Approval(
                id,
                issuerId,
                clientId,
                scopeId,
                scopeName,
                Status.GRANTED,
                requestedAt,
                requestedBy,
                Optional.of(now),
                Optional.of(by),
                until,
                "",
                false,
                false,
                version + 1);
    }

    Approval grantedByStanding(Instant now, String by) {
        return new Approval(
                id,
                issuerId,
                clientId,
                scopeId,
                scopeName,
                Status.GRANTED,
                requestedAt,
                requestedBy,
                Optional.of(now),
                Optional.of(by),
                Optional.empty(),
                "",
                false,
                true,
                version + 1);
    }

    Approval ended(Status how, Instant now, Actor by, String why) {
        return new Approval(
                id,
                issuerId,
                clientId,
                scopeId,
                scopeName,
                how,
                requestedAt,
                requestedBy,
                Optional.of(now),
                Optional.of(by.name()),
                Optional.empty(),
                why,
                lastWord || by.isAdministrator(),
                false,
                version + 1);
    }

    Approval askedAgain(Instant now, String by) {
        return new Approval(
                id,
                issuerId,
                clientId,
                scopeId,
                scopeName,
                Status.WAITING,
                now,
                by,
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                "",
                lastWord,
                false,
                version + 1);
    }
}
