package dev.admit.core.key;

import com.nimbusds.jose.JWSAlgorithm;
import com.nimbusds.jose.jwk.Curve;
import com.nimbusds.jose.jwk.ECKey;
import com.nimbusds.jose.jwk.JWK;
import com.nimbusds.jose.jwk.OctetKeyPair;
import com.nimbusds.jose.jwk.RSAKey;
import java.util.List;

/** The algorithms that Admit signs with (RFC 7518 §3.1, RFC 8037 §3.1). A key is for one of them and no other. */
public enum SigningAlgorithm {
    ES256(JWSAlgorithm.ES256),
    RS256(JWSAlgorithm.RS256),
    PS256(JWSAlgorithm.PS256),
    EDDSA(JWSAlgorithm.EdDSA);

    static final int LEAST_RSA_BITS = 2048;
    private final JWSAlgorithm jws;

    SigningAlgorithm(JWSAlgorithm jws) {
        this.jws = jws;
    }

    public JWSAlgorithm jws() {
        return jws;
    }

    /**
     * What a key of that type may be used with: several for RSA, none for what Admit takes no signatures by.
     *
     * @param key its own {@code alg}, where it has one, narrows the answer (RFC 7517 §4.4)
     */
    public static List<SigningAlgorithm> of(JWK key) {
        List<SigningAlgorithm> byType =
                switch (key) {
                    case ECKey ec when ec.getCurve().equals(Curve.P_256) -> List.of(ES256);
                    case RSAKey rsa when rsa.size() >= LEAST_RSA_BITS -> List.of(RS256, PS256);
                    case OctetKeyPair ed when ed.getCurve().equals(Curve.Ed25519) -> List.of(EDDSA);
                    default -> List.of();
                };
        return byType.stream()
                .filter(it -> key.getAlgorithm() == null
                        || key.getAlgorithm().getName().equals(it.toString()))
                .toList();
    }

    @Override
    public String toString() {
        return jws.getName();
    }
}
