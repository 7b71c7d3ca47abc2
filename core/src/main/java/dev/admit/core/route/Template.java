package dev.admit.core.route;

import com.samskivert.mustache.BasicCollector;
import com.samskivert.mustache.Escapers;
import com.samskivert.mustache.Mustache;
import com.samskivert.mustache.MustacheException;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;

/** A text with places that each request fills: {@code {{path.gauge}}}, {@code {{claims.sub}}}. It sees the maps that it is given, and no object's insides. */
public final class Template {
    /** How what is filled in is spelled, so that it stays a text within the text. */
    public enum Spelling {
        HEADER(value -> value.codePoints().filter(c -> c >= 0x20 && c < 0x7f).collect(StringBuilder::new, StringBuilder::appendCodePoint, StringBuilder::append).toString()),
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
        @Override public <K, V> Map<K, V> createFetcherCache() {
            return new HashMap<>();
        }
    }

    private final com.samskivert.mustache.Template template;
    private final boolean fixed;

    private Template(com.samskivert.mustache.Template template, boolean fixed) {
        this.template = template;
        this.fixed = fixed;
    }

    /** Why a text is no template; empty when it is. */
    static Optional<String> faultOf(String text) {
        String outside = text.replaceAll("\\{\\{\\{?[^{}]*}}}?", "");
        if (outside.contains("{{") || outside.contains("}}")) return Optional.of("one with a place that is not closed");
        try {
            read(text, Spelling.PLAIN);
            return Optional.empty();
        } catch (MustacheException broken) {
            return Optional.of(String.valueOf(broken.getMessage()));
        }
    }

    /** @param text that was looked at before, with {@link #faultOf} */
    public static Template read(String text, Spelling spelling) {
        // Three braces, and an ampersand, would leave the spelling out.
        String spelled = text.replaceAll("\\{\\{\\{\\s*([^{}]*?)\\s*}}}", "{{$1}}").replaceAll("\\{\\{\\s*&", "{{");
        return new Template(Mustache.compiler().withEscaper(spelling.escaper).withCollector(new MapsOnly()).defaultValue("")
                .withLoader(name -> {
                    throw new MustacheException("a template that brings in another one");
                }).compile(spelled), !text.contains("{{"));
    }

    /** Whether it says the same for every request. */
    public boolean isFixed() {
        return fixed;
    }

    public String on(Map<String, Object> values) {
        return template.execute(values);
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
