package dev.admit.store;

import dev.admit.core.authorization.DeviceRequest;
import dev.admit.core.authorization.DeviceRequests;
import dev.admit.core.registry.SecretHash;
import java.sql.SQLException;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;

/** The table {@code device_request}. */
public final class SqliteDeviceRequests implements DeviceRequests {
    private static final String INSERT = """
            INSERT INTO device_request (hash, user_code, issuer_id, client_id, scopes, resources, status, grant_id,
            polled_at, interval, expires_at)
            VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)""";
    private static final String FIND = "SELECT * FROM device_request WHERE hash = ?";
    private static final String WAITING =
            "SELECT * FROM device_request WHERE issuer_id = ? AND user_code = ? AND status = 'waiting' AND "
                    + "expires_at > ?";
    private static final String POLLED = "UPDATE device_request SET polled_at = ?, interval = ? WHERE hash = ?";
    private static final String ANSWER =
            "UPDATE device_request SET status = ?, grant_id = ? WHERE hash = ? AND status = 'waiting'";
    private static final String CLAIM =
            "UPDATE device_request SET status = 'redeemed' WHERE hash = ? AND status = 'approved'";
    private static final String DROP = "DELETE FROM device_request WHERE expires_at < ?";

    private final Database database;

    public SqliteDeviceRequests(Database database) {
        this.database = database;
    }

    @Override
    public void insert(DeviceRequest it) {
        database.update(
                INSERT,
                it.hash().bytes(),
                it.userCode(),
                it.issuerId(),
                it.clientId(),
                String.join(" ", it.scopes()),
                String.join(" ", it.resources()),
                it.status(),
                it.grantId(),
                it.polledAt(),
                it.interval(),
                it.expiresAt());
    }

    @Override
    public Optional<DeviceRequest> find(SecretHash hash) {
        return database.one(FIND, SqliteDeviceRequests::read, hash.bytes());
    }

    @Override
    public Optional<DeviceRequest> waiting(String issuerId, String userCode, Instant now) {
        return database.one(WAITING, SqliteDeviceRequests::read, issuerId, userCode, now);
    }

    @Override
    public void polled(SecretHash hash, Instant now, Duration interval) {
        database.update(POLLED, now, interval, hash.bytes());
    }

    @Override
    public boolean answer(SecretHash hash, DeviceRequest.Status status, Optional<String> grantId) {
        return database.update(ANSWER, status, grantId, hash.bytes()) == 1;
    }

    @Override
    public boolean claim(SecretHash hash) {
        return database.update(CLAIM, hash.bytes()) == 1;
    }

    @Override
    public int drop(Instant before) {
        return database.update(DROP, before);
    }

    private static DeviceRequest read(Row row) throws SQLException {
        return new DeviceRequest(
                SecretHash.stored(row.bytes("hash")),
                row.text("user_code"),
                row.text("issuer_id"),
                row.text("client_id"),
                row.words("scopes"),
                row.words("resources"),
                row.word("status", DeviceRequest.Status.class),
                row.textOrNone("grant_id"),
                row.timeOrNone("polled_at"),
                row.length("interval"),
                row.time("expires_at"));
    }
}
