package dev.admit.core.json;

import com.google.gson.Strictness;
import com.google.gson.stream.JsonReader;
import com.google.gson.stream.JsonToken;
import com.google.gson.stream.MalformedJsonException;
import java.io.IOException;
import java.io.StringReader;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * Reads a JSON object that came from a stranger, to the letter of RFC 8259: one object and nothing after it, each
 * member once (RFC 7515 §4, RFC 7519 §4), not nested without end. Whatever could be read in two ways is not read.
 */
public final class StrictJson {
    private static final int DEEPEST = 20;
    private static final int LONGEST_NUMBER = 30;

    private StrictJson() {}

    /**
     * @return texts, Long, Double, Boolean, lists and maps of those; null stays null. Empty when it is no such object
     */
    public static Optional<Map<String, Object>> object(String text) {
        if (text.startsWith("\uFEFF")) return Optional.empty(); // RFC 8259 §8.1; the library would pass over it
        try (JsonReader reader = new JsonReader(new StringReader(text))) {
            reader.setStrictness(Strictness.STRICT);
            reader.setNestingLimit(DEEPEST);
            if (reader.peek() != JsonToken.BEGIN_OBJECT) return Optional.empty();
            Map<String, Object> object = object(reader);
            return reader.peek() == JsonToken.END_DOCUMENT ? Optional.of(object) : Optional.empty();
        } catch (IOException | NumberFormatException notStrict) {
            return Optional.empty();
        }
    }

    private static Map<String, Object> object(JsonReader reader) throws IOException {
        Map<String, Object> object = new LinkedHashMap<>();
        reader.beginObject();
        while (reader.hasNext()) {
            String name = reader.nextName();
            if (object.containsKey(name)) throw new MalformedJsonException("a member twice");
            object.put(name, value(reader));
        }
        reader.endObject();
        return object;
    }

    private static @Nullable Object value(JsonReader reader) throws IOException {
        return switch (reader.peek()) {
            case BEGIN_OBJECT -> object(reader);
            case BEGIN_ARRAY -> {
                List<Object> list = new ArrayList<>();
                reader.beginArray();
                while (reader.hasNext()) list.add(value(reader));
                reader.endArray();
                yield list;
            }
            case STRING -> reader.nextString();
            case NUMBER -> number(reader.nextString());
            case BOOLEAN -> reader.nextBoolean();
            case NULL -> {
                reader.nextNull();
                yield null;
            }
            case NAME, END_OBJECT, END_ARRAY, END_DOCUMENT -> throw new MalformedJsonException("no value");
        };
    }

    private static Number number(String text) throws MalformedJsonException {
        if (text.length() > LONGEST_NUMBER) throw new MalformedJsonException("a number of many digits");
        BigDecimal exact = new BigDecimal(text);
        boolean whole = exact.scale() <= 0 && exact.precision() - exact.scale() <= 18;
        if (whole) return exact.longValueExact();
        double near = exact.doubleValue();
        if (!Double.isFinite(near)) throw new MalformedJsonException("a number without end");
        return near;
    }
}
