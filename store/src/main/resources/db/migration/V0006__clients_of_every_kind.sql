-- Lists are joined by line breaks.
ALTER TABLE client ADD COLUMN description TEXT NOT NULL DEFAULT '';
ALTER TABLE client ADD COLUMN contacts TEXT NOT NULL DEFAULT '';
ALTER TABLE client ADD COLUMN links TEXT NOT NULL DEFAULT '';
ALTER TABLE client ADD COLUMN tags TEXT NOT NULL DEFAULT '';
ALTER TABLE client ADD COLUMN redirects TEXT NOT NULL DEFAULT '';
ALTER TABLE client ADD COLUMN origins TEXT NOT NULL DEFAULT '';
ALTER TABLE client ADD COLUMN grant_types TEXT NOT NULL DEFAULT ''; -- empty for those of its kind
ALTER TABLE client ADD COLUMN identity_scopes TEXT NOT NULL DEFAULT '';
ALTER TABLE client ADD COLUMN jwks TEXT;
ALTER TABLE client ADD COLUMN jwks_uri TEXT;
ALTER TABLE client ADD COLUMN assertion_alg TEXT;
CREATE INDEX client_by_time ON client (issuer_id, created_at, id);

-- A secret may have no end, where its issuer allows that; and it is noted when it was last used.
CREATE TABLE another_secret (
    id         TEXT PRIMARY KEY,
    client_id  TEXT NOT NULL REFERENCES client (id) ON DELETE CASCADE,
    label      TEXT NOT NULL,
    hash       BLOB NOT NULL,
    created_at INTEGER NOT NULL,
    expires_at INTEGER,
    used_at    INTEGER
) STRICT;
INSERT INTO another_secret (id, client_id, label, hash, created_at, expires_at) SELECT id, client_id, label, hash, created_at, expires_at FROM client_secret;
DROP TABLE client_secret;
ALTER TABLE another_secret RENAME TO client_secret;
CREATE INDEX secret_of_client ON client_secret (client_id);

-- An assertion opens the door once (RFC 7523 §3): the second claim of the same one fails.
CREATE TABLE used_assertion (
    client_id TEXT NOT NULL,
    jti       TEXT NOT NULL,
    until     INTEGER NOT NULL,
    PRIMARY KEY (client_id, jti)
) STRICT, WITHOUT ROWID;
CREATE INDEX assertion_by_end ON used_assertion (until);
