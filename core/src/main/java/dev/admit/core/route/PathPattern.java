package dev.admit.core.route;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;

/**
 * A path with places left open: {@code {name}} stands for one segment, {@code /**} at the end for the rest, which may
 * be nothing. It is written with decoded characters and matched segment by segment. A host may stand before it,
 * {@code tides.saltmarsh.example/tides/**}: then it is for requests to that host alone.
 *
 * @param host in lower case, without a port; empty for any
 */
public record PathPattern(String host, List<Part> parts) {
    private static final Pattern HOST =
            Pattern.compile("(?=.{1,253}/)[a-z0-9]([a-z0-9-]{0,61}[a-z0-9])?(\\.[a-z0-9]([a-z0-9-]{0,61}[a-z0-9])?)*/");
    private static final Pattern NAMED = Pattern.compile("\\{[a-z][a-z0-9_]*}");
    private static final int MOST_SEGMENTS = 30;
    private static final int LONGEST = 500;

    public sealed interface Part {
        record Literal(String text) implements Part {}

        record Named(String name) implements Part {}

        /** All that is left, also nothing. */
        record Rest() implements Part {}
    }

    public PathPattern {
        parts = List.copyOf(parts);
    }

    /** Whether the first segment is this text. */
    public boolean beginsWith(String segment) {
        return !parts.isEmpty() && parts.getFirst() instanceof Part.Literal(String text) && text.equals(segment);
    }

    /**
     * What its names stand for in a path that it matches.
     *
     * @param segments decoded
     */
    public Map<String, String> namesIn(List<String> segments) {
        Map<String, String> named = new LinkedHashMap<>();
        for (int i = 0; i < parts.size() && i < segments.size(); i++)
            if (parts.get(i) instanceof Part.Named(String name)) named.put(name, segments.get(i));
        return named;
    }

    /** What its end leaves open in a path that it matches; nothing where it leaves nothing open. */
    public List<String> restOf(List<String> segments) {
        boolean open = !parts.isEmpty() && parts.getLast() instanceof Part.Rest;
        return open && segments.size() >= parts.size()
                ? segments.subList(parts.size() - 1, segments.size())
                : List.of();
    }

    /**
     * @param to the host that the request is for, in lower case
     * @param segments decoded
     */
    public boolean fits(String to, List<String> segments) {
        return (host.isEmpty() || host.equals(to)) && fits(segments);
    }

    private boolean fits(List<String> segments) {
        for (int i = 0; i < parts.size(); i++) {
            switch (parts.get(i)) {
                case Part.Rest rest -> {
                    return true;
                }
                case Part.Literal(String text) -> {
                    if (i >= segments.size() || !segments.get(i).equals(text)) return false;
                }
                case Part.Named named -> {
                    if (i >= segments.size() || segments.get(i).isEmpty()) return false;
                }
            }
        }
        return parts.size() == segments.size();
    }

    /** Whether there is a request that both match. */
    public boolean overlaps(PathPattern other) {
        if (!host.isEmpty() && !other.host.isEmpty() && !host.equals(other.host)) return false;
        for (int i = 0; ; i++) {
            Part mine = i < parts.size() ? parts.get(i) : null;
            Part its = i < other.parts.size() ? other.parts.get(i) : null;
            if (mine instanceof Part.Rest || its instanceof Part.Rest) return true;
            if (mine == null || its == null) return mine == its;
            if (mine instanceof Part.Literal one && its instanceof Part.Literal two && !one.equals(two)) return false;
        }
    }

    /** What a pattern came to, or why it can never match a request. */
    public sealed interface Reading {
        record Good(PathPattern pattern) implements Reading {}

        /**
         * @param expected what a pattern must be
         * @param fix what to do
         */
        record Impossible(String expected, String fix) implements Reading {}
    }

