package dev.admit.core.registry;

import dev.admit.core.key.SigningAlgorithm;
import java.net.URI;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * A caller, registered with one issuer.
 *
 * @param id the {@code client_id}: public, made by Admit
 * @param grantTypes that it may use; absent for those of its kind
 * @param openidScopes which of the issuer's own scopes it may ask a person for: {@code openid}, {@code profile} and so
 *     on
 * @param people how people meet it; of no meaning for one that acts for nobody
 * @param mayIntrospect whether it may introspect every token of the issuer, and not its own alone (RFC 7662 §2.1)
 * @param enabled whether it gets tokens; switched off and on again, it keeps everything else
 * @param selfRegistered whether it registered itself (RFC 7591): nobody has looked at it
 */
public record Client(
        String id,
        String issuerId,
        String name,
        ClientKind kind,
        Texts texts,
        Proof proof,
        Addresses addresses,
        Optional<List<String>> grantTypes,
        List<String> openidScopes,
        People people,
        boolean mayIntrospect,
        boolean enabled,
        long version,
        Instant createdAt,
        boolean selfRegistered) {
    /** One that a person registered. */
    public Client(
            String id,
            String issuerId,
            String name,
            ClientKind kind,
            Texts texts,
            Proof proof,
            Addresses addresses,
            Optional<List<String>> grantTypes,
            List<String> openidScopes,
            People people,
            boolean mayIntrospect,
            boolean enabled,
            long version,
            Instant createdAt) {
        this(
                id,
                issuerId,
                name,
                kind,
                texts,
                proof,
                addresses,
                grantTypes,
                openidScopes,
                people,
                mayIntrospect,
                enabled,
                version,
                createdAt,
                false);
    }

    /** One that introspects its own tokens alone, which is usual. */
    public Client(
            String id,
            String issuerId,
            String name,
            ClientKind kind,
            Texts texts,
            Proof proof,
            Addresses addresses,
            Optional<List<String>> grantTypes,
            List<String> openidScopes,
            People people,
            boolean enabled,
            long version,
            Instant createdAt) {
        this(
                id,
                issuerId,
                name,
                kind,
                texts,
                proof,
                addresses,
                grantTypes,
                openidScopes,
                people,
                false,
                enabled,
                version,
                createdAt);
    }

    /**
     * What people read of it, and find it by.
     *
     * @param clientName the name that people read
     */
    public record Texts(
            String clientName, String description, List<String> contacts, List<URI> links, List<String> tags) {
        public static Texts named(String clientName) {
            return new Texts(clientName, "", List.of(), List.of(), List.of());
        }
    }

    /**
     * How it proves itself at the token endpoint.
     *
     * @param jwks its public keys as a JWK Set, for {@code private_key_jwt}; or
     * @param jwksUri where they are
     * @param algorithm the one its assertions must use; empty for the one that each key is for
     */
    public record Proof(
            ClientAuthMethod method,
            Optional<String> jwks,
            Optional<URI> jwksUri,
            Optional<SigningAlgorithm> algorithm) {
        public static Proof by(ClientAuthMethod method) {
            return new Proof(method, Optional.empty(), Optional.empty(), Optional.empty());
        }
    }

    /**
     * @param redirects where people come back to, compared as exact strings
     * @param origins of pages that may call from a browser
     */
    public record Addresses(List<String> redirects, List<String> origins) {
        public static final Addresses NONE = new Addresses(List.of(), List.of());
    }

    /**
     * @param openidGranted whether an administrator approved its OpenID scopes for everyone, so that nobody is asked
     * @param secondFactor whether a person needs a second factor for it
     * @param idTokenSignedResponseAlg what its ID tokens are signed with; empty for RS256
     * @param postLogoutRedirectUris where it may have people sent after they signed out, compared as exact strings
     */
    public record People(
            boolean openidGranted,
            boolean secondFactor,
            Optional<SigningAlgorithm> idTokenSignedResponseAlg,
            List<String> postLogoutRedirectUris) {
        public static final People USUAL = new People(false, false, Optional.empty(), List.of());
    }

    public String clientName() {
        return texts.clientName();
    }

    public ClientAuthMethod tokenEndpointAuthMethod() {
        return proof.method();
    }

    public boolean mayUse(String grantType) {
        return usableGrantTypes().contains(grantType);
    }

    public List<String> usableGrantTypes() {
        return grantTypes.orElse(kind.usualGrantTypes());
    }

    /** The same client, on or off. */
    public Client switched(boolean on) {
        return new Client(
                id,
                issuerId,
                name,
                kind,
                texts,
                proof,
                addresses,
                grantTypes,
                openidScopes,
                people,
                mayIntrospect,
                on,
                version + 1,
                createdAt,
                selfRegistered);
    }

    /** The same client, as part of the same change, without the answer that it had. */
    public Client withOpenidNotGranted() {
        return openidGranted(false).at(version);
    }

    private Client at(long its) {
        return new Client(
                id,
                issuerId,
                name,
                kind,
                texts,
                proof,
                addresses,
                grantTypes,
                openidScopes,
                people,
                mayIntrospect,
                enabled,
                its,
                createdAt,
                selfRegistered);
    }

    /** The same client, with another answer to the request its OpenID scopes. */
    public Client openidGranted(boolean granted) {
        People other = new People(
                granted, people.secondFactor(), people.idTokenSignedResponseAlg(), people.postLogoutRedirectUris());
        return new Client(
                id,
                issuerId,
                name,
                kind,
                texts,
                proof,
                addresses,
                grantTypes,
                openidScopes,
                other,
                mayIntrospect,
                enabled,
                version + 1,
                createdAt,
                selfRegistered);
    }
}
