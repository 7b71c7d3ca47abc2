package dev.admit.server.schema;

import com.fasterxml.jackson.annotation.JsonProperty;
import com.github.therapi.runtimejavadoc.ClassJavadoc;
import com.github.therapi.runtimejavadoc.Comment;
import com.github.therapi.runtimejavadoc.CommentFormatter;
import com.github.therapi.runtimejavadoc.RuntimeJavadoc;
import dev.admit.contract.OneOf;
import dev.admit.core.change.Known;
import java.lang.reflect.ParameterizedType;
import java.lang.reflect.RecordComponent;
import java.lang.reflect.Type;
import java.lang.reflect.TypeVariable;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * Reads a record as a JSON Schema (2020-12). What a member may lack is its {@code @Nullable}, its words are its
 * {@link OneOf}, its sentence is its {@code @param}, and all others are required.
 */
public final class RecordSchema {
    /** How another record is put where a member is of its type. */
    public interface Refers {
        Map<String, Object> to(Type type);
    }

    private static final CommentFormatter WORDS = new CommentFormatter();
    private final Refers refers;

    public RecordSchema(Refers refers) {
        this.refers = refers;
    }

    /**
     * @param type a record, or one with arguments
     * @return an object with its members, in the order of the record
     */
    public Map<String, Object> of(Type type) {
        Class<?> record = type instanceof ParameterizedType many ? (Class<?>) many.getRawType() : (Class<?>) type;
        ClassJavadoc said = RuntimeJavadoc.getJavadoc(record);
        Map<String, Object> properties = new LinkedHashMap<>();
        List<String> required = new ArrayList<>();
        for (RecordComponent member : record.getRecordComponents()) {
            Map<String, Object> schema =
                    new LinkedHashMap<>(one(inPlace(member.getGenericType(), type), words(member)));
            if (mayLack(member)) schema = orNull(schema);
            else required.add(name(member));
            String sentence = sentence(said, member);
            if (!sentence.isEmpty()) schema.put("description", sentence);
            properties.put(name(member), schema);
        }
        Map<String, Object> schema = new LinkedHashMap<>();
        schema.put("type", "object");
        String whole = plain(said.getComment());
        if (!whole.isEmpty()) schema.put("description", whole);
        schema.put("properties", properties);
        if (!required.isEmpty()) schema.put("required", required);
        return schema;
    }

    /** The schema of a member, to be narrowed where a record cannot say all of it. */
    @SuppressWarnings("unchecked") // of() makes both
    public static Map<String, Object> member(Map<String, Object> schema, String name) {
        return Known.in((Map<String, Map<String, Object>>) Known.in(schema, "properties"), name);
    }

    /** Takes a member off, where a record stands that has it elsewhere. */
    @SuppressWarnings("unchecked") // of() makes both
    public static void without(Map<String, Object> schema, String name) {
        ((Map<String, Object>) Known.in(schema, "properties")).remove(name);
    }

    /** In one line, without marks. */
    private static String plain(Comment comment) {
        return WORDS.format(comment)
                .replaceAll("</?code>", "")
                .replaceAll("\\s+", " ")
                .strip();
    }

    /** Whether a member may be null, or be left out. */
    public static boolean mayLack(RecordComponent member) {
        return member.getAnnotatedType().isAnnotationPresent(Nullable.class);
    }

    /** As JSON names it: as said, else its words joined by underscores. */
    public static String name(RecordComponent member) {
        JsonProperty said = member.getAccessor().getAnnotation(JsonProperty.class);
        return said != null
                ? said.value()
                : member.getName().replaceAll("([a-z])([A-Z])", "$1_$2").toLowerCase(Locale.ROOT);
    }

    private static List<String> words(RecordComponent member) {
        OneOf words = member.getAnnotation(OneOf.class);
        return words == null ? List.of() : List.of(words.value());
    }

    private static String sentence(ClassJavadoc of, RecordComponent member) {
        return of.getRecordComponents().stream()
                .filter(it -> it.getName().equals(member.getName()))
                .map(it -> plain(it.getComment()))
                .findFirst()
                .orElse("");
    }

    private static Type inPlace(Type type, Type owner) {
        if (type instanceof TypeVariable<?> open && owner instanceof ParameterizedType filled) {
            TypeVariable<?>[] names = ((Class<?>) filled.getRawType()).getTypeParameters();
            for (int i = 0; i < names.length; i++) if (names[i].equals(open)) return filled.getActualTypeArguments()[i];
        }
        if (type instanceof ParameterizedType many && many.getActualTypeArguments()[0] instanceof TypeVariable<?>)
            return new ListOf(inPlace(many.getActualTypeArguments()[0], owner));
        return type;
    }

    /** A list whose items' type was left open by the record. */
    private record ListOf(Type item) implements ParameterizedType {
        @Override
        public Type[] getActualTypeArguments() {
            return new Type[] {item};
        }

        @Override
        public Type getRawType() {
            return List.class;
        }

        @Override
        public @Nullable Type getOwnerType() {
            return null;
        }
    }

    private Map<String, Object> one(Type type, List<String> words) {
        Map<String, Object> schema = new LinkedHashMap<>();
        if (type instanceof ParameterizedType many && many.getRawType() == List.class) {
            schema.put("type", "array");
            schema.put("items", one(many.getActualTypeArguments()[0], words));
        } else if (type instanceof ParameterizedType many && many.getRawType() == Map.class) {
            schema.put("type", "object");
            schema.put("additionalProperties", one(many.getActualTypeArguments()[1], List.of()));
        } else if (type == String.class) {
            schema.put("type", "string");
            if (!words.isEmpty()) schema.put("enum", words);
        } else if (type == Instant.class) {
            schema.put("type", "string");
            schema.put("format", "date-time");
        } else if (type == boolean.class || type == Boolean.class) {
            schema.put("type", "boolean");
        } else if (type == int.class || type == long.class || type == Integer.class || type == Long.class) {
            schema.put("type", "integer");
        } else if (type instanceof ParameterizedType || type instanceof Class<?> other && other.isRecord()) {
            return refers.to(type);
        } // else anything
        return schema;
    }

    private static Map<String, Object> orNull(Map<String, Object> schema) {
        Map<String, Object> maybe = new LinkedHashMap<>(schema);
        if (schema.containsKey("$ref")) {
            maybe.clear();
            maybe.put("anyOf", List.of(schema, Map.of("type", "null")));
        } else if (schema.get("type") instanceof String type) {
            maybe.put("type", List.of(type, "null"));
            if (schema.get("enum") instanceof List<?> words) {
                List<@Nullable Object> more = new ArrayList<>(words);
                more.add(null);
                maybe.put("enum", more);
            }
        }
        return maybe;
    }
}
