package dev.admit.gateway;

import java.io.IOException;
import org.eclipse.jetty.io.Content;
import org.eclipse.jetty.server.Request;

/**
 * A request body of unknown length that ends with a failure once it is larger than allowed, and tells a failure of its
 * own from those of the upstream. Nothing is gathered.
 */
final class BoundedBody extends Request.Wrapper {

    /** The body was larger than allowed. */
    static final class TooLarge extends IOException {
        TooLarge() {
            super("the request body is too large");
        }
    }

    /** The caller broke off, or broke the letter of HTTP, in the middle of the body. */
    static final class Broken extends IOException {
        Broken(Throwable why) {
            super("the request body broke off", why);
        }
    }

    private final long most;
    private long seen;

    BoundedBody(Request request, long most) {
        super(request);
        this.most = most;
    }

    @Override
    public Content.Chunk read() {
        Content.Chunk chunk = super.read();
        if (chunk == null) return chunk;
        if (Content.Chunk.isFailure(chunk)) return Content.Chunk.from(new Broken(chunk.getFailure()));
        seen += chunk.remaining();
        if (seen <= most) return chunk;
        chunk.release();
        TooLarge tooLarge = new TooLarge();
        fail(tooLarge);
        return Content.Chunk.from(tooLarge);
    }
}
