-- Clients that an administrator lets introspect every token of the issuer, such as a gateway elsewhere.
ALTER TABLE client ADD COLUMN may_introspect INTEGER NOT NULL DEFAULT 0;
