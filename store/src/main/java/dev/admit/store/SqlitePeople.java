package dev.admit.store;

import dev.admit.core.access.AdminRole;
import dev.admit.core.change.Page;
import dev.admit.core.person.People;
import dev.admit.core.person.Person;
import java.sql.SQLException;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.json.JsonMapper;

/** The table {@code person}. */
public final class SqlitePeople implements People {
    private static final String INSERT = """
            INSERT INTO person (email, email_verified, profile, roles, admin_role, enabled, version, changed_at, id,
            issuer_id, created_at)
            VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)""";
    private static final String UPDATE = """
            UPDATE person SET email = ?, email_verified = ?, profile = ?, roles = ?, admin_role = ?, enabled = ?, \
            version
            = ?, changed_at = ? WHERE id = ?""";
    private static final String DELETE = "DELETE FROM person WHERE id = ?";
    private static final String FIND = "SELECT * FROM person WHERE id = ?";
    private static final String NAMED = "SELECT * FROM person WHERE issuer_id = ? AND (email = ? OR id = ?)";
    private static final String LIST = """
            SELECT * FROM person WHERE issuer_id = ?1 AND email > ?2 AND (?3 = '' OR instr(lower(email || char(10) ||
            id || char(10) || profile), lower(?3)) > 0)
              AND (?4 = '' OR instr(' ' || roles || ' ', ' ' || ?4 || ' ') > 0) ORDER BY email LIMIT ?5""";
    private static final String HAVING =
            "SELECT * FROM person WHERE issuer_id = ? AND instr(' ' || roles || ' ', ' ' || ? || ' ') > 0";

    private static final JsonMapper JSON = new JsonMapper();
    private static final TypeReference<Map<String, String>> MAP = new TypeReference<>() {};

    private final Database database;

    public SqlitePeople(Database database) {
        this.database = database;
    }

    @Override
    public void insert(Person it) {
        database.update(
                INSERT,
                it.email(),
                it.emailVerified(),
                JSON.writeValueAsString(it.profile()),
                String.join(" ", it.roles()),
                it.adminRole(),
                it.enabled(),
                it.version(),
                it.changedAt(),
                it.id(),
                it.issuerId(),
                it.createdAt());
    }

    @Override
    public void update(Person it) {
        database.update(
                UPDATE,
                it.email(),
                it.emailVerified(),
                JSON.writeValueAsString(it.profile()),
                String.join(" ", it.roles()),
                it.adminRole(),
                it.enabled(),
                it.version(),
                it.changedAt(),
                it.id());
    }

    @Override
    public void delete(String personId) {
        database.update(DELETE, personId);
    }

    @Override
    public Optional<Person> find(String personId) {
        return database.one(FIND, SqlitePeople::read, personId);
    }

    @Override
    public Optional<Person> named(String issuerId, String emailOrId) {
        return database.one(NAMED, SqlitePeople::read, issuerId, emailOrId, emailOrId);
    }

    @Override
    public Page<Person> list(String issuerId, String search, String role, Page.Ask ask) {
        return Page.of(
                database.list(
                        LIST, SqlitePeople::read, issuerId, ask.after().orElse(""), search, role, ask.limit() + 1),
                ask,
                Person::email);
    }

    @Override
    public List<Person> having(String issuerId, String roleId) {
        return database.list(HAVING, SqlitePeople::read, issuerId, roleId);
    }

    private static Person read(Row row) throws SQLException {
        return new Person(
                row.text("id"),
                row.text("issuer_id"),
                row.text("email"),
                row.flag("email_verified"),
                Map.copyOf(JSON.readValue(row.text("profile"), MAP)),
                row.words("roles"),
                row.isNull("admin_role") ? Optional.empty() : Optional.of(row.word("admin_role", AdminRole.class)),
                row.flag("enabled"),
                row.number("version"),
                row.time("created_at"),
                row.time("changed_at"));
    }
}
