package dev.admit.core.owner;

import java.time.Instant;

/**
 * A person who answers for an API or a client.
 *
 * @param namedBy who said so
 */
public record Owner(String issuerId, String personId, String email, Owned owned, Instant since, String namedBy) {}
