package dev.admit.core.grant;

import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** The parameters of a form body, read strictly. Empty values count as absent (RFC 6749 §3.2). */
public final class FormParameters {
    private static final int MOST = 50;
    /** A form with nothing in it. */
    public static final FormParameters NONE = new FormParameters(Map.of());

    private final Map<String, List<String>> values;

    private FormParameters(Map<String, List<String>> values) {
        this.values = values;
    }

    /** One value each. */
    public static FormParameters of(Map<String, String> values) {
        Map<String, List<String>> all = new LinkedHashMap<>();
        values.forEach((name, value) -> all.put(name, List.of(value)));
        return new FormParameters(all);
    }

    public sealed interface Reading {
        record Good(FormParameters form) implements Reading {}

        /** @param received what is wrong with it, as a phrase */
        record Malformed(String received) implements Reading {}
    }

    /** @param body {@code application/x-www-form-urlencoded} */
    public static Reading read(byte[] body) {
        String text = new String(body, StandardCharsets.ISO_8859_1);
        Map<String, List<String>> values = new LinkedHashMap<>();
        int count = 0;
        for (String pair : text.split("&")) {
            if (pair.isEmpty()) continue;
            if (++count > MOST) return new Reading.Malformed("more than " + MOST + " parameters");
            int equals = pair.indexOf('=');
            Optional<String> name = decode(equals < 0 ? pair : pair.substring(0, equals));
            Optional<String> value = equals < 0 ? Optional.of("") : decode(pair.substring(equals + 1));
            if (name.isEmpty() || value.isEmpty())
                return new Reading.Malformed("a parameter that is no percent-encoded UTF-8");
            if (!value.get().isEmpty())
                values.computeIfAbsent(name.get(), fresh -> new ArrayList<>(1)).add(value.get());
        }
        return new Reading.Good(new FormParameters(values));
    }

    private static Optional<String> decode(String text) {
        byte[] bytes = new byte[text.length()];
        int n = 0;
        boolean plain = true;
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            if (c == '%') {
                int high = i + 1 < text.length() ? Character.digit(text.charAt(i + 1), 16) : -1;
                int low = i + 2 < text.length() ? Character.digit(text.charAt(i + 2), 16) : -1;
                if (high < 0 || low < 0) return Optional.empty();
                bytes[n++] = (byte) (high << 4 | low);
                i += 2;
            } else {
                bytes[n++] = c == '+' ? (byte) ' ' : (byte) c;
            }
            plain &= bytes[n - 1] >= 0x20 && bytes[n - 1] != 0x7f;
        }
        if (plain) return Optional.of(new String(bytes, 0, n, StandardCharsets.US_ASCII));
        try {
            String decoded = StandardCharsets.UTF_8
                    .newDecoder()
                    .decode(ByteBuffer.wrap(bytes, 0, n))
                    .toString();
            return decoded.chars().anyMatch(c -> c < 0x20 || c == 0x7f) ? Optional.empty() : Optional.of(decoded);
        } catch (CharacterCodingException notUtf8) {
            return Optional.empty();
        }
    }

    public Optional<String> one(String name) {
        List<String> all = values.get(name);
        return all == null ? Optional.empty() : Optional.of(all.getFirst());
    }

    public java.util.Set<String> names() {
        return values.keySet();
    }

    public List<String> all(String name) {
        return values.getOrDefault(name, List.of());
    }

    /** The first parameter that is there twice and may not be: all but those named (RFC 6749 §3.2, RFC 8707 §2). */
    public Optional<String> repeated(String... mayRepeat) {
        List<String> allowed = List.of(mayRepeat);
        return values.entrySet().stream()
                .filter(it -> it.getValue().size() > 1 && !allowed.contains(it.getKey()))
                .map(Map.Entry::getKey)
                .findFirst();
    }

    /** Names only: values may be secrets. */
    @Override
    public String toString() {
        return "FormParameters" + values.keySet();
    }
}
