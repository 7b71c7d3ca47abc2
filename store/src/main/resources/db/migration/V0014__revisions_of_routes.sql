-- Every change to an issuer's routes makes a revision. A route as it was stands in the history with the revision that
-- brought it and the one that ended it. Times in milliseconds.

CREATE TABLE route_revision (
    issuer_id TEXT NOT NULL REFERENCES issuer (id) ON DELETE CASCADE,
    number    INTEGER NOT NULL,
    at        INTEGER NOT NULL,
    who       TEXT NOT NULL,
    who_id    TEXT NOT NULL,
    why       TEXT NOT NULL,
    PRIMARY KEY (issuer_id, number)
) STRICT, WITHOUT ROWID;

CREATE TABLE route_history (
    id            TEXT NOT NULL,
    issuer_id     TEXT NOT NULL REFERENCES issuer (id) ON DELETE CASCADE,
    methods       TEXT NOT NULL,
    pattern       TEXT NOT NULL,
    shape         TEXT NOT NULL,
    api_id        TEXT, -- which may be gone since
    scopes        TEXT NOT NULL,
    any_of        INTEGER NOT NULL,
    upstream      TEXT,
    answer_status INTEGER,
    answer_type   TEXT,
    answer_body   TEXT,
    cors          INTEGER NOT NULL,
    more          TEXT,
    version       INTEGER NOT NULL,
    created_at    INTEGER NOT NULL,
    since         INTEGER NOT NULL, -- the revision that brought it
    until         INTEGER,          -- the one that ended it; null while it stands
    PRIMARY KEY (id, since)
) STRICT;
CREATE INDEX route_history_of_issuer ON route_history (issuer_id, since);

-- What stands now is as far back as the history goes.
INSERT INTO route_revision (issuer_id, number, at, who, who_id, why)
    SELECT id, revision, CAST(strftime('%s', 'now') AS INTEGER) * 1000, 'admit', 'admit', 'the routes when revisions began to be kept' FROM issuer WHERE revision > 0;
INSERT INTO route_history (id, issuer_id, methods, pattern, shape, api_id, scopes, any_of, upstream, answer_status, answer_type, answer_body, cors, more, version, created_at, since)
    SELECT route.id, issuer_id, methods, pattern, shape, api_id, scopes, any_of, upstream, answer_status, answer_type, answer_body, cors, more, route.version, route.created_at, issuer.revision
    FROM route JOIN issuer ON issuer.id = route.issuer_id;
