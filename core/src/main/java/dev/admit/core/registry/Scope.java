package dev.admit.core.registry;

import java.time.Instant;
import java.util.Locale;
import java.util.Optional;

/**
 * A named permission of an API, its name unique in the issuer.
 *
 * @param holders for people, for clients on their own, or both under one name
 * @param words one sentence that says the consequence
 * @param wordsForPerson the sentence for the signed-in person, where it differs
 * @param byRole for people: only those who have a role with it, else open to every person of the issuer
 * @param closesOn from when on it is no longer given; there exactly when its life is closing
 * @param givenByDefault whether it is given when a request names no scope
 * @param inMetadata whether the issuer's public metadata names it
 * @param standing for which clients it is approved ahead; empty for none
 */
public record Scope(
        String id,
        String issuerId,
        String apiId,
        String name,
        Effect effect,
        Reach reach,
        Holders holders,
        String words,
        Optional<String> wordsForPerson,
        Approver approver,
        boolean byRole,
        Life life,
        Optional<Instant> closesOn,
        boolean givenByDefault,
        boolean inMetadata,
        Optional<StandingApproval> standing,
        long version) {

    public Scope {
        if ((life == Life.CLOSING) != closesOn.isPresent()) {
            throw new IllegalArgumentException("a scope that is closing, and no other, has a date");
        }
        if (approver == Approver.PERSON && !holders.people()) {
            throw new IllegalArgumentException("a permission for clients on their own needs an administrator");
        }
    }

    /** Whether new tokens may carry it. */
    public boolean isGivenAt(Instant now) {
        return switch (life) {
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

    public enum Life {
        DRAFT,
        IN_USE,
        CLOSING;

        @Override
        public String toString() {
            return wire(this);
        }
    }

    public enum Holders {
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
