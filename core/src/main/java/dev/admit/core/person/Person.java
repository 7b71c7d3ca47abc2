package dev.admit.core.person;

import dev.admit.core.access.AdminRole;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * Someone who can sign in at one issuer. What they sign in with is kept apart, so that nothing that reads a person
 * holds it.
 *
 * @param id the {@code sub} of tokens on their behalf; never a client's id
 * @param email in lower case: what they sign in by
 * @param profile field → value
 * @param roles ids of roles of the issuer's APIs
 * @param adminRole what they may do at Admit itself; empty for nothing
 */
public record Person(
        String id,
        String issuerId,
        String email,
        boolean emailVerified,
        Map<String, String> profile,
        List<String> roles,
        Optional<AdminRole> adminRole,
        boolean enabled,
        long version,
        Instant createdAt,
        Instant changedAt) {

    /** What pages and lists call them. */
    public String name() {
        return profile.getOrDefault("name", email);
    }

    public Person with(Map<String, String> otherProfile, Instant now) {
        return new Person(
                id,
                issuerId,
                email,
                emailVerified,
                Map.copyOf(otherProfile),
                roles,
                adminRole,
                enabled,
                version + 1,
                createdAt,
                now);
    }

    public Person verified(Instant now) {
        return new Person(id, issuerId, email, true, profile, roles, adminRole, enabled, version + 1, createdAt, now);
    }

    /** The same, but for when it was changed last: to tell whether anything else differs. */
    public Person withoutTime() {
        return new Person(
                id, issuerId, email, emailVerified, profile, roles, adminRole, enabled, version, createdAt, createdAt);
    }
}
