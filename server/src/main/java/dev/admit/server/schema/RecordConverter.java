package dev.admit.server.schema;

import com.fasterxml.jackson.databind.JavaType;
import io.swagger.v3.core.converter.AnnotatedType;
import io.swagger.v3.core.converter.ModelConverter;
import io.swagger.v3.core.converter.ModelConverterContext;
import io.swagger.v3.core.util.Json31;
import io.swagger.v3.oas.models.media.Schema;
import java.lang.reflect.ParameterizedType;
import java.lang.reflect.Type;
import java.util.Arrays;
import java.util.Iterator;
import java.util.Map;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;

/** Puts the records of this project into the description of the admin API, by {@link RecordSchema}. */
@Component
class RecordConverter implements ModelConverter {
    private static final String WHERE = "#/components/schemas/";

    @Override
    public boolean isOpenapi31() {
        return true;
    }

    @Override
    public @Nullable Schema<?> resolve(
            AnnotatedType asked, ModelConverterContext context, Iterator<ModelConverter> others) {
        Type type = plain(asked.getType());
        if (!isOurs(raw(type))) return others.hasNext() ? others.next().resolve(asked, context, others) : null;
        define(type, context);
        return new Schema<>().$ref(WHERE + nameOf(type));
    }

    /** Once each; a record that has itself as a member refers to the one that is under way. */
    private static void define(Type type, ModelConverterContext context) {
        String name = nameOf(type);
        if (context.getDefinedModels().containsKey(name)) return;
        context.defineModel(name, new Schema<>());
        Map<String, Object> schema = new RecordSchema(member -> {
                    define(member, context);
                    return Map.of("$ref", WHERE + nameOf(member));
                })
                .of(type);
        context.defineModel(name, Json31.mapper().convertValue(schema, Schema.class));
    }

    /** The record's name after those that it stands in, then its arguments': no two records have one. */
    static String nameOf(Type type) {
        if (type instanceof ParameterizedType filled)
            return nameOf(filled.getRawType())
                    + Arrays.stream(filled.getActualTypeArguments())
                            .map(RecordConverter::nameOf)
                            .collect(Collectors.joining());
        Class<?> one = (Class<?>) type;
        Class<?> around = one.getEnclosingClass();
        return around == null || !around.isRecord() ? one.getSimpleName() : nameOf(around) + one.getSimpleName();
    }

    private static boolean isOurs(Class<?> raw) {
        return raw.isRecord() && raw.getName().startsWith("dev.admit.");
    }

    private static Class<?> raw(Type type) {
        return type instanceof ParameterizedType filled
                ? (Class<?>) filled.getRawType()
                : type instanceof Class<?> one ? one : Object.class;
    }

    private static Type plain(Type type) {
        if (!(type instanceof JavaType known)) return type;
        if (known.containedTypeCount() == 0) return known.getRawClass();
        Type[] arguments = new Type[known.containedTypeCount()];
        for (int i = 0; i < arguments.length; i++) arguments[i] = plain(known.containedType(i));
        return new Filled(known.getRawClass(), arguments);
    }

    /** A record with its arguments. */
    @SuppressWarnings("ArrayRecordComponent")
    private record Filled(Class<?> raw, Type[] arguments) implements ParameterizedType {
        @Override
        public Type[] getActualTypeArguments() {
            return arguments;
        }

        @Override
        public Type getRawType() {
            return raw;
        }

        @Override
        public @Nullable Type getOwnerType() {
            return null;
        }
    }
}
