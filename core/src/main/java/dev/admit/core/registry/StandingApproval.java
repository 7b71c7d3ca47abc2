package dev.admit.core.registry;

import java.time.Instant;
import java.util.List;

/**
 * An approval of a scope given ahead: a client that fits has the scope as soon as it requests it. It fits where each
 * list that names something names it. A list alone is no rule: at least one names something.
 *
 * @param kinds of clients
 * @param tags of which the client has one; only administrators put such a tag on a client
 * @param owners ids of people, of whom one answers for the client; only administrators say who does
 * @param setBy who gave it
 * @param setAt when
 */
public record StandingApproval(
        List<ClientKind> kinds, List<String> tags, List<String> owners, String setBy, Instant setAt) {
    public StandingApproval {
        if (kinds.isEmpty() && tags.isEmpty() && owners.isEmpty())
            throw new IllegalArgumentException("a standing approval names whom it is for");
    }

    /**
     * A client that registered itself never fits: it says itself of what kind it is.
     *
     * @param ownedBy the ids of the people who answer for the client
     */
    public boolean fits(Client client, List<String> ownedBy) {
        return !client.selfRegistered()
                && (kinds.isEmpty() || kinds.contains(client.kind()))
                && (tags.isEmpty() || client.texts().tags().stream().anyMatch(tags::contains))
                && (owners.isEmpty() || ownedBy.stream().anyMatch(owners::contains));
    }

    /** Whether it is for the same clients, the one who gave it. */
    public boolean isFor(StandingApproval other) {
        return kinds.equals(other.kinds) && tags.equals(other.tags) && owners.equals(other.owners);
    }
}
