package dev.admit.core.route;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * What a path becomes on its way to the upstream: segments as they stand, {@code {name}} of the route's own pattern,
 * and {@code /**} for the rest.
 */
public final class PathRewrite {
    private final List<PathPattern.Part> parts;

    private PathRewrite(List<PathPattern.Part> parts) {
        this.parts = parts;
    }

    /**
     * Why a text cannot say what a path that the pattern matched becomes, as what is expected instead; empty when it
     * can.
     */
    static Optional<String> faultOf(String text, PathPattern pattern) {
        return switch (PathPattern.read(text)) {
            case PathPattern.Reading.Impossible(String expected, String fix) -> Optional.of(expected);
            case PathPattern.Reading.Good(PathPattern wanted) -> {
                Set<PathPattern.Part> there = Set.copyOf(pattern.parts());
                boolean unknown = wanted.parts().stream()
                        .anyMatch(part -> !(part instanceof PathPattern.Part.Literal) && !there.contains(part));
                yield unknown ? Optional.of("names, and /**, that the route's own path has") : Optional.empty();
            }
        };
    }

    /** @param text that was read before, with {@link #faultOf} */
    public static PathRewrite of(String text) {
        return switch (PathPattern.read(text)) {
            case PathPattern.Reading.Good(PathPattern pattern) -> new PathRewrite(pattern.parts());
            case PathPattern.Reading.Impossible(String expected, String fix) ->
                throw new IllegalArgumentException("expected " + expected);
        };
    }

    /**
     * @param named name → segment, decoded
     * @param rest what the pattern's {@code /**} matched, decoded.
     * @return encoded, so that it is read as it is meant
     */
    public String on(Map<String, String> named, List<String> rest) {
        List<String> segments = new ArrayList<>();
        for (PathPattern.Part part : parts) {
            switch (part) {
                case PathPattern.Part.Literal(String text) -> segments.add(text);
                case PathPattern.Part.Named(String name) -> segments.add(named.get(name));
                case PathPattern.Part.Rest all -> segments.addAll(rest);
            }
        }
        return RequestPath.encoded(segments);
    }
}
