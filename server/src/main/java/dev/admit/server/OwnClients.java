package dev.admit.server;

import dev.admit.core.key.MasterKey;
import dev.admit.core.key.SealedJson;
import dev.admit.store.Database;
import dev.admit.store.SqliteSettings;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import org.springframework.stereotype.Component;

/**
 * Which clients are Admit's own: the console's, one for each issuer. They are known by a sealed id, and not by a name,
 * so that no client that a person registers can pass for one.
 */
@Component
public class OwnClients {
    private static final String NAME = "console-client ";
    private static final int LONGEST = 1_000;

    private final SqliteSettings settings;
    private final SealedJson sealed;
    private final Set<String> ids = ConcurrentHashMap.newKeySet();

    OwnClients(Database database, MasterKey masterKey) {
        this.settings = new SqliteSettings(database);
        this.sealed = new SealedJson(masterKey, "own client", LONGEST);
        settings.startingWith(NAME).forEach((name, value) -> opened(name.substring(NAME.length()), value)
                .ifPresent(ids::add));
    }

    /** The id of an issuer's console client; empty when none was made yet. */
    public Optional<String> consoleOf(String issuerId) {
        return settings.find(NAME + issuerId).flatMap(it -> opened(issuerId, it));
    }

    public void keepConsole(String issuerId, String clientId) {
        settings.put(NAME + issuerId, sealed.seal(Map.of("issuer", issuerId, "client", clientId)));
        ids.add(clientId);
    }

    public boolean isOne(String clientId) {
        return ids.contains(clientId);
    }

    private Optional<String> opened(String issuerId, String value) {
        return sealed.open(value)
                .filter(it -> issuerId.equals(it.get("issuer")))
                .map(it -> (String) it.get("client"));
    }
}
