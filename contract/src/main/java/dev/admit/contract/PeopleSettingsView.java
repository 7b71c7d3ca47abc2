package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import org.jspecify.annotations.Nullable;

/**
 * How people sign in at an issuer, and what its pages look like; in a change, what is left out stays, and an empty text
 * takes away.
 *
 * @param listed whether the console's entrance names it to everyone who comes
 * @param signUp whether anyone may sign up
 * @param secondFactor whether everyone needs a second factor
 * @param sessionIdleTimeout a sign-in ends when it is not used for so long, such as 8h
 * @param maxSessionAge a sign-in ends after so long in any case, such as 7d
 * @param logo a picture as a data URI
 * @param accent a colour such as #1f6f63
 * @param welcome a sentence above the sign-in form
 * @param styleSheet CSS of the owner
 */
public record PeopleSettingsView(
        @Nullable Boolean listed,
        @JsonProperty("sign_up") @Nullable Boolean signUp,
        @JsonProperty("second_factor") @Nullable Boolean secondFactor,
        @JsonProperty("session_idle_timeout") @Nullable String sessionIdleTimeout,
        @JsonProperty("max_session_age") @Nullable String maxSessionAge,
        @Nullable String logo,
        @Nullable String accent,
        @Nullable String welcome,
        @JsonProperty("style_sheet") @Nullable String styleSheet) {}
