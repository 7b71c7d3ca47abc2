package dev.admit.core.key;

import com.nimbusds.jose.JOSEException;
import com.nimbusds.jose.JWSVerifier;
import com.nimbusds.jose.crypto.ECDSAVerifier;
import com.nimbusds.jose.crypto.RSASSAVerifier;
import com.nimbusds.jose.jwk.ECKey;
import com.nimbusds.jose.jwk.JWK;
import com.nimbusds.jose.jwk.OctetKeyPair;
import com.nimbusds.jose.jwk.RSAKey;

/** Makes a public key ready to verify. */
public final class VerifyWithKey {
    private VerifyWithKey() {}

    /** @throws JOSEException when Admit takes no signatures by keys of that type */
    public static JWSVerifier of(JWK key) throws JOSEException {
        return switch (key) {
            case ECKey ec -> new ECDSAVerifier(ec);
            case RSAKey rsa -> new RSASSAVerifier(rsa);
            case OctetKeyPair ed -> new Ed25519(ed);
            default -> throw new JOSEException("a key of another type");
        };
    }
}
