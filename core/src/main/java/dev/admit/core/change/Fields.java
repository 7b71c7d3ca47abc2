package dev.admit.core.change;

import java.net.URI;
import java.net.URISyntaxException;
import java.time.Duration;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/**
 * Reads the fields of a change, collecting every fault rather than stopping at the first, and trimming what was pasted
 * with spaces around it.
 */
public final class Fields {
    private static final Pattern NAME = Pattern.compile("[a-z0-9]+(-[a-z0-9]+)*");
    private static final Pattern DURATION = Pattern.compile("(\\d{1,6})([smhd])");
    /** ASCII alone: of two addresses that look alike one might belong to another person. */
    private static final Pattern EMAIL = Pattern.compile(
            "(?!-)[a-z0-9.!#$%&'*+/=?^_`{|}~-]{1,64}@[a-z0-9]([a-z0-9-]*[a-z0-9])?(\\.[a-z0-9]([a-z0-9-]*[a-z0-9])?)+");

    private static final int EMAIL_LENGTH = 200;
    public static final int NAME_LENGTH = 60;
    public static final int TEXT_LENGTH = 200;
    public static final int LONG_TEXT_LENGTH = 1000;
    public static final int URI_LENGTH = 500;

    private final List<FieldFault> faults = new ArrayList<>();
    private final List<String> notes = new ArrayList<>();

    public List<FieldFault> faults() {
        return List.copyOf(faults);
    }

    public List<String> notes() {
        return List.copyOf(notes);
    }

    public boolean faulty() {
        return !faults.isEmpty();
    }

    public void note(String sentence) {
        notes.add(sentence);
    }

    /**
     * Says what a list has no more.
     *
     * @param kind what one of them is, such as {@code redirect URI}
     */
    public void removed(String kind, Collection<String> before, Collection<String> after) {
        List<String> gone = before.stream().filter(it -> !after.contains(it)).toList();
        if (!gone.isEmpty()) note("No longer there: the %s %s.".formatted(kind, String.join(", ", gone)));
    }

    public void fault(String pointer, String expected, String received, String fix) {
        faults.add(new FieldFault(pointer, expected, received, fix));
    }

    /** A name people choose: lower-case words with hyphens. Returns an empty text, and a fault, when it is none. */
    public String name(String pointer, @Nullable String value) {
        String trimmed = trimmed(pointer, value);
        String expected = "1 to " + NAME_LENGTH + " characters: lower-case words joined by single hyphens";
        if (trimmed.isEmpty()) return missing(pointer, expected);
        if (trimmed.length() > NAME_LENGTH || !NAME.matcher(trimmed).matches()) {
            fault(pointer, expected, quoted(trimmed), "Choose a name such as tide-buoy-07.");
            return "";
        }
        return trimmed;
    }

    /**
     * One line of text for people to read.
     *
     * @param otherwise the value when none came; null when it must come
     */
    public String line(String pointer, @Nullable String value, @Nullable String otherwise, int longest) {
        String trimmed = trimmed(pointer, value);
        if (trimmed.isEmpty()) {
            return otherwise != null ? otherwise : missing(pointer, "1 to " + longest + " characters on one line");
        }
        if (trimmed.length() > longest) {
            fault(pointer, "at most " + longest + " characters", trimmed.length() + " characters", "Shorten it.");
            return "";
        }
        Optional<String> hidden = hiddenCharacter(trimmed);
        if (hidden.isPresent()) {
            fault(pointer, "one line of visible text", hidden.get(), "Type it again without that character.");
            return "";
        }
        return trimmed;
    }

    /** Text of several lines, such as Markdown; empty where nothing is said. Line ends become single line feeds. */
    public String text(String pointer, @Nullable String value, int longest) {
        String text = value == null
                ? ""
                : value.replace("\r\n", "\n").replace('\r', '\n').strip();
        if (text.length() > longest) {
            fault(pointer, "at most " + longest + " characters", text.length() + " characters", "Shorten it.");
            return "";
        }
        Optional<String> hidden = hiddenCharacter(text.replace("\n", "").replace("\t", ""));
        if (hidden.isPresent()) {
            fault(pointer, "visible text", hidden.get(), "Type it again without that character.");
            return "";
        }
        return text;
    }

    /**
     * An absolute URI without a fragment (RFC 8707 §2).
     *
     * @return empty, with a fault, when it is none
     */
    public Optional<URI> absoluteUri(String pointer, @Nullable String value) {
        String trimmed = trimmed(pointer, value);
        String expected = "an absolute URI without a fragment, at most " + URI_LENGTH + " characters";
        if (trimmed.isEmpty()) {
            missing(pointer, expected);
            return Optional.empty();
        }
        try {
            URI uri = new URI(trimmed);
            boolean hostless = uri.getScheme() != null && uri.getScheme().matches("https?") && uri.getHost() == null;
            if (uri.isAbsolute() && uri.getRawFragment() == null && !hostless && trimmed.length() <= URI_LENGTH) {
                return Optional.of(uri);
            }
        } catch (URISyntaxException notOne) {
            // told below, with every other way of not being one
        }
        fault(pointer, expected, quoted(trimmed), "Give a URI such as https://tides.saltmarsh.example.");
        return Optional.empty();
    }

    /** An address that the gateway can call: {@code http} or {@code https}, a host, no query, no fragment, no login. */
    public Optional<URI> upstream(String pointer, @Nullable String value) {
        Optional<URI> uri = absoluteUri(pointer, value);
        if (uri.isEmpty()) return uri;
        URI it = uri.get();
        boolean callable = ("http".equals(it.getScheme()) || "https".equals(it.getScheme()))
                && it.getRawQuery() == null
                && it.getRawUserInfo() == null;
        if (callable) return Optional.of(URI.create(it.toString().replaceAll("/+$", "")));
        fault(
                pointer,
                "an http or https address without query or login",
                quoted(it.toString()),
                "Give the base address of the upstream, such as http://127.0.0.1:9481.");
        return Optional.empty();
    }

