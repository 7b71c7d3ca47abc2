package dev.admit.core.route;

import com.samskivert.mustache.BasicCollector;
import com.samskivert.mustache.Escapers;
import com.samskivert.mustache.Mustache;
import com.samskivert.mustache.MustacheException;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/**
 * A text with places that each request fills: {@code {{path.gauge}}}, {@code {{claims.sub}}}. It sees the maps that it
 * is given, and no object's insides.
 */
public final class Template {
    /** How what is filled in is spelled, so that it stays a text within the text. */
    public enum Spelling {
        HEADER(value -> value.codePoints()
                .filter(c -> c >= 0x20 && c < 0x7f)
                .collect(StringBuilder::new, StringBuilder::appendCodePoint, StringBuilder::append)
                .toString()),
        PLAIN(value -> value),
        HTML(Escapers.HTML),
        JSON(Template::json);

        private final Mustache.Escaper escaper;

        Spelling(Mustache.Escaper escaper) {
            this.escaper = escaper;
        }

        /** @param contentType of what is written */
        public static Spelling of(String contentType) {
            String type = contentType.toLowerCase(java.util.Locale.ROOT);
            if (type.contains("json")) return JSON;
            return type.contains("html") || type.contains("xml") ? HTML : PLAIN;
        }
    }

    private static final class MapsOnly extends BasicCollector {
        @Override
        public <K, V> Map<K, V> createFetcherCache() {
            return new HashMap<>();
        }
    }

    /**
     * A place, a section or its end, or a remark. Anything else of Mustache, such as bringing in a file or writing
     * places otherwise, is not for routes.
     */
    private static final Pattern TAG =
            Pattern.compile("\\{\\{\\{?\\s*&?\\s*(?:[#^/]?\\s*[A-Za-z0-9_.-]+|![^{}]*)\\s*}?}}");

    private final String text;
    /** Null where the text says the same for every request. */
    private final com.samskivert.mustache.@Nullable Template template; // null for a text that stays as it is

    private Template(String text, com.samskivert.mustache.@Nullable Template template) {
        this.text = text;
        this.template = template;
    }

    /** Why a text is no template; empty when it is one, or says the same for every request. */
    static Optional<String> faultOf(String text) {
        if (TAG.matcher(text).replaceAll("").contains("{{"))
            return Optional.of("a place that is no name, section or remark, or is not closed");
        try {
            compiled(text, Spelling.PLAIN);
            return Optional.empty();
        } catch (MustacheException broken) {
            return Optional.of(String.valueOf(broken.getMessage()));
        }
    }

    /**
     * A text that is no template, because it was kept before there were any, stays as it is: one route must not keep
     * all others from being compiled.
     */
    public static Template read(String text, Spelling spelling) {
        boolean fixed = !text.contains("{{") || faultOf(text).isPresent();
        return new Template(text, fixed ? null : compiled(text, spelling));
    }

    private static com.samskivert.mustache.Template compiled(String text, Spelling spelling) {
        // Three braces, and an ampersand, would leave the spelling out.
        String spelled =
                text.replaceAll("\\{\\{\\{\\s*([^{}]*?)\\s*}}}", "{{$1}}").replaceAll("\\{\\{\\s*&", "{{");
        return Mustache.compiler()
                .withEscaper(spelling.escaper)
                .withCollector(new MapsOnly())
                .defaultValue("")
                .compile(spelled);
    }

    /** Whether it says the same for every request. */
    public boolean isFixed() {
        return template == null;
    }

    public String on(Map<String, Object> values) {
        return template == null ? text : template.execute(values);
    }

    private static String json(String value) {
        StringBuilder out = new StringBuilder(value.length() + 8);
        for (int i = 0; i < value.length(); i++) {
            char c = value.charAt(i);
            if (c == '"' || c == '\\') out.append('\\').append(c);
            else if (c < 0x20 || c == '<' || c == 0x2028 || c == 0x2029) out.append("\\u%04x".formatted((int) c));
            else out.append(c);
        }
        return out.toString();
    }
}
