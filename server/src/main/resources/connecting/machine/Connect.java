// java Connect.java, with the settings in the environment. Prints an access token (RFC 6749 §4.4).
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.util.Base64;

public class Connect {
    public static void main(String[] args) throws Exception {
        String form = "grant_type=client_credentials&scope=" + encoded("SCOPE");
        HttpRequest.Builder request = HttpRequest.newBuilder(URI.create(System.getenv("TOKEN_ENDPOINT")))
                .header("Content-Type", "application/x-www-form-urlencoded");
        if ("client_secret_post".equals(System.getenv("AUTH_METHOD")))
            form += "&client_id=" + encoded("CLIENT_ID") + "&client_secret=" + encoded("CLIENT_SECRET");
        else
            request.header(
                    "Authorization",
                    "Basic "
                            + Base64.getEncoder()
                                    .encodeToString(
                                            (encoded("CLIENT_ID") + ":" + encoded("CLIENT_SECRET")).getBytes()));
        HttpResponse<String> answer = HttpClient.newHttpClient()
                .send(
                        request.POST(HttpRequest.BodyPublishers.ofString(form)).build(),
                        HttpResponse.BodyHandlers.ofString());
        System.out.println(answer.body()); // {"access_token": …, "expires_in": …} or {"error": …}
        if (answer.statusCode() != 200) System.exit(1);
    }

    private static String encoded(String name) {
        return URLEncoder.encode(System.getenv(name), StandardCharsets.UTF_8);
    }
}
