package dev.admit.server.setup;

import dev.admit.core.setup.Setup;
import dev.admit.server.schema.RecordSchema;
import java.lang.reflect.Type;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * The JSON Schema (2020-12) of a setup file, for editors; made from the records that read it, so that the two cannot
 * differ.
 */
public final class SetupSchema {
    private static final String STATES = "^(waiting|granted|granted until \\S+)$";

    private static final List<String> SUBSCRIBED = List.of("waiting", "active", "paused");

    private SetupSchema() {}

    public static Map<String, Object> schema() {
        Map<String, Object> schema = new LinkedHashMap<>();
        schema.put("$schema", "https://json-schema.org/draft/2020-12/schema");
        schema.put("title", "Setup of one issuer, or a piece of it");
        schema.putAll(whole(Setup.class));
        schema.put("required", List.of("issuer"));
        return schema;
    }

    /** Each record where it stands: an editor shows what is allowed there, and a part may be named and left empty. */
    private static Map<String, Object> whole(Type record) {
        Map<String, Object> schema = new RecordSchema(SetupSchema::whole).of(record);
        schema.put("type", List.of("object", "null"));
        schema.put("additionalProperties", false);
        SetupYaml.elsewhere(record).forEach(name -> RecordSchema.without(schema, name));
        if (record == Setup.ClientPart.class) {
            RecordSchema.member(schema, "scopes")
                    .put("additionalProperties", Map.of("type", "string", "pattern", STATES));
            RecordSchema.member(schema, "subscriptions")
                    .put("additionalProperties", Map.of("type", "string", "enum", SUBSCRIBED));
        }
        return schema;
    }
}
