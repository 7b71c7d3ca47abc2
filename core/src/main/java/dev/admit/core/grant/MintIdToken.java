package dev.admit.core.grant;

import com.nimbusds.jose.JOSEException;
import com.nimbusds.jose.JOSEObjectType;
import com.nimbusds.jose.JWSAlgorithm;
import com.nimbusds.jose.JWSHeader;
import com.nimbusds.jose.JWSObject;
import com.nimbusds.jose.Payload;
import dev.admit.core.authorization.AuthorizationGrant;
import dev.admit.core.authorize.PersonClaims;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.key.SigningFault;
import dev.admit.core.key.SigningKey;
import dev.admit.core.person.Person;
import dev.admit.core.registry.Client;
import dev.admit.core.token.MintAccessToken;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Mints ID tokens (OpenID Connect Core §2). Their {@code typ} is JWT, so that none passes for an access token. */
final class MintIdToken {
    private static final Duration LIFETIME = Duration.ofMinutes(15);

    private MintIdToken() {}

    static String mint(
            AuthorizationGrant grant,
            Person person,
            List<String> scopes,
            GrantOutcome.Issued beside,
            CompiledIssuer issuer,
            Client client,
            Instant now) {
        SigningKey key = key(issuer, client, now);
        Map<String, Object> claims = new LinkedHashMap<>(PersonClaims.of(person, scopes, issuer));
        claims.put("iss", issuer.url());
        claims.put("sub", person.id());
        claims.put("aud", client.id());
        claims.put("azp", client.id());
        claims.put("exp", now.plus(LIFETIME).getEpochSecond());
        claims.put("iat", now.getEpochSecond());
        claims.put("auth_time", grant.authTime().getEpochSecond());
        claims.put("acr", MintAccessToken.OnBehalf.acr(grant.methods()));
        claims.put("amr", grant.methods());
        grant.sessionId().ifPresent(sid -> claims.put("sid", sid));
        grant.nonce().ifPresent(nonce -> claims.put("nonce", nonce));
        claims.put("at_hash", halfHash(beside.accessToken(), key));
        JWSObject token = new JWSObject(
                new JWSHeader.Builder(key.algorithm())
                        .type(JOSEObjectType.JWT)
                        .keyID(key.kid())
                        .build(),
                new Payload(claims));
        try {
            token.sign(key.signer());
        } catch (JOSEException broken) {
            throw new SigningFault("the key " + key.kid() + " does not sign", broken);
        }
        return token.serialize();
    }

    /** RS256, unless the client registered the algorithm that access tokens are signed with. */
    private static SigningKey key(CompiledIssuer issuer, Client client, Instant now) {
        SigningKey usual = issuer.keys().identityAt(now);
        SigningKey access = issuer.keys().activeAt(now);
        return client.people()
                        .idTokenSignedResponseAlg()
                        .filter(alg -> !alg.toString().equals(usual.algorithm().getName())
                                && alg.toString().equals(access.algorithm().getName()))
                        .isPresent()
                ? access
                : usual;
    }

    /**
     * OpenID Connect Core §3.1.3.6: half of the hash that the algorithm uses, which is SHA-512 for Ed25519 (RFC 8032
     * §5.1).
     */
    private static String halfHash(String accessToken, SigningKey key) {
        try {
            String algorithm = key.algorithm().equals(JWSAlgorithm.EdDSA) ? "SHA-512" : "SHA-256";
            byte[] hash = MessageDigest.getInstance(algorithm).digest(accessToken.getBytes(StandardCharsets.US_ASCII));
            return Base64.getUrlEncoder().withoutPadding().encodeToString(Arrays.copyOf(hash, hash.length / 2));
        } catch (NoSuchAlgorithmException everyJavaHasIt) {
            throw new IllegalStateException(everyJavaHasIt);
        }
    }
}