    /**
     * An address for mail, in lower case: something, one @, a host name. Whether mail arrives there only mail can tell.
     *
     * @return an empty text, with a fault, when it is none
     */
    public String email(String pointer, @Nullable String value) {
        String trimmed = trimmed(pointer, value).toLowerCase(java.util.Locale.ROOT);
        if (trimmed.isEmpty()) return missing(pointer, "an e-mail address");
        if (trimmed.length() <= EMAIL_LENGTH && EMAIL.matcher(trimmed).matches()) return trimmed;
        fault(
                pointer,
                "an e-mail address of at most " + EMAIL_LENGTH + " characters",
                quoted(trimmed),
                "Give one such as tobias.wren@saltmarsh.example.");
        return "";
    }

    /** One of the words that an enum allows, as it is written on the wire. */
    public <E extends Enum<E>> Optional<E> word(
            String pointer, @Nullable String value, Class<E> type, @Nullable E otherwise) {
        String trimmed = trimmed(pointer, value);
        if (trimmed.isEmpty() && otherwise != null) return Optional.of(otherwise);
        for (E constant : type.getEnumConstants()) {
            if (constant.toString().equals(trimmed)) return Optional.of(constant);
        }
        List<String> words = new ArrayList<>();
        for (E constant : type.getEnumConstants()) words.add(constant.toString());
        fault(
                pointer,
                "one of " + String.join(", ", words),
                trimmed.isEmpty() ? "nothing" : quoted(trimmed),
                "Choose one of them.");
        return Optional.empty();
    }

    /** A length of time written {@code 15m}, {@code 8h}, {@code 90d}. */
    public Optional<Duration> duration(
            String pointer, @Nullable String value, @Nullable Duration otherwise, Duration longest) {
        String trimmed = trimmed(pointer, value);
        if (trimmed.isEmpty() && otherwise != null) return Optional.of(otherwise);
        Matcher read = DURATION.matcher(trimmed);
        if (read.matches()) {
            ChronoUnit unit =
                    switch (read.group(2)) {
                        case "s" -> ChronoUnit.SECONDS;
                        case "m" -> ChronoUnit.MINUTES;
                        case "h" -> ChronoUnit.HOURS;
                        default -> ChronoUnit.DAYS;
                    };
            Duration duration = unit.getDuration().multipliedBy(Long.parseLong(read.group(1)));
            if (duration.isPositive() && duration.compareTo(longest) <= 0) return Optional.of(duration);
        }
        fault(
                pointer,
                "a time of at most %dd, such as 15m, 8h or 90d".formatted(longest.toDays()),
                quoted(trimmed),
                "Write a number and s, m, h or d.");
        return Optional.empty();
    }

    /** The same, of at least a second, where one is said. */
    public Optional<Duration> durationOrNone(String pointer, @Nullable String value, Duration longest) {
        return value == null || value.isBlank()
                ? Optional.empty()
                : duration(pointer, value, Duration.ofSeconds(1), longest);
    }

    /** A {@link #line}, where one is said. */
    public Optional<String> lineOrNone(String pointer, @Nullable String value, int longest) {
        return value == null || value.isBlank() ? Optional.empty() : Optional.of(line(pointer, value, null, longest));
    }

    /** A list that may have been left out. */
    public static <T> List<T> orNone(@Nullable List<T> some) {
        return some == null ? List.of() : some;
    }

    /** A length of time as {@link #duration} reads it, in the largest unit that is whole. */
    public static String written(Duration length) {
        long seconds = length.toSeconds();
        if (seconds % 86_400 == 0) return seconds / 86_400 + "d";
        if (seconds % 3_600 == 0) return seconds / 3_600 + "h";
        return seconds % 60 == 0 ? seconds / 60 + "m" : seconds + "s";
    }

    private String trimmed(String pointer, @Nullable String value) {
        if (value == null) return "";
        String trimmed = value.strip();
        if (trimmed.length() != value.length() && !trimmed.isEmpty()) {
            notes.add("Spaces around " + pointer.substring(1) + " were taken off.");
        }
        return trimmed;
    }

    private String missing(String pointer, String expected) {
        fault(pointer, expected, "nothing", "Add " + pointer.substring(1) + ".");
        return "";
    }

    /** Whether a text holds nothing but what can be read, on one line. */
    public static boolean isVisible(String text) {
        return hiddenCharacter(text).isEmpty();
    }

    private static Optional<String> hiddenCharacter(String text) {
        return text.codePoints()
                .filter(Fields::isHidden)
                .mapToObj("the character U+%04X"::formatted)
                .findFirst();
    }

    /** Controls, line breaks, invisible and direction-turning characters, lone surrogates: none is text to read. */
    private static boolean isHidden(int codePoint) {
        return switch (Character.getType(codePoint)) {
            case Character.CONTROL,
                    Character.FORMAT,
                    Character.LINE_SEPARATOR,
                    Character.PARAGRAPH_SEPARATOR,
                    Character.SURROGATE,
                    Character.PRIVATE_USE,
                    Character.UNASSIGNED -> true;
            default -> false;
        };
    }

    /** What came, short enough and plain enough to stand in a sentence. */
    public static String quoted(@Nullable String value) {
        if (value == null) return "nothing";
        String plain = value.codePoints()
                .limit(80)
                .collect(
                        StringBuilder::new, (to, c) -> to.appendCodePoint(isHidden(c) ? '?' : c), StringBuilder::append)
                .toString();
        return "'" + plain + (value.codePointCount(0, value.length()) > 80 ? "…'" : "'");
    }
}
