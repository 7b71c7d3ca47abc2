package dev.admit.demo;

import com.nimbusds.jose.JOSEException;
import com.nimbusds.jose.JOSEObjectType;
import com.nimbusds.jose.JWSAlgorithm;
import com.nimbusds.jose.jwk.source.JWKSourceBuilder;
import com.nimbusds.jose.proc.BadJOSEException;
import com.nimbusds.jose.proc.DefaultJOSEObjectTypeVerifier;
import com.nimbusds.jose.proc.JWSVerificationKeySelector;
import com.nimbusds.jose.proc.SecurityContext;
import com.nimbusds.jwt.JWTClaimsSet;
import com.nimbusds.jwt.proc.DefaultJWTClaimsVerifier;
import com.nimbusds.jwt.proc.DefaultJWTProcessor;
import java.net.MalformedURLException;
import java.net.URI;
import java.text.ParseException;
import java.util.Set;

/**
 * What a backend does so that nobody comes around the gateway: it checks the gateway proof that each request carries.
 */
final class ProofCheck {
    private final DefaultJWTProcessor<SecurityContext> proofs = new DefaultJWTProcessor<>();

    /**
     * @param keys where the gateway publishes its keys
     * @param audience of this backend
     */
    ProofCheck(URI keys, String issuer, String audience) {
        try {
            proofs.setJWSTypeVerifier(new DefaultJOSEObjectTypeVerifier<>(new JOSEObjectType("admit-proof+jwt")));
            proofs.setJWSKeySelector(new JWSVerificationKeySelector<>(
                    JWSAlgorithm.ES256,
                    JWKSourceBuilder.create(keys.toURL()).retrying(true).build()));
            proofs.setJWTClaimsSetVerifier(new DefaultJWTClaimsVerifier<>(
                    audience, new JWTClaimsSet.Builder().issuer(issuer).build(), Set.of("exp", "iat", "route")));
        } catch (MalformedURLException notOne) {
            throw new IllegalArgumentException(notOne);
        }
    }

    /** @param proof as the header Admit-Proof has it, or null */
    boolean passes(String proof) {
        if (proof == null) return false;
        try {
            proofs.process(proof, null);
            return true;
        } catch (ParseException | BadJOSEException | JOSEException no) {
            return false;
        }
    }
}
