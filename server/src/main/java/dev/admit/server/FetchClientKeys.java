package dev.admit.server;

import dev.admit.core.clientauth.ClientKeys;
import java.io.IOException;
import java.io.InputStream;
import java.net.InetAddress;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Fetches a client's keys from where the client says they are. The address is the client's word, so nothing of it is trusted:
 * https to the outside only, no redirects, a few seconds, a few kilobytes, a few at a time.
 */
final class FetchClientKeys implements ClientKeys.Fetch {
    private static final Logger LOG = LoggerFactory.getLogger(FetchClientKeys.class);
    private static final Duration LONGEST = Duration.ofSeconds(4);
    private static final int LARGEST = 64 * 1024;
    private static final int AT_ONCE = 8;
    private static final Set<String> LOOPBACK = Set.of("127.0.0.1", "[::1]", "localhost");

    private final boolean loopbackToo;
    private final Semaphore free = new Semaphore(AT_ONCE);
    private final ExecutorService readers = Executors.newVirtualThreadPerTaskExecutor();
    private HttpClient client;

    /** @param loopbackToo lets addresses on loopback in, by plain http too: for demo data, where everything is here */
    FetchClientKeys(boolean loopbackToo) {
        this.loopbackToo = loopbackToo;
    }

    @Override public Optional<String> from(URI address) {
        Optional<String> refused = refusal(address);
        if (refused.isPresent()) {
            LOG.warn("the keys at {} are not fetched: {}", address, refused.get());
            return Optional.empty();
        }
        if (!free.tryAcquire()) return Optional.empty();
        // Another thread reads, so that a server which sends a byte now and then is cut off too.
        Future<Optional<String>> reading = readers.submit(() -> read(address));
        try {
            return reading.get(LONGEST.toMillis(), TimeUnit.MILLISECONDS);
        } catch (TimeoutException | ExecutionException notFetched) {
            LOG.warn("the keys at {} cannot be fetched: {}", address, notFetched.toString());
        } catch (InterruptedException stopping) {
            Thread.currentThread().interrupt();
        } finally {
            reading.cancel(true);
            free.release();
        }
        return Optional.empty();
    }

    private Optional<String> read(URI address) throws IOException, InterruptedException {
        HttpResponse<InputStream> answer = client().send(HttpRequest.newBuilder(address).timeout(LONGEST).header("Accept", "application/json").build(),
                HttpResponse.BodyHandlers.ofInputStream());
        try (InputStream body = answer.body()) {
            byte[] bytes = body.readNBytes(LARGEST + 1);
            if (answer.statusCode() == 200 && bytes.length <= LARGEST) return Optional.of(new String(bytes, StandardCharsets.UTF_8));
            LOG.warn("the keys at {} are no use: status {}, {} bytes", address, answer.statusCode(), bytes.length);
            return Optional.empty();
        }
    }

    private Optional<String> refusal(URI address) {
        boolean loopback = address.getHost() != null && LOOPBACK.contains(address.getHost());
        if (loopback && loopbackToo) return Optional.empty();
        if (!"https".equals(address.getScheme()) || address.getHost() == null || address.getRawUserInfo() != null) return Optional.of("no https address");
        try {
            // Between this look and the connection the name is not looked up anew: the JVM keeps the answer for some seconds.
            for (InetAddress one : InetAddress.getAllByName(address.getHost())) if (isInner(one)) return Optional.of("an address inside this network");
            return Optional.empty();
        } catch (IOException unknown) {
            return Optional.of("no such host");
        }
    }

    static boolean isInner(InetAddress address) {
        byte[] bytes = address.getAddress();
        boolean sharedOrUnique = bytes.length == 4 ? (bytes[0] & 0xff) == 100 && (bytes[1] & 0xc0) == 64 || bytes[0] == 0 || (bytes[0] & 0xff) >= 240
                : (bytes[0] & 0xfe) == 0xfc || bytes[0] == 0 && bytes[1] == 0x64; // fc00::/7, and 64:ff9b::/96, which leads to any IPv4 address
        return sharedOrUnique || address.isAnyLocalAddress() || address.isLoopbackAddress() || address.isLinkLocalAddress() || address.isSiteLocalAddress()
                || address.isMulticastAddress();
    }

    private synchronized HttpClient client() {
        if (client == null) client = HttpClient.newBuilder().connectTimeout(LONGEST).followRedirects(HttpClient.Redirect.NEVER).version(HttpClient.Version.HTTP_1_1).build();
        return client;
    }
}
