package dev.admit.core.audit;

import com.nimbusds.jose.util.JSONObjectUtils;
import dev.admit.core.change.Fields;
import java.lang.reflect.RecordComponent;
import java.net.URI;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * A kept thing as JSON for the audit: the members of its record under the names the wire uses. What is no record, list
 * or plain value shows as its own text, which of everything secret says that it is hidden.
 */
public final class AuditJson {
    private AuditJson() {}

    static Map<String, Object> of(Object thing) {
        Map<String, Object> members = new LinkedHashMap<>();
        if (thing instanceof Map<?, ?> map) map.forEach((name, value) -> members.put(name.toString(), value(value)));
        else
            for (RecordComponent member : thing.getClass().getRecordComponents())
                members.put(wire(member.getName()), value(read(member, thing)));
        members.values().removeIf(Objects::isNull);
        return members;
    }

    /** Only the members that differ, as before and after. */
    static List<Map<String, Object>> difference(Object before, Object after) {
        Map<String, Object> old = of(before);
        Map<String, Object> now = of(after);
        Map<String, Object> was = new LinkedHashMap<>(old);
        Map<String, Object> is = new LinkedHashMap<>(now);
        was.entrySet().removeIf(member -> Objects.equals(member.getValue(), now.get(member.getKey())));
        is.entrySet().removeIf(member -> Objects.equals(member.getValue(), old.get(member.getKey())));
        return List.of(was, is);
    }

    /** @return one JSON object, escaped as JSON wants it */
    public static String json(Map<String, Object> members) {
        return JSONObjectUtils.toJSONString(members);
    }

    private static @Nullable Object value(@Nullable Object value) {
        return switch (value) {
            case null -> null;
            case Optional<?> maybe -> value(maybe.orElse(null));
            case String text -> text;
            case Number number -> number;
            case Boolean flag -> flag;
            case Instant time -> time.toString();
            case Duration length -> Fields.written(length);
            case URI uri -> uri.toString();
            case Enum<?> word -> word.toString();
            case Collection<?> many -> {
                List<Object> all = new ArrayList<>();
                many.forEach(one -> all.add(value(one)));
                yield all;
            }
            case Map<?, ?> map -> of(map);
            case Record record -> of(record);
            default -> value.toString();
        };
    }

    private static Object read(RecordComponent member, Object thing) {
        try {
            member.getAccessor().setAccessible(true); // a record need not be public to be described
            return member.getAccessor().invoke(thing);
        } catch (ReflectiveOperationException broken) {
            throw new IllegalStateException("describing " + thing.getClass(), broken);
        }
    }

    private static String wire(String name) {
        if (name.equals("forWhom")) return "for"; // no name of a record's component, by Java's own rules
        return name.replaceAll("([a-z])([A-Z])", "$1_$2").toLowerCase(Locale.ROOT);
    }
}
