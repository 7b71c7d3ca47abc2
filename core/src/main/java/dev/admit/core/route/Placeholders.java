package dev.admit.core.route;

import java.util.ArrayDeque;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** The names that a text of a route may be filled in with, and what each stands for. */
public final class Placeholders {
    private static final Pattern NAME = Pattern.compile("\\{\\{\\{?\\s*&?\\s*([#^/]?)\\s*([A-Za-z0-9_.-]+)\\s*}?}}");

    private static final Map<String, String> OF_REFUSALS = refusals();

    private Placeholders() {}

    /**
     * Of headers and of a fixed response.
     *
     * @return name → what it stands for; {@code claims.NAME} is any claim of the token
     */
    public static Map<String, String> of(PathPattern pattern) {
        Map<String, String> names = new LinkedHashMap<>();
        names.put("decision", "the id of the decision on this request");
        names.put("route", "the route, by its methods and path");
        names.put("method", "the method of the request");
        pattern.parts().forEach(part -> {
            if (part instanceof PathPattern.Part.Named(String name))
                names.put("path." + name, "the segment {%s} of the path".formatted(name));
        });
        names.put("claims.NAME", "any claim of the token, such as claims.sub or claims.client_id");
        return names;
    }

    /** Of what a refusal says. */
    public static Map<String, String> ofRefusals() {
        return OF_REFUSALS;
    }

    private static Map<String, String> refusals() {
        Map<String, String> names = new LinkedHashMap<>();
        names.put("sentence", "what was expected, what came and what to do");
        names.put("expected", "what was expected");
        names.put("received", "what was received");
        names.put("fix", "what to do");
        names.put("status", "the HTTP status");
        names.put("reason", "the reason, such as insufficient-scope");
        names.put("needed", "the scopes that the route needs");
        names.put("decision", "the id of the decision");
        names.put("route", "the route, by its methods and path");
        return names;
    }

    /**
     * The first name in a text that stands for nothing there; empty when all are known. Within a section the names are
     * those of what the section is about.
     */
    static Optional<String> unknown(String text, Map<String, String> known) {
        Deque<String> sections = new ArrayDeque<>();
        Matcher names = NAME.matcher(text);
        while (names.find()) {
            String kind = names.group(1);
            String name = names.group(2);
            if (kind.equals("/")) {
                sections.poll();
                continue;
            }
            if (sections.isEmpty() && !isKnown(name, known)) return Optional.of(name);
            if (!kind.isEmpty()) sections.push(name);
        }
        return Optional.empty();
    }

    private static boolean isKnown(String name, Map<String, String> known) {
        if (known.containsKey(name)) return true;
        boolean whole =
                known.keySet().stream().anyMatch(it -> it.startsWith(name + ".")); // claims or path, for a section
        return whole || name.startsWith("claims.") && known.containsKey("claims.NAME");
    }

    static String listed(Map<String, String> known) {
        return String.join(", ", List.copyOf(known.keySet()));
    }
}
