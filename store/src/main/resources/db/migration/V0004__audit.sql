-- Who changed what, and every token issued. Each line's hash is over the one before it; the ends are sealed under the master key.
CREATE TABLE audit (
    issuer_id    TEXT NOT NULL, -- no reference: the lines outlive the issuer
    seq          INTEGER NOT NULL,
    at           INTEGER NOT NULL,
    what         TEXT NOT NULL,
    who          TEXT NOT NULL,
    who_id       TEXT NOT NULL,
    from_address TEXT NOT NULL,
    on_what      TEXT NOT NULL,
    was          TEXT NOT NULL, -- JSON, or empty
    now_is       TEXT NOT NULL, -- JSON, or empty
    token_id     TEXT,
    expires_at   INTEGER, -- of the token
    hash         TEXT NOT NULL,
    UNIQUE (issuer_id, seq)
) STRICT;
CREATE INDEX audit_of_token ON audit (issuer_id, expires_at) WHERE token_id IS NOT NULL;

CREATE TABLE audit_ends (
    issuer_id TEXT PRIMARY KEY,
    sealed    BLOB NOT NULL
) STRICT;
