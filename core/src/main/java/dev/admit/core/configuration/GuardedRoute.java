package dev.admit.core.configuration;

import dev.admit.core.registry.Api;
import dev.admit.core.route.PathRewrite;
import dev.admit.core.route.RequestCondition;
import dev.admit.core.route.Route;
import dev.admit.core.route.Template;
import dev.admit.core.token.BearerDoor;
import dev.admit.core.upstream.Presenting;
import java.net.URI;
import java.util.Arrays;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;

/**
 * A route made ready for requests.
 *
 * @param api whose tokens it wants; empty on an open route
 * @param ways whose tokens may pass, and what must hold of them; none on an open route
 * @param needed the scopes as the challenge names them (RFC 6750 §3), space-separated; may be empty
 * @param upstream where it forwards to; empty for a fixed response
 * @param credential what the gateway presents there
 */
public record GuardedRoute(
        Route route,
        String label,
        CompiledIssuer issuer,
        Optional<Api> api,
        BearerDoor.Ways ways,
        String needed,
        Optional<URI> upstream,
        Optional<Presenting.Ready> credential,
        Prepared prepared) {

    /** Whether browsers that come without a token are signed in. */
    public boolean signsIn() {
        return route.signsIn();
    }

    /** Whether its credential may go where it forwards to: an API may have moved since the route was saved. */
    public boolean mayPresent() {
        return credential.isEmpty()
                || upstream.filter(it -> credential.get().credential().isFor(it))
                        .isPresent();
    }

    /** The scopes that a stranger may be told of: all of them, or none where one is not listed. */
    public Optional<String> neededOpenly() {
        boolean told = !needed.isEmpty()
                && Arrays.stream(needed.split(" "))
                        .map(issuer.scopesByName()::get)
                        .allMatch(it -> it != null && it.listed());
        return told ? Optional.of(needed) : Optional.empty();
    }

    /** A text in place of problem details. */
    public record OwnText(String contentType, Template body) {}

    /**
     * What the route says in words, read once.
     *
     * @param condition on the request and the token together
     * @param stepUp what a challenge says of the sign-in that is wanted (RFC 9470 §3); may be empty
     * @param rewrite what the path becomes
     * @param setOnRequest header → text
     * @param setOnResponse header → text
     * @param answer the body of a fixed response
     * @param refusals what a refusal says, by reason, status, or any
     * @param ownHeaders what it sets, renames or removes on a request, as backends read names
     * @param sandboxed whether its answers are kept from acting as a page of this host, where others are signed in
     * @param looksAtPath whether anything of it looks at the names in the path
     * @param fillsIn whether a text says another thing for another request
     */
    public record Prepared(
            Optional<RequestCondition> condition,
            String stepUp,
            Optional<PathRewrite> rewrite,
            Map<String, Template> setOnRequest,
            Map<String, Template> setOnResponse,
            Optional<Template> answer,
            Map<String, OwnText> refusals,
            Set<String> ownHeaders,
            boolean sandboxed,
            boolean looksAtPath,
            boolean fillsIn) {
        static Prepared of(
                Optional<RequestCondition> condition,
                String stepUp,
                Optional<PathRewrite> rewrite,
                Map<String, Template> setOnRequest,
                Map<String, Template> setOnResponse,
                Optional<Template> answer,
                Map<String, OwnText> refusals,
                Set<String> ownHeaders,
                boolean sandboxed) {
            boolean fillsIn = Stream.of(
                            setOnRequest.values().stream(), setOnResponse.values().stream(), answer.stream())
                    .flatMap(it -> it)
                    .anyMatch(it -> !it.isFixed());
            return new Prepared(
                    condition,
                    stepUp,
                    rewrite,
                    setOnRequest,
                    setOnResponse,
                    answer,
                    refusals,
                    ownHeaders,
                    sandboxed,
                    fillsIn || condition.isPresent() || rewrite.isPresent(),
                    fillsIn);
        }
    }
}
