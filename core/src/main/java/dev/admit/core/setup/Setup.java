package dev.admit.core.setup;

import dev.admit.contract.FieldWanted;
import dev.admit.contract.FixedResponse;
import dev.admit.contract.IssuerWanted;
import dev.admit.contract.OneOf;
import dev.admit.contract.PlanWanted;
import dev.admit.contract.PublicationWanted;
import dev.admit.contract.RegistrationWanted;
import dev.admit.contract.RoleWanted;
import dev.admit.contract.RouteLimits;
import dev.admit.contract.RouteTimeouts;
import dev.admit.contract.RouteTransform;
import dev.admit.contract.RouteWho;
import dev.admit.contract.ScopeWanted;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * Everything configurable of one issuer, or a piece of it, as its file has it. Names of things are keys; what is left
 * out of a file is as usual for a thing that is new, and stays for one that is there. No secret is ever in it.
 *
 * @param issuer which issuer is meant
 * @param registration whether clients may register themselves
 * @param plans by name
 */
public record Setup(
        @Nullable String issuer,
        @Nullable String title,
        @Nullable String description,
        @Nullable IssuerWanted settings,
        @Nullable Map<String, FieldWanted> profileFields,
        @Nullable Map<String, ApiPart> apis,
        @Nullable List<RoutePart> routes,
        @Nullable Map<String, ClientPart> clients,
        @Nullable Map<String, TrustedPart> trustedIssuers,
        @Nullable Map<String, CredentialPart> upstreamCredentials,
        @Nullable RegistrationWanted registration,
        @Nullable Map<String, PlanWanted> plans) {
    /** Of everything but plans, and whether clients register themselves. */
    public Setup(
            @Nullable String issuer,
            @Nullable String title,
            @Nullable String description,
            @Nullable IssuerWanted settings,
            @Nullable Map<String, FieldWanted> profileFields,
            @Nullable Map<String, ApiPart> apis,
            @Nullable List<RoutePart> routes,
            @Nullable Map<String, ClientPart> clients,
            @Nullable Map<String, TrustedPart> trustedIssuers,
            @Nullable Map<String, CredentialPart> upstreamCredentials) {
        this(
                issuer,
                title,
                description,
                settings,
                profileFields,
                apis,
                routes,
                clients,
                trustedIssuers,
                upstreamCredentials,
                null,
                null);
    }

    /** The same, with other APIs. */
    public Setup withApis(Map<String, ApiPart> others) {
        return new Setup(
                issuer,
                title,
                description,
                settings,
                profileFields,
                others,
                routes,
                clients,
                trustedIssuers,
                upstreamCredentials,
                registration,
                plans);
    }

    /** The same, with other routes. */
    public Setup withRoutes(List<RoutePart> others) {
        return new Setup(
                issuer,
                title,
                description,
                settings,
                profileFields,
                apis,
                others,
                clients,
                trustedIssuers,
                upstreamCredentials,
                registration,
                plans);
    }

    /**
     * @param openapi the OpenAPI document that it has; {} for none
     * @param catalogue how it stands in the catalogue
     */
    public record ApiPart(
            @Nullable String title,
            @Nullable String audience,
            @Nullable Boolean outsideDomains,
            @Nullable String upstream,
            @Nullable List<String> owners,
            @Nullable MintingPart minting,
            @Nullable Map<String, ScopeWanted> scopes,
            @Nullable Map<String, RoleWanted> roles,
            @Nullable List<String> defaultScopes,
            @Nullable Boolean allByDefault,
            @Nullable Map<String, Object> openapi,
            @Nullable PublicationWanted catalogue) {
        static final ApiPart NOTHING = at(null);

        /** Says where it is, and nothing else. */
        public static ApiPart at(@Nullable String upstream) {
            return new ApiPart(null, null, null, upstream, null, null, null, null, null, null, null, null);
        }

        /** The same, with an OpenAPI document. */
        public ApiPart describedBy(Map<String, Object> document) {
            return new ApiPart(
                    title,
                    audience,
                    outsideDomains,
                    upstream,
                    owners,
                    minting,
                    scopes,
                    roles,
                    defaultScopes,
                    allByDefault,
                    document,
                    catalogue);
        }
    }

    /**
     * @param claims name → expression
     * @param exceptions by name
     */
    public record MintingPart(
            @Nullable String lifetime,
            @OneOf({"jwt", "opaque"}) @Nullable String format,
            @Nullable Map<String, String> claims,
            @Nullable String refreshIdleTimeout,
            @Nullable String maxRefreshAge,
            @Nullable Map<String, ExceptionPart> exceptions) {}

    public record ExceptionPart(
            @Nullable List<String> clients,
            @Nullable List<String> tags,
            @Nullable List<String> grantTypes,
            @Nullable String lifetime,
            @OneOf({"jwt", "opaque"}) @Nullable String format,
            @Nullable String refreshIdleTimeout,
            @Nullable String maxRefreshAge,
            @Nullable List<String> without) {}

    /** @param route methods joined by commas, none for any, and the path: {@code GET /tides/**} */
    public record RoutePart(
            @Nullable String route,
            @Nullable String api,
            @Nullable List<String> scopes,
            @OneOf({"all-of", "any-of"}) @Nullable String mode,
            @Nullable Boolean open,
            @Nullable Boolean anyScope,
            @Nullable String upstream,
            @Nullable FixedResponse fixedResponse,
            @Nullable Boolean cors,
            @Nullable RouteWho who,
            @Nullable RouteTransform transform,
            @Nullable RouteTimeouts timeouts,
            @Nullable RouteLimits limits) {
        /** The same, leading elsewhere. */
        public RoutePart to(String elsewhere) {
            return new RoutePart(
                    route,
                    api,
                    scopes,
                    mode,
                    open,
                    anyScope,
                    elsewhere,
                    fixedResponse,
                    cors,
                    who,
                    transform,
                    timeouts,
                    limits);
        }
    }

    /**
     * An issuer elsewhere.
     *
     * @param jwks a JWK Set, where its keys are pasted
     * @param scopes its name → ours
     * @param clients its id → a client here
     */
    public record TrustedPart(
            @Nullable String url,
            @Nullable String metadata,
            @Nullable String jwksUri,
            @Nullable Map<String, Object> jwks,
            @Nullable List<String> algorithms,
            @Nullable List<String> types,
            @Nullable String audience,
            @Nullable String scopeClaim,
            @Nullable String rolesClaim,
            @Nullable String personClaim,
            @Nullable String clientClaim,
            @Nullable Map<String, String> scopes,
            @Nullable Map<String, String> clients) {
        static final TrustedPart NOTHING = at(null, null);

        /** Says where it is, and nothing else. */
        public static TrustedPart at(@Nullable String url, @Nullable String metadata) {
            return new TrustedPart(url, metadata, null, null, null, null, null, null, null, null, null, null, null);
        }
    }

    /**
     * What the gateway itself presents.
     *
     * @param secret where its secret comes from; never the secret
     */
    public record CredentialPart(
            @Nullable String upstream,
            @Nullable String header,
            @Nullable String user,
            @Nullable String clientId,
            @Nullable String issuer,
            @Nullable String tokenEndpoint,
            @OneOf({"header", "body"}) @Nullable String auth,
            @Nullable String scope,
            @Nullable Map<String, String> parameters,
            @Nullable SecretPart secret) {
        static final CredentialPart NOTHING = at(null, null, null);

        /**
         * Says where things are and nothing else.
         *
         * @param secret may be null
         */
        public static CredentialPart at(
                @Nullable String upstream, @Nullable String issuer, @Nullable SecretPart secret) {
            return new CredentialPart(upstream, null, null, null, issuer, null, null, null, null, secret);
        }
    }

    /**
     * @param owners the addresses of the people who answer for it; all of them
     * @param jwks a JWK Set with public keys
     * @param secret where its secret comes from; never the secret
     * @param clientId of the registrant's choice; left out where Admit made it
     * @param scopes scope → {@code waiting}, {@code granted}, or {@code granted until} and a time
     * @param subscriptions plan → {@code waiting}, {@code active} or {@code paused}
     */
    public record ClientPart(
            @Nullable String clientName,
            @Nullable String description,

            @OneOf({"machine", "web", "browser", "native", "device"}) @Nullable
            String kind,

            @OneOf({"client_secret_basic", "client_secret_post", "private_key_jwt", "none"}) @Nullable
            String tokenEndpointAuthMethod,

            @Nullable List<String> owners,
            @Nullable List<String> contacts,
            @Nullable List<String> links,
            @Nullable List<String> tags,
            @Nullable List<String> redirectUris,
            @Nullable List<String> origins,
            @Nullable List<String> grantTypes,
            @Nullable List<String> openidScopes,
            @Nullable Map<String, Object> jwks,
            @Nullable String jwksUri,

            @OneOf({"ES256", "RS256", "PS256", "EdDSA"}) @Nullable
            String tokenEndpointAuthSigningAlg,

            @Nullable Boolean openidGranted,
            @Nullable Boolean secondFactor,

            @OneOf({"ES256", "RS256", "PS256", "EdDSA"}) @Nullable
            String idTokenSignedResponseAlg,

            @Nullable List<String> postLogoutRedirectUris,
            @Nullable Boolean mayIntrospect,
            @Nullable Boolean enabled,
            @Nullable SecretPart secret,
            @Nullable Map<String, String> scopes,
            @Nullable String clientId,
            @Nullable Map<String, String> subscriptions) {
        static final ClientPart NOTHING = proving(null, null);

        /** Says how it proves itself, and nothing else. */
        public static ClientPart proving(@Nullable String jwksUri, @Nullable SecretPart secret) {
            return new ClientPart(
                    null, null, null, null, null, null, null, null, null, null, null, null, null, jwksUri, null, null,
                    null, null, null, null, null, secret, null, null, null);
        }

        /** The same, with these redirect URIs. */
        public ClientPart returningTo(List<String> addresses) {
            return new ClientPart(
                    clientName,
                    description,
                    kind,
                    tokenEndpointAuthMethod,
                    owners,
                    contacts,
                    links,
                    tags,
                    addresses,
                    origins,
                    grantTypes,
                    openidScopes,
                    jwks,
                    jwksUri,
                    tokenEndpointAuthSigningAlg,
                    openidGranted,
                    secondFactor,
                    idTokenSignedResponseAlg,
                    postLogoutRedirectUris,
                    mayIntrospect,
                    enabled,
                    secret,
                    scopes,
                    clientId,
                    subscriptions);
        }
    }

    /**
     * @param fromEnv the name of an environment variable where the file is loaded from
     * @param fromFile a file there, in place of it
     */
    public record SecretPart(
            @Nullable String fromEnv,
            @Nullable String fromFile,
            @Nullable String lifetime) {}
}
