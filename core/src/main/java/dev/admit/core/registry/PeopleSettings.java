package dev.admit.core.registry;

import java.time.Duration;
import java.util.Optional;

/**
 * How people sign in at an issuer, and what its pages look like.
 *
 * @param listed whether strangers find it named at the console's entrance
 * @param signUp whether anyone may sign up; else people are added or invited
 * @param secondFactor whether everyone needs one
 * @param sessionIdleTimeout a session ends when it was not used for so long
 * @param maxSessionAge a session ends after so long in any case
 */
public record PeopleSettings(
        boolean listed,
        boolean signUp,
        boolean secondFactor,
        Duration sessionIdleTimeout,
        Duration maxSessionAge,
        Look look) {
    public static final PeopleSettings USUAL =
            new PeopleSettings(false, false, false, Duration.ofHours(8), Duration.ofDays(7), Look.PLAIN);

    /**
     * @param logo a picture as a data URI; so no page asks another host for it
     * @param accent a colour as {@code #1f6f63}
     * @param welcome a sentence above the sign-in form
     * @param styleSheet CSS of the owner, after Admit's own
     */
    public record Look(
            Optional<String> logo, Optional<String> accent, Optional<String> welcome, Optional<String> styleSheet) {
        public static final Look PLAIN =
                new Look(Optional.empty(), Optional.empty(), Optional.empty(), Optional.empty());
    }
}
