package dev.admit.core.gate;

import java.util.List;

/**
 * What the gateway needs to know of a request to decide.
 *
 * @param rawPath       as on the request line, without the query
 * @param query         raw, or null
 * @param authorization every Authorization header
 * @param from          the caller's address
 */
public record GateRequest(String method, String rawPath, String query, List<String> authorization, String from) {

    /** Leaves out path, query and header values, which may hold secrets. */
    @Override public String toString() {
        return "GateRequest[" + method + " from " + from + "]";
    }
}
