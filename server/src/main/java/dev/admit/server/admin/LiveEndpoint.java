package dev.admit.server.admin;

import dev.admit.core.access.AdminRole;
import dev.admit.core.access.Permission;
import dev.admit.server.operations.LiveFeed;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import org.springframework.context.event.ContextClosedEvent;
import org.springframework.context.event.EventListener;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestAttribute;
import org.springframework.web.bind.annotation.RestController;
import tools.jackson.databind.json.JsonMapper;

/**
 * What changes, as server-sent events: {@code changed} with the issuer, what, on what and by whom, and {@code decided}
 * with the issuer. It ends after two minutes, so that who may look on is looked up anew; browsers come back by
 * themselves.
 */
@RestController
class LiveEndpoint {
    private static final long LONGEST_MILLIS = 120_000;
    private static final long HEARTBEAT_MILLIS = 5_000;
    private static final JsonMapper JSON = new JsonMapper();

    private final LiveFeed feed;
    private final OwnersChanges theirs;
    private volatile boolean stopping;

    LiveEndpoint(LiveFeed feed, OwnersChanges theirs) {
        this.feed = feed;
        this.theirs = theirs;
    }

    @EventListener(ContextClosedEvent.class)
    void stop() {
        stopping = true;
    }

    @Permitted(value = AdminRole.AUDITOR, of = Permission.Of.ANY, owner = Permission.OwnerOf.ANYTHING)
    @GetMapping("/admin/live")
    void look(
            HttpServletResponse response,
            @RequestAttribute(name = AdminDoor.ONLY, required = false) String only,
            @RequestAttribute(name = AdminDoor.OWNED_BY, required = false) String ownedBy)
            throws IOException {
        Optional<LiveFeed.Onlooker> joined = feed.join();
        if (joined.isEmpty()) {
            response.setStatus(503);
            response.setHeader("Retry-After", "10");
            return;
        }
        response.setContentType("text/event-stream;charset=UTF-8");
        response.setHeader("Cache-Control", "no-store");
        response.setHeader("X-Accel-Buffering", "no");
        try {
            tell(
                    joined.get(),
                    event -> mayHear(only, event) ? theirs.of(event, ownedBy) : Optional.empty(),
                    response.getOutputStream());
        } catch (InterruptedException stopped) {
            Thread.currentThread().interrupt();
        } finally {
            feed.leave(joined.get());
        }
    }

    /** On a virtual thread of its own: waiting costs nothing. */
    private void tell(
            LiveFeed.Onlooker onlooker, Function<LiveFeed.Event, Optional<LiveFeed.Event>> heard, OutputStream out)
            throws IOException, InterruptedException {
        long end = System.nanoTime() + LONGEST_MILLIS * 1_000_000;
        write(out, "retry: 1000\n\n");
        while (!stopping && System.nanoTime() < end) {
            LiveFeed.Event event = onlooker.next(HEARTBEAT_MILLIS);
            Optional<LiveFeed.Event> theirs = event == null ? Optional.empty() : heard.apply(event);
            if (event == null) write(out, ":\n\n"); // so that the one who is gone is noticed
            else if (theirs.isPresent())
                write(
                        out,
                        "event: " + (theirs.get().isOfDecisions() ? "decided" : "changed") + "\ndata: "
                                + json(theirs.get()) + "\n\n");
        }
    }

    private static boolean mayHear(String only, LiveFeed.Event event) {
        return only == null || only.equals(event.issuer());
    }

    private static String json(LiveFeed.Event event) {
        Map<String, Object> json = new LinkedHashMap<>();
        json.put("issuer", event.issuer());
        json.put("what", event.what());
        json.put("on", event.on());
        json.put("who", event.who());
        return JSON.writeValueAsString(json);
    }

    private static void write(OutputStream out, String text) throws IOException {
        out.write(text.getBytes(StandardCharsets.UTF_8));
        out.flush();
    }
}
