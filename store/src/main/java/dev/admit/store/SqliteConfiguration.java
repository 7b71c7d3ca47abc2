package dev.admit.store;

import dev.admit.core.configuration.StoredConfiguration;

/** Reads everything configured, at one moment. */
public final class SqliteConfiguration implements StoredConfiguration.Source {
    private final Database database;

    public SqliteConfiguration(Database database) {
        this.database = database;
    }

    @Override
    public StoredConfiguration read() {
        return database.atOneMoment(() -> new StoredConfiguration(
                new SqliteIssuers(database).all(),
                new SqliteApis(database).all(),
                new SqliteScopes(database).all(),
                new SqliteRoutes(database).all(),
                new SqliteSigningKeys(database).all(),
                new SqliteApis(database).allSecrets(),
                new SqliteRoles(database).all(),
                new SqliteProfileFields(database).all(),
                new SqliteTrustedIssuers(database).all(),
                new SqliteUpstreamCredentials(database).all(),
                new SqliteSelfRegistrations(database).registering()));
    }
}
