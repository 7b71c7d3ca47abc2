package dev.admit.server;

import java.io.IOException;
import java.io.InputStream;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.SecureRandom;
import java.security.cert.X509Certificate;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import javax.net.ssl.SSLContext;
import javax.net.ssl.SSLEngine;
import javax.net.ssl.TrustManager;
import javax.net.ssl.X509ExtendedTrustManager;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;

/** Sends a request to the gateway of this very process, as a client outside would; it goes nowhere else. */
@Component
public class CallGateway {
    private static final Duration PATIENCE = Duration.ofSeconds(35);
    private static final int MOST_BODY = 256 * 1024;

    static {
        System.setProperty("jdk.httpclient.allowRestrictedHeaders", "host"); // routes may have hosts of their own
    }

    private final HttpClient http;

    CallGateway() {
        this.http = HttpClient.newBuilder()
                .version(HttpClient.Version.HTTP_1_1)
                .connectTimeout(Duration.ofSeconds(5))
                .followRedirects(HttpClient.Redirect.NEVER)
                .sslContext(oneself())
                .build();
    }

    /**
     * @param headers of the answer, in their order
     * @param cut whether the body went on
     */
    public record Response(
            int status, List<Map.Entry<String, String>> headers, String body, boolean cut, long micros) {}

    /**
     * @param host for the Host header; empty for the address itself
     * @throws IllegalArgumentException when a header or the method is one that no HTTP client may send
     * @throws IOException when the gateway does not answer
     */
    public Response call(
            URI url, String method, String host, List<Map.Entry<String, String>> headers, @Nullable String body)
            throws IOException {
        HttpRequest.Builder request = HttpRequest.newBuilder(url)
                .timeout(PATIENCE)
                .method(
                        method,
                        body == null || body.isEmpty()
                                ? HttpRequest.BodyPublishers.noBody()
                                : HttpRequest.BodyPublishers.ofString(body));
        headers.forEach(it -> request.header(it.getKey(), it.getValue()));
        if (!host.isEmpty()) request.setHeader("Host", host);
        long began = System.nanoTime();
        try {
            HttpResponse<InputStream> answer = http.send(request.build(), HttpResponse.BodyHandlers.ofInputStream());
            byte[] bytes;
            boolean more;
            try (InputStream in = answer.body()) {
                bytes = in.readNBytes(MOST_BODY);
                more = in.read() >= 0;
            }
            List<Map.Entry<String, String>> received = new ArrayList<>();
            answer.headers()
                    .map()
                    .forEach((name, values) -> values.forEach(value -> received.add(Map.entry(name, value))));
            return new Response(
                    answer.statusCode(), received, text(bytes, more), more, (System.nanoTime() - began) / 1000);
        } catch (InterruptedException stopped) {
            Thread.currentThread().interrupt();
            throw new IOException("the call was stopped", stopped);
        }
    }

    private static String text(byte[] bytes, boolean cut) {
        try {
            // What was cut may end within a character.
            return cut
                    ? new String(bytes, StandardCharsets.UTF_8)
                    : StandardCharsets.UTF_8
                            .newDecoder()
                            .decode(ByteBuffer.wrap(bytes))
                            .toString();
        } catch (CharacterCodingException notText) {
            return "(%d bytes that are no text)".formatted(bytes.length);
        }
    }

    /**
     * The gateway's certificate is for its public name, and may be anybody's: the address is this process itself, so
     * there is nobody to be mistaken for it.
     */
    private static SSLContext oneself() {
        try {
            SSLContext context = SSLContext.getInstance("TLS");
            context.init(null, new TrustManager[] {new Anybody()}, new SecureRandom());
            return context;
        } catch (GeneralSecurityException everyJavaHasIt) {
            throw new IllegalStateException(everyJavaHasIt);
        }
    }

    private static final class Anybody extends X509ExtendedTrustManager {
        @Override
        public void checkClientTrusted(X509Certificate[] chain, String type) {}

        @Override
        public void checkServerTrusted(X509Certificate[] chain, String type) {}

        @Override
        public void checkClientTrusted(X509Certificate[] chain, String type, java.net.Socket socket) {}

        @Override
        public void checkServerTrusted(X509Certificate[] chain, String type, java.net.Socket socket) {}

        @Override
        public void checkClientTrusted(X509Certificate[] chain, String type, SSLEngine engine) {}

        @Override
        public void checkServerTrusted(X509Certificate[] chain, String type, SSLEngine engine) {}

        @Override
        public X509Certificate[] getAcceptedIssuers() {
            return new X509Certificate[0];
        }
    }
}
