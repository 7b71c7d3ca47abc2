package dev.admit.core.trust;

import com.nimbusds.jose.JOSEException;
import com.nimbusds.jose.JWSAlgorithm;
import com.nimbusds.jose.JWSVerifier;
import com.nimbusds.jose.jwk.JWK;
import com.nimbusds.jose.jwk.JWKSet;
import com.nimbusds.jose.jwk.KeyUse;
import dev.admit.core.key.SigningAlgorithm;
import dev.admit.core.key.VerifyWithKey;
import dev.admit.core.key.VerifyingKey;
import java.text.ParseException;
import java.util.ArrayList;
import java.util.List;

/**
 * A public key of an issuer elsewhere.
 *
 * @param jwk by which the same key found again is known
 * @param isFor the algorithms that both the key and the one who trusts it allow
 */
public record TheirKey(JWK jwk, List<SigningAlgorithm> isFor, JWSVerifier verifier) implements VerifyingKey {

    /**
     * The keys of a set that can be used; others are left out, as RFC 7517 §5 has it.
     *
     * @throws ParseException when it is no key set
     */
    public static List<TheirKey> in(String jwks, List<SigningAlgorithm> allowed) throws ParseException {
        List<TheirKey> keys = new ArrayList<>();
        for (JWK key : JWKSet.parse(jwks).toPublicJWKSet().getKeys()) {
            List<SigningAlgorithm> isFor =
                    SigningAlgorithm.of(key).stream().filter(allowed::contains).toList();
            if (isFor.isEmpty() || KeyUse.ENCRYPTION.equals(key.getKeyUse())) continue;
            try {
                keys.add(new TheirKey(key, isFor, VerifyWithKey.of(key)));
            } catch (JOSEException unusable) {
                // as if it were not there
            }
        }
        return keys;
    }

    @Override
    public String kid() {
        return jwk.getKeyID() == null ? "" : jwk.getKeyID();
    }

    @Override
    public boolean isFor(JWSAlgorithm algorithm) {
        return isFor.stream().anyMatch(it -> it.jws().equals(algorithm));
    }

    @Override
    public String algorithms() {
        return String.join(" or ", isFor.stream().map(Object::toString).toList());
    }
}
