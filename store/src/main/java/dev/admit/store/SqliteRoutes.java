package dev.admit.store;

import dev.admit.core.change.Page;
import dev.admit.core.route.Limits;
import dev.admit.core.route.PathPattern;
import dev.admit.core.route.Route;
import dev.admit.core.route.Routes;
import dev.admit.core.route.Timeouts;
import dev.admit.core.route.Transform;
import dev.admit.core.route.Who;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.DeserializationFeature;
import tools.jackson.databind.json.JsonMapper;

/** The table {@code route}. */
public final class SqliteRoutes implements Routes {
    private static final String INSERT = """
            INSERT INTO route (methods, pattern, shape, api_id, scopes, any_of, upstream, response_status, \
            response_type,
            response_body, cors, settings, version,
                               created_at, id, issuer_id) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)""";
    private static final String UPDATE = """
            UPDATE route SET methods = ?, pattern = ?, shape = ?, api_id = ?, scopes = ?, any_of = ?, upstream = ?,
            response_status = ?,
                             response_type = ?, response_body = ?, cors = ?, settings = ?, version = ?, created_at = \
            ? WHERE
            id = ? AND issuer_id = ?""";
    private static final String DELETE = "DELETE FROM route WHERE id = ?";
    private static final String FIND = "SELECT * FROM route WHERE issuer_id = ? AND id = ?";
    private static final String LIST = """
            SELECT * FROM route WHERE issuer_id = ?1 AND pattern || ' ' || methods || ' ' || id > ?2
              AND (?3 IS NULL OR api_id IN (SELECT owner.api_id FROM owner WHERE owner.person_id = ?3))
            ORDER BY pattern || ' ' || methods || ' ' || id LIMIT ?4""";
    private static final String WITH_SHAPE = "SELECT * FROM route WHERE shape = ?";
    private static final String OF_ISSUER = "SELECT * FROM route WHERE issuer_id = ? ORDER BY pattern, methods";
    private static final String OF_OTHERS = "SELECT * FROM route WHERE issuer_id <> ?";
    private static final String OF_API =
            "SELECT * FROM route WHERE issuer_id = ? AND api_id = ? ORDER BY pattern, methods";
    private static final String ALL = "SELECT * FROM route";

    /** A flag that was not there yet when a route was kept is off. */
    private static final JsonMapper JSON = JsonMapper.builder()
            .disable(DeserializationFeature.FAIL_ON_NULL_FOR_PRIMITIVES)
            .build();

    private final Database database;

    public SqliteRoutes(Database database) {
        this.database = database;
    }

    @Override
    public void insert(Route it) {
        database.update(INSERT, columns(it));
    }

    @Override
    public void update(Route it) {
        database.update(UPDATE, columns(it));
    }

    @Override
    public void delete(String routeId) {
        database.update(DELETE, routeId);
    }

    @Override
    public Optional<Route> find(String issuerId, String routeId) {
        return database.one(FIND, SqliteRoutes::read, issuerId, routeId);
    }

    @Override
    public Page<Route> list(String issuerId, Optional<String> ownedBy, Page.Ask ask) {
        return Page.of(
                database.list(LIST, SqliteRoutes::read, issuerId, ask.after().orElse(""), ownedBy, ask.limit() + 1),
                ask,
                last -> last.pattern() + " " + String.join(",", last.methods()) + " " + last.id());
    }

    @Override
    public List<Route> withShape(String shape) {
        return database.list(WITH_SHAPE, SqliteRoutes::read, shape);
    }

    @Override
    public List<Route> of(String issuerId) {
        return database.list(OF_ISSUER, SqliteRoutes::read, issuerId);
    }

    @Override
    public List<Route> ofOthers(String issuerId) {
        return database.list(OF_OTHERS, SqliteRoutes::read, issuerId);
    }

    @Override
    public List<Route> ofApi(String issuerId, String apiId) {
        return database.list(OF_API, SqliteRoutes::read, issuerId, apiId);
    }

    List<Route> all() {
        return database.list(ALL, SqliteRoutes::read);
    }

    static @Nullable Object[] columns(Route it) {
        Optional<Route.Guard.Token> token =
                it.guard() instanceof Route.Guard.Token guard ? Optional.of(guard) : Optional.empty();
        Optional<Route.Target.FixedResponse> answer =
                it.target() instanceof Route.Target.FixedResponse standing ? Optional.of(standing) : Optional.empty();
        Object upstream = it.target() instanceof Route.Target.Upstream(var base) ? base : null;
        return new Object[] {
            String.join(",", it.methods()),
            it.pattern().toString(),
            it.pattern().shape(),
            token.map(Route.Guard.Token::apiId),
            token.map(one -> String.join(" ", one.scopes())).orElse(""),
            token.map(Route.Guard.Token::any).orElse(false),
            upstream,
            answer.map(Route.Target.FixedResponse::status),
            answer.map(Route.Target.FixedResponse::contentType),
            answer.map(Route.Target.FixedResponse::body),
            it.cors(),
            JSON.writeValueAsString(new Settings(
                    token.map(Route.Guard.Token::who).orElse(Who.ANYONE), it.transform(), it.timeouts(), it.limits())),
            it.version(),
            it.createdAt(),
            it.id(),
            it.issuerId()
        };
    }

    /** What is kept as one text. */
    private record Settings(Who who, Transform transform, Timeouts timeouts, Limits limits) {
        static final Settings NONE = new Settings(Who.ANYONE, Transform.NONE, Timeouts.NONE, Limits.NONE);
    }

    static Route read(Row row) throws SQLException {
        Settings settings = row.textOrNone("settings")
                .map(text -> JSON.readValue(text, Settings.class))
                .orElse(Settings.NONE);
        String methods = row.text("methods");
        String scopes = row.text("scopes");
        Route.Guard guard = row.isNull("api_id")
                ? new Route.Guard.Open()
                : new Route.Guard.Token(
                        row.text("api_id"),
                        scopes.isEmpty() ? List.of() : List.of(scopes.split(" ")),
                        row.flag("any_of"),
                        settings.who());
        Route.Target target = row.isNull("response_status")
                ? new Route.Target.Upstream(row.uriOrNone("upstream"))
                : new Route.Target.FixedResponse(
                        (int) row.number("response_status"), row.text("response_type"), row.text("response_body"));
        return new Route(
                row.text("id"),
                row.text("issuer_id"),
                new TreeSet<>(methods.isEmpty() ? List.of() : List.of(methods.split(","))),
                pattern(row.text("pattern")),
                guard,
                target,
                settings.transform(),
                settings.timeouts(),
                settings.limits(),
                row.flag("cors"),
                row.number("version"),
                row.time("created_at"));
    }

    private static PathPattern pattern(String kept) {
        return switch (PathPattern.read(kept)) {
            case PathPattern.Reading.Good(PathPattern pattern) -> pattern;
            case PathPattern.Reading.Impossible impossible ->
                throw new StoreFault(
                        "reading the pattern " + kept, new IllegalStateException("expected " + impossible.expected()));
        };
    }
}
