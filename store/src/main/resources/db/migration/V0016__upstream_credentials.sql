-- What the gateway itself presents to upstreams. The secret is sealed under the master key, which is not in here.

CREATE TABLE upstream_credential (
    id         TEXT NOT NULL PRIMARY KEY,
    issuer_id  TEXT NOT NULL REFERENCES issuer (id) ON DELETE CASCADE,
    name       TEXT NOT NULL,
    upstream   TEXT NOT NULL,
    shown      TEXT NOT NULL, -- JSON: in which form, without the secret
    sealed     BLOB NOT NULL,
    version    INTEGER NOT NULL,
    created_at INTEGER NOT NULL,
    UNIQUE (issuer_id, name)
) STRICT;

-- How much of a quota was used in the period that began at a time. Times in milliseconds.
CREATE TABLE quota_use (
    route_id TEXT NOT NULL,
    quota    TEXT NOT NULL, -- such as: 100000 a month by client
    whom     TEXT NOT NULL,
    began_at INTEGER NOT NULL,
    used     INTEGER NOT NULL,
    PRIMARY KEY (route_id, quota, whom)
) STRICT, WITHOUT ROWID;
