package dev.admit.core.grant;

import dev.admit.core.registry.Api;
import java.time.Instant;
import java.util.List;
import java.util.Map;

/**
 * What a token may be minted for, once everything was checked.
 *
 * @param until no token may live longer: the first end of an approval or a scope it leans on
 * @param marks claims that say how the token came about; empty for most
 */
record GrantedScopes(Api api, List<String> scopeNames, Instant until, Map<String, Object> marks) {
    GrantedScopes(Api api, List<String> scopeNames, Instant until) {
        this(api, scopeNames, until, Map.of());
    }

    /** As a token has them: RFC 6749 §3.3. */
    String text() {
        return String.join(" ", scopeNames);
    }
}
