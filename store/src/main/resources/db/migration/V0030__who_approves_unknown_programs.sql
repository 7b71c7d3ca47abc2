-- Who approves what clients request that registered themselves.
ALTER TABLE registration_policy ADD COLUMN approver TEXT NOT NULL DEFAULT 'person';
