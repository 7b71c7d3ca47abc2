package dev.admit.core.selfregistration;

import dev.admit.core.change.Actor;
import dev.admit.core.change.Expected;
import dev.admit.core.registration.ClientRegistration;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Issuers;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;

/** Removes clients that registered themselves and that nobody ever used or approved. */
public final class RemoveUnused {
    private static final Duration KEPT = Duration.ofDays(30);

    private final SelfRegistrations registrations;
    private final ClientRegistration registration;
    private final Issuers issuers;
    private final Clients clients;

    public RemoveUnused(
            SelfRegistrations registrations, ClientRegistration registration, Issuers issuers, Clients clients) {
        this.registrations = registrations;
        this.registration = registration;
        this.issuers = issuers;
        this.clients = clients;
    }

    /** @return how many went */
    public int before(Instant now) {
        int gone = 0;
        for (String clientId : registrations.unusedSince(now.minus(KEPT))) {
            Optional<Issuer> issuer = registrations.of(clientId).flatMap(it -> issuers.named(it.issuerId()));
            Optional<Client> client = issuer.flatMap(it -> clients.named(it.id(), clientId));
            if (client.isEmpty()) continue;
            registration.remove(
                    issuer.get(), clientId, Expected.ANY, client.get().name(), Actor.ADMIT);
            gone++;
        }
        return gone;
    }
}
