package dev.admit.server.admin;

import static org.assertj.core.api.Assertions.assertThat;

import dev.admit.server.AuthorizationServer;
import dev.admit.server.FirstStart;
import dev.admit.server.Settings;
import java.net.ServerSocket;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.springdoc.core.service.OpenAPIService;

/** The description is open to strangers, and takes half a second to make: it is made once, whatever they ask for. */
class OneDescriptionTest {
    @TempDir
    Path folder;

    @Test
    void noStrangerHasItMadeAndKeptAgain() throws Exception {
        int port = freePort();
        try (AuthorizationServer server = AuthorizationServer.start(new Settings(
                        "127.0.0.1",
                        port,
                        freePort(),
                        Optional.empty(),
                        folder.resolve("data"),
                        Optional.empty(),
                        1_000_000,
                        Duration.ofSeconds(5),
                        false,
                        Optional.empty(),
                        Optional.empty(),
                        List.of(),
                        Duration.ofDays(30),
                        Duration.ofDays(30),
                        Optional.empty(),
                        Optional.empty(),
                        Duration.ZERO));
                HttpClient stranger = HttpClient.newHttpClient()) {
            server.part(FirstStart.class).prepare();
            String first = ask(stranger, port, "en");
            assertThat(first).contains("\"servers\":[{\"url\":\"/\"}]");
            for (String language : List.of("de", "fr-CA", "en-x-a1", "en-x-a2"))
                assertThat(ask(stranger, port, language)).isEqualTo(first);
            OpenAPIService kept = server.part(OpenAPIService.class);
            assertThat(kept.getCachedOpenAPI(Locale.ENGLISH)).isNotNull();
            for (String language : List.of("de", "fr-CA", "en-x-a1", "en-x-a2"))
                assertThat(kept.getCachedOpenAPI(Locale.forLanguageTag(language)))
                        .as(language)
                        .isNull();
        }
    }

    private static String ask(HttpClient stranger, int port, String language) throws Exception {
        HttpResponse<String> answer = stranger.send(
                HttpRequest.newBuilder(URI.create("http://127.0.0.1:%d/admin/openapi.json".formatted(port)))
                        .header("Accept-Language", language)
                        .build(),
                HttpResponse.BodyHandlers.ofString());
        assertThat(answer.statusCode()).isEqualTo(200);
        return answer.body();
    }

    private static int freePort() throws Exception {
        try (ServerSocket socket = new ServerSocket(0)) {
            return socket.getLocalPort();
        }
    }
}
