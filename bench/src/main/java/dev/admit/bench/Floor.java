package dev.admit.bench;

import java.net.URI;
import org.eclipse.jetty.http.HttpHeader;
import org.eclipse.jetty.http.HttpURI;
import org.eclipse.jetty.io.Content;
import org.eclipse.jetty.proxy.ProxyHandler;
import org.eclipse.jetty.server.Handler;
import org.eclipse.jetty.server.HttpConfiguration;
import org.eclipse.jetty.server.HttpConnectionFactory;
import org.eclipse.jetty.server.Request;
import org.eclipse.jetty.server.Response;
import org.eclipse.jetty.server.Server;
import org.eclipse.jetty.server.ServerConnector;
import org.eclipse.jetty.util.Callback;
import org.eclipse.jetty.util.thread.QueuedThreadPool;

/**
 * What the gateway is measured against, in a process of its own: the same Jetty and the same proxy with no checks, and
 * under {@code /constant} an answer of the size of a refusal. Also the upstream of both, in a third process.
 */
final class Floor {
    private static final String BODY = "x".repeat(400);

    private Floor() {}

    /** {@code floor UPSTREAM-PORT}, or {@code upstream}; prints the port it listens on. */
    public static void main(String[] args) throws Exception {
        QueuedThreadPool threads = new QueuedThreadPool(64, 4);
        Server server = new Server(threads);
        HttpConfiguration http = new HttpConfiguration();
        http.setSendServerVersion(false);
        ServerConnector connector = new ServerConnector(server, 1, 1, new HttpConnectionFactory(http));
        connector.setHost("127.0.0.1");
        server.addConnector(connector);
        server.setHandler(
                args[0].equals("upstream")
                        ? new Constant(200, null)
                        : new Constant(401, new Unchecked(URI.create("http://127.0.0.1:" + args[1]))));
        server.start();
        System.out.println(connector.getLocalPort());
        System.in.read(); // until the one who started it goes away
        System.exit(0);
    }

    /** Answers a constant; what is not under /constant goes on, where there is somewhere to go. */
    private static final class Constant extends Handler.Wrapper {
        private final int status;

        Constant(int status, Handler rest) {
            super(rest);
            this.status = status;
        }

        @Override
        public InvocationType getInvocationType() {
            return InvocationType.NON_BLOCKING;
        }

        @Override
        public boolean handle(Request request, Response response, Callback callback) throws Exception {
            if (getHandler() != null && !request.getHttpURI().getPath().startsWith("/constant"))
                return super.handle(request, response, callback);
            response.setStatus(status);
            response.getHeaders().put(HttpHeader.CONTENT_TYPE, "application/json");
            Content.Sink.write(response, true, BODY, callback);
            return true;
        }
    }

    private static final class Unchecked extends ProxyHandler.Reverse {
        Unchecked(URI upstream) {
            super(request -> HttpURI.build(request.getHttpURI())
                    .scheme("http")
                    .authority(upstream.getAuthority())
                    .asImmutable());
            setUseServerThreadPool(true);
        }

        @Override
        protected void configureHttpClient(org.eclipse.jetty.client.HttpClient client) {
            super.configureHttpClient(client);
            client.setMaxConnectionsPerDestination(256);
        }
    }
}
