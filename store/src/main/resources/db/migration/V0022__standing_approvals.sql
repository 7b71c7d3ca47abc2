-- For which clients a scope is approved ahead, as JSON; absent for none.
ALTER TABLE scope ADD COLUMN standing TEXT;
-- Whether an approval was given by a standing one.
ALTER TABLE approval ADD COLUMN by_standing INTEGER NOT NULL DEFAULT 0;
