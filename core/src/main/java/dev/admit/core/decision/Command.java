package dev.admit.core.decision;

import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/**
 * A line of Admit's command line that works as it stands: each word as a shell takes it, and the issuer that is meant.
 */
public final class Command {
    private static final Pattern PLAIN = Pattern.compile("[A-Za-z0-9._:@%+=,/-]+");
    /** A command at the end of a sentence, of a kind that is done at an issuer. */
    private static final Pattern AT_END = Pattern.compile(
            "\\badmit (?!issuer |server |service |sign-in|sign-out|completion)[a-z-]+ [a-z-]+( [^.]*|.*[^.])?$",
            Pattern.DOTALL);

    private Command() {}

    /**
     * @param words without {@code admit}, as they are meant.
     * @return the line, without an issuer
     */
    public static String of(String... words) {
        return "admit "
                + String.join(" ", List.of(words).stream().map(Command::quoted).toList());
    }

    /**
     * A command on a route.
     *
     * @param label methods and path, or a path alone, as routes are named
     * @param more what follows the route, as it is meant
     */
    public static String ofRoute(String act, String label, String... more) {
        Stream<String> words = Stream.of("route", act);
        return of(Stream.of(words, Stream.of(label.split(" ", 2)), Stream.of(more))
                .flatMap(it -> it)
                .toArray(String[]::new));
    }

    /** A word as a POSIX shell takes it. */
    public static String quoted(String word) {
        return PLAIN.matcher(word).matches() ? word : "'" + word.replace("'", "'\\''") + "'";
    }

    /**
     * The same line, its first argument called as people know the thing.
     *
     * @param id as it stands there now
     */
    public static String named(String line, String id, String name) {
        return line.replaceFirst(
                "^(admit [a-z-]+ [a-z-]+ )" + Pattern.quote(quoted(id)) + "(?= |$)",
                "$1" + Matcher.quoteReplacement(quoted(name)));
    }

    /**
     * A text that ends with a command, with the issuer named in it; any other text as it is.
     *
     * @param issuer empty for none
     */
    public static String at(String issuer, String text) {
        if (issuer.isEmpty() || text == null || text.contains("--issuer ")) return text;
        Matcher command = AT_END.matcher(text);
        return command.find() ? text + " --issuer " + issuer : text;
    }
}
