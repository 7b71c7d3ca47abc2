package dev.admit.store;

import dev.admit.core.person.Credentials;
import dev.admit.core.registry.SecretHash;
import java.util.List;
import java.util.Optional;

/** The tables {@code person_credential} and {@code recovery_code}. */
public final class SqliteCredentials implements Credentials {
    private static final String PASSWORD =
            "SELECT password FROM person_credential WHERE person_id = ? AND password IS NOT NULL";
    private static final String PUT_PASSWORD =
            "INSERT INTO person_credential (person_id, password) VALUES (?, ?) ON CONFLICT (person_id) DO UPDATE "
                    + "SET password = excluded.password";
    private static final String SEED = "SELECT seed FROM person_credential WHERE person_id = ? AND seed IS NOT NULL";
    private static final String PUT_SEED =
            "INSERT INTO person_credential (person_id, seed) VALUES (?, ?) ON CONFLICT (person_id) DO UPDATE SET "
                    + "seed = excluded.seed";
    // The WHERE clause settles who of two takes a code, and keeps an older one from being taken after a newer.
    private static final String TAKE_STEP =
            "UPDATE person_credential SET last_step = ?2 WHERE person_id = ?1 AND last_step < ?2";
    private static final String DELETE_CODES = "DELETE FROM recovery_code WHERE person_id = ?";
    private static final String INSERT_CODE = "INSERT INTO recovery_code (person_id, hash) VALUES (?, ?)";
    private static final String TAKE_CODE = "DELETE FROM recovery_code WHERE person_id = ? AND hash = ?";
    private static final String LEFT = "SELECT count(*) AS n FROM recovery_code WHERE person_id = ?";

    private final Database database;

    public SqliteCredentials(Database database) {
        this.database = database;
    }

    @Override
    public Optional<String> password(String personId) {
        return database.one(PASSWORD, row -> row.text("password"), personId);
    }

    @Override
    public void putPassword(String personId, String hash) {
        database.update(PUT_PASSWORD, personId, hash);
    }

    @Override
    public Optional<byte[]> seed(String personId) {
        return database.one(SEED, row -> row.bytes("seed"), personId);
    }

    @Override
    public void putSeed(String personId, Optional<byte[]> sealed) {
        database.inOne(() -> {
            database.update(PUT_SEED, personId, sealed);
            if (sealed.isEmpty()) database.update(DELETE_CODES, personId);
            return null;
        });
    }

    @Override
    public boolean takeStep(String personId, long step) {
        return database.update(TAKE_STEP, personId, step) == 1;
    }

    @Override
    public void putRecoveryCodes(String personId, List<SecretHash> hashes) {
        database.inOne(() -> {
            database.update(DELETE_CODES, personId);
            hashes.forEach(hash -> database.update(INSERT_CODE, personId, hash.bytes()));
            return null;
        });
    }

    @Override
    public boolean takeRecoveryCode(String personId, SecretHash hash) {
        return database.update(TAKE_CODE, personId, hash.bytes()) == 1;
    }

    @Override
    public int recoveryCodesLeft(String personId) {
        return database.one(LEFT, row -> (int) row.number("n"), personId).orElse(0);
    }
}
