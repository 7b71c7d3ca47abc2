package dev.admit.contract;

/**
 * What verifying an audit came to. @param whole whether nothing was altered or removed, @param fault what is wrong,
 * else null
 */
public record AuditProof(boolean whole, long first, long last, String fault) {}
