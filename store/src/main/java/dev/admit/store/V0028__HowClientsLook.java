package dev.admit.store;

import dev.admit.core.registry.Look;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import org.flywaydb.core.api.migration.BaseJavaMigration;
import org.flywaydb.core.api.migration.Context;

/** Fills in how the names of clients look that were there before V0027. */
public final class V0028__HowClientsLook extends BaseJavaMigration {
    @Override
    public void migrate(Context context) throws SQLException {
        try (Statement all = context.getConnection().createStatement();
                ResultSet client = all.executeQuery("SELECT id, client_name FROM client");
                PreparedStatement fill =
                        context.getConnection().prepareStatement("UPDATE client SET look = ? WHERE id = ?")) {
            while (client.next()) {
                fill.setString(1, Look.skeleton(client.getString(2)));
                fill.setString(2, client.getString(1));
                fill.executeUpdate();
            }
        }
    }
}
