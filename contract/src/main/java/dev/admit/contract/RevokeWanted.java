package dev.admit.contract;

import org.jspecify.annotations.Nullable;

/**
 * Which tokens are to end; exactly one member.
 *
 * @param token its id (jti)
 * @param client by name
 * @param api by name
 * @param approval by id
 */
public record RevokeWanted(
        @Nullable String token,
        @Nullable String client,
        @Nullable String api,
        @Nullable String approval) {}
