-- Plans that clients subscribe to, and what they used of them.
CREATE TABLE plan (
    id            TEXT PRIMARY KEY,
    issuer_id     TEXT NOT NULL REFERENCES issuer (id) ON DELETE CASCADE,
    name          TEXT NOT NULL,
    title         TEXT NOT NULL,
    description   TEXT NOT NULL,
    approval      TEXT NOT NULL,
    content       TEXT NOT NULL, -- JSON
    terms         TEXT NOT NULL,
    terms_version INTEGER NOT NULL,
    version       INTEGER NOT NULL,
    changed_at    INTEGER NOT NULL,
    UNIQUE (issuer_id, name)
) STRICT;

CREATE TABLE plan_api (
    plan_id TEXT NOT NULL REFERENCES plan (id) ON DELETE CASCADE,
    api_id  TEXT NOT NULL REFERENCES api (id) ON DELETE CASCADE,
    PRIMARY KEY (plan_id, api_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX plan_of_api ON plan_api (api_id);

-- What a plan was before a change, for subscriptions that keep it for a while.
CREATE TABLE plan_earlier (
    plan_id  TEXT NOT NULL REFERENCES plan (id) ON DELETE CASCADE,
    version  INTEGER NOT NULL,
    content  TEXT NOT NULL, -- JSON
    until_at INTEGER NOT NULL,
    PRIMARY KEY (plan_id, version)
) STRICT, WITHOUT ROWID;

CREATE TABLE subscription (
    id             TEXT PRIMARY KEY,
    issuer_id      TEXT NOT NULL REFERENCES issuer (id) ON DELETE CASCADE,
    client_id      TEXT NOT NULL REFERENCES client (id) ON DELETE CASCADE,
    plan_id        TEXT NOT NULL REFERENCES plan (id) ON DELETE CASCADE,
    status         TEXT NOT NULL,
    reason         TEXT NOT NULL,
    accepted       TEXT, -- JSON
    on_version     INTEGER,
    moving_to      TEXT REFERENCES plan (id) ON DELETE SET NULL,
    moving_terms   TEXT, -- JSON
    barred         INTEGER NOT NULL,
    requested_by   TEXT NOT NULL,
    requested_at   INTEGER NOT NULL,
    decided_by     TEXT,
    decided_at     INTEGER,
    version        INTEGER NOT NULL
) STRICT;
CREATE INDEX subscription_of_client ON subscription (client_id);
CREATE INDEX subscription_of_plan ON subscription (plan_id);
CREATE INDEX subscription_of_issuer ON subscription (issuer_id, id);
CREATE UNIQUE INDEX subscription_live ON subscription (client_id, plan_id)
    WHERE status IN ('waiting', 'active', 'paused');

CREATE TABLE subscription_use (
    subscription_id TEXT NOT NULL,
    day             TEXT NOT NULL,
    admitted        INTEGER NOT NULL,
    limited         INTEGER NOT NULL,
    PRIMARY KEY (subscription_id, day)
) STRICT, WITHOUT ROWID;

-- Which mail was written already.
CREATE TABLE subscription_notice (
    subscription_id TEXT NOT NULL REFERENCES subscription (id) ON DELETE CASCADE,
    what            TEXT NOT NULL,
    told_at         INTEGER NOT NULL,
    PRIMARY KEY (subscription_id, what)
) STRICT, WITHOUT ROWID;
