package dev.admit.gateway;

import dev.admit.core.route.Route;
import java.time.Duration;
import java.util.Optional;
import org.eclipse.jetty.util.ssl.SslContextFactory;

/**
 * How the gateway listens and forwards.
 *
 * @param port 0 for any free one
 * @param mostBodyBytes a larger request body is refused with 413
 * @param upstreamConnect how long a connection to an upstream may take
 * @param upstreamIdle how long an upstream may say nothing before the answer is 504
 * @param proxies whose word on the caller's address is taken
 * @param tls empty for plain http
 */
public record GatewaySettings(
        String host,
        int port,
        long mostBodyBytes,
        Duration upstreamConnect,
        Duration upstreamIdle,
        TrustedProxies proxies,
        Optional<SslContextFactory.Server> tls) {

    public GatewaySettings {
        if (port < 0 || port > 65535)
            throw new IllegalArgumentException("the gateway's port must be 0 to 65535, not " + port);
        if (mostBodyBytes < 0) throw new IllegalArgumentException("the largest body cannot be negative");
    }

    /** The largest body that a route takes, in bytes. */
    long mostBody(Route route) {
        return route.limits().mostBody(mostBodyBytes);
    }

    public static GatewaySettings onLoopback(int port) {
        return new GatewaySettings(
                "127.0.0.1",
                port,
                10 * 1024 * 1024,
                Duration.ofSeconds(5),
                Duration.ofSeconds(30),
                TrustedProxies.NONE,
                Optional.empty());
    }
}
