// java Connect.java prints where to send the browser, and a verifier to keep; java Connect.java CODE VERIFIER exchanges
// the code that came back
// (RFC 6749 §4.1, RFC 7636). The settings are in the environment.
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.SecureRandom;
import java.util.Base64;

public class Connect {
    public static void main(String[] args) throws Exception {
        if (args.length == 0) begin();
        else exchange(args[0], args[1]);
    }

    private static void begin() throws Exception {
        String verifier = random();
        String challenge = Base64.getUrlEncoder()
                .withoutPadding()
                .encodeToString(
                        MessageDigest.getInstance("SHA-256").digest(verifier.getBytes(StandardCharsets.US_ASCII)));
        System.out.println(System.getenv("AUTHORIZATION_ENDPOINT") + "?response_type=code&client_id="
                + encoded(System.getenv("CLIENT_ID")) + "&redirect_uri=" + encoded(System.getenv("REDIRECT_URI"))
                + "&scope=" + encoded(System.getenv("SCOPE")) + "&state=" + random() + "&code_challenge=" + challenge
                + "&code_challenge_method=S256");
        System.out.println(
                verifier); // keep it and the state with the browser's session, and compare the state when the browser
        // is back
    }

    private static void exchange(String code, String verifier) throws Exception {
        String form = "grant_type=authorization_code&code=" + encoded(code) + "&code_verifier=" + encoded(verifier)
                + "&redirect_uri=" + encoded(System.getenv("REDIRECT_URI"));
        HttpRequest.Builder request = HttpRequest.newBuilder(URI.create(System.getenv("TOKEN_ENDPOINT")))
                .header("Content-Type", "application/x-www-form-urlencoded");
        String id = encoded(System.getenv("CLIENT_ID"));
        String secret = System.getenv("CLIENT_SECRET");
        if (secret == null) form += "&client_id=" + id;
        else if ("client_secret_post".equals(System.getenv("AUTH_METHOD")))
            form += "&client_id=" + id + "&client_secret=" + encoded(secret);
        else
            request.header(
                    "Authorization",
                    "Basic " + Base64.getEncoder().encodeToString((id + ":" + encoded(secret)).getBytes()));
        HttpResponse<String> answer = HttpClient.newHttpClient()
                .send(
                        request.POST(HttpRequest.BodyPublishers.ofString(form)).build(),
                        HttpResponse.BodyHandlers.ofString());
        System.out.println(answer.body());
        if (answer.statusCode() != 200) System.exit(1);
    }

    private static String random() {
        byte[] bytes = new byte[32];
        new SecureRandom().nextBytes(bytes);
        return Base64.getUrlEncoder().withoutPadding().encodeToString(bytes);
    }

    private static String encoded(String text) {
        return URLEncoder.encode(text, StandardCharsets.UTF_8);
    }
}
