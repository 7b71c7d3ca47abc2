-- How many tries at a secret were made in a stretch of time, so that a restart forgets none.
CREATE TABLE tries (
    whose   TEXT PRIMARY KEY,
    stretch INTEGER NOT NULL,
    made    INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
CREATE INDEX tries_by_stretch ON tries (stretch);
