package dev.admit.core.catalogue;

import static dev.admit.core.catalogue.ReadSchema.object;
import static dev.admit.core.catalogue.ReadSchema.text;

import dev.admit.core.openapi.OpenApiForCallers;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** Makes of an OpenAPI document for callers what people read. */
public final class ReadDocumentation {
    private static final Set<String> METHODS = Set.of("get", "put", "post", "delete", "options", "head", "patch");
    private static final int MOST_RESPONSES = 20;

    private final Map<String, Object> document;
    private final ReadSchema schemas;

    private ReadDocumentation(Map<String, Object> document) {
        this.document = document;
        this.schemas = new ReadSchema(document);
    }

    /** @param document as callers see it */
    public static Documentation of(Map<String, Object> document) {
        return new ReadDocumentation(document).read();
    }

    private Documentation read() {
        Map<String, Object> info = object(document.get("info"));
        Map<String, String> tags = new LinkedHashMap<>();
        if (document.get("tags") instanceof List<?> said)
            for (Object tag : said)
                tags.put(text(object(tag).get("name")), text(object(tag).get("description")));
        Map<String, List<Documentation.Operation>> byTag = new LinkedHashMap<>();
        tags.keySet().forEach(it -> byTag.put(it, new ArrayList<>()));
        object(document.get("paths")).forEach((path, item) -> object(item).forEach((method, said) -> {
            if (!METHODS.contains(method)) return;
            Map<String, Object> operation = object(said);
            String tag = operation.get("tags") instanceof List<?> its && !its.isEmpty()
                    ? String.valueOf(its.getFirst())
                    : "";
            byTag.computeIfAbsent(tag, fresh -> new ArrayList<>())
                    .add(operation(method, path, object(item), operation));
        }));
        return new Documentation(
                text(info.get("title")),
                text(info.get("version")),
                text(info.get("description")),
                server(document),
                byTag.entrySet().stream()
                        .filter(it -> !it.getValue().isEmpty())
                        .map(it -> new Documentation.Group(
                                it.getKey(), tags.getOrDefault(it.getKey(), ""), List.copyOf(it.getValue())))
                        .toList());
    }

    /** Scopes that are enough together: two schemes say the same. */
    private static List<List<String>> alternatives(Map<String, Object> operation) {
        Set<List<String>> all = new LinkedHashSet<>();
        if (operation.get("security") instanceof List<?> said)
            for (Object one : said)
                for (Object scopes : object(one).values())
                    if (scopes instanceof List<?> its)
                        all.add(its.stream().map(String::valueOf).toList());
        return List.copyOf(all);
    }

    private Documentation.Operation operation(
            String method, String path, Map<String, Object> item, Map<String, Object> said) {
        Map<String, Documentation.Parameter> parameters = new LinkedHashMap<>();
        for (Map<String, Object> of : List.of(item, said))
            if (of.get("parameters") instanceof List<?> some)
                for (Object one : some) {
                    Documentation.Parameter it = parameter(schemas.resolved(one));
                    parameters.put(it.in() + " " + it.name(), it);
                }
        Map<String, Object> body = schemas.resolved(said.get("requestBody"));
        List<Documentation.Response> responses = new ArrayList<>();
        object(said.get("responses")).forEach((status, value) -> {
            Map<String, Object> response = schemas.resolved(value);
            if (responses.size() < MOST_RESPONSES)
                responses.add(new Documentation.Response(
                        status, text(response.get("description")), content(response.get("content"))));
        });
        return new Documentation.Operation(
                method.toUpperCase(Locale.ROOT),
                path,
                server(said),
                text(said.get("summary")),
                text(said.get("description")),
                Boolean.TRUE.equals(said.get("deprecated")),
                alternatives(said),
                Boolean.TRUE.equals(said.get(OpenApiForCallers.NEEDS_SUBSCRIPTION)),
                List.copyOf(parameters.values()),
                content(body.get("content")),
                Boolean.TRUE.equals(body.get("required")),
                responses);
    }

    private String server(Map<String, Object> operation) {
        for (Map<String, Object> of : List.of(operation, document))
            if (of.get("servers") instanceof List<?> some && !some.isEmpty())
                return text(object(some.getFirst()).get("url"));
        return "";
    }

    private Documentation.Parameter parameter(Map<String, Object> said) {
        Map<String, Object> schema = schemas.resolved(said.get("schema"));
        return new Documentation.Parameter(
                text(said.get("name")),
                text(said.get("in")),
                Boolean.TRUE.equals(said.get("required")),
                schemas.typeOf(schema),
                text(said.get("description")),
                schemas.exampleOf(said));
    }

    /** JSON where there is a choice. */
    private Optional<Documentation.Content> content(@Nullable Object said) {
        Map<String, Object> byType = object(said);
        return byType.keySet().stream()
                .filter(it -> it.contains("json"))
                .findFirst()
                .or(() -> byType.keySet().stream().findFirst())
                .map(it -> schemas.content(it, object(byType.get(it))));
    }
}
