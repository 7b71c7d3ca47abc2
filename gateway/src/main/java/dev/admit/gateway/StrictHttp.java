package dev.admit.gateway;

import java.nio.ByteBuffer;
import java.util.Objects;
import org.eclipse.jetty.http.BadMessageException;
import org.eclipse.jetty.http.HttpCompliance;
import org.eclipse.jetty.http.HttpHeader;
import org.eclipse.jetty.http.HttpParser;
import org.eclipse.jetty.http.HttpStatus;
import org.eclipse.jetty.http.HttpVersion;
import org.eclipse.jetty.io.Connection;
import org.eclipse.jetty.io.EndPoint;
import org.eclipse.jetty.server.Connector;
import org.eclipse.jetty.server.HttpConfiguration;
import org.eclipse.jetty.server.HttpConnectionFactory;
import org.eclipse.jetty.server.Request;
import org.eclipse.jetty.server.internal.HttpConnection;
import org.jspecify.annotations.Nullable;

/**
 * Connections whose requests keep to RFC 9110 and 9112: no bare line feed, no body of two lengths, and the name of the
 * version to the letter, which the library's strict mode also takes as {@code http/1.1} (RFC 9112 §2.3: HTTP-name is
 * case-sensitive).
 */
public final class StrictHttp extends HttpConnectionFactory {
    /** @param configuration is made strict */
    public StrictHttp(HttpConfiguration configuration) {
        super(configuration);
        configuration.setSendServerVersion(false);
        // A connection's parser remembers fields; by itself it takes "Bearer a" for the "Bearer A" that came before.
        configuration.setHeaderCacheCaseSensitive(true);
        // Smuggling tricks end at the parser.
        configuration.setHttpCompliance(HttpCompliance.STRICT);
        configuration.addCustomizer((request, responseHeaders) -> refuseChunksOfHttp10(request));
    }

    /**
     * RFC 9112 §6.1: with Transfer-Encoding in an HTTP/1.0 message its length is in doubt, and what follows could be a
     * second request.
     */
    @SuppressWarnings("removal") // the class that replaces it comes with the next version of the server
    private static Request refuseChunksOfHttp10(Request request) {
        boolean old = request.getConnectionMetaData().getHttpVersion() == HttpVersion.HTTP_1_0;
        if (old && request.getHeaders().contains(HttpHeader.TRANSFER_ENCODING)) {
            throw new BadMessageException(HttpStatus.BAD_REQUEST_400, "Transfer-Encoding in an HTTP/1.0 request");
        }
        return request;
    }

    @Override
    public Connection newConnection(Connector connector, EndPoint endPoint) {
        return configure(new Strict(getHttpConfiguration(), connector, endPoint), connector, endPoint);
    }

    private static final class Strict extends HttpConnection {
        /** Set while the constructor above runs, so it has no value of its own here. */
        private @Nullable RequestHandler handler;

        Strict(HttpConfiguration configuration, Connector connector, EndPoint endPoint) {
            super(configuration, connector, endPoint);
        }

        @Override
        protected RequestHandler newRequestHandler() {
            handler = super.newRequestHandler();
            return handler;
        }

        @Override
        protected HttpParser newHttpParser(HttpCompliance compliance) {
            HttpParser parser = new Parser(
                    Objects.requireNonNull(handler), getHttpConfiguration().getRequestHeaderSize(), compliance);
            parser.setHeaderCacheSize(getHttpConfiguration().getHeaderCacheSize());
            parser.setHeaderCacheCaseSensitive(getHttpConfiguration().isHeaderCacheCaseSensitive());
            return parser;
        }
    }

    /** Looks at the request line as it passes: the word before its end begins with the version's name. */
    private static final class Parser extends HttpParser {
        private boolean inLine = true;
        private boolean afterSpace;
        private byte first;

        Parser(HttpParser.RequestHandler handler, int mostHeaderBytes, HttpCompliance compliance) {
            super(handler, mostHeaderBytes, compliance);
        }

        @Override
        public boolean parseNext(ByteBuffer buffer) {
            if (isState(State.START)) inLine = true;
            if (inLine) look(buffer);
            return super.parseNext(buffer);
        }

        private void look(ByteBuffer buffer) {
            for (int at = buffer.position(); at < buffer.limit(); at++) {
                byte one = buffer.get(at);
                if (one == '\n') {
                    boolean empty = first == 0;
                    if (first == 'h') buffer.put(at, (byte) 0); // no end of a line any more, so the library refuses it
                    first = 0;
                    if (!empty) inLine = false;
                    if (!empty) return;
                } else if (one == ' ') {
                    afterSpace = true;
                } else if (afterSpace) {
                    first = one;
                    afterSpace = false;
                }
            }
        }

        @Override
        public void reset() {
            super.reset();
            inLine = true;
        }
    }
}
