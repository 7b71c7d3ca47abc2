-- People who answer for an API or a client. Times in milliseconds.

CREATE TABLE owner (
    issuer_id TEXT NOT NULL REFERENCES issuer (id) ON DELETE CASCADE,
    person_id TEXT NOT NULL REFERENCES person (id) ON DELETE CASCADE,
    api_id    TEXT REFERENCES api (id) ON DELETE CASCADE,
    client_id TEXT REFERENCES client (id) ON DELETE CASCADE,
    since     INTEGER NOT NULL,
    named_by  TEXT NOT NULL,
    CHECK ((api_id IS NULL) <> (client_id IS NULL)),
    UNIQUE (person_id, api_id),
    UNIQUE (person_id, client_id)
) STRICT;
CREATE INDEX owner_of_api ON owner (api_id);
CREATE INDEX owner_of_client ON owner (client_id);

-- Whether an administrator said no, so that only an administrator can say yes. What was declined or withdrawn before was so by one.
ALTER TABLE approval ADD COLUMN last_word INTEGER NOT NULL DEFAULT 0;
UPDATE approval SET last_word = 1 WHERE status IN ('declined', 'withdrawn');
