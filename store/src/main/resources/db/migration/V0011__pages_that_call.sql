-- Whether pages of the issuer's browser clients may call a route from their own origin.
ALTER TABLE route ADD COLUMN cors INTEGER NOT NULL DEFAULT 0;
CREATE INDEX client_of_pages ON client (issuer_id) WHERE kind = 'browser';
