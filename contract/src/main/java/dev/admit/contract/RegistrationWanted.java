package dev.admit.contract;

import org.jspecify.annotations.Nullable;

/**
 * Whether clients are to register themselves at an issuer; what is left out stays.
 *
 * @param mode nobody, with an initial access token, or everybody
 * @param limits of those that register without an initial access token
 * @param approver who approves what such a client requests: the person who is asked, where the scope lets them, or an
 *     administrator alone
 */
public record RegistrationWanted(
        @OneOf({"closed", "with-token", "open"}) @Nullable String mode,
        @Nullable RegistrationLimits limits,
        @OneOf({"person", "administrator"}) @Nullable String approver) {}
