package dev.admit.cli;

import dev.admit.contract.StepsView;
import java.io.PrintWriter;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/**
 * How commands speak: tables of at most 100 columns, colour on a terminal only, marks that tell a verdict by word and
 * shape too.
 */
final class Output {
    private static final int WIDTH = 100;
    private static final int LEAST = 10; // no column is narrower, unless all that it holds is
    private static final String GAP = "  ";

    private final PrintWriter out;
    private final boolean colour;
    private final String meaning;

    /** @param meaning options that a command shown as the next step needs, to mean the same server and issuer */
    Output(PrintWriter out, boolean colour, String meaning) {
        this.out = out;
        this.colour = colour;
        this.meaning = meaning;
    }

    void line(String text) {
        out.println(text);
        out.flush();
    }

    void json(Object value) {
        line(Http.JSON.writeValueAsString(value));
    }

    /** One line of what is now true, one line of what usually comes next. */
    void done(String now, @Nullable String next) {
        line(now);
        if (next != null) line(faint("Next: ") + next + (next.startsWith("admit ") ? meaning : ""));
    }

    /** What was tried, one step a line. */
    void steps(StepsView all) {
        int widest =
                all.steps().stream().mapToInt(it -> it.step().length()).max().orElse(0);
        for (StepsView.Step it : all.steps())
            line(verdict(it.good() ? "passed" : "refused").replaceFirst(" .*", "") + " " + it.step()
                    + " ".repeat(widest - it.step().length()) + "  " + plain(it.said()));
    }

    void notes(@Nullable List<String> notes) {
        if (notes != null) notes.forEach(note -> line(faint("Note: ") + note));
    }

    /** Prints rows under headings; the last column gives way when the rest is wide. */
    void table(List<String> headings, List<List<String>> rows) {
        table(headings, rows, headings.size() - 1);
    }

    /**
     * @param yielding the column that is cut when the rest is wide; what another column cannot hold stands whole, for
     *     names are copied, and its row goes on beneath
     */
    void table(List<String> headings, List<List<String>> rows, int yielding) {
        int[] widths = new int[headings.size()];
        for (int c = 0; c < widths.length; c++) {
            widths[c] = headings.get(c).length();
            for (List<String> row : rows)
                widths[c] = Math.max(widths[c], plain(row.get(c)).length());
        }
        widths[yielding] = Math.min(widths[yielding], Math.max(LEAST, WIDTH - across(widths) + widths[yielding]));
        for (int over = across(widths) - WIDTH; over > 0; over = across(widths) - WIDTH) {
            int widest = IntStream.range(0, widths.length)
                    .boxed()
                    .max(Comparator.comparingInt(c -> widths[c]))
                    .orElseThrow();
            int least = Math.max(LEAST, headings.get(widest).length());
            if (widths[widest] <= least) break;
            widths[widest] = Math.max(least, widths[widest] - over);
        }
        line(faint(row(headings, widths, yielding)));
        for (List<String> row : rows) line(row(row, widths, yielding));
    }

    private static int across(int[] widths) {
        return IntStream.of(widths).sum() + GAP.length() * (widths.length - 1);
    }

    private String row(List<String> cells, int[] widths, int yielding) {
        StringBuilder text = new StringBuilder();
        int start = 0;
        for (int c = 0; c < widths.length; c++) {
            String cell = plain(cells.get(c));
            if (c == yielding && cell.length() > widths[c]) cell = cell.substring(0, widths[c] - 1) + "…";
            text.append(marked(cell));
            start += widths[c] + GAP.length();
            if (cell.length() > widths[c]) text.append('\n').append(" ".repeat(start));
            else text.append(" ".repeat(widths[c] - cell.length())).append(GAP);
        }
        return text.toString().stripTrailing();
    }

    /** A cell in the colour of the mark that it begins with. */
    private String marked(String cell) {
        return switch (cell.isEmpty() ? ' ' : cell.charAt(0)) {
            case '●' -> coloured("32", cell);
            case '◐' -> coloured("33", cell);
            case '⊟' -> coloured("31", cell);
            default -> cell;
        };
    }

