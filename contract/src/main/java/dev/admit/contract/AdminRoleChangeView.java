package dev.admit.contract;

import java.time.Instant;

/**
 * That a person's admin role was given, changed or taken away.
 *
 * @param before {@code none} for none
 * @param by who changed it
 */
public record AdminRoleChangeView(Instant at, String email, String before, String after, String by) {}
