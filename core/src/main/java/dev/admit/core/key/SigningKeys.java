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
     * @param removedAt when it was removed, and all its tokens with it; empty for as long as its life goes by itself
     */
    record Stored(
            String kid,
            String issuerId,
            Purpose purpose,
            String algorithm,
            byte[] sealed,
            Instant createdAt,
            Instant signsFrom,
            boolean imported,
            Optional<Instant> removedAt) {

        public Stored signingFrom(Instant time) {
            return new Stored(kid, issuerId, purpose, algorithm, sealed, createdAt, time, imported, removedAt);
        }

        public Stored removed(Instant now) {
            return new Stored(
                    kid, issuerId, purpose, algorithm, sealed, createdAt, signsFrom, imported, Optional.of(now));
        }

        /** What people see of it; the sealed pair stays out. */
        @Override
        public String toString() {
            return "Stored[" + kid + "]";
        }
    }

    /** What a key signs. Each has its own row of keys, one after the other. */
    enum Purpose {
        ACCESS_TOKEN,
        /**
         * ID tokens. Every client takes RS256 (OpenID Connect Core §15.1), which would be a slow choice for access
         * tokens.
         */
        ID_TOKEN;

        @Override
        public String toString() {
            return name().toLowerCase(java.util.Locale.ROOT).replace('_', '-');
        }
    }

    void insert(Stored key);

    void update(Stored key);

    /** Of one issuer, the one that signs last first. */
    List<Stored> of(String issuerId);
}
