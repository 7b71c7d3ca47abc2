-- A key's life follows from when it begins to sign; an issuer has rules for everything it holds. Times and lengths in milliseconds.
ALTER TABLE signing_key ADD COLUMN algorithm TEXT NOT NULL DEFAULT 'ES256';
ALTER TABLE signing_key ADD COLUMN signs_from INTEGER NOT NULL DEFAULT 0;
ALTER TABLE signing_key ADD COLUMN imported INTEGER NOT NULL DEFAULT 0;
ALTER TABLE signing_key ADD COLUMN removed_at INTEGER;
UPDATE signing_key SET signs_from = created_at;
CREATE INDEX signing_key_of_issuer ON signing_key (issuer_id);

ALTER TABLE issuer ADD COLUMN description TEXT NOT NULL DEFAULT '';
ALTER TABLE issuer ADD COLUMN domains TEXT NOT NULL DEFAULT ''; -- joined by spaces
ALTER TABLE issuer ADD COLUMN key_rotation INTEGER DEFAULT 7776000000;
ALTER TABLE issuer ADD COLUMN secret_lifetime INTEGER NOT NULL DEFAULT 7776000000;
ALTER TABLE issuer ADD COLUMN longest_secret INTEGER NOT NULL DEFAULT 31622400000;
ALTER TABLE issuer ADD COLUMN secrets_without_end INTEGER NOT NULL DEFAULT 0;
ALTER TABLE issuer ADD COLUMN development_addresses INTEGER NOT NULL DEFAULT 1;
ALTER TABLE issuer ADD COLUMN grant_types TEXT NOT NULL DEFAULT ''; -- joined by spaces; empty for all
