// java Connect.java, with the settings in the environment. Shows a code, and waits until a person has typed it (RFC
// 8628).
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

public class Connect {
    public static void main(String[] args) throws Exception {
        String begun = post(
                "DEVICE_AUTHORIZATION_ENDPOINT",
                "client_id=" + encoded(System.getenv("CLIENT_ID")) + "&scope=" + encoded(System.getenv("SCOPE")));
        System.out.println("Open " + member(begun, "verification_uri") + " and type " + member(begun, "user_code"));
        String form = "grant_type=urn:ietf:params:oauth:grant-type:device_code&device_code="
                + encoded(member(begun, "device_code")) + "&client_id=" + encoded(System.getenv("CLIENT_ID"));
        String interval = member(begun, "interval");
        long wait = interval.isEmpty() ? 5 : Long.parseLong(interval);
        String answer;
        do {
            Thread.sleep(wait * 1000);
            answer = post("TOKEN_ENDPOINT", form);
            if (member(answer, "error").equals("slow_down")) wait += 5;
        } while (member(answer, "error").equals("authorization_pending")
                || member(answer, "error").equals("slow_down"));
        System.out.println(answer);
        if (member(answer, "access_token").isEmpty()) System.exit(1);
    }

    private static String post(String endpoint, String form) throws Exception {
        HttpRequest request = HttpRequest.newBuilder(URI.create(System.getenv(endpoint)))
                .header("Content-Type", "application/x-www-form-urlencoded")
                .POST(HttpRequest.BodyPublishers.ofString(form))
                .build();
        return HttpClient.newHttpClient()
                .send(request, HttpResponse.BodyHandlers.ofString())
                .body();
    }

    /** A member of a flat JSON object; use your JSON library in earnest. */
    private static String member(String json, String name) {
        Matcher value = Pattern.compile("\"" + name + "\"\\s*:\\s*(?:\"([^\"]*)\"|(\\d+))")
                .matcher(json);
        return value.find() ? value.group(1) != null ? value.group(1) : value.group(2) : "";
    }

    private static String encoded(String text) {
        return URLEncoder.encode(text, StandardCharsets.UTF_8);
    }
}
