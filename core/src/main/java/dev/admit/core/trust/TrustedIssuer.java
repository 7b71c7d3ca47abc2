package dev.admit.core.trust;

import dev.admit.core.key.SigningAlgorithm;
import java.net.URI;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * An issuer elsewhere whose tokens routes may accept, and how those tokens are read.
 *
 * @param issuerId the issuer here that trusts it
 * @param url the issuer identifier, exactly as its tokens carry it
 * @param algorithms that its signatures may have
 * @param types the values of {@code typ} that its access tokens have, in lower case; {@code none} for tokens without
 * @param audience that its tokens must be for; empty for the audience of the API behind the route
 * @param scopes its name for a scope → ours; where there are some, no other counts. Empty for names that are the same
 *     in both places
 * @param clients its id for a client → the id of ours that it is
 */
public record TrustedIssuer(
        String id,
        String issuerId,
        String name,
        String url,
        Keys keys,
        List<SigningAlgorithm> algorithms,
        List<String> types,
        Optional<String> audience,
        Claims claims,
        Map<String, String> scopes,
        Map<String, String> clients,
        long version,
        Instant createdAt) {

    /** Where its keys are found. */
    public sealed interface Keys {
        /** In its metadata (RFC 8414 §2, OpenID Connect Discovery §3), which must name the same issuer. */
        record InMetadata(URI at) implements Keys {}

        /** In a key set (RFC 7517 §5) at an address. */
        record At(URI at) implements Keys {}

        /** In a key set that was pasted; it changes when a person changes it. */
        record Pasted(String jwks) implements Keys {}
    }

    /**
     * Which claims say what: a name, or a JSON Pointer (RFC 6901) to one that lies deeper.
     *
     * @param person whom a token acts for; where there is none, or it equals the client, a client acts on its own
     */
    public record Claims(String scope, String roles, String person, String client) {
        /** RFC 9068 §2.2. */
        public static final Claims USUAL = new Claims("scope", "roles", "sub", "client_id");
    }
}
