package dev.admit.contract;

import org.jspecify.annotations.Nullable;

/**
 * What verifying an audit came to.
 *
 * @param whole whether nothing was altered or removed
 * @param fault what is wrong, else null
 */
public record AuditProof(
        boolean whole, long first, long last, @Nullable String fault) {}
