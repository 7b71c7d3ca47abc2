package dev.admit.store;

import dev.admit.core.person.ProfileField;
import dev.admit.core.person.ProfileFields;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;

/** The table {@code profile_field}. */
public final class SqliteProfileFields implements ProfileFields {
    private static final String INSERT = """
            INSERT INTO profile_field (title, type, choices, pattern, at_sign_up, editable, claim, on_profile_page,
            version, id, issuer_id, name) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)""";
    private static final String UPDATE =
            "UPDATE profile_field SET title = ?, type = ?, choices = ?, pattern = ?, at_sign_up = ?, editable = ?, "
                    + "claim = ?, on_profile_page = ?, version = ? WHERE id = ?";
    private static final String DELETE = "DELETE FROM profile_field WHERE id = ?";
    private static final String NAMED = "SELECT * FROM profile_field WHERE issuer_id = ? AND name = ?";
    private static final String OF = "SELECT * FROM profile_field WHERE issuer_id = ? ORDER BY name";
    private static final String ALL = "SELECT * FROM profile_field ORDER BY name";

    private final Database database;

    public SqliteProfileFields(Database database) {
        this.database = database;
    }

    @Override
    public void insert(ProfileField it) {
        database.update(
                INSERT,
                it.title(),
                it.type(),
                String.join("\n", it.choices()),
                it.pattern(),
                it.atSignUp(),
                it.editable(),
                it.claim(),
                it.onProfilePage(),
                it.version(),
                it.id(),
                it.issuerId(),
                it.name());
    }

    @Override
    public void update(ProfileField it) {
        database.update(
                UPDATE,
                it.title(),
                it.type(),
                String.join("\n", it.choices()),
                it.pattern(),
                it.atSignUp(),
                it.editable(),
                it.claim(),
                it.onProfilePage(),
                it.version(),
                it.id());
    }

    @Override
    public void delete(String fieldId) {
        database.update(DELETE, fieldId);
    }

    @Override
    public Optional<ProfileField> named(String issuerId, String name) {
        return database.one(NAMED, SqliteProfileFields::read, issuerId, name);
    }

    @Override
    public List<ProfileField> of(String issuerId) {
        return database.list(OF, SqliteProfileFields::read, issuerId);
    }

    List<ProfileField> all() {
        return database.list(ALL, SqliteProfileFields::read);
    }

    private static ProfileField read(Row row) throws SQLException {
        return new ProfileField(
                row.text("id"),
                row.text("issuer_id"),
                row.text("name"),
                row.text("title"),
                row.word("type", ProfileField.Type.class),
                row.lines("choices"),
                row.textOrNone("pattern"),
                row.flag("at_sign_up"),
                row.flag("editable"),
                row.textOrNone("claim"),
                row.flag("on_profile_page"),
                row.number("version"));
    }
}
