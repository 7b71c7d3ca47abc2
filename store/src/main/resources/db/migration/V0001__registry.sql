-- Times are milliseconds since 1970-01-01T00:00:00Z.

CREATE TABLE setting (
    name  TEXT PRIMARY KEY,
    value TEXT NOT NULL
) STRICT;

CREATE TABLE issuer (
    id         TEXT PRIMARY KEY,
    name       TEXT NOT NULL UNIQUE,
    title      TEXT NOT NULL,
    url        TEXT NOT NULL UNIQUE,
    revision   INTEGER NOT NULL,
    version    INTEGER NOT NULL,
    created_at INTEGER NOT NULL
) STRICT;

CREATE TABLE signing_key (
    kid        TEXT PRIMARY KEY,
    issuer_id  TEXT NOT NULL REFERENCES issuer (id),
    sealed     BLOB NOT NULL,
    created_at INTEGER NOT NULL
) STRICT;

CREATE TABLE api (
    id         TEXT PRIMARY KEY,
    issuer_id  TEXT NOT NULL REFERENCES issuer (id),
    name       TEXT NOT NULL,
    title      TEXT NOT NULL,
    audience   TEXT NOT NULL,
    upstream   TEXT,
    version    INTEGER NOT NULL,
    created_at INTEGER NOT NULL,
    UNIQUE (issuer_id, name),
    UNIQUE (issuer_id, audience)
) STRICT;

CREATE TABLE scope (
    id               TEXT PRIMARY KEY,
    issuer_id        TEXT NOT NULL REFERENCES issuer (id),
    api_id           TEXT NOT NULL REFERENCES api (id) ON DELETE CASCADE,
    name             TEXT NOT NULL,
    effect           TEXT NOT NULL,
    reach            TEXT NOT NULL,
    holders          TEXT NOT NULL,
    words            TEXT NOT NULL,
    words_for_person TEXT,
    approver         TEXT NOT NULL,
    by_role          INTEGER NOT NULL,
    life             TEXT NOT NULL,
    closes_on        INTEGER,
    given_by_default INTEGER NOT NULL,
    in_metadata      INTEGER NOT NULL,
    version          INTEGER NOT NULL,
    UNIQUE (issuer_id, name)
) STRICT;
CREATE INDEX scope_of_api ON scope (api_id);

CREATE TABLE client (
    id          TEXT PRIMARY KEY,
    issuer_id   TEXT NOT NULL REFERENCES issuer (id),
    name        TEXT NOT NULL,
    title       TEXT NOT NULL,
    kind        TEXT NOT NULL,
    auth_method TEXT NOT NULL,
    owner       TEXT NOT NULL,
    version     INTEGER NOT NULL,
    created_at  INTEGER NOT NULL,
    UNIQUE (issuer_id, name)
) STRICT;

CREATE TABLE client_secret (
    id         TEXT PRIMARY KEY,
    client_id  TEXT NOT NULL REFERENCES client (id) ON DELETE CASCADE,
    label      TEXT NOT NULL,
    hash       BLOB NOT NULL,
    created_at INTEGER NOT NULL,
    expires_at INTEGER NOT NULL
) STRICT;
CREATE INDEX secret_of_client ON client_secret (client_id);

CREATE TABLE approval (
    id         TEXT PRIMARY KEY,
    issuer_id  TEXT NOT NULL REFERENCES issuer (id),
    client_id  TEXT NOT NULL REFERENCES client (id) ON DELETE CASCADE,
    scope_id   TEXT NOT NULL REFERENCES scope (id) ON DELETE CASCADE,
    scope_name TEXT NOT NULL,
    status     TEXT NOT NULL,
    asked_at   INTEGER NOT NULL,
    asked_by   TEXT NOT NULL,
    decided_at INTEGER,
    decided_by TEXT,
    expires_at INTEGER,
    reason     TEXT NOT NULL,
    version    INTEGER NOT NULL,
    UNIQUE (client_id, scope_id)
) STRICT;
CREATE INDEX approval_of_scope ON approval (scope_id);
CREATE INDEX approval_by_time ON approval (issuer_id, asked_at, id);

CREATE TABLE route (
    id            TEXT PRIMARY KEY,
    issuer_id     TEXT NOT NULL REFERENCES issuer (id),
    methods       TEXT NOT NULL, -- joined by commas; empty for any
    pattern       TEXT NOT NULL,
    shape         TEXT NOT NULL, -- the pattern without its names
    api_id        TEXT REFERENCES api (id), -- null on an open route
    scopes        TEXT NOT NULL, -- joined by spaces
    any_of        INTEGER NOT NULL,
    upstream      TEXT,
    answer_status INTEGER, -- null where there is an upstream
    answer_type   TEXT,
    answer_body   TEXT,
    version       INTEGER NOT NULL,
    created_at    INTEGER NOT NULL
) STRICT;
CREATE INDEX route_by_shape ON route (shape);
CREATE INDEX route_of_issuer ON route (issuer_id, pattern, methods);
CREATE INDEX route_of_api ON route (api_id);

CREATE TABLE revocation (
    client_id    TEXT NOT NULL,
    scope        TEXT,             -- null for every token of the client
    before_order INTEGER NOT NULL, -- the time-ordered half of the first token id that is not meant
    drop_at      INTEGER NOT NULL
) STRICT;
CREATE INDEX revocation_by_end ON revocation (drop_at);
