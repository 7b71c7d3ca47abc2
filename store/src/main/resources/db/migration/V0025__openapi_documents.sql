-- The OpenAPI document that an API came with.
CREATE TABLE api_openapi (
    api_id      TEXT PRIMARY KEY REFERENCES api (id) ON DELETE CASCADE,
    document    TEXT NOT NULL, -- JSON
    title       TEXT NOT NULL,
    version     TEXT NOT NULL,
    operations  INTEGER NOT NULL,
    imported_at INTEGER NOT NULL
) STRICT;
