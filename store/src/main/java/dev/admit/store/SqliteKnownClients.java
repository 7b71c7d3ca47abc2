package dev.admit.store;

import dev.admit.core.clientauth.KnownClient;
import java.util.Optional;

/** Reads a client with its secrets and approvals, at one moment. */
public final class SqliteKnownClients implements KnownClient.Source {
    private final Database database;
    private final SqliteClients clients;
    private final SqliteApprovals approvals;

    public SqliteKnownClients(Database database) {
        this.database = database;
        this.clients = new SqliteClients(database);
        this.approvals = new SqliteApprovals(database);
    }

    @Override public Optional<KnownClient> read(String clientId) {
        return database.atOneMoment(() -> clients.withId(clientId)
                .map(client -> new KnownClient(client, clients.secretsOf(clientId), approvals.ofClient(clientId))));
    }
}
