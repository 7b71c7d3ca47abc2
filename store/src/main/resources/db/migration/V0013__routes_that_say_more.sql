-- JSON: who may pass beside the scopes, what is done to request and answer, and how much passes; null for the usual.
ALTER TABLE route ADD COLUMN more TEXT;
