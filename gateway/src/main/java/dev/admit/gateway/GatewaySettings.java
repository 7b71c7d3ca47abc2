package dev.admit.gateway;

import java.time.Duration;

/**
 * How the gateway listens and forwards.
 *
 * @param port            0 for any free one
 * @param mostBodyBytes   a larger request body is refused with 413
 * @param upstreamConnect how long a connection to an upstream may take
 * @param upstreamSilence how long an upstream may say nothing before the answer is 504
 */
public record GatewaySettings(String host, int port, long mostBodyBytes, Duration upstreamConnect, Duration upstreamSilence) {

    public GatewaySettings {
        if (port < 0 || port > 65535) throw new IllegalArgumentException("the gateway's port must be 0 to 65535, not " + port);
        if (mostBodyBytes < 0) throw new IllegalArgumentException("the largest body cannot be negative");
    }

    public static GatewaySettings onLoopback(int port) {
        return new GatewaySettings("127.0.0.1", port, 10 * 1024 * 1024, Duration.ofSeconds(5), Duration.ofSeconds(30));
    }
}
