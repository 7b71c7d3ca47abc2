package dev.admit.core.openapi;

import com.nimbusds.jose.util.JSONObjectUtils;
import dev.admit.core.grant.IssueToken;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Scope;
import dev.admit.core.route.PathPattern;
import dev.admit.core.route.Route;
import java.text.ParseException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Function;
import java.util.function.Predicate;

/**
 * An API's document as callers see it: paths at the gateway, this issuer's endpoints, and what each operation really
 * needs, from the routes in force. What no route lets through is not in it.
 */
public final class OpenApiForCallers {
    private static final String OAUTH = "oauth2";
    private static final String OPENID = "openIdConnect";
    private static final Set<String> METHODS =
            Set.of("get", "put", "post", "delete", "options", "head", "patch", "trace");

    private final Issuer issuer;
    private final Api api;
    private final Reached.Routed routes;
    private final List<Scope> scopes;
    private final Predicate<String> tells;
    private final Function<String, String> gateway;

    /**
     * @param routes of the issuer, all of them
     * @param scopes of the API
     * @param tells of which scopes: an operation that wants others alone is not in the document
     * @param gateway host, empty for any → the gateway's URL there
     */
    OpenApiForCallers(
            Issuer issuer,
            Api api,
            Reached.Routed routes,
            List<Scope> scopes,
            Predicate<String> tells,
            Function<String, String> gateway) {
        this.issuer = issuer;
        this.api = api;
        this.routes = routes;
        this.scopes = scopes;
        this.tells = tells;
        this.gateway = gateway;
    }

    /** Says of an operation that only clients pass that are subscribed to a plan. */
    public static final String NEEDS_SUBSCRIPTION = "x-needs-subscription";

    /** @param document that the API has */
    public Map<String, Object> from(OpenApiDocument document) {
        Map<String, Object> whole = read(document.whole());
        Map<String, Object> paths = new LinkedHashMap<>();
        Set<String> wanted = new TreeSet<>();
        Reached reached = new Reached(api, routes, document);
        for (OpenApiDocument.Operation it : document.operations()) {
            Optional<Reached.Way> way = reached.of(it);
            if (way.isEmpty() || !isTold(way.get().route())) continue;
            Map<String, Object> item = part(part(whole, "paths"), it.path());
            Map<String, Object> operation =
                    new LinkedHashMap<>(part(item, it.method().toLowerCase(Locale.ROOT)));
            operation.remove("servers");
            put(paths, way.get().path(), way.get().route(), it.method(), operation, wanted);
            item.forEach((member, value) -> {
                if (!METHODS.contains(member) && !member.equals("servers"))
                    part(paths, pathOnly(way.get().path())).putIfAbsent(member, value);
            });
        }
        return finished(whole, paths, wanted);
    }

    /** Of an API that has no document: what its routes say, which is little. */
    public Map<String, Object> fromRoutes() {
        Map<String, Object> whole = new LinkedHashMap<>();
        whole.put("openapi", "3.1.0");
        whole.put("info", new LinkedHashMap<>(Map.of("title", api.title(), "version", String.valueOf(api.version()))));
        Map<String, Object> paths = new LinkedHashMap<>();
        Set<String> wanted = new TreeSet<>();
        for (Route route : routes.all()) {
            boolean theirs = route.apiId().filter(api.id()::equals).isPresent();
            // A path with an open end, and any method, are more than the format can say.
            boolean told = !route.methods().isEmpty()
                    && route.pattern().parts().stream().noneMatch(PathPattern.Part.Rest.class::isInstance);
            if (!theirs || !told || !isTold(route)) continue;
            for (String method : route.methods()) {
                Map<String, Object> operation = new LinkedHashMap<>();
                operation.put("responses", Map.of("default", Map.of("description", "What the API answers.")));
                List<Object> parameters = new ArrayList<>();
                for (PathPattern.Part part : route.pattern().parts())
                    if (part instanceof PathPattern.Part.Named(String name))
                        parameters.add(Map.of(
                                "name", name, "in", "path", "required", true, "schema", Map.of("type", "string")));
                if (!parameters.isEmpty()) operation.put("parameters", parameters);
                put(paths, route.pattern().toString(), route, method, operation, wanted);
            }
        }
        return finished(whole, paths, wanted);
    }

