package dev.admit.core.grant;

import java.util.List;

/**
 * A request to the token endpoint as it came over the wire.
 *
 * @param contentType   the media type without parameters, lower-case; empty when there was none
 * @param authorization every Authorization header
 * @param query         the raw query; empty when there was none
 * @param body          as it came, already bounded
 * @param from          the caller's address
 * @param fromBrowser   whether a page in a browser sent it
 */
public record TokenRequest(String method, String contentType, List<String> authorization, String query, byte[] body, String from,
                           boolean fromBrowser) {

    /** Leaves out what may hold secrets. */
    @Override public String toString() {
        return "TokenRequest[" + method + " from " + from + "]";
    }
}
