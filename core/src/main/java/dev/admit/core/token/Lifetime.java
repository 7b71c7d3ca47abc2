package dev.admit.core.token;

import java.time.Duration;

/** How long tokens live, and how far clocks may differ. */
public final class Lifetime {
    /** An access token's, until an API's minting says otherwise. */
    public static final Duration OF_ACCESS_TOKENS = Duration.ofMinutes(15);
    /** No token may live longer; so a revocation can be dropped after this time. */
    public static final Duration LONGEST = Duration.ofHours(24);
    /** By how much another machine's clock may differ from ours (RFC 7519 §4.1.4 speaks of some small leeway). */
    public static final Duration SKEW = Duration.ofSeconds(30);

    private Lifetime() {}
}
