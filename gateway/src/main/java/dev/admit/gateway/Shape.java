package dev.admit.gateway;

import dev.admit.core.gate.GateOutcome;
import dev.admit.core.limit.Count;
import dev.admit.core.route.Transform;
import java.nio.ByteBuffer;
import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import org.eclipse.jetty.http.HttpFields;
import org.eclipse.jetty.http.HttpHeader;
import org.eclipse.jetty.server.Request;
import org.eclipse.jetty.server.Response;
import org.eclipse.jetty.util.Callback;

/** What a route does to the headers of a request and of its answer. */
final class Shape {
    private Shape() {}

    /**
     * What the caller sent under names that become others. It is removed before anything that looks like it is dropped.
     */
    static Map<String, String> toRename(GateOutcome.Admitted admitted, HttpFields headers) {
        Map<String, String> renamed = admitted.route().route().transform().renamedOnRequest();
        if (renamed.isEmpty()) return Map.of();
        Map<String, String> values = new LinkedHashMap<>();
        renamed.forEach((from, to) -> {
            String value = headers.get(from);
            if (value != null) values.put(to, value);
        });
        return values;
    }

    /**
     * On the way to the upstream. What the caller sent under any name that the route sets, renames or removes is gone
     * already.
     *
     * @param renamed as {@link #toRename} found it
     */
    static void request(GateOutcome.Admitted admitted, Map<String, String> renamed, HttpFields.Mutable headers) {
        renamed.forEach(headers::put);
        admitted.route()
                .prepared()
                .setOnRequest()
                .forEach((name, text) -> headers.put(name, text.on(admitted.values())));
    }

    /** On the way back. */
    static void answer(GateOutcome.Admitted admitted, HttpFields.Mutable headers) {
        Transform transform = admitted.route().route().transform();
        transform.removedOnResponse().forEach(headers::remove);
        admitted.route()
                .prepared()
                .setOnResponse()
                .forEach((name, text) -> headers.put(name, text.on(admitted.values())));
        if (admitted.route().prepared().sandboxed()) sandbox(headers);
        if (admitted.session().isPresent()) keepToTheBrowser(headers);
    }

    /**
     * A page of this answer is of no origin: it neither reads other routes with the browser's session nor acts there
     * (CSP Level 3 §6.3.2).
     */
    static void sandbox(HttpFields.Mutable headers) {
        headers.add("Content-Security-Policy", "sandbox");
    }

    /**
     * A renewed session rides on the answer: no cache on the way may hand it to another person (RFC 9111 §5.2.2, §7.3).
     */
    private static void keepToTheBrowser(HttpFields.Mutable headers) {
        headers.remove(HttpHeader.EXPIRES);
        headers.remove(HttpHeader.PRAGMA);
        headers.put(HttpHeader.CACHE_CONTROL, "private, no-store");
    }

    /** An answer whose headers are shaped when the first of it goes out, after the upstream's own were copied. */
    static Response answered(GateOutcome.Admitted admitted, Request request, Response response) {
        Transform transform = admitted.route().route().transform();
        boolean asItIs = transform.removedOnResponse().isEmpty()
                && transform.setOnResponse().isEmpty()
                && !admitted.route().prepared().sandboxed()
                && admitted.session().isEmpty();
        if (asItIs) return response;
        return new Response.Wrapper(request, response) {
            @Override
            public void write(boolean last, ByteBuffer content, Callback callback) {
                if (!isCommitted()) answer(admitted, getHeaders());
                super.write(last, content, callback);
            }
        };
    }

    /** How much room is left (draft RateLimit header fields), and how long to wait where none is (RFC 9110 §10.2.3). */
    static void rate(Optional<Count> count, HttpFields.Mutable headers) {
        if (count.isEmpty()) return;
        Count it = count.get();
        headers.put(
                "RateLimit-Policy",
                "\"%s\";q=%d;w=%d".formatted(it.name(), it.most(), it.window().toSeconds()));
        headers.put(
                "RateLimit",
                "\"%s\";r=%d;t=%d".formatted(it.name(), it.remaining(), seconds(it.passes() ? it.full() : it.room())));
        if (!it.passes()) headers.put(HttpHeader.RETRY_AFTER, String.valueOf(Math.max(1, seconds(it.room()))));
    }

    private static long seconds(Duration length) {
        return (length.toMillis() + 999) / 1000;
    }
}
