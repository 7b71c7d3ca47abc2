package dev.admit.core.route;

import java.util.Set;

/**
 * First segments of paths that are the authorization server's, and that no route at the gateway can have; the names of
 * issuers are reserved as well.
 */
public final class ReservedPaths {
    private static final Set<String> OWN = Set.of("console", "admin");

    private ReservedPaths() {}

    public static boolean isOwn(String segment) {
        return OWN.contains(segment);
    }
}
