package dev.admit.server.schema;

import io.swagger.v3.oas.models.OpenAPI;
import io.swagger.v3.oas.models.Operation;
import io.swagger.v3.oas.models.media.Content;
import io.swagger.v3.oas.models.media.Schema;
import io.swagger.v3.oas.models.responses.ApiResponse;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.Consumer;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * Tells the two directions apart: what is heard may leave out what may be null, as problems do, what is sent has every
 * member. A record that goes both ways gets a second schema, with {@code Sent} behind its name.
 */
@SuppressWarnings({"rawtypes", "unchecked"}) // as the library has its maps of schemas
public final class Directions {
    private static final String WHERE = "#/components/schemas/";
    private static final String SENT = "Sent";

    private final Map<String, Schema> schemas;
    private final Set<String> heard = new TreeSet<>();
    private final Set<String> sent = new TreeSet<>();

    private Directions(Map<String, Schema> schemas) {
        this.schemas = schemas;
    }

    /** Changes the description in place. */
    public static void tell(OpenAPI api) {
        Directions directions = new Directions(api.getComponents().getSchemas());
        List<Operation> operations = api.getPaths().values().stream()
                .flatMap(it -> it.readOperations().stream())
                .toList();
        operations.forEach(it -> {
            if (it.getRequestBody() != null) directions.each(it.getRequestBody().getContent(), directions::hears);
            answers(it).forEach(answer -> directions.each(answer.getContent(), directions::sends));
        });
        // What is wrong is told with the members that say something.
        directions.reach(new Schema<>().$ref(WHERE + "Problem"), directions.heard);
        Map<String, Schema> twice = new TreeMap<>();
        for (String name : directions.sent) {
            Schema<?> one = directions.schemas.get(name);
            if (one == null || one.getProperties() == null) continue;
            if (directions.heard.contains(name)) twice.put(name + SENT, directions.whole(directions.copy(one)));
            else directions.whole(one);
        }
        operations.forEach(
                it -> answers(it).forEach(answer -> directions.each(answer.getContent(), directions::toSent)));
        directions.schemas.putAll(twice);
    }

    private static Collection<ApiResponse> answers(Operation operation) {
        return operation.getResponses().values();
    }

    private void each(@Nullable Content content, Consumer<Schema<?>> then) {
        if (content == null) return;
        content.values().forEach(media -> {
            if (media.getSchema() != null) then.accept(media.getSchema());
        });
    }

    private void hears(Schema<?> schema) {
        reach(schema, heard);
    }

    private void sends(Schema<?> schema) {
        reach(schema, sent);
    }

    private void reach(Schema<?> schema, Set<String> into) {
        parts(schema).forEach(it -> {
            String name = named(it);
            if (name != null && into.add(name) && schemas.get(name) != null) reach(schemas.get(name), into);
            else if (name == null) reach(it, into);
        });
        String name = named(schema);
        if (name != null && into.add(name) && schemas.get(name) != null) reach(schemas.get(name), into);
    }

    /** All of its members are there, and what they refer to is what is sent. */
    private Schema<?> whole(Schema<?> schema) {
        schema.setRequired(new ArrayList<>(schema.getProperties().keySet()));
        schema.getProperties().values().forEach(this::toSent);
        return schema;
    }

    private void toSent(Schema<?> schema) {
        String name = named(schema);
        if (name != null && heard.contains(name) && !name.endsWith(SENT)) schema.set$ref(WHERE + name + SENT);
        parts(schema).forEach(this::toSent);
    }

    private Schema<?> copy(Schema<?> from) {
        return io.swagger.v3.core.util.Json31.mapper()
                .convertValue(io.swagger.v3.core.util.Json31.mapper().valueToTree(from), Schema.class);
    }

    private static @Nullable String named(Schema<?> schema) {
        String ref = schema.get$ref();
        return ref != null && ref.startsWith(WHERE) ? ref.substring(WHERE.length()) : null;
    }

    private static List<Schema<?>> parts(Schema<?> schema) {
        List<Schema<?>> parts = new ArrayList<>();
        if (schema.getItems() != null) parts.add(schema.getItems());
        if (schema.getAdditionalProperties() instanceof Schema<?> values) parts.add(values);
        Stream.of(schema.getAnyOf(), schema.getAllOf(), schema.getOneOf())
                .filter(it -> it != null)
                .forEach(all -> all.forEach(parts::add));
        Map<String, Schema<?>> members = new LinkedHashMap<>();
        if (schema.getProperties() != null) schema.getProperties().forEach(members::put);
        parts.addAll(members.values());
        return parts;
    }
}