    public static Reading read(String text) {
        int slash = text.indexOf('/');
        String host = slash < 0 ? "" : text.substring(0, slash).toLowerCase(java.util.Locale.ROOT);
        if (slash < 0 || slash > 0 && !HOST.matcher(host + "/").matches())
            return new Reading.Impossible(
                    "a path that begins with /, or with a host and /",
                    "Write such as /tides/** or tides.saltmarsh.example/tides/**, the host without a port.");
        if (text.length() > LONGEST) {
            return new Reading.Impossible("at most " + LONGEST + " characters", "Shorten the pattern.");
        }
        String path = text.substring(slash);
        if (path.equals("/")) return new Reading.Good(new PathPattern(host, List.of()));
        String[] segments = path.substring(1).split("/", -1);
        if (segments.length > MOST_SEGMENTS) {
            return new Reading.Impossible("at most " + MOST_SEGMENTS + " segments", "End it earlier, with /**.");
        }
        List<Part> parts = new ArrayList<>();
        Set<String> names = new HashSet<>();
        for (int i = 0; i < segments.length; i++) {
            String segment = segments[i];
            boolean last = i == segments.length - 1;
            Optional<Reading> fault = faultOf(segment, last);
            if (fault.isPresent()) return fault.get();
            if (segment.equals("**")) {
                parts.add(new Part.Rest());
            } else if (NAMED.matcher(segment).matches()) {
                if (!names.add(segment)) {
                    return new Reading.Impossible("each name once", "Give the second " + segment + " another name.");
                }
                parts.add(new Part.Named(segment.substring(1, segment.length() - 1)));
            } else {
                parts.add(new Part.Literal(segment));
            }
        }
        if (parts.getFirst() instanceof Part.Literal(String first)
                && (first.equals(".well-known") || first.equals("_admit"))) {
            return new Reading.Impossible(
                    "a path outside /.well-known/ and /_admit/, which are the gateway's own",
                    "Choose another first segment.");
        }
        return new Reading.Good(new PathPattern(host, parts));
    }

    private static Optional<Reading> faultOf(String segment, boolean last) {
        if (segment.isEmpty() && !last) {
            return impossible("no empty segment: the gateway refuses doubled slashes", "Take one slash out.");
        }
        if (segment.equals(".") || segment.equals("..")) {
            return impossible("no dot segment: the gateway refuses them", "Write the path that is meant.");
        }
        if (segment.equals("**")) {
            return last
                    ? Optional.empty()
                    : impossible("/** only at the end", "Use {name} for a segment in the middle.");
        }
        if (NAMED.matcher(segment).matches()) return Optional.empty();
        if (segment.contains("*") || segment.contains("{") || segment.contains("}")) {
            return impossible(
                    "{name} for one whole segment, with a name such as berth or berth_no, or /** at the end",
                    "Write the segment as one of these, or without * { }.");
        }
        for (int i = 0; i < segment.length(); i++) {
            char c = segment.charAt(i);
            if (c < 0x20 || c == 0x7f || ";\\?#%".indexOf(c) >= 0) {
                return impossible(
                        "no control character and none of ; \\ ? # % : no request with them gets this far",
                        "Write decoded characters; the gateway does the encoding.");
            }
        }
        return Optional.empty();
    }

    private static Optional<Reading> impossible(String expected, String fix) {
        return Optional.of(new Reading.Impossible(expected, fix));
    }

    /** The pattern without its names: two patterns of one shape match the same requests. */
    public String shape() {
        StringBuilder shape = new StringBuilder();
        for (Part part : parts) {
            shape.append('/')
                    .append(
                            switch (part) {
                                case Part.Literal(String text) -> text;
                                case Part.Named named -> "{}";
                                case Part.Rest rest -> "**";
                            });
        }
        return host + (shape.isEmpty() ? "/" : shape.toString());
    }

    @Override
    public String toString() {
        StringBuilder text = new StringBuilder();
        for (Part part : parts) {
            text.append('/')
                    .append(
                            switch (part) {
                                case Part.Literal(String literal) -> literal;
                                case Part.Named(String name) -> "{" + name + "}";
                                case Part.Rest rest -> "**";
                            });
        }
        return host + (text.isEmpty() ? "/" : text.toString());
    }
}
