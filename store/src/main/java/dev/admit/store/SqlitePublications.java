package dev.admit.store;

import dev.admit.core.catalogue.Publication;
import dev.admit.core.catalogue.Publications;
import dev.admit.core.catalogue.Reader;
import dev.admit.core.catalogue.Readers;
import dev.admit.core.change.Page;
import dev.admit.core.registry.Api;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.json.JsonMapper;

/** The tables {@code publication} and {@code publication_person}. */
public final class SqlitePublications implements Publications {
    private static final String OF = "SELECT * FROM publication WHERE api_id = ?";
    private static final String PEOPLE = "SELECT person_id FROM publication_person WHERE api_id = ? ORDER BY person_id";
    private static final String PUT = """
            INSERT INTO publication (api_id, readers, description, getting_started, changes, version, changed_at)
            VALUES (?, ?, ?, ?, ?, ?, ?) ON CONFLICT (api_id) DO UPDATE SET readers = excluded.readers, description =
            excluded.description, getting_started = excluded.getting_started, changes = excluded.changes, version =
            excluded.version, changed_at = excluded.changed_at""";
    private static final String REMOVE_PEOPLE = "DELETE FROM publication_person WHERE api_id = ?";
    private static final String ADD_PERSON = "INSERT INTO publication_person (api_id, person_id) VALUES (?, ?)";
    /** ?3 to ?5 say whether a reader finds what is public, for those signed in, and for the named. */
    private static final String FOUND = """
            SELECT api.* FROM api LEFT JOIN publication ON publication.api_id = api.id
            WHERE api.issuer_id = ?1 AND api.name > ?2
            AND ((?3 AND publication.readers = 'public') OR (?4 AND publication.readers = 'signed-in')
                OR (publication.readers = 'named' AND (?5 OR EXISTS (SELECT 1 FROM publication_person AS named
                    WHERE named.api_id = api.id AND named.person_id = ?6)))
                OR api.id IN (SELECT api_id FROM owner WHERE person_id = ?7))
            AND (?8 = '' OR instr(api.name, lower(?8)) OR instr(lower(api.title), lower(?8))
                OR EXISTS (SELECT 1 FROM scope WHERE scope.api_id = api.id AND scope.listed
                    AND instr(scope.name, lower(?8)))
                OR api.id IN (SELECT api_id FROM catalogue_text WHERE ?9 <> '' AND text MATCH ?9))
            ORDER BY api.name LIMIT ?10""";
    /** Three characters are what the index of texts is made of; of fewer only names are searched. */
    private static final int SHORTEST_IN_TEXT = 3;

    private static final JsonMapper JSON = new JsonMapper();
    private static final TypeReference<List<Publication.Note>> CHANGES = new TypeReference<>() {};

    private final Database database;

    public SqlitePublications(Database database) {
        this.database = database;
    }

    @Override
    public Optional<Publication> of(String apiId) {
        return database.one(
                OF, row -> read(row, database.list(PEOPLE, person -> person.text("person_id"), apiId)), apiId);
    }

    private static Publication read(Row row, List<String> people) throws SQLException {
        return new Publication(
                row.text("api_id"),
                row.word("readers", Readers.class),
                people,
                row.text("description"),
                row.text("getting_started"),
                JSON.readValue(row.text("changes"), CHANGES),
                row.number("version"),
                row.timeOrNone("changed_at"));
    }

    @Override
    public void put(Publication it) {
        database.inOne(() -> {
            database.update(
                    PUT,
                    it.apiId(),
                    it.readers().toString(),
                    it.description(),
                    it.gettingStarted(),
                    JSON.writeValueAsString(it.changes()),
                    it.version(),
                    it.changedAt());
            database.update(REMOVE_PEOPLE, it.apiId());
            database.updateEach(ADD_PERSON, it.people(), person -> new Object[] {it.apiId(), person});
            CatalogueText.put(database, it.apiId(), CatalogueText.Part.DESCRIPTION, it.description());
            return null;
        });
    }

    @Override
    public Page<Api> found(String issuerId, Reader reader, Optional<String> alsoOwnedBy, String search, Page.Ask ask) {
        boolean stranger = false;
        boolean signedIn = false;
        boolean named = false;
        Optional<String> person = Optional.empty();
        switch (reader) {
            case Reader.Stranger who -> stranger = true;
            case Reader.SignedIn(String id) -> {
                stranger = true;
                signedIn = true;
                person = Optional.of(id);
            }
            case Reader.Preview(Readers as) -> {
                stranger = as != Readers.NONE;
                signedIn = as == Readers.SIGNED_IN || as == Readers.NAMED;
                named = as == Readers.NAMED;
            }
        }
        // A phrase, quoted, so that nothing in it is an operator.
        String phrase = search.codePointCount(0, search.length()) < SHORTEST_IN_TEXT
                ? ""
                : '"' + search.replace("\"", "\"\"") + '"';
        return Page.of(
                database.list(
                        FOUND,
                        SqliteApis::read,
                        issuerId,
                        ask.after().orElse(""),
                        stranger,
                        signedIn,
                        named,
                        person,
                        alsoOwnedBy,
                        search,
                        phrase,
                        ask.limit() + 1),
                ask,
                Api::name);
    }
}
