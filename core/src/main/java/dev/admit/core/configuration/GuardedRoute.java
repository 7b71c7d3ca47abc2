package dev.admit.core.configuration;

import dev.admit.core.registry.Api;
import dev.admit.core.route.Route;
import dev.admit.core.token.TokenCheck;
import java.net.URI;
import java.util.List;
import java.util.Optional;

/**
 * A route made ready for requests.
 *
 * @param api      whose tokens it wants; empty on an open route
 * @param checks   what must hold of a verified token, in order
 * @param needed   the scopes as the challenge names them (RFC 6750 §3), space-separated; may be empty
 * @param upstream where it forwards to; empty for a standing answer
 */
public record GuardedRoute(Route route, String label, IssuerInForce issuer, Optional<Api> api, List<TokenCheck> checks,
                           String needed, Optional<URI> upstream) {}
