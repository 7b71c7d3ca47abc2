package dev.admit.core.grant;

import dev.admit.core.registry.Api;
import java.time.Instant;
import java.util.List;

/**
 * What a token may be minted for, once everything was checked.
 *
 * @param until no token may live longer: the first end of an approval or a scope it leans on
 */
record Entitlement(Api api, List<String> scopeNames, Instant until) {}
