package dev.admit.contract;

import java.util.List;

/**
 * Whether clients may register themselves at an issuer.
 *
 * @param mode nobody, with an initial access token, or everybody
 * @param limits of those that register without an initial access token
 * @param approver who approves what such a client requests: the person who is asked, where the scope lets them, or an
 *     administrator alone
 * @param endpoint where they register (RFC 7591 §3)
 * @param unused how many registered themselves and were never used or approved
 * @param sentences what is in force, in words
 */
public record RegistrationView(
        @OneOf({"closed", "with-token", "open"}) String mode,
        RegistrationLimits limits,
        @OneOf({"person", "administrator"}) String approver,
        String endpoint,
        int unused,
        List<String> sentences) {}
