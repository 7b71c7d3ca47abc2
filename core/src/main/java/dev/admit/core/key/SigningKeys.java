package dev.admit.core.key;

import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** The keys that are kept, sealed. */
public interface SigningKeys {

    /**
     * @param purpose what it signs
     * @param sealed what {@link SigningKey#sealWith} gave
     * @param signsFrom from when on it signs, until one with a later time does
     * @param removedAt when it was taken out, and all its tokens with it; empty for as long as its life goes by itself
     */
    record Kept(
            String kid,
            String issuerId,
            Purpose purpose,
            String algorithm,
            byte[] sealed,
            Instant createdAt,
            Instant signsFrom,
            boolean imported,
            Optional<Instant> removedAt) {

        public Kept signingFrom(Instant time) {
            return new Kept(kid, issuerId, purpose, algorithm, sealed, createdAt, time, imported, removedAt);
        }

        public Kept removed(Instant now) {
            return new Kept(
                    kid, issuerId, purpose, algorithm, sealed, createdAt, signsFrom, imported, Optional.of(now));
        }

        /** What people see of it; the sealed pair stays out. */
        @Override
        public String toString() {
            return "Kept[" + kid + "]";
        }
    }

    /** What a key signs. Each has its own row of keys, one after the other. */
    enum Purpose {
        ACCESS,
        /**
         * ID tokens. Every client takes RS256 (OpenID Connect Core §15.1), which would be a slow choice for access
         * tokens.
         */
        IDENTITY;

        @Override
        public String toString() {
            return name().toLowerCase(java.util.Locale.ROOT);
        }
    }

    void insert(Kept key);

    void update(Kept key);

    /** Of one issuer, the one that signs last first. */
    List<Kept> of(String issuerId);
}
