-- Issuers elsewhere whose tokens routes may accept. What is read and written as one is one text. Times in milliseconds.

CREATE TABLE trusted_issuer (
    id         TEXT NOT NULL PRIMARY KEY,
    issuer_id  TEXT NOT NULL REFERENCES issuer (id) ON DELETE CASCADE,
    name       TEXT NOT NULL,
    url        TEXT NOT NULL,
    more       TEXT NOT NULL, -- JSON
    found_keys TEXT,          -- the key set that was last fetched
    found_at   INTEGER,
    version    INTEGER NOT NULL,
    created_at INTEGER NOT NULL,
    UNIQUE (issuer_id, name),
    UNIQUE (issuer_id, url)
) STRICT;
