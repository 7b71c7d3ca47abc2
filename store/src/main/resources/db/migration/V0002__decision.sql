-- One row for each request that was decided on. Ids sort by time.
CREATE TABLE decision (
    id           TEXT PRIMARY KEY,
    at           INTEGER NOT NULL,
    plane        TEXT NOT NULL,
    issuer       TEXT NOT NULL,
    client_id    TEXT NOT NULL,
    client_name  TEXT NOT NULL,
    subject      TEXT NOT NULL,
    api          TEXT NOT NULL,
    route        TEXT NOT NULL,
    revision     INTEGER NOT NULL,
    method       TEXT NOT NULL,
    path         TEXT NOT NULL,
    scopes       TEXT NOT NULL,
    from_address TEXT NOT NULL,
    verdict      TEXT NOT NULL,
    reason       TEXT NOT NULL, -- empty when admitted
    answered     INTEGER NOT NULL,
    micros       INTEGER NOT NULL,
    checks       TEXT NOT NULL, -- JSON
    done         TEXT NOT NULL  -- JSON
) STRICT, WITHOUT ROWID;
CREATE INDEX decision_of_client ON decision (client_id, id);
CREATE INDEX decision_by_reason ON decision (reason, id) WHERE reason <> '';
