package dev.admit.core.upstream;

import java.net.URI;
import java.time.Instant;
import java.util.Map;
import java.util.Optional;

/**
 * What the gateway itself presents to an upstream. Its secret is kept sealed, apart from this.
 *
 * @param upstream the only address that it is for, with all below: a route that leads elsewhere cannot carry it there
 */
public record UpstreamCredential(
        String id, String issuerId, String name, URI upstream, Shown shown, long version, Instant createdAt) {

    /** In which form it is presented. */
    public sealed interface Shown {
        /** The secret is the value of a header. */
        record Header(String name) implements Shown {}

        /** The secret is a password (RFC 7617). */
        record Login(String user) implements Shown {}

        /**
         * A token that the gateway fetches as a client of any issuer, by client credentials (RFC 6749 §4.4); the secret
         * is the client's.
         *
         * @param issuer whose metadata names the token endpoint; empty where that is given by hand
         * @param tokenEndpoint given by hand
         * @param inBody whether id and secret go in the body and not in the header (RFC 6749 §2.3.1)
         * @param parameters more of the request: {@code audience}, {@code resource} and the like
         */
        record Token(
                Optional<URI> issuer,
                Optional<URI> tokenEndpoint,
                String clientId,
                boolean inBody,
                Optional<String> scope,
                Map<String, String> parameters)
                implements Shown {}
    }

    /** The name under which its secret is sealed. */
    public String sealedAs() {
        return "upstream-credential " + id;
    }

    /** Whether it may go to that address: the same scheme, host and port, and its path or one below. */
    public boolean isFor(URI other) {
        String path = upstream.getRawPath() == null ? "" : upstream.getRawPath();
        String its = other.getRawPath() == null ? "" : other.getRawPath();
        return upstream.getScheme().equals(other.getScheme())
                && upstream.getHost().equalsIgnoreCase(other.getHost())
                && upstream.getPort() == other.getPort()
                && (path.isEmpty() || its.equals(path) || its.startsWith(path + "/"));
    }
}
