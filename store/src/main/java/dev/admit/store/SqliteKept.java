package dev.admit.store;

import dev.admit.core.configuration.Kept;

/** Reads everything configured, at one moment. */
public final class SqliteKept implements Kept.Source {
    private final Database database;

    public SqliteKept(Database database) {
        this.database = database;
    }

    @Override
    public Kept read() {
        return database.atOneMoment(() -> new Kept(
                new SqliteIssuers(database).all(),
                new SqliteApis(database).all(),
                new SqliteScopes(database).all(),
                new SqliteRoutes(database).all(),
                new SqliteSigningKeys(database).all(),
                new SqliteApis(database).allSecrets(),
                new SqliteRoles(database).all(),
                new SqliteProfileFields(database).all(),
                new SqliteTrustedIssuers(database).all(),
                new SqliteUpstreamCredentials(database).all()));
    }
}
