package dev.admit.store;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.List;
import java.util.Map;
import java.util.function.UnaryOperator;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.flywaydb.core.api.migration.BaseJavaMigration;
import org.flywaydb.core.api.migration.Context;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;
import tools.jackson.databind.node.StringNode;

/** Gives the members of what is stored as JSON the names that the columns got in V0023. */
public final class V0024__PlainWordsInJson extends BaseJavaMigration {
    private static final JsonMapper JSON = new JsonMapper();
    /** Reasons for which a route may have a text of its own. */
    private static final Map<String, String> REASONS = Map.of(
            "page-not-known", "origin-not-registered",
            "client-for-nobody", "no-sign-in-client",
            "person-may-not", "person-lacks-role",
            "too-many-at-once", "too-many-concurrent");
    /** What an expression saw of a client, by what it sees now; each was always there. */
    private static final Map<String, String> OLD_MEMBERS = Map.of(
            "title", "client.client_name",
            "owner", "(client.contacts.size() > 0 ? client.contacts[0] : '')",
            "kind", "(client.kind == 'machine' ? 'service' : client.kind)");

    private static final Pattern OF_CLIENT =
            Pattern.compile("\\bclient\\s*(?:\\.\\s*(title|owner|kind)\\b|\\[\\s*[\"'](title|owner|kind)[\"']\\s*])");
    private static final Pattern HAS_CLIENT = Pattern.compile("\\bhas\\(\\s*client\\.(?:title|owner|kind)\\s*\\)");

    @Override
    public void migrate(Context context) throws SQLException {
        Connection database = context.getConnection();
        for (String table : List.of("route", "route_history")) {
            each(database, table, "settings", V0024__PlainWordsInJson::route);
            each(database, table, "response_body", V0024__PlainWordsInJson::template);
        }
        each(
                database,
                "client",
                "people",
                text -> renamed(
                        text,
                        Map.of(
                                "identityGiven", "openidGranted",
                                "idTokenAlg", "idTokenSignedResponseAlg",
                                "afterSignOut", "postLogoutRedirectUris")));
        each(
                database,
                "issuer",
                "people",
                text -> renamed(
                        text,
                        Map.of(
                                "sessionIdle", "sessionIdleTimeout",
                                "sessionLongest", "maxSessionAge")));
        each(database, "api", "minting", V0024__PlainWordsInJson::minting);
        each(database, "scope", "standing", V0024__PlainWordsInJson::standing);
        consequences(database);
    }

    private static String route(String text) {
        ObjectNode route = object(text);
        if (route.get("who") instanceof ObjectNode who)
            rename(
                    who,
                    Map.of(
                            "bearer", "forWhom",
                            "signedInWithin", "maxAge",
                            "strength", "acr",
                            "when", "condition"));
        if (route.get("limits") instanceof ObjectNode limits) rename(limits, Map.of("atOnce", "concurrent"));
        rename(route, Map.of("shaping", "transform"));
        if (route.get("transform") instanceof ObjectNode transform) {
            ObjectNode timeouts = route.putObject("timeouts");
            Map.of("connect", "connect", "silence", "idle", "whole", "total").forEach((old, now) -> {
                JsonNode time = transform.remove(old);
                timeouts.set(now, time == null ? JSON.nullNode() : time);
            });
            rename(
                    transform,
                    Map.of(
                            "setOnAnswer", "setOnResponse",
                            "removedOnAnswer", "removedOnResponse",
                            "passage", "proof"));
            if (transform.get("refusals") instanceof ObjectNode refusals) rename(refusals, REASONS);
        }
        return template(JSON.writeValueAsString(route));
    }

    /** Names in braces: one name for each thing, and none for what has no meaning to a caller. */
    private static String template(String text) {
        return text.replace("{{came}}", "{{received}}")
                .replace("{{mend}}", "{{fix}}")
                .replace("{{request_id}}", "{{decision}}")
                .replace("{{revision}}", "");
    }

    private static String minting(String text) {
        ObjectNode minting = object(text);
        Map<String, String> names = Map.of("refreshIdle", "refreshIdleTimeout", "refreshLongest", "maxRefreshAge");
        rename(minting, names);
        if (minting.get("exceptions") instanceof ArrayNode exceptions)
            exceptions.forEach(it -> rename((ObjectNode) it, names));
        if (minting.get("claims") instanceof ArrayNode claims)
            claims.forEach(it -> ((ObjectNode) it)
                    .put("expression", expression(it.path("expression").asString(""))));
        return JSON.writeValueAsString(minting);
    }

    /** An API reads the claim, and may decide by it: what it comes to stays, also where the kind has another name. */
    private static String expression(String text) {
        Matcher member = OF_CLIENT.matcher(HAS_CLIENT.matcher(text).replaceAll("true"));
        return member.replaceAll(
                it -> Matcher.quoteReplacement(OLD_MEMBERS.get(it.group(1) == null ? it.group(2) : it.group(1))));
    }

    private static String standing(String text) {
        ObjectNode standing = object(text);
        if (standing.get("kinds") instanceof ArrayNode kinds)
            for (int i = 0; i < kinds.size(); i++)
                if (kinds.get(i).asString("").equals("service")) kinds.set(i, StringNode.valueOf("machine"));
        return JSON.writeValueAsString(standing);
    }

    /**
     * One sentence where there were two. Where they differ in whose things they speak of, that becomes {@code {whose}};
     * else the one for administrators stays.
     */
    private static void consequences(Connection database) throws SQLException {
        try (var rows = database.createStatement();
                ResultSet row = rows.executeQuery(
                        "SELECT id, consequence, words_for_person FROM scope " + "WHERE words_for_person IS NOT NULL");
                var update = database.prepareStatement("UPDATE scope SET consequence = ? WHERE id = ?")) {
            while (row.next()) {
                update.setString(1, together(row.getString(2), row.getString(3)));
                update.setString(2, row.getString(1));
                update.addBatch();
            }
            update.executeBatch();
        }
        try (var statement = database.createStatement()) {
            statement.execute("ALTER TABLE scope DROP COLUMN words_for_person");
        }
    }

    static String together(String administrators, String persons) {
        int at = persons.indexOf("your ");
        if (at < 0) return administrators;
        String before = persons.substring(0, at);
        String after = persons.substring(at + "your".length());
        boolean same = administrators.length() > before.length() + after.length()
                && administrators.startsWith(before)
                && administrators.endsWith(after);
        return same ? before + "{whose}" + after : administrators;
    }

    private static void each(Connection database, String table, String column, UnaryOperator<String> change)
            throws SQLException {
        try (var rows = database.createStatement();
                ResultSet row = rows.executeQuery(
                        "SELECT rowid, %1$s FROM %2$s WHERE %1$s IS NOT NULL AND %1$s <> ''".formatted(column, table));
                var update = database.prepareStatement(
                        "UPDATE %2$s SET %1$s = ? WHERE rowid = ?".formatted(column, table))) {
            while (row.next()) {
                update.setString(1, change.apply(row.getString(2)));
                update.setLong(2, row.getLong(1));
                update.addBatch();
            }
            update.executeBatch();
        }
    }

    private static String renamed(String text, Map<String, String> names) {
        ObjectNode object = object(text);
        rename(object, names);
        return JSON.writeValueAsString(object);
    }

    private static ObjectNode object(String text) {
        return (ObjectNode) JSON.readTree(text);
    }

    private static void rename(ObjectNode object, Map<String, String> names) {
        names.forEach((old, now) -> {
            JsonNode value = object.remove(old);
            if (value != null) object.set(now, value);
        });
    }
}
