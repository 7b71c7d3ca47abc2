package dev.admit.core.key;

import com.nimbusds.jose.JOSEException;
import com.nimbusds.jose.JWSAlgorithm;
import com.nimbusds.jose.JWSHeader;
import com.nimbusds.jose.JWSSigner;
import com.nimbusds.jose.JWSVerifier;
import com.nimbusds.jose.jca.JCAContext;
import com.nimbusds.jose.jwk.Curve;
import com.nimbusds.jose.jwk.OctetKeyPair;
import com.nimbusds.jose.util.Base64URL;
import java.security.GeneralSecurityException;
import java.security.KeyFactory;
import java.security.PrivateKey;
import java.security.PublicKey;
import java.security.Signature;
import java.security.SignatureException;
import java.security.spec.PKCS8EncodedKeySpec;
import java.security.spec.X509EncodedKeySpec;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** Ed25519 (RFC 8037) on the platform's own cryptography, behind the interfaces of the JOSE library. */
final class Ed25519 implements JWSSigner, JWSVerifier {
    /** RFC 8410 §7 and §4: what stands before the 32 bytes of a private and of a public key. */
    private static final byte[] PRIVATE = HexFormat.of().parseHex("302e020100300506032b657004220420");

    private static final byte[] PUBLIC = HexFormat.of().parseHex("302a300506032b6570032100");
    private final @Nullable PrivateKey privateKey; // null where only the public half is here
    private final PublicKey publicKey;
    private final JCAContext context = new JCAContext();

    Ed25519(OctetKeyPair pair) {
        try {
            KeyFactory keys = KeyFactory.getInstance("Ed25519");
            this.publicKey = keys.generatePublic(new X509EncodedKeySpec(joined(PUBLIC, pair.getDecodedX())));
            this.privateKey = pair.isPrivate()
                    ? keys.generatePrivate(new PKCS8EncodedKeySpec(joined(PRIVATE, pair.getDecodedD())))
                    : null;
        } catch (GeneralSecurityException unusable) {
            throw new SigningFault("the key " + pair.getKeyID() + " cannot be used", unusable);
        }
    }

    /**
     * @param kept the private key as the platform keeps it
     * @param its public half
     */
    static OctetKeyPair pair(byte[] kept, byte[] its) {
        byte[] d = Arrays.copyOfRange(kept, kept.length - 32, kept.length);
        byte[] x = Arrays.copyOfRange(its, its.length - 32, its.length);
        return new OctetKeyPair.Builder(Curve.Ed25519, Base64URL.encode(x))
                .d(Base64URL.encode(d))
                .build();
    }

    @Override
    public Base64URL sign(JWSHeader header, byte[] signingInput) throws JOSEException {
        try {
            Signature signature = Signature.getInstance("Ed25519");
            signature.initSign(privateKey);
            signature.update(signingInput);
            return Base64URL.encode(signature.sign());
        } catch (GeneralSecurityException broken) {
            throw new JOSEException("signing with Ed25519", broken);
        }
    }

    @Override
    public boolean verify(JWSHeader header, byte[] signingInput, Base64URL presented) throws JOSEException {
        try {
            Signature signature = Signature.getInstance("Ed25519");
            signature.initVerify(publicKey);
            signature.update(signingInput);
            return signature.verify(presented.decode());
        } catch (SignatureException notOne) {
            return false;
        } catch (GeneralSecurityException broken) {
            throw new JOSEException("verifying with Ed25519", broken);
        }
    }

    @Override
    public Set<JWSAlgorithm> supportedJWSAlgorithms() {
        return Set.of(JWSAlgorithm.EdDSA);
    }

    @Override
    public JCAContext getJCAContext() {
        return context;
    }

    private static byte[] joined(byte[] one, byte[] other) {
        byte[] both = Arrays.copyOf(one, one.length + other.length);
        System.arraycopy(other, 0, both, one.length, other.length);
        return both;
    }
}
