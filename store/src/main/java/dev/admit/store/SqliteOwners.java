package dev.admit.store;

import dev.admit.core.change.Page;
import dev.admit.core.owner.Owned;
import dev.admit.core.owner.Owner;
import dev.admit.core.owner.Owners;
import java.sql.SQLException;
import java.util.List;

/** The table {@code owner}. */
public final class SqliteOwners implements Owners {
    private static final String INSERT =
            "INSERT INTO owner (issuer_id, person_id, api_id, client_id, since, named_by) VALUES (?, ?, ?, ?, ?, ?) "
                    + "ON CONFLICT DO NOTHING";
    private static final String DELETE = "DELETE FROM owner WHERE person_id = ? AND (api_id = ? OR client_id = ?)";
    private static final String COLUMNS = """
            SELECT owner.*, person.email, coalesce(api.name, client.name) AS thing FROM owner JOIN person ON
            person.id = owner.person_id
            LEFT JOIN api ON api.id = owner.api_id LEFT JOIN client ON client.id = owner.client_id
            """;
    private static final String OF_API = COLUMNS + "WHERE owner.api_id = ? ORDER BY person.email";
    private static final String OF_CLIENT = COLUMNS + "WHERE owner.client_id = ? ORDER BY person.email";
    private static final String OF_PERSON = COLUMNS + "WHERE owner.person_id = ? ORDER BY owner.api_id IS NULL, thing";
    /** The cursor is address, kind and name. */
    private static final String PLACE =
            "person.email || ' ' || (owner.api_id IS NULL) || ' ' || coalesce(api.name, client.name)";

    private static final String LIST = COLUMNS + "WHERE owner.issuer_id = ?1 AND (?2 = '' OR owner.person_id = ?2) AND "
            + PLACE + " > ?3 ORDER BY " + PLACE + " LIMIT ?4";

    private final Database database;

    public SqliteOwners(Database database) {
        this.database = database;
    }

    @Override
    public boolean insert(Owner it) {
        boolean api = it.owned().kind() == Owned.Kind.API;
        return database.update(
                        INSERT,
                        it.issuerId(),
                        it.personId(),
                        api ? it.owned().id() : null,
                        api ? null : it.owned().id(),
                        it.since(),
                        it.namedBy())
                == 1;
    }

    @Override
    public boolean delete(String personId, Owned owned) {
        return database.update(DELETE, personId, owned.id(), owned.id()) == 1;
    }

    @Override
    public List<Owner> of(Owned owned) {
        return database.list(owned.kind() == Owned.Kind.API ? OF_API : OF_CLIENT, SqliteOwners::read, owned.id());
    }

    @Override
    public List<Owner> ofPerson(String personId) {
        return database.list(OF_PERSON, SqliteOwners::read, personId);
    }

    @Override
    public Page<Owner> list(String issuerId, String personId, Page.Ask ask) {
        return Page.of(
                database.list(
                        LIST,
                        SqliteOwners::read,
                        issuerId,
                        personId,
                        ask.after().orElse(""),
                        ask.limit() + 1),
                ask,
                it -> it.email() + " " + (it.owned().kind() == Owned.Kind.API ? 0 : 1) + " "
                        + it.owned().name());
    }

    private static Owner read(Row row) throws SQLException {
        boolean api = !row.isNull("api_id");
        Owned owned = new Owned(
                api ? Owned.Kind.API : Owned.Kind.CLIENT, row.text(api ? "api_id" : "client_id"), row.text("thing"));
        return new Owner(
                row.text("issuer_id"),
                row.text("person_id"),
                row.text("email"),
                owned,
                row.time("since"),
                row.text("named_by"));
    }
}
