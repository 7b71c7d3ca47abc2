CREATE TABLE role (
    id        TEXT PRIMARY KEY,
    issuer_id TEXT NOT NULL REFERENCES issuer (id) ON DELETE CASCADE,
    api_id    TEXT NOT NULL REFERENCES api (id) ON DELETE CASCADE,
    name      TEXT NOT NULL,
    title     TEXT NOT NULL,
    scopes    TEXT NOT NULL, -- joined by spaces
    version   INTEGER NOT NULL,
    UNIQUE (issuer_id, name)
) STRICT;
CREATE INDEX role_of_api ON role (api_id);
