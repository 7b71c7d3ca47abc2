package dev.admit.core.decision;

import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * The record of one request: what was asked, each check in order, and how it ended. Written alike at the token
 * endpoint, at the gateway and at the admin API.
 *
 * @param about who and what the request was about, as far as it was known
 * @param answered the HTTP status of the answer; a fault behind an admitted request shows here
 * @param done what was done to the request or the answer, as phrases
 * @param micros how long the decision took, without the upstream's time
 * @param took how long each check took, in nanoseconds; empty for what was kept before that was measured
 */
public record Decision(
        String id,
        Instant at,
        Endpoint endpoint,
        About about,
        List<CheckResult> checks,
        Verdict verdict,
        Optional<Refusal> refusal,
        int answered,
        List<String> done,
        long micros,
        List<Integer> took) {

    /** Who and what. Every text may be empty when the request did not get so far. */
    public record About(
            String issuer,
            String clientId,
            String clientName,
            String subject,
            String api,
            String route,
            long revision,
            String method,
            String path,
            String scopes,
            String from) {}

    /** The same, with another way to fix its refusal. */
    public Decision withFix(Fix fix) {
        return new Decision(
                id,
                at,
                endpoint,
                about,
                checks,
                verdict,
                refusal.map(it -> new Refusal(it.reason(), it.expected(), it.received(), fix)),
                answered,
                done,
                micros,
                took);
    }
}
