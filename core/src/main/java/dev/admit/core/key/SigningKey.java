package dev.admit.core.key;

import com.nimbusds.jose.JOSEException;
import com.nimbusds.jose.JWSAlgorithm;
import com.nimbusds.jose.JWSSigner;
import com.nimbusds.jose.JWSVerifier;
import com.nimbusds.jose.crypto.ECDSASigner;
import com.nimbusds.jose.crypto.ECDSAVerifier;
import com.nimbusds.jose.jwk.Curve;
import com.nimbusds.jose.jwk.ECKey;
import com.nimbusds.jose.jwk.JWK;
import com.nimbusds.jose.jwk.KeyUse;
import com.nimbusds.jose.jwk.gen.ECKeyGenerator;
import dev.admit.core.change.Ids;
import java.text.ParseException;

/** A key pair of an issuer, ready to sign and to verify. Its private half can be used and sealed, not read. */
public final class SigningKey {
    private final ECKey pair;
    private final JWSSigner signer;
    private final JWSVerifier verifier;

    private SigningKey(ECKey pair) {
        try {
            this.pair = pair;
            this.signer = new ECDSASigner(pair);
            this.verifier = new ECDSAVerifier(pair);
        } catch (JOSEException unusable) {
            throw new SigningFault("the key " + pair.getKeyID() + " cannot be used", unusable);
        }
    }

    public static SigningKey generate() {
        try {
            return new SigningKey(new ECKeyGenerator(Curve.P_256).keyID(Ids.random("key_")).keyUse(KeyUse.SIGNATURE)
                    .algorithm(JWSAlgorithm.ES256).generate());
        } catch (JOSEException broken) {
            throw new SigningFault("no ES256 key could be made", broken);
        }
    }

    /** Opens what {@link #sealWith} closed. */
    public static SigningKey unseal(String kid, byte[] sealed, MasterKey masterKey) {
        try {
            return new SigningKey(ECKey.parse(new String(masterKey.open(sealed, kid), java.nio.charset.StandardCharsets.UTF_8)));
        } catch (ParseException damaged) {
            throw new SigningFault("the key " + kid + " is damaged", damaged);
        }
    }

    /** The whole pair, sealed: the only form in which it leaves the process. */
    public byte[] sealWith(MasterKey masterKey) {
        return masterKey.seal(pair.toJSONString().getBytes(java.nio.charset.StandardCharsets.UTF_8), kid());
    }

    public String kid() {
        return pair.getKeyID();
    }

    /** The algorithm this key is for; a token that names another is refused. */
    public JWSAlgorithm algorithm() {
        return JWSAlgorithm.ES256;
    }

    /** The public half, as the JWKS shows it. */
    public JWK published() {
        return pair.toPublicJWK();
    }

    public JWSSigner signer() {
        return signer;
    }

    public JWSVerifier verifier() {
        return verifier;
    }

    @Override public String toString() {
        return "SigningKey[" + kid() + "]";
    }
}
