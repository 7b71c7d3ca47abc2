-- A code that opens an account stands in the outbox for nobody to read: sealed, until it is used or over.
ALTER TABLE mail ADD COLUMN code_id TEXT;
ALTER TABLE mail ADD COLUMN sealed BLOB;
ALTER TABLE mail ADD COLUMN hidden_until INTEGER;
CREATE INDEX mail_by_code ON mail (code_id) WHERE code_id IS NOT NULL;
CREATE INDEX mail_by_hidden ON mail (hidden_until) WHERE hidden_until IS NOT NULL;
-- What an earlier version kept as text may hold a code.
UPDATE mail SET body = 'This mail was written by an earlier version. Its text is not kept, because a code may have been in it.' WHERE body LIKE '%code%';
