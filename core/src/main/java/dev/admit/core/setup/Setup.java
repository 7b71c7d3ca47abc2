package dev.admit.core.setup;

import com.fasterxml.jackson.annotation.JsonProperty;
import dev.admit.contract.FixedResponse;
import dev.admit.contract.RouteLimits;
import dev.admit.contract.RouteTimeouts;
import dev.admit.contract.RouteTransform;
import dev.admit.contract.RouteWho;
import java.util.List;
import java.util.Map;

/**
 * Everything configurable of one issuer, or a piece of it, as its file has it. Names of things are keys; what is left
 * out of a file is as usual for a thing that is new, and stays for one that is there. No secret is ever in it.
 *
 * @param issuer which issuer is meant
 */
public record Setup(
        String issuer,
        String title,
        String description,
        IssuerSettingsPart settings,
        Map<String, FieldPart> profileFields,
        Map<String, ApiPart> apis,
        List<RoutePart> routes,
        Map<String, ClientPart> clients,
        Map<String, TrustedPart> trustedIssuers,
        Map<String, CredentialPart> upstreamCredentials) {

    public record IssuerSettingsPart(
            List<String> domains,
            String keyRotation,
            String secretLifetime,
            String maxSecretLifetime,
            Boolean nonExpiringSecrets,
            Boolean loopbackRedirects,
            List<String> grantTypes,
            PeoplePart people) {}

    /** A profile field; @param claim empty for none */
    public record FieldPart(
            String title,
            String type,
            List<String> choices,
            String pattern,
            Boolean atSignUp,
            Boolean editable,
            String claim,
            Boolean onProfilePage) {}

    /** How people sign in, and what the pages look like. */
    public record PeoplePart(
            Boolean signUp,
            Boolean secondFactor,
            String sessionIdleTimeout,
            String maxSessionAge,
            String logo,
            String accent,
            String welcome,
            String styleSheet) {}

    public record ApiPart(
            String title,
            String audience,
            Boolean outsideDomains,
            String upstream,
            List<String> owners,
            MintingPart minting,
            Map<String, ScopePart> scopes,
            Map<String, RolePart> roles,
            List<String> defaultScopes,
            Boolean allByDefault) {
        static final ApiPart NOTHING = at(null);

        /** Says where it is, and nothing else. */
        public static ApiPart at(String upstream) {
            return new ApiPart(null, null, null, upstream, null, null, null, null, null, null);
        }
    }

    public record RolePart(String title, List<String> scopes, Boolean secondFactor) {}

    /** @param claims name → expression, @param exceptions by name */
    public record MintingPart(
            String lifetime,
            String format,
            Map<String, String> claims,
            String refreshIdleTimeout,
            String maxRefreshAge,
            Map<String, ExceptionPart> exceptions) {}

    public record ExceptionPart(
            List<String> clients,
            List<String> tags,
            List<String> grantTypes,
            String lifetime,
            String format,
            String refreshIdleTimeout,
            String maxRefreshAge,
            List<String> without) {}

    public record ScopePart(
            String effect,
            String reach,
            @JsonProperty("for") String forWhom,
            String consequence,
            String approver,
            Boolean byRole,
            String status,
            String closesOn,
            Boolean listed,
            StandingPart standingApproval) {
        static final ScopePart NOTHING = new ScopePart(null, null, null, null, null, null, null, null, null, null);
    }

    /** For which clients a scope is approved ahead. @param owners addresses */
    public record StandingPart(List<String> kinds, List<String> tags, List<String> owners) {}

    /** @param route methods joined by commas, none for any, and the path: {@code GET /tides/**} */
    public record RoutePart(
            String route,
            String api,
            List<String> scopes,
            String mode,
            Boolean open,
            Boolean anyScope,
            String upstream,
            FixedResponse fixedResponse,
            Boolean cors,
            RouteWho who,
            RouteTransform transform,
            RouteTimeouts timeouts,
            RouteLimits limits) {
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
     * An issuer elsewhere. @param jwks a JWK Set, where its keys are pasted, @param scopes its name → ours, @param
     * clients its id → a client here
     */
    public record TrustedPart(
            String url,
            String metadata,
            String jwksUri,
            Map<String, Object> jwks,
            List<String> algorithms,
            List<String> types,
            String audience,
            String scopeClaim,
            String rolesClaim,
            String personClaim,
            String clientClaim,
            Map<String, String> scopes,
            Map<String, String> clients) {
        static final TrustedPart NOTHING = at(null, null);

        /** Says where it is, and nothing else. */
        public static TrustedPart at(String url, String metadata) {
            return new TrustedPart(url, metadata, null, null, null, null, null, null, null, null, null, null, null);
        }
    }

    /** What the gateway itself presents. @param secret where its secret comes from; never the secret */
    public record CredentialPart(
            String upstream,
            String header,
            String user,
            String clientId,
            String issuer,
            String tokenEndpoint,
            String auth,
            String scope,
            Map<String, String> parameters,
            SecretPart secret) {
        static final CredentialPart NOTHING = at(null, null, null);

        /** Says where things are and nothing else. @param secret may be null */
        public static CredentialPart at(String upstream, String issuer, SecretPart secret) {
            return new CredentialPart(upstream, null, null, null, issuer, null, null, null, null, secret);
        }
    }

    /**
     * @param owners the addresses of the people who answer for it; all of them
     * @param jwks a JWK Set with public keys
     * @param secret where its secret comes from; never the secret
     * @param clientId of the registrant's choice; left out where Admit made it
     * @param scopes scope → {@code waiting}, {@code granted}, or {@code granted until} and a time
     */
    public record ClientPart(
            String clientName,
            String description,
            String kind,
            String tokenEndpointAuthMethod,
            List<String> owners,
            List<String> contacts,
            List<String> links,
            List<String> tags,
            List<String> redirectUris,
            List<String> origins,
            List<String> grantTypes,
            List<String> openidScopes,
            Map<String, Object> jwks,
            String jwksUri,
            String tokenEndpointAuthSigningAlg,
            Boolean openidGranted,
            Boolean secondFactor,
            String idTokenSignedResponseAlg,
            List<String> postLogoutRedirectUris,
            Boolean mayIntrospect,
            Boolean enabled,
            SecretPart secret,
            Map<String, String> scopes,
            String clientId) {
        static final ClientPart NOTHING = proving(null, null);

        /** Says how it proves itself, and nothing else. */
        public static ClientPart proving(String jwksUri, SecretPart secret) {
            return new ClientPart(
                    null, null, null, null, null, null, null, null, null, null, null, null, null, jwksUri, null, null,
                    null, null, null, null, null, secret, null, null);
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
                    clientId);
        }
    }

    /**
     * @param fromEnv the name of an environment variable, or @param fromFile a file, both where the file is loaded from
     */
    public record SecretPart(String fromEnv, String fromFile, String lifetime) {}
}
