package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;

/**
 * How people sign in at an issuer, and what its pages look like; in a change, what is left out stays, and an empty text
 * takes away.
 *
 * @param signUp whether anyone may sign up
 * @param secondFactor whether everyone needs one
 * @param sessionIdleTimeout such as 8h, as @param maxSessionAge
 * @param logo a picture as a data URI
 * @param accent a colour such as #1f6f63
 * @param styleSheet CSS of the owner
 */
public record PeopleSettingsView(
        @JsonProperty("sign_up") Boolean signUp,
        @JsonProperty("second_factor") Boolean secondFactor,
        @JsonProperty("session_idle_timeout") String sessionIdleTimeout,
        @JsonProperty("max_session_age") String maxSessionAge,
        String logo,
        String accent,
        String welcome,
        @JsonProperty("style_sheet") String styleSheet) {}
