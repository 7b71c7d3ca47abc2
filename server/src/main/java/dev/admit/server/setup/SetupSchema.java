package dev.admit.server.setup;

import com.fasterxml.jackson.annotation.JsonProperty;
import dev.admit.core.setup.Setup;
import java.lang.reflect.ParameterizedType;
import java.lang.reflect.RecordComponent;
import java.lang.reflect.Type;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/**
 * The JSON Schema (2020-12) of a setup file, for editors; made from the records that read it, so that the two cannot
 * differ.
 */
public final class SetupSchema {
    private static final Map<String, List<String>> WORDS = Map.ofEntries(
            Map.entry("effect", List.of("reads", "changes", "both")),
            Map.entry("reach", List.of("own", "everyone")),
            Map.entry("ScopePart.for", List.of("people", "clients", "both")),
            Map.entry("RouteWho.for", List.of("people", "clients", "anyone")),
            Map.entry("approver", List.of("person", "administrator")),
            Map.entry("ScopePart.status", List.of("draft", "in-use", "closing")),
            Map.entry("format", List.of("jwt", "opaque")),
            Map.entry("auth", List.of("header", "body")),
            Map.entry("mode", List.of("all-of", "any-of")),
            Map.entry("kind", List.of("machine", "web", "browser", "native", "device")),
            Map.entry(
                    "token_endpoint_auth_method",
                    List.of("client_secret_basic", "client_secret_post", "private_key_jwt", "none")),
            Map.entry("token_endpoint_auth_signing_alg", List.of("ES256", "RS256", "PS256", "EdDSA")),
            Map.entry("id_token_signed_response_alg", List.of("ES256", "RS256", "PS256", "EdDSA")),
            Map.entry("type", List.of("text", "number", "date", "choice")));

    private SetupSchema() {}

    public static Map<String, Object> schema() {
        Map<String, Object> schema = new LinkedHashMap<>();
        schema.put("$schema", "https://json-schema.org/draft/2020-12/schema");
        schema.put("title", "Setup of one issuer, or a piece of it");
        schema.putAll(of(Setup.class, "", ""));
        schema.put("required", List.of("issuer"));
        return schema;
    }

    /** @param in the name of the record that has the member, @param member as the file names it */
    private static Map<String, Object> of(Type type, String in, String member) {
        Map<String, Object> schema = new LinkedHashMap<>();
        if (type instanceof ParameterizedType many && many.getRawType() == List.class) {
            schema.put("type", "array");
            schema.put("items", of(many.getActualTypeArguments()[0], "", ""));
        } else if (type instanceof ParameterizedType map) {
            schema.put("type", "object");
            schema.put(
                    "additionalProperties",
                    member.equals("jwks") ? true : of(map.getActualTypeArguments()[1], in, member));
        } else if (type == String.class) {
            schema.put("type", "string");
            List<String> words = WORDS.getOrDefault(in + "." + member, WORDS.get(member));
            if (words != null) schema.put("enum", words);
            if (in.equals("ClientPart") && member.equals("scopes"))
                schema.put("pattern", "^(waiting|granted|granted until \\S+)$");
        } else if (type == Boolean.class) {
            schema.put("type", "boolean");
        } else if (type == Integer.class || type == Long.class) {
            schema.put("type", "integer");
        } else {
            Map<String, Object> properties = new LinkedHashMap<>();
            for (RecordComponent one : ((Class<?>) type).getRecordComponents()) {
                String name = name(one);
                properties.put(name, of(one.getGenericType(), ((Class<?>) type).getSimpleName(), name));
            }
            schema.put("type", List.of("object", "null"));
            schema.put("properties", properties);
            schema.put("additionalProperties", false);
        }
        return schema;
    }

    private static String name(RecordComponent member) {
        JsonProperty said = member.getAccessor().getAnnotation(JsonProperty.class);
        return said != null
                ? said.value()
                : member.getName().replaceAll("([a-z])([A-Z])", "$1_$2").toLowerCase(Locale.ROOT);
    }
}
