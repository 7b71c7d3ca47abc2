package dev.admit.core.catalogue;

import com.google.gson.Gson;
import com.google.gson.GsonBuilder;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * Reads the schemas of an OpenAPI document for people: names of types, members, and an example. A document may refer to
 * itself without end; reading stops at a depth and at a number of members.
 */
final class ReadSchema {
    private static final int DEEPEST = 6;
    private static final int MOST_MEMBERS = 60;
    private static final int MOST_VALUES = 300;
    private static final int LONGEST_EXAMPLE = 8_000;
    private static final Gson JSON = new GsonBuilder()
            .setPrettyPrinting()
            .disableHtmlEscaping()
            .serializeNulls()
            .create();

    private final Map<String, Object> document;
    private int values;

    ReadSchema(Map<String, Object> document) {
        this.document = document;
    }

    /** An object, what it refers to within the document followed; empty where that is no object. */
    Map<String, Object> resolved(@Nullable Object node) {
        Object at = node;
        for (int i = 0; i < 10; i++) { // a reference may lead to a reference, and round in a circle
            if (!(at instanceof Map<?, ?> object)) return Map.of();
            if (!(object.get("$ref") instanceof String reference)) return object(object);
            at = target(reference);
        }
        return Map.of();
    }

    private @Nullable Object target(String reference) {
        if (!reference.startsWith("#/")) return null;
        Object at = document;
        for (String part : reference.substring(2).split("/")) {
            if (!(at instanceof Map<?, ?> object)) return null;
            at = object.get(part.replace("~1", "/").replace("~0", "~"));
        }
        return at;
    }

    /** As the document says, or made up from the schema. */
    Documentation.Content content(String mediaType, Map<String, Object> said) {
        Map<String, Object> schema = resolved(said.get("schema"));
        List<Documentation.Member> members = new ArrayList<>();
        members(schema, "", 0, members);
        values = 0;
        Object example = given(said).orElseGet(() -> example(schema, 0));
        String text = example instanceof String plain && !mediaType.contains("json") ? plain : written(example);
        return new Documentation.Content(mediaType, members, text);
    }

    /** The example of a parameter, plain enough to stand in a URL. */
    String exampleOf(Map<String, Object> parameter) {
        values = 0;
        Object example = given(parameter).orElseGet(() -> example(resolved(parameter.get("schema")), 0));
        return example instanceof Map || example instanceof List || example == null ? "" : written(example, false);
    }

    private static String written(@Nullable Object example) {
        return written(example, true);
    }

    private static String written(@Nullable Object example, boolean quoted) {
        if (example == null) return "";
        if (!quoted && !(example instanceof Double)) return String.valueOf(example);
        String text = JSON.toJson(example);
        return text.length() <= LONGEST_EXAMPLE ? text : text.substring(0, LONGEST_EXAMPLE) + "…";
    }

    /** An example that stands beside the schema, alone or as the first of several. */
    private Optional<Object> given(Map<String, Object> said) {
        if (said.get("example") != null) return Optional.of(said.get("example"));
        return object(said.get("examples")).values().stream().findFirst().map(first -> resolved(first)
                .get("value"));
    }

    private void members(Map<String, Object> schema, String within, int depth, List<Documentation.Member> to) {
        if (depth > DEEPEST || to.size() >= MOST_MEMBERS) return;
        Map<String, Object> its = schema.containsKey("items") ? resolved(schema.get("items")) : whole(schema);
        List<?> required = its.get("required") instanceof List<?> names ? names : List.of();
        object(its.get("properties")).forEach((name, value) -> {
            if (to.size() >= MOST_MEMBERS) return;
            Map<String, Object> member = resolved(value);
            to.add(new Documentation.Member(
                    within + name, required.contains(name), typeOf(member), text(member.get("description"))));
            members(member, within + name + ".", depth + 1, to);
        });
    }

