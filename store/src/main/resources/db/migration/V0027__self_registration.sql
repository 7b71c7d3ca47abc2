-- Clients that register themselves (RFC 7591).
ALTER TABLE client ADD COLUMN self_registered INTEGER NOT NULL DEFAULT 0;
-- How its name looks to a person; filled in by V0028.
ALTER TABLE client ADD COLUMN look TEXT NOT NULL DEFAULT '';
CREATE INDEX client_by_look ON client (issuer_id, look) WHERE NOT self_registered;

CREATE TABLE registration_policy (
    issuer_id TEXT PRIMARY KEY REFERENCES issuer (id) ON DELETE CASCADE,
    mode      TEXT NOT NULL,
    limits    TEXT NOT NULL, -- JSON
    version   INTEGER NOT NULL
) STRICT;

CREATE TABLE initial_access_token (
    id         TEXT PRIMARY KEY,
    issuer_id  TEXT NOT NULL REFERENCES issuer (id) ON DELETE CASCADE,
    label      TEXT NOT NULL,
    hash       BLOB NOT NULL UNIQUE,
    uses       INTEGER NOT NULL, -- left
    limits     TEXT NOT NULL, -- JSON
    expires_at INTEGER NOT NULL,
    made_by    TEXT NOT NULL,
    made_at    INTEGER NOT NULL
) STRICT;
CREATE INDEX initial_access_token_of_issuer ON initial_access_token (issuer_id);

CREATE TABLE self_registration (
    client_id     TEXT PRIMARY KEY REFERENCES client (id) ON DELETE CASCADE,
    issuer_id     TEXT NOT NULL REFERENCES issuer (id) ON DELETE CASCADE,
    registered_by TEXT NOT NULL, -- the label of the initial access token; empty for none
    limits        TEXT NOT NULL, -- JSON
    more          TEXT NOT NULL, -- JSON
    token         BLOB NOT NULL,
    registered_at INTEGER NOT NULL,
    address       TEXT NOT NULL
) STRICT;
CREATE INDEX self_registration_of_issuer ON self_registration (issuer_id, registered_at);
