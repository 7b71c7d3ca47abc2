import com.nimbusds.jose.JOSEObjectType;
import com.nimbusds.jose.JWSAlgorithm;
import com.nimbusds.jose.jwk.source.JWKSourceBuilder;
import com.nimbusds.jose.proc.DefaultJOSEObjectTypeVerifier;
import com.nimbusds.jose.proc.JWSVerificationKeySelector;
import com.nimbusds.jose.proc.SecurityContext;
import com.nimbusds.jwt.JWTClaimsSet;
import com.nimbusds.jwt.proc.DefaultJWTClaimsVerifier;
import com.nimbusds.jwt.proc.DefaultJWTProcessor;
import java.net.URI;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * Checks access tokens in the API itself, with com.nimbusds:nimbus-jose-jwt. Run: java -cp nimbus-jose-jwt.jar
 * Check.java TOKEN SCOPE
 */
class Check {
    static final Map<String, String> ENV = System.getenv();
    static final DefaultJWTProcessor<SecurityContext> PROCESSOR = new DefaultJWTProcessor<>();

    static JWTClaimsSet check(String token, String scope) throws Exception {
        JWTClaimsSet claims = PROCESSOR.process(token, null); // signature, typ, iss, aud, exp
        if (!List.of(claims.getStringClaim("scope").split(" ")).contains(scope))
            throw new Exception("insufficient_scope"); // answer 403, not 401
        return claims;
    }

    public static void main(String[] args) throws Exception {
        Set<JWSAlgorithm> algorithms = Set.of(ENV.get("ALGORITHMS").split(" ")).stream()
                .map(JWSAlgorithm::parse)
                .collect(Collectors.toSet());
        PROCESSOR.setJWSTypeVerifier(new DefaultJOSEObjectTypeVerifier<>(new JOSEObjectType("at+jwt")));
        PROCESSOR.setJWSKeySelector(new JWSVerificationKeySelector<>(
                algorithms,
                JWKSourceBuilder.create(URI.create(ENV.get("JWKS_URI")).toURL()).build()));
        var claims = new DefaultJWTClaimsVerifier<>(
                ENV.get("AUDIENCE"),
                new JWTClaimsSet.Builder().issuer(ENV.get("ISSUER")).build(),
                Set.of("sub", "exp", "client_id", "scope"));
        claims.setMaxClockSkew(30);
        PROCESSOR.setJWTClaimsSetVerifier(claims);
        try {
            System.out.println("admitted " + check(args[0], args[1]).getSubject());
        } catch (Exception refused) {
            System.out.println("refused: " + refused.getMessage());
            System.exit(1);
        }
    }
}
