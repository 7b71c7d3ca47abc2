package dev.admit.contract;

import org.jspecify.annotations.Nullable;

/**
 * Who is to answer for what.
 *
 * @param person an address or id
 * @param api the name of an API; null where a client is meant
 * @param client the name of a client; null where an API is meant
 */
public record OwnerWanted(
        @Nullable String person,
        @Nullable String api,
        @Nullable String client) {}
