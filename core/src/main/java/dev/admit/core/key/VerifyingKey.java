package dev.admit.core.key;

import com.nimbusds.jose.JWSAlgorithm;
import com.nimbusds.jose.JWSVerifier;

/** A key whose signatures count: one of an issuer's here, or of one elsewhere. */
public interface VerifyingKey {
    String kid();

    /** Whether it is for this algorithm; a token that names another is refused (RFC 8725 §3.1). */
    boolean isFor(JWSAlgorithm algorithm);

    /** What it is for, as people read it. */
    String algorithms();

    JWSVerifier verifier();
}
