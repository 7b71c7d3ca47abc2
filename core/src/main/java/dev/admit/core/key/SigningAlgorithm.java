package dev.admit.core.key;

import com.nimbusds.jose.JWSAlgorithm;

/** The algorithms that Admit signs with (RFC 7518 §3.1, RFC 8037 §3.1). A key is for one of them and no other. */
public enum SigningAlgorithm {
    ES256(JWSAlgorithm.ES256), RS256(JWSAlgorithm.RS256), PS256(JWSAlgorithm.PS256), EDDSA(JWSAlgorithm.EdDSA);

    private final JWSAlgorithm jws;

    SigningAlgorithm(JWSAlgorithm jws) {
        this.jws = jws;
    }

    public JWSAlgorithm jws() {
        return jws;
    }

    @Override public String toString() {
        return jws.getName();
    }
}
