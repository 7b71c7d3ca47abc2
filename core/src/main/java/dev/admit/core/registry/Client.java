package dev.admit.core.registry;

import java.time.Instant;

/**
 * A caller, registered with one issuer.
 *
 * @param id      the {@code client_id}: public, made by Admit
 * @param enabled whether it gets tokens; switched off and on again, it keeps everything else
 */
public record Client(String id, String issuerId, String name, String title, ClientKind kind, ClientAuthMethod authMethod,
                     String owner, boolean enabled, long version, Instant createdAt) {

    /** The same client, on or off. */
    public Client switched(boolean on) {
        return new Client(id, issuerId, name, title, kind, authMethod, owner, on, version + 1, createdAt);
    }
}
