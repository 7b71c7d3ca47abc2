package dev.admit.server;

import dev.admit.core.clientauth.ClientKeys;
import dev.admit.core.setup.ImportOpenApi;
import dev.admit.core.trust.FindKeys;
import dev.admit.core.upstream.AskForToken;
import dev.admit.core.upstream.TryCredential;
import dev.admit.server.openapi.OpenApiReader;
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
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Fetches keys, metadata and tokens from elsewhere. Who answers there is not trusted: no redirects, a few seconds, a
 * few kilobytes, a few at a time. An address that a client names is not trusted either: https to the outside only.
 */
final class OutboundHttp
        implements ClientKeys.Fetch, FindKeys.Fetch, AskForToken.Post, TryCredential.Call, ImportOpenApi.Fetch {
    private static final Logger LOG = LoggerFactory.getLogger(OutboundHttp.class);
    private static final Duration LONGEST = Duration.ofSeconds(4);
    private static final int LARGEST = 64 * 1024;
    private static final int AT_ONCE = 8;
    private static final Set<String> LOOPBACK = Set.of("127.0.0.1", "[::1]", "localhost");

    /** Where it may reach. */
    enum Reach {
        /** https to addresses outside this network: for addresses that clients name. */
        OUTSIDE,
        /** The same, and anything on loopback: for demo data, where everything is here. */
        OUTSIDE_AND_LOOPBACK,
        /** https to anywhere, and anything on loopback: for addresses that administrators name. */
        ANYWHERE
    }

    private final Reach reach;
    private final Semaphore free = new Semaphore(AT_ONCE);
    private final ExecutorService readers = Executors.newVirtualThreadPerTaskExecutor();
    private @Nullable HttpClient client;

    OutboundHttp(Reach reach) {
        this.reach = reach;
    }

    /**
     * Keys of a client.
     *
     * @return empty when they could not or may not be fetched, which the log tells
     */
    @Override
    public Optional<String> keysAt(URI address) {
        try {
            return Optional.of(from(address));
        } catch (FindKeys.NotFetched why) {
            LOG.warn("the keys at {} are not known: {}", address, why.getMessage());
            return Optional.empty();
        }
    }

    @Override
    public String from(URI address) throws FindKeys.NotFetched {
        AskForToken.Answer answer = exchange(address, request -> request.header("Accept", "application/json"));
        if (answer.status() != 200)
            throw new FindKeys.NotFetched("the answer has status %d, not 200".formatted(answer.status()));
        return answer.body();
    }

    @Override
    public String from(URI address, URI namedBy) throws FindKeys.NotFetched {
        refuseInside(address, namedBy);
        return from(address);
    }

    /** A server outside names no address inside: or it had this service call whatever it likes in here. */
    private static void refuseInside(URI address, URI namedBy) throws FindKeys.NotFetched {
        if (!isInside(namedBy) && isInside(address))
            throw new FindKeys.NotFetched("an address inside this network, which a server outside it named");
    }

    private static boolean isInside(URI address) {
        if (address.getHost() == null || LOOPBACK.contains(address.getHost())) return true;
        try {
            for (InetAddress one : InetAddress.getAllByName(address.getHost())) if (isInner(one)) return true;
            return false;
        } catch (IOException unknown) {
            return false; // then nothing is fetched there either
        }
    }

    @Override
    public AskForToken.Answer post(URI address, URI namedBy, @Nullable String authorization, String form)
            throws FindKeys.NotFetched {
        refuseInside(address, namedBy);
        return post(address, authorization, form);
    }

    @Override
    public AskForToken.Answer post(URI address, @Nullable String authorization, String form)
            throws FindKeys.NotFetched {
        return exchange(address, request -> {
            request.header("Accept", "application/json")
                    .header("Content-Type", "application/x-www-form-urlencoded")
                    .POST(HttpRequest.BodyPublishers.ofString(form));
            if (authorization != null) request.header("Authorization", authorization);
        });
    }

    @Override
    public int get(URI address, String header, String value) throws FindKeys.NotFetched {
        return exchange(address, request -> request.header(header, value)).status();
    }

    @Override
    public String document(URI address) throws ImportOpenApi.NotFetched {
        try {
            AskForToken.Answer answer = exchange(
                    address, request -> request.header("Accept", "application/json, */*"), OpenApiReader.LARGEST);
            if (answer.status() == 200) return answer.body();
            throw new ImportOpenApi.NotFetched("the answer has status %d, not 200".formatted(answer.status()));
        } catch (FindKeys.NotFetched why) {
            throw new ImportOpenApi.NotFetched(why.getMessage());
        }
    }

    private AskForToken.Answer exchange(URI address, Consumer<HttpRequest.Builder> filled) throws FindKeys.NotFetched {
        return exchange(address, filled, LARGEST);
    }

    /** @param largest how many bytes an answer may have */
    private AskForToken.Answer exchange(URI address, Consumer<HttpRequest.Builder> filled, int largest)
            throws FindKeys.NotFetched {
        Optional<String> refused = refusal(address);
        if (refused.isPresent()) throw new FindKeys.NotFetched(refused.get());
        if (!free.tryAcquire()) throw new FindKeys.NotFetched("too many others are being fetched");
        // Another thread reads, so that a server which sends a byte now and then is cut off too.
        Future<AskForToken.Answer> reading = readers.submit(() -> {
            HttpRequest.Builder request = HttpRequest.newBuilder(address).timeout(LONGEST);
            filled.accept(request);
            return read(request.build(), largest);
        });
        try {
            return reading.get(LONGEST.toMillis(), TimeUnit.MILLISECONDS);
        } catch (TimeoutException tooLong) {
            throw new FindKeys.NotFetched("it took more than %d s".formatted(LONGEST.toSeconds()));
        } catch (ExecutionException broken) {
            throw broken.getCause() instanceof FindKeys.NotFetched why
                    ? why
                    : new FindKeys.NotFetched(
                            broken.getCause() == null || broken.getCause().getMessage() == null
                                    ? "no connection"
                                    : broken.getCause().getMessage());
        } catch (InterruptedException stopping) {
            Thread.currentThread().interrupt();
            throw new FindKeys.NotFetched("the service stops");
        } finally {
            reading.cancel(true);
            free.release();
        }
    }

    private AskForToken.Answer read(HttpRequest request, int largest)
            throws IOException, InterruptedException, FindKeys.NotFetched {
        HttpResponse<InputStream> answer = client().send(request, HttpResponse.BodyHandlers.ofInputStream());
        try (InputStream body = answer.body()) {
            byte[] bytes = body.readNBytes(largest + 1);
            if (bytes.length > largest)
                throw new FindKeys.NotFetched("the answer has more than %d bytes".formatted(largest));
            return new AskForToken.Answer(answer.statusCode(), new String(bytes, StandardCharsets.UTF_8));
        }
    }

    private Optional<String> refusal(URI address) {
        boolean loopback = address.getHost() != null && LOOPBACK.contains(address.getHost());
        if (loopback && reach != Reach.OUTSIDE) return Optional.empty();
        if (!"https".equals(address.getScheme()) || address.getHost() == null || address.getRawUserInfo() != null)
            return Optional.of("no https address");
        if (reach == Reach.ANYWHERE) return Optional.empty();
        try {
            // Between this look and the connection the name is not looked up anew: the JVM keeps the answer for some
            // seconds.
            for (InetAddress one : InetAddress.getAllByName(address.getHost()))
                if (isInner(one)) return Optional.of("an address inside this network");
            return Optional.empty();
        } catch (IOException unknown) {
            return Optional.of("no such host");
        }
    }

    static boolean isInner(InetAddress address) {
        byte[] bytes = address.getAddress();
        boolean sharedOrUnique = bytes.length == 4
                ? (bytes[0] & 0xff) == 100 && (bytes[1] & 0xc0) == 64 || bytes[0] == 0 || (bytes[0] & 0xff) >= 240
                : (bytes[0] & 0xfe) == 0xfc
                        || bytes[0] == 0
                                && bytes[1] == 0x64; // fc00::/7, and 64:ff9b::/96, which leads to any IPv4 address
        return sharedOrUnique
                || address.isAnyLocalAddress()
                || address.isLoopbackAddress()
                || address.isLinkLocalAddress()
                || address.isSiteLocalAddress()
                || address.isMulticastAddress();
    }

    private synchronized HttpClient client() {
        if (client == null)
            client = HttpClient.newBuilder()
                    .connectTimeout(LONGEST)
                    .followRedirects(HttpClient.Redirect.NEVER)
                    .version(HttpClient.Version.HTTP_1_1)
                    .build();
        return client;
    }
}
