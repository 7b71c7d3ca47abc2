-- Whether a token request that names no scope gets every scope of the API that the client is approved for.
ALTER TABLE api ADD COLUMN all_by_default INTEGER NOT NULL DEFAULT 0;
