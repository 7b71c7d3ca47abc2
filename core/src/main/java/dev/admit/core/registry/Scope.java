package dev.admit.core.registry;

import java.time.Instant;
import java.util.Locale;
import java.util.Optional;

/**
 * A named permission of an API, its name unique in the issuer.
 *
 * @param forWhom for people, for clients on their own, or both under one name
 * @param consequence one sentence that says what holding it allows; {@code {whose}} in it is filled in for the reader
 * @param byRole for people: only those who have a role with it, else open to every person of the issuer
 * @param closesOn from when on it is no longer given; there exactly when its status is closing
 * @param listed whether the issuer's public metadata names it
 * @param standing for which clients it is approved ahead; empty for none
 */
public record Scope(
        String id,
        String issuerId,
        String apiId,
        String name,
        Effect effect,
        Reach reach,
        For forWhom,
        String consequence,
        Approver approver,
        boolean byRole,
        Status status,
        Optional<Instant> closesOn,
        boolean listed,
        Optional<StandingApproval> standing,
        long version) {

    public Scope {
        if ((status == Status.CLOSING) != closesOn.isPresent()) {
            throw new IllegalArgumentException("a scope that is closing, and no other, has a date");
        }
        if (approver == Approver.PERSON && !forWhom.people()) {
            throw new IllegalArgumentException("a permission for clients on their own needs an administrator");
        }
    }

    /** What {@link #consequence} may hold in the place of whose things it reaches. */
    public static final String WHOSE = "{whose}";

    /** The consequence as the person reads it whose things it reaches, or who is asked to approve it. */
    public String consequenceForPerson() {
        // Of a scope that reaches everyone's things, "your" would tell a person less than what they allow.
        return consequence.replace(WHOSE, reach == Reach.OWN ? "your" : "everyone's");
    }

    /** The consequence as an administrator reads it. */
    public String consequenceForAdministrator() {
        return consequence.replace(WHOSE, reach == Reach.OWN ? "the caller's own" : "everyone's");
    }

    /** Whether new tokens may carry it. */
    public boolean isGrantedAt(Instant now) {
        return switch (status) {
            case DRAFT -> false;
            case IN_USE -> true;
            case CLOSING -> now.isBefore(closesOn.orElseThrow());
        };
    }

    public enum Effect {
        READS,
        CHANGES,
        BOTH;

        @Override
        public String toString() {
            return wire(this);
        }
    }

    /** Whose things it reaches: the caller's own, or everyone's. */
    public enum Reach {
        OWN,
        EVERYONE;

        @Override
        public String toString() {
            return wire(this);
        }
    }

    public enum Approver {
        PERSON,
        ADMINISTRATOR;

        @Override
        public String toString() {
            return wire(this);
        }
    }

    public enum Status {
        DRAFT,
        IN_USE,
        CLOSING;

        @Override
        public String toString() {
            return wire(this);
        }
    }

    public enum For {
        PEOPLE,
        CLIENTS,
        BOTH;

        public boolean people() {
            return this != CLIENTS;
        }

        public boolean clients() {
            return this != PEOPLE;
        }

        @Override
        public String toString() {
            return wire(this);
        }
    }

    private static String wire(Enum<?> word) {
        return word.name().toLowerCase(Locale.ROOT).replace('_', '-');
    }
}
