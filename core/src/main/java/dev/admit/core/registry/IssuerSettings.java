package dev.admit.core.registry;

import java.time.Duration;
import java.util.List;
import java.util.Optional;

/**
 * What holds for everything of an issuer.
 *
 * @param domains that it owns; an {@code https} audience outside them wants an explicit word. Empty for no such check
 * @param keyRotation how long a key signs before the next one takes over by itself; empty for by command only
 * @param secretLifetime of a client secret for which nobody says another
 * @param maxSecretLifetime no secret may live longer
 * @param nonExpiringSecrets whether a secret may be made that never expires
 * @param loopbackRedirects whether clients that are not native may have plain-http redirect URIs on loopback
 * @param grantTypes that are on; absent for every one the service has
 * @param people what holds for those who sign in
 */
public record IssuerSettings(
        List<String> domains,
        Optional<Duration> keyRotation,
        Duration secretLifetime,
        Duration maxSecretLifetime,
        boolean nonExpiringSecrets,
        boolean loopbackRedirects,
        Optional<List<String>> grantTypes,
        PeopleSettings people) {
    public static final IssuerSettings USUAL = new IssuerSettings(
            List.of(),
            Optional.of(Duration.ofDays(90)),
            Duration.ofDays(90),
            Duration.ofDays(366),
            false,
            true,
            Optional.empty(),
            PeopleSettings.USUAL);

    public boolean allows(String grantType) {
        return grantTypes.isEmpty() || grantTypes.get().contains(grantType);
    }

    /** Whether the host is one of the domains or below one. */
    public boolean owns(String host) {
        return domains.isEmpty()
                || domains.stream().anyMatch(domain -> host.equals(domain) || host.endsWith("." + domain));
    }
}
