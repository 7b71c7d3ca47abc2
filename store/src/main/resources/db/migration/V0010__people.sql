-- People, how they sign in, what they approved, and what was issued on their behalf. Times and lengths in milliseconds.

CREATE TABLE person (
    id             TEXT PRIMARY KEY,
    issuer_id      TEXT NOT NULL REFERENCES issuer (id) ON DELETE CASCADE,
    email          TEXT NOT NULL, -- in lower case
    email_verified INTEGER NOT NULL,
    profile        TEXT NOT NULL, -- JSON: field → value
    roles          TEXT NOT NULL, -- ids joined by spaces
    running        TEXT,          -- what the person may do at Admit itself; null for nothing
    enabled        INTEGER NOT NULL,
    version        INTEGER NOT NULL,
    created_at     INTEGER NOT NULL,
    changed_at     INTEGER NOT NULL,
    UNIQUE (issuer_id, email)
) STRICT;

-- What a person signs in with. A row of its own, so that nothing that reads people reads it.
CREATE TABLE person_credential (
    person_id TEXT PRIMARY KEY REFERENCES person (id) ON DELETE CASCADE,
    password  TEXT,    -- Argon2id; null until one is chosen
    seed      BLOB,    -- of the second factor, sealed; null without one
    last_step INTEGER NOT NULL DEFAULT 0 -- the last time step that a code was taken for: each code opens once
) STRICT, WITHOUT ROWID;

CREATE TABLE recovery_code (
    person_id TEXT NOT NULL REFERENCES person (id) ON DELETE CASCADE,
    hash      BLOB NOT NULL,
    PRIMARY KEY (person_id, hash)
) STRICT, WITHOUT ROWID;

CREATE TABLE profile_field (
    id         TEXT PRIMARY KEY,
    issuer_id  TEXT NOT NULL REFERENCES issuer (id) ON DELETE CASCADE,
    name       TEXT NOT NULL,
    title      TEXT NOT NULL,
    type       TEXT NOT NULL,
    choices    TEXT NOT NULL, -- joined by line breaks
    rule       TEXT,          -- a regular expression
    at_sign_up INTEGER NOT NULL,
    editable   INTEGER NOT NULL,
    claim      TEXT,
    version    INTEGER NOT NULL,
    UNIQUE (issuer_id, name)
) STRICT;

-- One person signed in, in one browser. A browser is known by the hash of its cookie.
CREATE TABLE session (
    id           TEXT PRIMARY KEY, -- the sid of tokens
    issuer_id    TEXT NOT NULL REFERENCES issuer (id) ON DELETE CASCADE,
    person_id    TEXT NOT NULL REFERENCES person (id) ON DELETE CASCADE,
    browser      BLOB NOT NULL,
    auth_time    INTEGER NOT NULL,
    methods      TEXT NOT NULL, -- amr, joined by spaces
    started_at   INTEGER NOT NULL,
    seen_at      INTEGER NOT NULL,
    ends_at      INTEGER NOT NULL,
    from_address TEXT NOT NULL,
    agent        TEXT NOT NULL
) STRICT;
CREATE INDEX session_of_browser ON session (browser);
CREATE INDEX session_of_person ON session (person_id);
CREATE INDEX session_by_end ON session (ends_at);

-- What a person approved for themselves.
CREATE TABLE personal_approval (
    issuer_id  TEXT NOT NULL REFERENCES issuer (id) ON DELETE CASCADE,
    person_id  TEXT NOT NULL REFERENCES person (id) ON DELETE CASCADE,
    client_id  TEXT NOT NULL REFERENCES client (id) ON DELETE CASCADE,
    scope_name TEXT NOT NULL,
    given_at   INTEGER NOT NULL,
    PRIMARY KEY (person_id, client_id, scope_name)
) STRICT, WITHOUT ROWID;
CREATE INDEX personal_approval_of_client ON personal_approval (client_id);

