package dev.admit.server.protocol;

import dev.admit.core.authorize.AuthorizationRequest;
import dev.admit.core.authorize.IdentityScopes;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.configuration.LiveConfiguration;
import dev.admit.core.grant.IssueToken;
import dev.admit.core.key.SigningAlgorithm;
import dev.admit.core.person.ProfileField;
import dev.admit.core.registry.ClientAuthMethod;
import dev.admit.core.registry.Scope;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Stream;
import org.springframework.http.CacheControl;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RestController;

/** What an issuer says of itself: its metadata (RFC 8414) and its keys (RFC 7517). */
@RestController
class Metadata {
    private static final String DEVICE_GRANT = "urn:ietf:params:oauth:grant-type:device_code";
    private static final CacheControl FIVE_MINUTES =
            CacheControl.maxAge(Duration.ofMinutes(5)).cachePublic();

    private final LiveConfiguration configuration;
    private final Clock clock;

    Metadata(LiveConfiguration configuration, Clock clock) {
        this.configuration = configuration;
        this.clock = clock;
    }

    /**
     * RFC 8414 §3.1 puts the well-known part between host and path; OpenID Connect Discovery §4 appends it. Both
     * answer.
     */
    @GetMapping({
        "/.well-known/oauth-authorization-server/{issuer}",
        "/.well-known/openid-configuration/{issuer}",
        "/{issuer}/.well-known/oauth-authorization-server",
        "/{issuer}/.well-known/openid-configuration"
    })
    ResponseEntity<Map<String, Object>> metadata(@PathVariable String issuer) {
        CompiledIssuer found = configuration.get().issuer(issuer).orElseThrow(NoIssuer::new);
        return ResponseEntity.ok()
                .cacheControl(FIVE_MINUTES)
                .contentType(MediaType.APPLICATION_JSON)
                .body(describe(found));
    }

    /** Only what is on. */
    private Map<String, Object> describe(CompiledIssuer issuer) {
        Instant now = clock.instant();
        Map<String, Object> metadata = new LinkedHashMap<>();
        metadata.put("issuer", issuer.url());
        List<String> grantTypes = IssueToken.grantTypes(issuer.issuer());
        // Where no grant type is on there is nothing to request; an empty list of them is not allowed (RFC 8414 §3.2).
        if (!grantTypes.isEmpty()) metadata.put("token_endpoint", issuer.url() + "/token");
        metadata.put("jwks_uri", issuer.url() + "/jwks");
        boolean people = grantTypes.contains("authorization_code") || grantTypes.contains(DEVICE_GRANT);
        List<String> scopes = Stream.concat(
                        people ? IdentityScopes.all().stream() : Stream.of(),
                        issuer.scopesByName().values().stream()
                                .filter(scope -> scope.listed() && scope.isGrantedAt(now))
                                .map(Scope::name)
                                .sorted())
                .toList();
        if (!scopes.isEmpty()) metadata.put("scopes_supported", scopes);
        if (!grantTypes.isEmpty()) metadata.put("grant_types_supported", grantTypes);
        List<String> methods = Arrays.stream(ClientAuthMethod.values())
                .map(ClientAuthMethod::toString)
                .toList();
        List<String> algorithms = Arrays.stream(SigningAlgorithm.values())
                .map(SigningAlgorithm::toString)
                .toList();
        metadata.put("token_endpoint_auth_methods_supported", methods);
        metadata.put("token_endpoint_auth_signing_alg_values_supported", algorithms);
        metadata.put("introspection_endpoint", issuer.url() + "/introspect");
        metadata.put(
                "introspection_endpoint_auth_methods_supported",
                methods.stream().filter(method -> !method.equals("none")).toList());
        metadata.put("introspection_endpoint_auth_signing_alg_values_supported", algorithms);
        metadata.put("revocation_endpoint", issuer.url() + "/revoke");
        metadata.put("revocation_endpoint_auth_methods_supported", methods);
        metadata.put("revocation_endpoint_auth_signing_alg_values_supported", algorithms);
        if (grantTypes.contains("authorization_code")) describeAuthorization(issuer, metadata);
        if (grantTypes.contains(DEVICE_GRANT))
            metadata.put("device_authorization_endpoint", issuer.url() + "/device_authorization"); // RFC 8628 §4
        if (people) describePeople(issuer, now, metadata);
        if (issuer.registersClients()) metadata.put("registration_endpoint", issuer.url() + "/register"); // RFC 8414 §2
        // Left out, these two would mean yes to a reader (OpenID Connect Discovery §3).
        metadata.put("request_parameter_supported", false);
        metadata.put("request_uri_parameter_supported", false);
        return metadata;
    }

    private static void describeAuthorization(CompiledIssuer issuer, Map<String, Object> metadata) {
        metadata.put("authorization_endpoint", issuer.url() + "/authorize");
        metadata.put("response_types_supported", List.of("code"));
        metadata.put("response_modes_supported", List.of("query", "form_post"));
        metadata.put("code_challenge_methods_supported", List.of("S256"));
        metadata.put("authorization_response_iss_parameter_supported", true); // RFC 9207 §3
        metadata.put(
                "prompt_values_supported",
                Arrays.stream(AuthorizationRequest.Prompt.values())
                        .map(it -> it.name().toLowerCase(Locale.ROOT))
                        .toList());
        metadata.put("end_session_endpoint", issuer.url() + "/end-session");
    }

    private static void describePeople(CompiledIssuer issuer, Instant now, Map<String, Object> metadata) {
        metadata.put("userinfo_endpoint", issuer.url() + "/userinfo");
        metadata.put("subject_types_supported", List.of("public"));
        metadata.put(
                "id_token_signing_alg_values_supported",
                Stream.of(issuer.keys().identityAt(now), issuer.keys().activeAt(now))
                        .map(key -> key.algorithm().getName())
                        .distinct()
                        .toList());
        metadata.put("acr_values_supported", List.of("urn:admit:acr:1", "urn:admit:acr:2"));
        metadata.put(
                "claims_supported",
                Stream.concat(
                                Stream.of(
                                        "sub",
                                        "iss",
                                        "aud",
                                        "exp",
                                        "iat",
                                        "auth_time",
                                        "acr",
                                        "amr",
                                        "nonce",
                                        "email",
                                        "email_verified",
                                        "updated_at"),
                                Stream.concat(ProfileField.standard().stream(), issuer.fields().stream())
                                        .flatMap(field -> field.claim().stream()))
                        .distinct()
                        .toList());
        metadata.put("claims_parameter_supported", false);
    }

    @GetMapping("/{issuer}/jwks")
    ResponseEntity<Map<String, Object>> keys(@PathVariable String issuer) {
        CompiledIssuer found = configuration.get().issuer(issuer).orElseThrow(NoIssuer::new);
        return ResponseEntity.ok()
                .cacheControl(FIVE_MINUTES)
                .contentType(MediaType.parseMediaType("application/jwk-set+json"))
                .body(found.keys().publishedAt(clock.instant()).toJSONObject());
    }
}
