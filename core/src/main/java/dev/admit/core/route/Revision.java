package dev.admit.core.route;

import java.time.Instant;

/**
 * A numbered state of an issuer's routes.
 *
 * @param who made it
 * @param why as they said; may be empty
 */
public record Revision(String issuerId, long number, Instant at, String who, String whoId, String why) {}
