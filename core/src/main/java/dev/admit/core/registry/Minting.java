package dev.admit.core.registry;

import java.time.Duration;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * How an API's access tokens are made. Of all that applies to a request the strictest counts, so that the order in
 * which things were written down never matters: an exception can shorten, hide and leave out, and nothing else.
 *
 * @param claims beside those of the standard; no name twice
 * @param refreshIdleTimeout a refresh token that is not used for so long is of no more use
 * @param maxRefreshAge how long after the sign-in tokens can be refreshed at all
 */
public record Minting(
        Duration lifetime,
        Format format,
        List<ExtraClaim> claims,
        Duration refreshIdleTimeout,
        Duration maxRefreshAge,
        List<Exempt> exceptions) {
    public static final Minting USUAL = usual(Duration.ofMinutes(15), Format.JWT, List.of(), List.of());

    public Minting {
        // What an older version kept says nothing of refresh tokens.
        if (refreshIdleTimeout == null) refreshIdleTimeout = Duration.ofDays(14);
        if (maxRefreshAge == null) maxRefreshAge = Duration.ofDays(90);
    }

    /** With the usual life of refresh tokens. */
    public static Minting usual(Duration lifetime, Format format, List<ExtraClaim> claims, List<Exempt> exceptions) {
        return new Minting(lifetime, format, claims, Duration.ofDays(14), Duration.ofDays(90), exceptions);
    }

    /** An opaque token is the stricter form: the one who holds it cannot read it. */
    public enum Format {
        JWT,
        OPAQUE;

        @Override
        public String toString() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /** @param expression in CEL, over client, api, scopes, grant_type and now */
    public record ExtraClaim(String name, String expression) {}

    /**
     * A named exception.
     *
     * @param clients names; empty for every client. It applies where each of the three that says something fits
     * @param tags of the client
     * @param grantTypes of the request
     * @param lifetime at most
     * @param format opaque, or empty to leave it
     * @param without names of claims that are left out
     */
    public record Exempt(
            String name,
            List<String> clients,
            List<String> tags,
            List<String> grantTypes,
            Optional<Duration> lifetime,
            Optional<Format> format,
            Optional<Duration> refreshIdleTimeout,
            Optional<Duration> maxRefreshAge,
            List<String> without) {

        public Exempt {
            if (refreshIdleTimeout == null) refreshIdleTimeout = Optional.empty();
            if (maxRefreshAge == null) maxRefreshAge = Optional.empty();
        }

        public boolean appliesTo(Client client, String grantType) {
            return (clients.isEmpty() || clients.contains(client.name()))
                    && (tags.isEmpty() || client.texts().tags().stream().anyMatch(tags::contains))
                    && (grantTypes.isEmpty() || grantTypes.contains(grantType));
        }
    }
}
