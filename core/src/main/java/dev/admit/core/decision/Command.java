package dev.admit.core.decision;

import java.util.List;
import java.util.Optional;
import java.util.Set;
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

    /** Each part takes all it can at once: a long word would else use up the stack. */
    private static final Pattern WORD = Pattern.compile("(?:\\\\'|[^\\s'\\\\]++|'[^']*+')++");

    /** What is done at the service, or names its issuer itself. */
    private static final Set<String> OF_NO_ISSUER = Set.of("issuer", "server", "service");

    private Command() {}

    /**
     * @param words without {@code admit}, as they are meant.
     * @return the line, without an issuer
     */
    public static String of(String... words) {
        return "admit "
                + String.join(" ", List.of(words).stream().map(Command::quoted).toList());
    }

    /** An act as a line of the command line. */
    public static String line(Action action) {
        StringBuilder line =
                new StringBuilder(of(Stream.concat(Stream.of(action.thing(), action.act()), action.on().stream())
                        .toArray(String[]::new)));
        for (Action.Option option : action.options()) {
            line.append(" --").append(option.name());
            if (!option.value().isEmpty()) line.append(' ').append(quoted(option.value()));
        }
        if (!action.issuer().isEmpty() && !OF_NO_ISSUER.contains(action.thing()))
            line.append(" --issuer ").append(quoted(action.issuer()));
        return line.toString();
    }

    /**
     * An act from its line, as decisions were kept once.
     *
     * @param line as {@link #line} writes it.
     * @return empty where it is no such line
     */
    public static Optional<Action> read(String line) {
        List<String> words = WORD.matcher(line)
                .results()
                .map(it ->
                        it.group().replace("'\\''", "\u0000").replace("'", "").replace('\u0000', '\''))
                .toList();
        if (words.size() < 3 || !words.getFirst().equals("admit")) return Optional.empty();
        List<String> on = words.subList(3, words.size()).stream()
                .takeWhile(it -> !it.startsWith("--"))
                .toList();
        Action action = Action.of(words.get(1), words.get(2), on.toArray(String[]::new));
        for (int i = 3 + on.size(); i < words.size(); i++) {
            if (!words.get(i).startsWith("--")) return Optional.empty();
            boolean valued = i + 1 < words.size() && !words.get(i + 1).startsWith("--");
            String name = words.get(i).substring(2);
            String value = valued ? words.get(++i) : "";
            action = name.equals("issuer") ? action.at(value) : action.with(name, value);
        }
        return Optional.of(action);
    }

    /** A word as a POSIX shell takes it. */
    public static String quoted(String word) {
        return PLAIN.matcher(word).matches() ? word : "'" + word.replace("'", "'\\''") + "'";
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
