package dev.admit.core.key;

import com.nimbusds.jose.jwk.JWKSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** The keys of one issuer as they are in force. @param active the one that signs, @param byId all that verify */
public record IssuerKeys(SigningKey active, Map<String, SigningKey> byId) {

    public static IssuerKeys of(List<SigningKey> keys) {
        Map<String, SigningKey> byId = new LinkedHashMap<>();
        for (SigningKey key : keys) byId.put(key.kid(), key);
        return new IssuerKeys(keys.getFirst(), Map.copyOf(byId));
    }

    public Optional<SigningKey> withId(String kid) {
        return Optional.ofNullable(byId.get(kid));
    }

    /** The JWK Set (RFC 7517 §5) with the public halves only. */
    public JWKSet published() {
        return new JWKSet(byId.values().stream().map(SigningKey::published).toList());
    }
}
