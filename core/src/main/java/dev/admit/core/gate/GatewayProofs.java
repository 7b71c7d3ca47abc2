package dev.admit.core.gate;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import com.nimbusds.jose.JOSEException;
import com.nimbusds.jose.JOSEObjectType;
import com.nimbusds.jose.JWSHeader;
import com.nimbusds.jose.JWSObject;
import com.nimbusds.jose.Payload;
import com.nimbusds.jose.jwk.JWKSet;
import dev.admit.core.configuration.GuardedRoute;
import dev.admit.core.key.SigningAlgorithm;
import dev.admit.core.key.SigningFault;
import dev.admit.core.key.SigningKey;
import dev.admit.core.registry.Api;
import dev.admit.core.token.TokenId;
import dev.admit.core.token.VerifiedToken;
import java.time.Duration;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * Makes gateway proofs: signed proofs that a request came through this gateway, by which a backend refuses the one who
 * comes around it. A gateway proof names issuer, audience, caller, person, scopes and route; one bound to a single
 * request names method, path and request as well. The key is this process's own: it is never kept, and another start
 * has another.
 */
public final class GatewayProofs {
    private static final JOSEObjectType TYPE = new JOSEObjectType("admit-proof+jwt");
    private static final Duration LIFETIME = Duration.ofSeconds(60);
    private static final Duration REUSED = Duration.ofSeconds(30);
    private static final int MOST = 50_000;

    private record Key(
            String routeId,
            long revision,
            String audience,
            @Nullable TokenId token) {}

    private final SigningKey key = SigningKey.generate(SigningAlgorithm.ES256);
    private final Cache<Key, String> reused =
            Caffeine.newBuilder().maximumSize(MOST).expireAfterWrite(REUSED).build();

    /** The public half, as a JWK Set. */
    public String keys() {
        return new JWKSet(key.published()).toString();
    }

    /** @param requestId of the decision; empty where the route wants no gateway proof */
    public Optional<String> of(GateOutcome.Admitted admitted, String method, String requestId, Instant now) {
        return switch (admitted.route().route().transform().proof()) {
            case NONE -> Optional.empty();
            case EACH_REQUEST -> {
                Map<String, Object> claims = claims(admitted, now);
                claims.put("method", method);
                claims.put("path", admitted.path());
                claims.put("jti", requestId);
                yield Optional.of(signed(claims));
            }
            case REUSED -> {
                GuardedRoute route = admitted.route();
                Key same = new Key(
                        route.route().id(),
                        route.issuer().issuer().revision(),
                        audience(route),
                        admitted.token().map(VerifiedToken::id).orElse(null));
                yield Optional.of(reused.get(same, fresh -> signed(claims(admitted, now))));
            }
        };
    }

    /** Of the API; on an open route the address of the upstream. */
    private static String audience(GuardedRoute route) {
        return route.api()
                .map(Api::audience)
                .orElseGet(() -> route.upstream().map(Object::toString).orElse(""));
    }

    private static Map<String, Object> claims(GateOutcome.Admitted admitted, Instant now) {
        GuardedRoute route = admitted.route();
        Map<String, Object> claims = new LinkedHashMap<>();
        claims.put("iss", route.issuer().url());
        claims.put("aud", audience(route));
        claims.put("iat", now.getEpochSecond());
        claims.put("exp", now.plus(LIFETIME).getEpochSecond());
        claims.put("route", route.label());
        claims.put("revision", route.issuer().issuer().revision());
        admitted.token().ifPresent(token -> {
            claims.put("sub", token.subject());
            claims.put("client_id", token.clientId());
            claims.put("scope", token.scopeText());
            if (token.isFromElsewhere()) claims.put("token_issuer", token.issuer());
        });
        return claims;
    }

    private String signed(Map<String, Object> claims) {
        JWSObject proof = new JWSObject(
                new JWSHeader.Builder(key.algorithm())
                        .type(TYPE)
                        .keyID(key.kid())
                        .build(),
                new Payload(claims));
        try {
            proof.sign(key.signer());
        } catch (JOSEException broken) {
            throw new SigningFault("the gateway's key does not sign", broken);
        }
        return proof.serialize();
    }
}
