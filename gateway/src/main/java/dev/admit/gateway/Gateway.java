package dev.admit.gateway;

import dev.admit.core.browser.SignInAtGate;
import dev.admit.core.configuration.Configuration;
import dev.admit.core.decision.Journal;
import dev.admit.core.gate.DescribeResource;
import dev.admit.core.gate.Gate;
import dev.admit.core.gate.GatewayProofs;
import java.time.Clock;
import java.util.concurrent.Executors;
import java.util.function.Supplier;
import org.eclipse.jetty.http.UriCompliance;
import org.eclipse.jetty.server.HttpConfiguration;
import org.eclipse.jetty.server.HttpConnectionFactory;
import org.eclipse.jetty.server.SecureRequestCustomizer;
import org.eclipse.jetty.server.Server;
import org.eclipse.jetty.server.ServerConnector;
import org.eclipse.jetty.server.SslConnectionFactory;
import org.eclipse.jetty.server.handler.GracefulHandler;
import org.eclipse.jetty.util.thread.QueuedThreadPool;

/** The gateway: a Jetty server of its own, with {@link GateHandler} behind its one port. */
@SuppressWarnings("try") // closing is allowed to be interrupted
public final class Gateway implements AutoCloseable {
    private static final int MOST_HEADER_BYTES = 16 * 1024;
    private static final int MOST_WAITED_AT_THE_END = 10_000;

    private final Server server;
    private final ServerConnector connector;

    public Gateway(
            GatewaySettings settings,
            Gate gate,
            Journal journal,
            DescribeResource described,
            SignInAtGate signIn,
            Supplier<Configuration> configuration,
            Clock clock) {
        QueuedThreadPool threads = new QueuedThreadPool(64, 4);
        threads.setName("gateway");
        threads.setVirtualThreadsExecutor(Executors.newVirtualThreadPerTaskExecutor());
        server = new Server(threads);
        HttpConfiguration http = new HttpConfiguration();
        http.setSendDateHeader(true);
        http.setRequestHeaderSize(MOST_HEADER_BYTES);
        // Paths are judged by RequestPath, whose refusal says what is wrong; Jetty's own would be a bare 400.
        http.setUriCompliance(UriCompliance.UNSAFE);
        settings.tls().ifPresent(tls -> http.addCustomizer(new SecureRequestCustomizer(false)));
        HttpConnectionFactory plain = new StrictHttp(http);
        connector = settings.tls().isEmpty()
                ? new ServerConnector(server, 1, 1, plain)
                : new ServerConnector(
                        server, 1, 1, new SslConnectionFactory(settings.tls().get(), plain.getProtocol()), plain);
        connector.setHost(settings.host());
        connector.setPort(settings.port());
        connector.setIdleTimeout(60_000);
        server.addConnector(connector);
        RefusalAnswer refusals = new RefusalAnswer();
        GatewayProofs proofs = new GatewayProofs();
        GateHandler handler = new GateHandler(
                gate,
                journal,
                clock,
                settings,
                new Forward(settings, journal, refusals, proofs),
                refusals,
                proofs.keys(),
                described,
                new BrowserDoor(signIn, configuration, settings.proxies(), clock));
        server.setHandler(new GracefulHandler(handler)); // what is under way ends before the server does
        server.setErrorHandler(new ParserErrors(refusals, journal, clock));
        server.setStopTimeout(MOST_WAITED_AT_THE_END);
    }

    /** @throws java.io.IOException when the port is taken */
    public void start() throws Exception {
        server.start();
    }

    /** Where it listens, once started. */
    public int port() {
        return connector.getLocalPort();
    }

    /** The address it listens on; {@code 0.0.0.0} or {@code ::} for all. */
    public String host() {
        return connector.getHost();
    }

    /** How it is spoken to: http, or https where it has a certificate. */
    public String scheme() {
        return connector.getDefaultConnectionFactory() instanceof SslConnectionFactory ? "https" : "http";
    }

    /**
     * Where it is called. On this machine that is {@code localhost} where the authorization server is called
     * {@code 127.0.0.1}: browsers hold cookies for a host and all its ports, so the two are never to share a name.
     *
     * @param host that the authorization server is called by; taken for a gateway that listens on every address, which
     *     is no address to call
     * @return scheme, host and port; no slash at the end
     */
    public String url(String host) {
        boolean everywhere = host().equals("0.0.0.0") || host().equals("::");
        String called = everywhere ? host : host();
        if (called.equals(host) && called.equals("127.0.0.1")) called = "localhost";
        boolean bare = called.contains(":") && !called.startsWith("["); // RFC 3986 §3.2.2
        return "%s://%s:%d".formatted(scheme(), bare ? "[" + called + "]" : called, port());
    }

    @Override
    public void close() throws Exception {
        server.stop();
    }
}