    /** Name and value pairs, one a line; long values go on under themselves. */
    void fields(@Nullable Object... namesAndValues) {
        int widest = 0;
        for (int i = 0; i < namesAndValues.length; i += 2) {
            if (hasText(namesAndValues[i + 1]))
                widest = Math.max(widest, namesAndValues[i].toString().length());
        }
        for (int i = 0; i < namesAndValues.length; i += 2) {
            if (!hasText(namesAndValues[i + 1])) continue;
            String name = namesAndValues[i].toString();
            List<String> lines = wrapped(plain(namesAndValues[i + 1].toString()), WIDTH - widest - 2);
            line(faint(name + " ".repeat(widest - name.length())) + "  " + lines.getFirst());
            for (String more : lines.subList(1, lines.size())) line(" ".repeat(widest + 2) + more);
        }
    }

    /**
     * A verdict and a sentence, which goes on beneath itself.
     *
     * @param columns how wide the verdict shows
     */
    void told(String verdict, int columns, String sentence) {
        List<String> lines = wrapped(sentence, WIDTH - columns - 2);
        line(verdict + "  " + lines.getFirst());
        for (String more : lines.subList(1, lines.size())) line(" ".repeat(columns + 2) + more);
    }

    /** A sentence that ends with a command: the command on a line of its own, whole, so that it can be copied. */
    void hint(String name, String sentence) {
        int command = sentence.indexOf("admit ");
        fields(name, command < 0 ? sentence : sentence.substring(0, command).stripTrailing());
        if (command >= 0) line(" ".repeat(name.length() + 2) + plain(sentence.substring(command)) + meaning);
    }

    private static boolean hasText(@Nullable Object value) {
        return value != null && !value.toString().isEmpty();
    }

    static List<String> wrapped(String text, int width) {
        List<String> lines = new ArrayList<>();
        for (String paragraph : text.split("\n")) {
            StringBuilder line = new StringBuilder();
            for (String word : paragraph.split(" ")) {
                if (!line.isEmpty() && line.length() + 1 + word.length() > width) {
                    lines.add(line.toString());
                    line.setLength(0);
                }
                if (!line.isEmpty()) line.append(' ');
                line.append(word);
            }
            lines.add(line.toString());
        }
        return lines;
    }

    /** A verdict told by shape, word and colour together. */
    String verdict(String verdict) {
        return switch (verdict) {
            case "admitted", "granted", "passed", "active" -> coloured("32", mark(verdict));
            case "waiting", "upcoming", "retiring", "paused" -> coloured("33", mark(verdict));
            case "skipped", "retired", "answered", "ended" -> faint(mark(verdict));
            default -> coloured("31", mark(verdict));
        };
    }

    /** The same mark without colour, for tables, whose columns count characters. */
    static String mark(String verdict) {
        return switch (verdict) {
            case "admitted", "granted", "passed", "active" -> "● " + verdict;
            case "waiting", "upcoming", "retiring", "paused" -> "◐ " + verdict;
            case "skipped", "retired", "answered", "ended" -> "· " + verdict;
            default -> "⊟ " + verdict;
        };
    }

    String faint(String text) {
        return coloured("2", text);
    }

    String strong(String text) {
        return coloured("1", text);
    }

    private String coloured(String code, String text) {
        return colour ? "\u001b[" + code + "m" + text + "\u001b[0m" : text;
    }

    /** A value that came from elsewhere, without what would steer the terminal. */
    static String plain(String text) {
        return text.codePoints()
                .map(c -> c < 0x20 && c != '\n' || c >= 0x7f && c < 0xa0 ? '?' : c)
                .collect(StringBuilder::new, StringBuilder::appendCodePoint, StringBuilder::append)
                .toString();
    }

    /** "in 14 min (2026-…Z)": how people read a time, with the exact one beside it. */
    static String when(@Nullable Instant time, Instant now) {
        if (time == null) return "";
        return relative(time, now) + " (" + exact(time) + ")";
    }

    static String exact(Instant time) {
        return String.valueOf(time.truncatedTo(ChronoUnit.SECONDS));
    }

    static String relative(@Nullable Instant time, Instant now) {
        if (time == null) return "";
        Duration apart = Duration.between(now, time);
        String size = size(apart.abs());
        return apart.isNegative() ? size + " ago" : "in " + size;
    }

    private static String size(Duration length) {
        if (length.toSeconds() < 60) return length.toSeconds() + " s";
        if (length.toMinutes() < 60) return length.toMinutes() + " min";
        if (length.toHours() < 48) return length.toHours() + " h";
        return (length.toHours() + 12) / 24 + " days";
    }
}
