package dev.admit.store;

import dev.admit.core.approval.PersonalApproval;
import dev.admit.core.approval.PersonalApprovals;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;

/** The table {@code personal_approval}. */
public final class SqlitePersonalApprovals implements PersonalApprovals {
    private static final String INSERT =
            "INSERT OR IGNORE INTO personal_approval (issuer_id, person_id, client_id, scope_name, granted_at) VALUES "
                    + "(?, ?, ?, ?, ?)";
    private static final String OF = "SELECT * FROM personal_approval WHERE person_id = ? AND client_id = ?";
    private static final String OF_PERSON =
            "SELECT * FROM personal_approval WHERE person_id = ? ORDER BY client_id, scope_name";
    private static final String DELETE =
            "DELETE FROM personal_approval WHERE person_id = ?1 AND client_id = ?2 AND (?3 IS NULL OR scope_name = ?3)";

    private static final String DELETE_ALL_OF_CLIENT = "DELETE FROM personal_approval WHERE client_id = ?";
    private static final String DELETE_OF_CLIENT =
            "DELETE FROM personal_approval WHERE client_id = ? AND scope_name = ?";

    private final Database database;

    public SqlitePersonalApprovals(Database database) {
        this.database = database;
    }

    @Override
    public void insert(PersonalApproval it) {
        database.update(INSERT, it.issuerId(), it.personId(), it.clientId(), it.scope(), it.grantedAt());
    }

    @Override
    public List<PersonalApproval> of(String personId, String clientId) {
        return database.list(OF, SqlitePersonalApprovals::read, personId, clientId);
    }

    @Override
    public List<PersonalApproval> ofPerson(String personId) {
        return database.list(OF_PERSON, SqlitePersonalApprovals::read, personId);
    }

    @Override
    public int delete(String personId, String clientId, Optional<String> scope) {
        return database.update(DELETE, personId, clientId, scope);
    }

    @Override
    public int deleteOfClient(String clientId, String scope) {
        return database.update(DELETE_OF_CLIENT, clientId, scope);
    }

    @Override
    public int deleteOfClient(String clientId) {
        return database.update(DELETE_ALL_OF_CLIENT, clientId);
    }

    private static PersonalApproval read(Row row) throws SQLException {
        return new PersonalApproval(
                row.text("issuer_id"),
                row.text("person_id"),
                row.text("client_id"),
                row.text("scope_name"),
                row.time("granted_at"));
    }
}
