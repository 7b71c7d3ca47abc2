package dev.admit.gateway;

import java.util.ArrayDeque;
import java.util.Deque;
import org.eclipse.jetty.io.Content;
import org.eclipse.jetty.server.Request;

/**
 * A body in chunks of which what has come so far was read already: when that cannot be read to the letter (RFC 9112
 * §7.1), nothing has gone to the upstream yet. What comes after it streams as before.
 */
final class FirstOfBody extends Request.Wrapper {
    private static final int ENOUGH = 16 * 1024;
    private final Deque<Content.Chunk> first;

    private FirstOfBody(Request request, Deque<Content.Chunk> first) {
        super(request);
        this.first = first;
    }

    /** Who is told when something has come. */
    interface Ready {
        void goOn(Request request);

        void broken(Throwable why);
    }

    static void readThen(Request request, Ready ready) {
        Deque<Content.Chunk> come = new ArrayDeque<>();
        int bytes = 0;
        while (bytes < ENOUGH) {
            Content.Chunk chunk = request.read();
            if (chunk == null && come.isEmpty()) {
                request.demand(() -> readThen(request, ready));
                return;
            }
            if (chunk == null) break; // more may come at any time, or never: the upstream need not wait for it
            if (Content.Chunk.isFailure(chunk)) {
                come.forEach(Content.Chunk::release);
                ready.broken(chunk.getFailure());
                return;
            }
            come.add(chunk);
            bytes += chunk.remaining();
            if (chunk.isLast()) break;
        }
        ready.goOn(new FirstOfBody(request, come));
    }

    @Override
    public Content.Chunk read() {
        return first.isEmpty() ? super.read() : first.poll();
    }

    @Override
    public void demand(Runnable demandCallback) {
        if (first.isEmpty()) super.demand(demandCallback);
        else getContext().execute(demandCallback);
    }
}
