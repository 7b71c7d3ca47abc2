package dev.admit.contract;

import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * What came of a call.
 *
 * @param headers of the answer, in their order
 * @param body as text; what is no text is told in words
 * @param cut whether the body went on
 * @param micros from the first byte out to the last byte in
 * @param decision the gateway's; null when it made none
 * @param curl the same request for any HTTP client; the token is a variable in it
 * @param trial the decision on the trial token, where it was refused and nothing was sent; else null
 */
public record CallView(
        int status,
        List<Header> headers,
        String body,
        boolean cut,
        long micros,
        @Nullable DecisionView decision,
        String curl,
        @Nullable DecisionView trial) {
    public record Header(String name, String value) {}
}
