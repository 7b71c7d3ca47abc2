-- How each API stands in the catalogue.
CREATE TABLE publication (
    api_id          TEXT PRIMARY KEY REFERENCES api (id) ON DELETE CASCADE,
    readers         TEXT NOT NULL,
    description     TEXT NOT NULL, -- Markdown
    getting_started TEXT NOT NULL, -- Markdown
    changes         TEXT NOT NULL, -- JSON
    version         INTEGER NOT NULL,
    changed_at      INTEGER NOT NULL
) STRICT;

-- Who finds it, where its readers are named.
CREATE TABLE publication_person (
    api_id    TEXT NOT NULL REFERENCES publication (api_id) ON DELETE CASCADE,
    person_id TEXT NOT NULL REFERENCES person (id) ON DELETE CASCADE,
    PRIMARY KEY (api_id, person_id)
) STRICT, WITHOUT ROWID;

-- What is searched beside names: the description, and the operations of the OpenAPI document.
CREATE VIRTUAL TABLE catalogue_text USING fts5 (api_id UNINDEXED, part UNINDEXED, text, tokenize = 'trigram');

CREATE TRIGGER catalogue_text_goes AFTER DELETE ON api
BEGIN
    DELETE FROM catalogue_text WHERE api_id = old.id;
END;

INSERT INTO catalogue_text (api_id, part, text)
SELECT kept.api_id,
       'operations',
       (SELECT group_concat(upper(operation.key) || ' ' || item.key || ' '
                                || coalesce(json_extract(operation.value, '$.summary'), ''), char(10))
        FROM json_each(kept.document, '$.paths') AS item, json_each(item.value) AS operation
        WHERE operation.key IN ('get', 'put', 'post', 'delete', 'options', 'head', 'patch', 'trace'))
FROM api_openapi AS kept;
