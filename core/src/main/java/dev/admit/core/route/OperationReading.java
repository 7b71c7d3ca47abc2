package dev.admit.core.route;

import dev.admit.core.change.Fields;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.SortedSet;
import java.util.TreeSet;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/** Reads methods and a path as people write them, and says what cannot be taken. */
public final class OperationReading {
    private static final Pattern METHOD = Pattern.compile("[A-Z]{1,20}");

    private OperationReading() {}

    /** @return in upper case; empty for any */
    public static SortedSet<String> methods(Fields fields, String pointer, @Nullable List<String> wanted) {
        SortedSet<String> methods = new TreeSet<>();
        List<String> received = wanted == null ? List.of() : wanted;
        for (int i = 0; i < received.size(); i++) {
            String method =
                    received.get(i) == null ? "" : received.get(i).strip().toUpperCase(Locale.ROOT);
            if (!METHOD.matcher(method).matches() || method.equals("CONNECT") || method.equals("TRACE")) {
                fields.fault(
                        pointer + "/" + i,
                        "an HTTP method such as GET, but not CONNECT or TRACE",
                        Fields.quoted(method),
                        "Name the methods, or leave them out for any.");
            }
            methods.add(method);
        }
        return methods;
    }

    /** @return empty, with a fault, when it can never match a request */
    public static Optional<PathPattern> path(Fields fields, String pointer, @Nullable String path) {
        String text = path == null ? "" : path.strip();
        return switch (PathPattern.read(text)) {
            case PathPattern.Reading.Good(PathPattern pattern) -> Optional.of(pattern);
            case PathPattern.Reading.Impossible(String expected, String fix) -> {
                fields.fault(pointer, expected, text.isEmpty() ? "nothing" : Fields.quoted(text), fix);
                yield Optional.empty();
            }
        };
    }
}
