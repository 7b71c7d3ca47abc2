package dev.admit.core.gate;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.IntSupplier;
import java.util.function.LongSupplier;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * What the gateway needs to know of a request to decide.
 *
 * @param host that the request is for, in lower case and without a port; may be empty
 * @param rawPath as on the request line, without the query
 * @param query raw, or null
 * @param authorization every Authorization header
 * @param from the caller's address
 * @param headerBytes of all names and values together; counted only for routes that limit them
 * @param bodyBytes as the request says; -1 where it does not, and then counted while it passes
 * @param browser what a browser may send along
 * @param headers by lower-case name, those that carry credentials left out; gathered only for routes that look at them
 */
public record GateRequest(
        String method,
        String host,
        String rawPath,
        @Nullable String query,
        List<String> authorization,
        String from,
        Optional<FromPage> page,
        Supplier<Map<String, String>> headers,
        IntSupplier headerBytes,
        LongSupplier bodyBytes,
        Browser browser) {

    /** What a browser sends along. */
    public interface Browser {
        /** For the one who is no browser. */
        Browser NONE = new Browser() {
            @Override
            public @Nullable String cookie(String name) {
                return null;
            }

            @Override
            public boolean isSecure() {
                return false;
            }

            @Override
            public boolean comesFromElsewhere() {
                return false;
            }

            @Override
            public boolean opensAPage() {
                return false;
            }
        };

        /** @return null for none */
        @Nullable
        String cookie(String name);

        /** Whether it came by https. */
        boolean isSecure();

        /** Whether a page of another origin has it sent (Fetch Metadata, {@code Origin}). */
        boolean comesFromElsewhere();

        /** Whether a person opens a page, and not a script that calls. */
        boolean opensAPage();
    }

    /**
     * What a browser says of a page that calls (CORS).
     *
     * @param preflight the method that it asks about, before it calls; empty when this is the call
     */
    public record FromPage(String origin, Optional<String> preflight) {}

    /** Leaves out path, query and header values, which may hold secrets. */
    @Override
    public String toString() {
        return "GateRequest[" + method + " from " + from + "]";
    }
}