    /** What several schemas say together, and the first of alternatives. */
    private Map<String, Object> whole(Map<String, Object> schema) {
        if (!(schema.get("allOf") instanceof List<?> parts)) return schema;
        Map<String, Object> whole = new LinkedHashMap<>(schema);
        Map<String, Object> properties = new LinkedHashMap<>(object(schema.get("properties")));
        Set<Object> required = new LinkedHashSet<>();
        for (Object part : parts) {
            Map<String, Object> its = resolved(part);
            properties.putAll(object(its.get("properties")));
            if (its.get("required") instanceof List<?> names) required.addAll(names);
        }
        if (schema.get("required") instanceof List<?> names) required.addAll(names);
        whole.put("properties", properties);
        whole.put("required", List.copyOf(required));
        return whole;
    }

    /** Such as text, whole number, list of objects, one of: North, South. */
    String typeOf(Map<String, Object> schema) {
        if (schema.get("enum") instanceof List<?> words)
            return "one of: " + words.stream().limit(12).map(String::valueOf).collect(Collectors.joining(", "));
        String format = text(schema.get("format"));
        return switch (typeWord(schema)) {
            case "string" -> format.isEmpty() ? "text" : "text (" + format + ")";
            case "integer" -> "whole number";
            case "number" -> "number";
            case "boolean" -> "true or false";
            case "array" -> {
                String of = typeOf(resolved(schema.get("items")));
                yield of.isEmpty() ? "list" : "list of: " + of;
            }
            case "object" -> "object";
            default -> "";
        };
    }

    private static String typeWord(Map<String, Object> schema) {
        Object type = schema.get("type");
        if (type instanceof List<?> several) // OpenAPI 3.1: with null among them where it may be absent
        return several.stream()
                    .map(String::valueOf)
                    .filter(it -> !it.equals("null"))
                    .findFirst()
                    .orElse("");
        if (type instanceof String word) return word;
        if (schema.containsKey("properties") || schema.containsKey("allOf")) return "object";
        return schema.containsKey("items") ? "array" : "";
    }

    private @Nullable Object example(Map<String, Object> schema, int depth) {
        if (depth > DEEPEST || ++values > MOST_VALUES) return null;
        if (schema.get("example") != null) return schema.get("example");
        if (schema.get("examples") instanceof List<?> several && !several.isEmpty()) return several.getFirst();
        if (schema.get("default") != null) return schema.get("default");
        if (schema.get("const") != null) return schema.get("const");
        if (schema.get("enum") instanceof List<?> words && !words.isEmpty()) return words.getFirst();
        for (String alternatives : List.of("oneOf", "anyOf"))
            if (schema.get(alternatives) instanceof List<?> some && !some.isEmpty())
                return example(resolved(some.getFirst()), depth + 1);
        return switch (typeWord(schema)) {
            case "object" -> {
                Map<String, Object> made = new LinkedHashMap<>();
                object(whole(schema).get("properties")).forEach((name, value) -> {
                    Object one = example(resolved(value), depth + 1);
                    if (one != null) made.put(name, one);
                });
                yield made;
            }
            case "array" -> {
                Object one = example(resolved(schema.get("items")), depth + 1);
                yield one == null ? List.of() : List.of(one);
            }
            case "string" -> exampleText(text(schema.get("format")));
            case "integer" -> 1;
            case "number" -> 1.5;
            case "boolean" -> true;
            default -> null;
        };
    }

    private static String exampleText(String format) {
        return switch (format) {
            case "date" -> "2026-11-30";
            case "date-time" -> "2026-11-30T06:40:00Z";
            case "uuid" -> "0b2f4c1e-7d0a-4f7e-9c55-2f1f3f0f9f10";
            case "uri" -> "https://saltmarsh.example/";
            case "email" -> "someone@saltmarsh.example";
            default -> "text";
        };
    }

    static String text(@Nullable Object value) {
        return value instanceof String text ? text : "";
    }

    /** A JSON object; empty for anything else. */
    static Map<String, Object> object(@Nullable Object value) {
        if (!(value instanceof Map<?, ?> members)) return Map.of();
        Map<String, Object> object = new LinkedHashMap<>();
        members.forEach((name, member) -> object.put(String.valueOf(name), member));
        return object;
    }
}
