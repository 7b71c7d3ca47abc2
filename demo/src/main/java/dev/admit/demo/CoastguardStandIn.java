package dev.admit.demo;

import com.nimbusds.jose.JOSEException;
import com.nimbusds.jose.JOSEObjectType;
import com.nimbusds.jose.JWSAlgorithm;
import com.nimbusds.jose.JWSHeader;
import com.nimbusds.jose.crypto.RSASSASigner;
import com.nimbusds.jose.crypto.RSASSAVerifier;
import com.nimbusds.jose.jwk.JWKSet;
import com.nimbusds.jose.jwk.RSAKey;
import com.nimbusds.jose.jwk.gen.RSAKeyGenerator;
import com.nimbusds.jwt.JWTClaimsSet;
import com.nimbusds.jwt.SignedJWT;
import com.sun.net.httpserver.HttpExchange;
import dev.admit.core.registry.NewSecret;
import java.io.IOException;
import java.net.URI;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.text.ParseException;
import java.time.Instant;
import java.util.Base64;
import java.util.Date;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.UUID;

/**
 * The coastguard: an organisation elsewhere with an issuer of its own, whose tokens look as theirs happen to look, and
 * with an API of its own, the warnings, that takes no others. New keys at each start; {@code /new-key} puts another in
 * their place.
 */
final class CoastguardStandIn extends StandIn {
    static final String PATROL_BOAT = "patrol-boat";
    static final String WARNINGS = "https://warnings.coastguard.example";

    private final String secret = NewSecret.make().reveal();
    private volatile RSAKey key = newKey();

    CoastguardStandIn() throws IOException {}

    URI metadata() {
        return URI.create(url() + "/.well-known/openid-configuration");
    }

    /** Of its client {@link #PATROL_BOAT}. */
    String secret() {
        return secret;
    }

    private static RSAKey newKey() {
        try {
            return new RSAKeyGenerator(2048)
                    .keyIDFromThumbprint(true)
                    .algorithm(JWSAlgorithm.RS256)
                    .generate();
        } catch (JOSEException broken) {
            throw new IllegalStateException(broken);
        }
    }

    @Override
    Reply reply(String method, String[] path, byte[] body, HttpExchange exchange) {
        return switch (String.join("/", path)) {
            case ".well-known/openid-configuration" ->
                Reply.ok(inOrder(
                        "issuer",
                        url().toString(),
                        "jwks_uri",
                        url() + "/jwks",
                        "token_endpoint",
                        url() + "/token",
                        "response_types_supported",
                        List.of("code"),
                        "grant_types_supported",
                        List.of("client_credentials"),
                        "token_endpoint_auth_methods_supported",
                        List.of("client_secret_basic", "client_secret_post")));
            case "jwks" -> Reply.ok(new JWKSet(key).toJSONObject());
            case "token" -> token(form(body), exchange.getRequestHeaders().getFirst("Authorization"));
            case "warnings" -> warnings(exchange.getRequestHeaders().getFirst("Authorization"));
            case "new-key" -> {
                key = newKey();
                yield Reply.ok(inOrder("kid", key.getKeyID()));
            }
            default -> Reply.error(404, "no such thing here");
        };
    }

    /** The client credentials grant (RFC 6749 §4.4), with the client's credentials in the header or in the body. */
    private Reply token(Map<String, String> form, String authorization) {
        String basic = "Basic "
                + Base64.getEncoder().encodeToString((PATROL_BOAT + ":" + secret).getBytes(StandardCharsets.UTF_8));
        boolean known = basic.equals(authorization)
                || PATROL_BOAT.equals(form.get("client_id")) && secret.equals(form.get("client_secret"));
        if (!known) return new Reply(401, Map.of("error", "invalid_client"));
        if (!"client_credentials".equals(form.get("grant_type")))
            return new Reply(400, Map.of("error", "unsupported_grant_type"));
        Instant now = Instant.now();
        JWTClaimsSet claims = new JWTClaimsSet.Builder()
                .issuer(url().toString())
                .subject(form.getOrDefault("person", PATROL_BOAT))
                .claim("vessel", PATROL_BOAT)
                .audience(form.getOrDefault("audience", WARNINGS))
                .claim(
                        "watch_may",
                        List.of(form.getOrDefault("scope", "sea.heights").split(" ")))
                .claim("crew", Map.of("duties", List.of("lookout")))
                .jwtID(UUID.randomUUID().toString())
                .issueTime(Date.from(now))
                .expirationTime(Date.from(now.plusSeconds(600)))
                .build();
        try {
            SignedJWT token = new SignedJWT(
                    new JWSHeader.Builder(JWSAlgorithm.RS256)
                            .type(new JOSEObjectType("watch+jwt"))
                            .keyID(key.getKeyID())
                            .build(),
                    claims);
            token.sign(new RSASSASigner(key));
            return Reply.ok(inOrder("access_token", token.serialize(), "token_type", "Bearer", "expires_in", 600));
        } catch (JOSEException broken) {
            return Reply.error(500, "no token");
        }
    }

    private Reply warnings(String authorization) {
        try {
            SignedJWT token = SignedJWT.parse(authorization == null ? "" : authorization.replaceFirst("^Bearer ", ""));
            boolean good = token.verify(new RSASSAVerifier(key.toRSAPublicKey()))
                    && token.getJWTClaimsSet().getAudience().contains(WARNINGS)
                    && token.getJWTClaimsSet().getExpirationTime().toInstant().isAfter(Instant.now());
            if (good)
                return Reply.ok(inOrder(
                        "area",
                        "Saltmarsh Sound",
                        "warning",
                        "fog until noon",
                        "requested_by",
                        token.getJWTClaimsSet().getStringClaim("vessel")));
        } catch (ParseException | JOSEException none) {
            // told below
        }
        return Reply.error(401, "a token of the coastguard for " + WARNINGS);
    }

    private static Map<String, String> form(byte[] body) {
        Map<String, String> form = new HashMap<>();
        for (String pair : new String(body, StandardCharsets.UTF_8).split("&")) {
            int equals = pair.indexOf('=');
            if (equals > 0)
                form.put(
                        pair.substring(0, equals),
                        URLDecoder.decode(pair.substring(equals + 1), StandardCharsets.UTF_8));
        }
        return form;
    }
}
