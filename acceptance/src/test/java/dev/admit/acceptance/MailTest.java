package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.PrintWriter;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.concurrent.CopyOnWriteArrayList;
import org.awaitility.Awaitility;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.JsonNode;

/** Mail goes out by SMTP where a server is set; the outbox says what became of it. */
class MailTest {
    /** As little of a mail server as is one (RFC 5321). */
    private static final class Listener implements AutoCloseable {
        final ServerSocket socket = new ServerSocket(0);
        final List<String> received = new CopyOnWriteArrayList<>();

        Listener() throws IOException {
            Thread.ofVirtual().start(() -> {
                while (!socket.isClosed()) {
                    try (Socket one = socket.accept()) {
                        talk(one);
                    } catch (IOException closed) {
                        return;
                    }
                }
            });
        }

        private void talk(Socket one) throws IOException {
            BufferedReader in = new BufferedReader(new InputStreamReader(one.getInputStream(), StandardCharsets.UTF_8));
            PrintWriter out = new PrintWriter(one.getOutputStream(), true, StandardCharsets.UTF_8);
            out.print("220 listener.example\r\n");
            out.flush();
            StringBuilder mail = new StringBuilder();
            for (String line = in.readLine(); line != null; line = in.readLine()) {
                String answer = "250 good";
                if (line.startsWith("RCPT") || line.startsWith("MAIL"))
                    mail.append(line).append('\n');
                if (line.startsWith("RCPT") && line.contains("refused@")) answer = "550 no such reader";
                if (line.equals("QUIT")) answer = "221 bye";
                if (line.equals("DATA")) {
                    out.print("354 go on\r\n");
                    out.flush();
                    for (String text = in.readLine(); !text.equals("."); text = in.readLine())
                        mail.append(text).append('\n');
                    received.add(mail.toString());
                    mail.setLength(0);
                }
                out.print(answer + "\r\n");
                out.flush();
                if (line.equals("QUIT")) return;
            }
        }

        @Override
        public void close() throws IOException {
            socket.close();
        }
    }

    @Test
    void itIsSentAndTheOutboxKeepsNoCode(@TempDir Path folder) throws Exception {
        try (Listener listener = new Listener();
                Running demo = Running.demo(
                        folder,
                        "--smtp-host",
                        "127.0.0.1",
                        "--smtp-port",
                        String.valueOf(listener.socket.getLocalPort()),
                        "--smtp-tls",
                        "none",
                        "--mail-from",
                        "harbour@saltmarsh.example")) {
            Operator operator = Operator.of(demo);
            new Visitor(demo).get("/harbour/sign-up").send("/harbour/sign-up", "email", "reader@saltmarsh.example");
            Awaitility.await().atMost(Duration.ofSeconds(20)).until(() -> listener.received.size() == 1);
            assertThat(listener.received.getFirst())
                    .contains("MAIL FROM:<harbour@saltmarsh.example>")
                    .contains("RCPT TO:<reader@saltmarsh.example>")
                    .contains("Subject: Saltmarsh Harbour Authority: your code")
                    .containsPattern("\\d{4} \\d{4}");
            Awaitility.await()
                    .atMost(Duration.ofSeconds(10))
                    .until(() -> !mail(operator, "reader").path("sent_at").isNull());
            assertThat(mail(operator, "reader").path("body").asString())
                    .contains("(hidden)")
                    .doesNotContainPattern("\\d{4} \\d{4}");
            assertThat(operator.harbour(
                                    "POST",
                                    "/outbox/"
                                            + mail(operator, "reader")
                                                    .path("id")
                                                    .asString() + "/reveal",
                                    "{}")
                            .status())
                    .as("it was sent: the code is its reader's alone")
                    .isEqualTo(409);

            new Visitor(demo).get("/harbour/sign-up").send("/harbour/sign-up", "email", "refused@saltmarsh.example");
            Awaitility.await()
                    .atMost(Duration.ofSeconds(20))
                    .until(() ->
                            !mail(operator, "refused").path("fault").asString().isEmpty());
            assertThat(demo.admit("outbox", "list").out()).contains("sent").contains("not sent");
        }
    }

    private static JsonNode mail(Operator operator, String to) throws Exception {
        return operator.harbour("GET", "/outbox?to=" + to + "@saltmarsh.example", null)
                .json()
                .path("items")
                .path(0);
    }

    @Test
    void aMailServerThatWouldReadCodesInTheClearIsRefused(@TempDir Path folder) throws Exception {
        try (Running ended = Running.ending(
                folder,
                Running.freePort(),
                Running.freePort(),
                "--data",
                folder.resolve("data").toString(),
                "--smtp-host",
                "mail.saltmarsh.example",
                "--smtp-tls",
                "none",
                "--mail-from",
                "a@b.example")) {
            assertThat(ended.said()).contains("codes would travel for everyone to read");
        }
    }
}
