import static java.nio.charset.StandardCharsets.UTF_8;

import com.nimbusds.jose.JWSAlgorithm;
import com.nimbusds.jose.JWSHeader;
import com.nimbusds.jose.crypto.ECDSASigner;
import com.nimbusds.jwt.JWTClaimsSet;
import com.nimbusds.jwt.SignedJWT;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.KeyFactory;
import java.security.interfaces.ECPrivateKey;
import java.security.spec.PKCS8EncodedKeySpec;
import java.util.Base64;
import java.util.Date;
import java.util.Map;
import java.util.UUID;
import java.util.stream.Collectors;

/**
 * With com.nimbusds:nimbus-jose-jwt. Run: java -cp nimbus-jose-jwt.jar Connect.java, with the settings in the
 * environment and the private key in the file PRIVATE_KEY (PKCS #8 in PEM, for ES256). RFC 7523 §2.2.
 */
class Connect {
    public static void main(String[] args) throws Exception {
        Map<String, String> env = System.getenv();
        Date now = new Date();
        JWTClaimsSet claims = new JWTClaimsSet.Builder()
                .issuer(env.get("CLIENT_ID"))
                .subject(env.get("CLIENT_ID"))
                .audience(env.get("TOKEN_ENDPOINT"))
                .jwtID(UUID.randomUUID().toString())
                .issueTime(now)
                .expirationTime(new Date(now.getTime() + 60_000))
                .build();
        SignedJWT assertion = new SignedJWT(new JWSHeader(JWSAlgorithm.ES256), claims);
        byte[] key = Base64.getMimeDecoder()
                .decode(Files.readString(Path.of(env.get("PRIVATE_KEY"))).replaceAll("-----[A-Z ]+-----", ""));
        assertion.sign(new ECDSASigner(
                (ECPrivateKey) KeyFactory.getInstance("EC").generatePrivate(new PKCS8EncodedKeySpec(key))));
        Map<String, String> form = Map.of(
                "grant_type",
                "client_credentials",
                "scope",
                env.get("SCOPE"),
                "client_assertion",
                assertion.serialize(),
                "client_assertion_type",
                "urn:ietf:params:oauth:client-assertion-type:jwt-bearer");
        String body = form.entrySet().stream()
                .map(it -> it.getKey() + "=" + URLEncoder.encode(it.getValue(), UTF_8))
                .collect(Collectors.joining("&"));
        HttpRequest request = HttpRequest.newBuilder(URI.create(env.get("TOKEN_ENDPOINT")))
                .header("Content-Type", "application/x-www-form-urlencoded")
                .POST(HttpRequest.BodyPublishers.ofString(body))
                .build();
        HttpResponse<String> answer = HttpClient.newHttpClient().send(request, HttpResponse.BodyHandlers.ofString());
        System.out.println(answer.body()); // {"access_token": …, "expires_in": …} or {"error": …}
        System.exit(answer.statusCode() == 200 ? 0 : 1);
    }
}
