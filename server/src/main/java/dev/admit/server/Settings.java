package dev.admit.server;

import dev.admit.gateway.TrustedProxies;
import java.net.URI;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Optional;

/**
 * What a service is started with.
 *
 * @param host the address both ports listen on
 * @param publicUrl what issuer URLs begin with; empty for what the data folder has, or loopback on the first start
 * @param masterKey base64 of 32 bytes, from the environment; empty for the file in the data folder
 * @param mostBody bytes; a larger request body is refused at the gateway
 * @param upstreamIdle how long an upstream may say nothing
 * @param tlsCertificate PEM, for both ports; empty for plain http
 * @param tlsKey PEM; empty for plain http
 * @param trustedProxies whose word on the caller's address is taken; nobody else's is
 * @param smtp the mail server; empty where mail stays in the outbox
 * @param accessLog where a line is written for each request; empty for nowhere
 * @param drain how long requests are still taken after readiness says that no more should come
 * @param demo whether everything is on this machine, so that what clients publish on loopback is fetched
 */
public record Settings(
        String host,
        int port,
        int gatewayPort,
        Optional<URI> publicUrl,
        Path data,
        Optional<String> masterKey,
        long mostBody,
        Duration upstreamIdle,
        boolean demo,
        Optional<Path> tlsCertificate,
        Optional<Path> tlsKey,
        List<String> trustedProxies,
        Duration decisionsKept,
        Duration auditKept,
        Optional<SmtpSettings> smtp,
        Optional<Path> accessLog,
        Duration drain) {
    private static final Duration LONGEST_DRAIN = Duration.ofMinutes(10);
    public static final int PORT = 9470;
    public static final int GATEWAY_PORT = 9471;

    /** A setting makes no sense. The message is a sentence for the one who started the service. */
    public static final class Senseless extends RuntimeException {
        public Senseless(String sentence) {
            super(sentence);
        }
    }

    public Settings {
        checkPort(port, "--port");
        checkPort(gatewayPort, "--gateway-port");
        if (port == gatewayPort)
            throw new Senseless("--port and --gateway-port are both %d. Give them different ports.".formatted(port));
        publicUrl = publicUrl.map(Settings::checked);
        if (tlsCertificate.isPresent() != tlsKey.isPresent())
            throw new Senseless("--tls-certificate and --tls-key go together. Give both, or neither.");
        try {
            TrustedProxies.of(trustedProxies);
        } catch (IllegalArgumentException none) {
            throw new Senseless("--trusted-proxy is '%s'. Give addresses or networks, such as 10.0.0.0/8."
                    .formatted(String.join(" ", trustedProxies)));
        }
        if (drain.compareTo(LONGEST_DRAIN) > 0)
            throw new Senseless("--drain is at most %d minutes.".formatted(LONGEST_DRAIN.toMinutes()));
        if (decisionsKept.compareTo(Duration.ofDays(1)) < 0 || auditKept.compareTo(Duration.ofDays(1)) < 0) {
            throw new Senseless("--keep-decisions and --keep-audit are at least 1 day, and are written such as 30d.");
        }
    }

    /** The same, for demo data, whose clients and upstreams are all here. */
    public Settings forDemo() {
        return new Settings(
                host,
                port,
                gatewayPort,
                publicUrl,
                data,
                masterKey,
                mostBody,
                upstreamIdle,
                true,
                tlsCertificate,
                tlsKey,
                trustedProxies,
                decisionsKept,
                auditKept,
                smtp,
                accessLog,
                drain);
    }

    /** The master key could stand in it. */
    @Override
    public String toString() {
        return "Settings[%s:%d, gateway %d, data %s]".formatted(host, port, gatewayPort, data);
    }

    /** What the ports speak. */
    public String scheme() {
        return tlsCertificate.isPresent() ? "https" : "http";
    }

    private static void checkPort(int port, String option) {
        if (port < 1 || port > 65535)
            throw new Senseless("%s is %d. Give a port from 1 to 65535.".formatted(option, port));
    }

    private static URI checked(URI url) {
        String text = url.toString().replaceAll("/+$", "");
        boolean loopback = url.getHost() != null
                && java.util.Set.of("127.0.0.1", "[::1]", "localhost").contains(url.getHost());
        // A path would have to be served, and inserted behind every well-known part (RFC 8414 §3.1); this service has
        // its own paths only.
        boolean pathless = url.getRawPath() == null || url.getRawPath().matches("/*");
        boolean good = url.getHost() != null
                && pathless
                && url.getRawQuery() == null
                && url.getRawFragment() == null
                && url.getRawUserInfo() == null
                && ("https".equals(url.getScheme()) || "http".equals(url.getScheme()) && loopback);
        if (!good) {
            throw new Senseless(
                    ("--public-url is '%s'. Give an https address, or http on loopback, without path, query, "
                                    + "fragment or login.")
                            .formatted(url));
        }
        return URI.create(text);
    }
}
