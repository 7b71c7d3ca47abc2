-- How an API's tokens are made: JSON, because it comes and goes whole.
ALTER TABLE api ADD COLUMN minting TEXT;

CREATE TABLE api_secret (
    id         TEXT PRIMARY KEY,
    api_id     TEXT NOT NULL REFERENCES api (id) ON DELETE CASCADE,
    label      TEXT NOT NULL,
    hash       BLOB NOT NULL,
    created_at INTEGER NOT NULL,
    expires_at INTEGER NOT NULL
) STRICT;
CREATE INDEX secret_of_api ON api_secret (api_id);

CREATE TABLE opaque_token (
    hash       BLOB PRIMARY KEY,
    token_id   TEXT NOT NULL,
    issuer_id  TEXT NOT NULL REFERENCES issuer (id) ON DELETE CASCADE,
    client_id  TEXT NOT NULL,
    subject    TEXT NOT NULL,
    audience   TEXT NOT NULL,
    scopes     TEXT NOT NULL, -- joined by spaces
    claims     TEXT NOT NULL, -- JSON
    issued_at  INTEGER NOT NULL,
    expires_at INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
CREATE INDEX opaque_by_end ON opaque_token (expires_at);

-- A revocation may mean a client, a client and a scope, an API, or one token.
CREATE TABLE another_revocation (
    client_id    TEXT,
    scope        TEXT,
    issuer_id    TEXT,
    audience     TEXT,
    token_id     TEXT,
    before_order INTEGER NOT NULL,
    drop_at      INTEGER NOT NULL
) STRICT;
INSERT INTO another_revocation (client_id, scope, before_order, drop_at) SELECT client_id, scope, before_order, drop_at FROM revocation;
DROP TABLE revocation;
ALTER TABLE another_revocation RENAME TO revocation;
CREATE INDEX revocation_by_end ON revocation (drop_at);

-- Instead of the one by expiry, which does not help a list in the order of issue.
DROP INDEX audit_of_token;
CREATE INDEX audit_of_token ON audit (issuer_id, seq, expires_at) WHERE token_id IS NOT NULL;
