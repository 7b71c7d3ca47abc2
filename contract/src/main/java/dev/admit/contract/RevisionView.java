package dev.admit.contract;

import java.time.Instant;
import java.util.List;

/**
 * A numbered state of an issuer's routes.
 *
 * @param why as the one who made it said
 * @param changed what it changed, a sentence for each route
 */
public record RevisionView(long number, Instant at, String who, String why, List<String> changed) {}