-- All that one authorization leads to: a code, refresh tokens, access tokens. It ends as one.
CREATE TABLE family (
    id         TEXT PRIMARY KEY,
    issuer_id  TEXT NOT NULL REFERENCES issuer (id) ON DELETE CASCADE,
    client_id  TEXT NOT NULL REFERENCES client (id) ON DELETE CASCADE,
    person_id  TEXT NOT NULL REFERENCES person (id) ON DELETE CASCADE,
    session_id TEXT,          -- null where it goes on without one (offline_access)
    scopes     TEXT NOT NULL, -- as asked for and approved then, joined by spaces
    resources  TEXT NOT NULL, -- audiences, joined by spaces; the first is the usual one
    nonce      TEXT,
    auth_time  INTEGER NOT NULL,
    methods    TEXT NOT NULL,
    started_at INTEGER NOT NULL,
    ends_at    INTEGER NOT NULL,
    ended_at   INTEGER
) STRICT;
CREATE INDEX family_of_person ON family (person_id);
CREATE INDEX family_of_client ON family (client_id);
CREATE INDEX family_of_session ON family (session_id) WHERE session_id IS NOT NULL;
CREATE INDEX family_by_end ON family (ends_at);

CREATE TABLE authorization_code (
    hash         BLOB PRIMARY KEY,
    family_id    TEXT NOT NULL REFERENCES family (id) ON DELETE CASCADE,
    client_id    TEXT NOT NULL,
    redirect_uri TEXT NOT NULL,
    challenge    TEXT NOT NULL,
    expires_at   INTEGER NOT NULL,
    used_at      INTEGER
) STRICT, WITHOUT ROWID;
CREATE INDEX code_of_family ON authorization_code (family_id);

CREATE TABLE refresh_token (
    hash       BLOB PRIMARY KEY,
    family_id  TEXT NOT NULL REFERENCES family (id) ON DELETE CASCADE,
    client_id  TEXT NOT NULL,
    issued_at  INTEGER NOT NULL,
    expires_at INTEGER NOT NULL,
    used_at    INTEGER
) STRICT, WITHOUT ROWID;
CREATE INDEX refresh_of_family ON refresh_token (family_id);

CREATE TABLE device_request (
    hash       BLOB PRIMARY KEY, -- of the device code
    user_code  TEXT NOT NULL UNIQUE,
    issuer_id  TEXT NOT NULL REFERENCES issuer (id) ON DELETE CASCADE,
    client_id  TEXT NOT NULL REFERENCES client (id) ON DELETE CASCADE,
    scopes     TEXT NOT NULL,
    resources  TEXT NOT NULL,
    status     TEXT NOT NULL,
    family_id  TEXT,
    polled_at  INTEGER,
    interval   INTEGER NOT NULL,
    expires_at INTEGER NOT NULL
) STRICT, WITHOUT ROWID;

-- A code that was sent to an address, to prove that whoever types it reads the mail there.
CREATE TABLE mailed_code (
    id         TEXT PRIMARY KEY,
    issuer_id  TEXT NOT NULL REFERENCES issuer (id) ON DELETE CASCADE,
    email      TEXT NOT NULL,
    purpose    TEXT NOT NULL,
    hash       BLOB NOT NULL,
    tries_left INTEGER NOT NULL,
    expires_at INTEGER NOT NULL
) STRICT;
CREATE INDEX mailed_code_by_end ON mailed_code (expires_at);

CREATE TABLE mail (
    id         TEXT PRIMARY KEY,
    issuer_id  TEXT NOT NULL REFERENCES issuer (id) ON DELETE CASCADE,
    recipient  TEXT NOT NULL,
    subject    TEXT NOT NULL,
    body       TEXT NOT NULL,
    written_at INTEGER NOT NULL,
    sent_at    INTEGER,
    fault      TEXT NOT NULL
) STRICT;
CREATE INDEX mail_by_time ON mail (issuer_id, id);

-- JSON; null for the usual.
ALTER TABLE issuer ADD COLUMN people TEXT;
ALTER TABLE client ADD COLUMN people TEXT;

-- An issuer signs identity tokens with a key of their own (OpenID Connect Core §15.1 wants RS256 from everyone).
ALTER TABLE signing_key ADD COLUMN purpose TEXT NOT NULL DEFAULT 'access';

-- A revocation may mean a person, a person and a client, a scope held by people, a session, or a family.
ALTER TABLE revocation ADD COLUMN person_id TEXT;
ALTER TABLE revocation ADD COLUMN session_id TEXT;
ALTER TABLE revocation ADD COLUMN family_id TEXT;

-- Whether people who have the role need a second factor.
ALTER TABLE role ADD COLUMN second_factor INTEGER NOT NULL DEFAULT 0;
