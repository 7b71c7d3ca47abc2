package dev.admit.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CopyOnWriteArrayList;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** How commands send, against a server that does as it likes. */
class HttpTest {
    private final List<String> requests = new CopyOnWriteArrayList<>();
    private ServerSocket server;
    private String answer = "";

    @BeforeEach
    void start() throws IOException {
        server = new ServerSocket(0, 10, InetAddress.getLoopbackAddress());
        Thread.ofVirtual().start(() -> {
            while (!server.isClosed()) {
                try (Socket one = server.accept()) {
                    byte[] read = new byte[8192];
                    requests.add(
                            new String(read, 0, Math.max(0, one.getInputStream().read(read)), StandardCharsets.UTF_8));
                    one.getOutputStream().write(answer.getBytes(StandardCharsets.UTF_8));
                } catch (IOException over) {
                    // the next one, or the end
                }
            }
        });
    }

    @AfterEach
    void stop() throws IOException {
        server.close();
    }

    private String url() {
        return "http://127.0.0.1:" + server.getLocalPort() + "/admin/issuers";
    }

    /** A server that dies may have done what was asked; whether to ask again is for the one who knows. */
    @ParameterizedTest
    @ValueSource(strings = {"POST", "PUT", "PATCH", "DELETE"})
    void aChangeWhoseAnswerDoesNotComeIsSentOnce(String method) {
        assertThatThrownBy(() -> new Http(null).send(method, url(), Map.of("Content-Type", "application/json"), "{}"))
                .isInstanceOf(Failure.class)
                .hasMessageContaining("cannot be reached");
        assertThat(requests).hasSize(1);
    }

    /** A token must not follow to wherever an answer points. */
    @ParameterizedTest
    @ValueSource(strings = {"GET", "POST", "DELETE"})
    void noRedirectIsFollowed(String method) {
        answer = "HTTP/1.1 307 Elsewhere\r\nLocation: " + url() + "/elsewhere\r\nContent-Length: 0\r\n\r\n";
        Http.Reply reply = new Http(null)
                .send(method, url(), Map.of("Authorization", "Bearer secret"), method.equals("GET") ? null : "{}");
        assertThat(reply.status()).isEqualTo(307);
        assertThat(requests).hasSize(1);
    }

    @Test
    void anAnswersHeadersAreFoundInAnyCase() {
        answer = "HTTP/1.1 404 Not Found\r\netag: \"7\"\r\nContent-Length: 2\r\n\r\n{}";
        Http.Reply reply = new Http(null).send("GET", url(), Map.of(), null);
        assertThat(reply.status()).isEqualTo(404);
        assertThat(reply.header("ETag")).contains("\"7\"");
        assertThat(reply.body()).isEqualTo("{}");
    }
}
