package dev.admit.core.key;

import com.nimbusds.jose.JOSEException;
import com.nimbusds.jose.JWSAlgorithm;
import com.nimbusds.jose.JWSHeader;
import com.nimbusds.jose.JWSSigner;
import com.nimbusds.jose.JWSVerifier;
import com.nimbusds.jose.crypto.ECDSASigner;
import com.nimbusds.jose.crypto.ECDSAVerifier;
import com.nimbusds.jose.crypto.RSASSASigner;
import com.nimbusds.jose.crypto.RSASSAVerifier;
import com.nimbusds.jose.jwk.Curve;
import com.nimbusds.jose.jwk.ECKey;
import com.nimbusds.jose.jwk.JWK;
import com.nimbusds.jose.jwk.KeyUse;
import com.nimbusds.jose.jwk.OctetKeyPair;
import com.nimbusds.jose.jwk.RSAKey;
import com.nimbusds.jose.jwk.gen.ECKeyGenerator;
import com.nimbusds.jose.jwk.gen.RSAKeyGenerator;
import com.nimbusds.jose.util.Base64URL;
import dev.admit.core.change.Ids;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.KeyPair;
import java.security.KeyPairGenerator;
import java.text.ParseException;

/** A key pair of an issuer, ready to sign and to verify. Its private half can be used and sealed, not read. */
public final class SigningKey implements VerifyingKey {
    private static final int RSA_BITS = 2048;
    private final JWK pair;
    private final JWSAlgorithm algorithm;
    private final JWSSigner signer;
    private final JWSVerifier verifier;

    private SigningKey(JWK pair) {
        this.pair = pair;
        this.algorithm = JWSAlgorithm.parse(pair.getAlgorithm().getName());
        try {
            switch (pair) {
                case ECKey ec -> {
                    signer = new ECDSASigner(ec);
                    verifier = new ECDSAVerifier(ec);
                }
                case RSAKey rsa -> {
                    signer = new RSASSASigner(rsa);
                    verifier = new RSASSAVerifier(rsa);
                }
                case OctetKeyPair ed -> {
                    signer = new Ed25519(ed);
                    verifier = (Ed25519) signer;
                }
                default -> throw new JOSEException("a key of another type");
            }
        } catch (JOSEException unusable) {
            throw new SigningFault("the key " + pair.getKeyID() + " cannot be used", unusable);
        }
    }

    public static SigningKey generate(SigningAlgorithm algorithm) {
        try {
            return with(
                    switch (algorithm) {
                        case ES256 -> new ECKeyGenerator(Curve.P_256).generate();
                        case RS256, PS256 -> new RSAKeyGenerator(RSA_BITS).generate();
                        case EDDSA -> ed25519();
                    },
                    algorithm);
        } catch (JOSEException | GeneralSecurityException broken) {
            throw new SigningFault("no %s key could be made".formatted(algorithm), broken);
        }
    }

    private static OctetKeyPair ed25519() throws GeneralSecurityException {
        KeyPair pair = KeyPairGenerator.getInstance("Ed25519").generateKeyPair();
        return Ed25519.pair(pair.getPrivate().getEncoded(), pair.getPublic().getEncoded());
    }

    /** The same pair under an id of ours, for one algorithm. */
    static SigningKey with(JWK pair, SigningAlgorithm algorithm) {
        String kid = Ids.random("key_");
        return new SigningKey(
                switch (pair) {
                    case ECKey ec ->
                        new ECKey.Builder(ec)
                                .keyID(kid)
                                .keyUse(KeyUse.SIGNATURE)
                                .keyOperations(null)
                                .algorithm(algorithm.jws())
                                .build();
                    case RSAKey rsa ->
                        new RSAKey.Builder(rsa)
                                .keyID(kid)
                                .keyUse(KeyUse.SIGNATURE)
                                .keyOperations(null)
                                .algorithm(algorithm.jws())
                                .build();
                    case OctetKeyPair ed ->
                        new OctetKeyPair.Builder(ed)
                                .keyID(kid)
                                .keyUse(KeyUse.SIGNATURE)
                                .keyOperations(null)
                                .algorithm(algorithm.jws())
                                .build();
                    default -> throw new IllegalArgumentException("a key of type " + pair.getKeyType());
                });
    }

    /** Opens what {@link #sealWith} closed. */
    public static SigningKey unseal(String kid, byte[] sealed, MasterKey masterKey) {
        try {
            return new SigningKey(JWK.parse(new String(masterKey.open(sealed, kid), StandardCharsets.UTF_8)));
        } catch (ParseException damaged) {
            throw new SigningFault("the key " + kid + " is damaged", damaged);
        }
    }

    /** The whole pair, sealed: the only form in which it leaves the process. */
    public byte[] sealWith(MasterKey masterKey) {
        return masterKey.seal(pair.toJSONString().getBytes(StandardCharsets.UTF_8), kid());
    }

    /** Whether what its private half signs is what its public half accepts. */
    boolean fitsTogether() {
        byte[] sample = "sample".getBytes(StandardCharsets.US_ASCII);
        JWSHeader header = new JWSHeader(algorithm);
        try {
            Base64URL signature = signer.sign(header, sample);
            return verifier.verify(header, sample, signature);
        } catch (JOSEException doesNot) {
            return false;
        }
    }

    @Override
    public String kid() {
        return pair.getKeyID();
    }

    /** The algorithm this key is for; a token that names another is refused. */
    public JWSAlgorithm algorithm() {
        return algorithm;
    }

    @Override
    public boolean isFor(JWSAlgorithm named) {
        return algorithm.equals(named);
    }

    @Override
    public String algorithms() {
        return algorithm.getName();
    }

    /** The public half, as the JWKS shows it. */
    public JWK published() {
        return pair.toPublicJWK();
    }

    /** The thumbprint of the public half (RFC 7638): by it a key is the same under whatever id. */
    public String thumbprint() {
        try {
            return pair.computeThumbprint().toString();
        } catch (JOSEException everyJavaHasSha256) {
            throw new SigningFault("no thumbprint of " + kid(), everyJavaHasSha256);
        }
    }

    public JWSSigner signer() {
        return signer;
    }

    @Override
    public JWSVerifier verifier() {
        return verifier;
    }

    @Override
    public String toString() {
        return "SigningKey[" + kid() + "]";
    }
}
