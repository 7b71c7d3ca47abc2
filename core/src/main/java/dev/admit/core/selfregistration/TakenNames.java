package dev.admit.core.selfregistration;

import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Look;
import java.util.Arrays;

/** Names that a client may not give itself, because a person who is asked could take it for another. */
final class TakenNames {
    private static final String OURS = Look.skeleton("Admit");

    private final Clients clients;

    TakenNames(Clients clients) {
        this.clients = clients;
    }

    /** Those of clients that a person registered, the issuer's own, and whatever has Admit's name in it. */
    boolean has(Issuer issuer, String name) {
        return clients.looksTaken(issuer.id(), name)
                || Look.skeleton(name).equals(Look.skeleton(issuer.title()))
                || Arrays.stream(name.split("[^\\p{L}\\p{N}]+"))
                        .map(Look::skeleton)
                        .anyMatch(OURS::equals);
    }
}
