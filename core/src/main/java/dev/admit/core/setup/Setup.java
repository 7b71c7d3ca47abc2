package dev.admit.core.setup;

import dev.admit.core.route.RouteWords;
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
        Rules rules,
        Map<String, FieldPart> fields,
        Map<String, ApiPart> apis,
        List<RoutePart> routes,
        Map<String, ClientPart> clients,
        Map<String, TrustedPart> trustedIssuers,
        Map<String, CredentialPart> upstreamCredentials) {

    public record Rules(
            List<String> domains,
            String keyRotation,
            String secretLifetime,
            String longestSecret,
            Boolean secretsWithoutEnd,
            Boolean developmentAddresses,
            List<String> grantTypes,
            PeoplePart people) {}

    /** A profile field; @param claim empty for none */
    public record FieldPart(
            String title,
            String type,
            List<String> choices,
            String rule,
            Boolean atSignUp,
            Boolean editable,
            String claim,
            Boolean onProfilePage) {}

    /** How people sign in, and what the pages look like. */
    public record PeoplePart(
            Boolean signUp,
            Boolean secondFactor,
            String sessionIdle,
            String sessionLongest,
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
            Boolean allByDefault) {
        static final ApiPart NOTHING = at(null);

        /** Says where it is, and nothing else. */
        public static ApiPart at(String upstream) {
            return new ApiPart(null, null, null, upstream, null, null, null, null, null);
        }
    }

    public record RolePart(String title, List<String> scopes, Boolean secondFactor) {}

    /** @param claims name → expression, @param exceptions by name */
    public record MintingPart(
            String lifetime,
            String format,
            Map<String, String> claims,
            String refreshIdle,
            String refreshLongest,
            Map<String, ExceptionPart> exceptions) {}

    public record ExceptionPart(
            List<String> clients,
            List<String> tags,
            List<String> grantTypes,
            String lifetime,
            String format,
            String refreshIdle,
            String refreshLongest,
            List<String> without) {}

    public record ScopePart(
            String effect,
            String reach,
            String holders,
            String words,
            String wordsForPerson,
            String approver,
            Boolean byRole,
            String life,
            String closesOn,
            Boolean givenByDefault,
            Boolean inMetadata,
            StandingPart standingApproval) {
        static final ScopePart NOTHING =
                new ScopePart(null, null, null, null, null, null, null, null, null, null, null, null);
    }

    /** For which clients a scope is approved ahead. @param owners addresses */
    public record StandingPart(List<String> kinds, List<String> tags, List<String> owners) {}

    /** @param route methods joined by commas, or ANY, and the path: {@code GET /tides/**} */
    public record RoutePart(
            String route,
            String api,
            List<String> scopes,
            String mode,
            Boolean open,
            Boolean anyScope,
            String upstream,
            AnswerPart answer,
            Boolean cors,
            RouteWords.Who who,
            RouteWords.Shaping shaping,
            RouteWords.Limits limits) {
        /** The same, leading elsewhere. */
        public RoutePart to(String elsewhere) {
            return new RoutePart(
                    route, api, scopes, mode, open, anyScope, elsewhere, answer, cors, who, shaping, limits);
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

    public record AnswerPart(Integer status, String contentType, String body) {}

    /**
     * @param owner who answers for it, in words, @param owners the addresses of the people who do; all of them
     * @param jwks a JWK Set with public keys
     * @param secret where its secret comes from; never the secret
     * @param clientId of the registrant's choice; left out where Admit made it
     * @param asks scope → {@code waiting}, {@code given}, or {@code given until} and a time
     */
    public record ClientPart(
            String title,
            String description,
            String kind,
            String authMethod,
            String owner,
            List<String> owners,
            List<String> contacts,
            List<String> links,
            List<String> tags,
            List<String> redirectUris,
            List<String> origins,
            List<String> grantTypes,
            List<String> identityScopes,
            Map<String, Object> jwks,
            String jwksUri,
            String assertionAlg,
            Boolean identityGiven,
            Boolean secondFactor,
            String idTokenAlg,
            List<String> afterSignOut,
            Boolean mayIntrospect,
            Boolean enabled,
            SecretPart secret,
            Map<String, String> asks,
            String clientId) {
        static final ClientPart NOTHING = proving(null, null);

        /** Says how it proves itself, and nothing else. */
        public static ClientPart proving(String jwksUri, SecretPart secret) {
            return new ClientPart(
                    null, null, null, null, null, null, null, null, null, null, null, null, null, null, jwksUri, null,
                    null, null, null, null, null, null, secret, null, null);
        }

        /** The same, with these redirect addresses. */
        public ClientPart returningTo(List<String> addresses) {
            return new ClientPart(
                    title,
                    description,
                    kind,
                    authMethod,
                    owner,
                    owners,
                    contacts,
                    links,
                    tags,
                    addresses,
                    origins,
                    grantTypes,
                    identityScopes,
                    jwks,
                    jwksUri,
                    assertionAlg,
                    identityGiven,
                    secondFactor,
                    idTokenAlg,
                    afterSignOut,
                    mayIntrospect,
                    enabled,
                    secret,
                    asks,
                    clientId);
        }
    }

    /**
     * @param fromEnv the name of an environment variable, or @param fromFile a file, both where the file is loaded from
     */
    public record SecretPart(String fromEnv, String fromFile, String lifetime) {}
}
