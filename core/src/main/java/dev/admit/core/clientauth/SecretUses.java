package dev.admit.core.clientauth;

import dev.admit.core.registry.Clients;
import java.time.Instant;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;

/** Notes when each secret was last used, and hands that to the records in batches. */
public final class SecretUses {
    private final Clients clients;
    private final ConcurrentHashMap<String, Instant> used = new ConcurrentHashMap<>();

    public SecretUses(Clients clients) {
        this.clients = clients;
    }

    void note(String secretId, Instant now) {
        used.put(secretId, now);
    }

    /** When a secret was last used, as far as that is not in the records yet. */
    public Optional<Instant> since(String secretId) {
        return Optional.ofNullable(used.get(secretId));
    }

    public void flush() {
        Map<String, Instant> batch = new HashMap<>(used);
        if (batch.isEmpty()) return;
        clients.used(batch);
        batch.forEach(used::remove); // only where nothing newer came meanwhile
    }
}