    private void put(
            Map<String, Object> paths,
            String path,
            Route route,
            String method,
            Map<String, Object> operation,
            Set<String> wanted) {
        Wants wants = Wants.of(route);
        wants.scopes().stream().filter(tells).forEach(wanted::add);
        operation.put("security", security(wants));
        if (route.guard() instanceof Route.Guard.Token token && token.who().subscription())
            operation.put(NEEDS_SUBSCRIPTION, true);
        else operation.remove(NEEDS_SUBSCRIPTION);
        if (!route.pattern().host().isEmpty())
            operation.put(
                    "servers",
                    List.of(Map.of("url", gateway.apply(route.pattern().host()))));
        part(paths, pathOnly(path)).put(method.toLowerCase(Locale.ROOT), operation);
    }

    private static String pathOnly(String path) {
        return path.substring(path.indexOf('/'));
    }

    private boolean isTold(Route route) {
        Wants wants = Wants.of(route);
        return wants.scopes().isEmpty()
                || (wants.any()
                        ? wants.scopes().stream().anyMatch(tells)
                        : wants.scopes().stream().allMatch(tells));
    }

    private List<Object> security(Wants wants) {
        if (wants.open()) return List.of();
        List<Object> all = new ArrayList<>();
        List<List<String>> alternatives = wants.any()
                ? wants.scopes().stream().filter(tells).map(List::of).toList()
                : List.of(List.copyOf(wants.scopes()));
        for (String scheme : List.of(OAUTH, OPENID)) alternatives.forEach(it -> all.add(Map.of(scheme, it)));
        return all;
    }

    private Map<String, Object> finished(Map<String, Object> whole, Map<String, Object> paths, Set<String> wanted) {
        whole.put("servers", List.of(Map.of("url", gateway.apply(""))));
        whole.put("paths", paths);
        whole.remove("security");
        whole.remove("webhooks");
        Map<String, Object> schemes = new LinkedHashMap<>();
        schemes.put(OAUTH, Map.of("type", "oauth2", "flows", flows(wanted)));
        schemes.put(
                OPENID,
                Map.of(
                        "type",
                        "openIdConnect",
                        "openIdConnectUrl",
                        issuer.url() + "/.well-known/openid-configuration"));
        part(whole, "components").put("securitySchemes", schemes);
        return whole;
    }

    private Map<String, Object> flows(Set<String> wanted) {
        Map<String, Object> told = new LinkedHashMap<>();
        for (String name : wanted)
            told.put(
                    name,
                    scopes.stream()
                            .filter(it -> it.name().equals(name))
                            .findFirst()
                            .map(Scope::consequenceForAdministrator)
                            .orElse(""));
        Map<String, Object> flows = new LinkedHashMap<>();
        List<String> on = IssueToken.grantTypes(issuer);
        if (on.contains("client_credentials"))
            flows.put("clientCredentials", Map.of("tokenUrl", issuer.url() + "/token", "scopes", told));
        if (on.contains("authorization_code"))
            flows.put(
                    "authorizationCode",
                    Map.of(
                            "authorizationUrl",
                            issuer.url() + "/authorize",
                            "tokenUrl",
                            issuer.url() + "/token",
                            "refreshUrl",
                            issuer.url() + "/token",
                            "scopes",
                            told));
        return flows;
    }

    private static Map<String, Object> read(String json) {
        try {
            return new LinkedHashMap<>(JSONObjectUtils.parse(json));
        } catch (ParseException damaged) {
            throw new IllegalStateException("a kept document cannot be read", damaged);
        }
    }

    /** An object in an object, put there where it is missing. */
    @SuppressWarnings("unchecked") // JSON's objects
    private static Map<String, Object> part(Map<String, Object> of, String member) {
        if (!(of.get(member) instanceof Map<?, ?>)) of.put(member, new LinkedHashMap<String, Object>());
        return (Map<String, Object>) of.get(member);
    }
}
