package dev.admit.gateway;

import dev.admit.core.gate.GateOutcome;
import dev.admit.core.limit.Count;
import dev.admit.core.route.Shaping;
import java.nio.ByteBuffer;
import java.time.Duration;
import java.util.Optional;
import org.eclipse.jetty.http.HttpFields;
import org.eclipse.jetty.http.HttpHeader;
import org.eclipse.jetty.server.Request;
import org.eclipse.jetty.server.Response;
import org.eclipse.jetty.util.Callback;

/** What a route does to the headers of a request and of its answer. */
final class Shape {
    private Shape() {}

    /** On the way to the upstream: what the caller sent is renamed and removed first, so that what is set cannot be taken for the caller's. */
    static void request(GateOutcome.Admitted admitted, HttpFields.Mutable headers) {
        Shaping shaping = admitted.route().route().shaping();
        shaping.renamedOnRequest().forEach((from, to) -> {
            String value = headers.get(from);
            headers.remove(from);
            headers.remove(to);
            if (value != null) headers.put(to, value);
        });
        shaping.removedOnRequest().forEach(headers::remove);
        admitted.route().prepared().setOnRequest().forEach((name, text) -> headers.put(name, text.on(admitted.values())));
    }

    /** On the way back. */
    static void answer(GateOutcome.Admitted admitted, HttpFields.Mutable headers) {
        Shaping shaping = admitted.route().route().shaping();
        shaping.removedOnAnswer().forEach(headers::remove);
        admitted.route().prepared().setOnAnswer().forEach((name, text) -> headers.put(name, text.on(admitted.values())));
    }

    /** An answer whose headers are shaped when the first of it goes out, after the upstream's own were copied. */
    static Response answered(GateOutcome.Admitted admitted, Request request, Response response) {
        Shaping shaping = admitted.route().route().shaping();
        if (shaping.removedOnAnswer().isEmpty() && shaping.setOnAnswer().isEmpty()) return response;
        return new Response.Wrapper(request, response) {
            @Override public void write(boolean last, ByteBuffer content, Callback callback) {
                if (!isCommitted()) answer(admitted, getHeaders());
                super.write(last, content, callback);
            }
        };
    }

    /** How much room is left (draft RateLimit header fields), and how long to wait where none is (RFC 9110 §10.2.3). */
    static void rate(Optional<Count> count, HttpFields.Mutable headers) {
        if (count.isEmpty()) return;
        Count it = count.get();
        headers.put("RateLimit-Policy", "\"%s\";q=%d;w=%d".formatted(it.name(), it.most(), it.window().toSeconds()));
        headers.put("RateLimit", "\"%s\";r=%d;t=%d".formatted(it.name(), it.remaining(), seconds(it.passes() ? it.full() : it.room())));
        if (!it.passes()) headers.put(HttpHeader.RETRY_AFTER, String.valueOf(Math.max(1, seconds(it.room()))));
    }

    private static long seconds(Duration length) {
        return (length.toMillis() + 999) / 1000;
    }
}
