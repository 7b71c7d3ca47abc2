package dev.admit.core.trust;

import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/** Where a claim stands: by its name, or by a JSON Pointer (RFC 6901 §3) when it begins with a slash. */
record ClaimAt(List<String> steps) {
    private static final Pattern WORD = Pattern.compile("[!#-\\[\\]-~]{1,255}");
    private static final Pattern ID = Pattern.compile("[!-~]{1,255}");

    static ClaimAt of(String text) {
        if (!text.startsWith("/")) return new ClaimAt(List.of(text));
        return new ClaimAt(Arrays.stream(text.substring(1).split("/", -1))
                .map(step -> step.replace("~1", "/").replace("~0", "~"))
                .toList());
    }

    Optional<Object> in(Map<String, Object> claims) {
        Object at = claims;
        for (String step : steps) at = at instanceof Map<?, ?> deeper ? deeper.get(step) : null;
        return Optional.ofNullable(at);
    }

    /**
     * Words separated by spaces, or a list of them, of the characters of RFC 6749 §3.3; what is something else is none.
     */
    List<String> wordsIn(Map<String, Object> claims) {
        Stream<?> all =
                switch (in(claims).orElse("")) {
                    case String text -> Stream.of(text.split(" "));
                    case List<?> many -> many.stream();
                    default -> Stream.of();
                };
        return all.filter(String.class::isInstance)
                .map(String.class::cast)
                .filter(WORD.asMatchPredicate())
                .toList();
    }

    /**
     * An id as it can stand in a header (RFC 7519 §4.1.2 leaves it open; OpenID Connect Core §2 has at most 255 ASCII
     * characters).
     */
    Optional<String> idIn(Map<String, Object> claims) {
        return in(claims)
                .filter(String.class::isInstance)
                .map(String.class::cast)
                .filter(ID.asMatchPredicate());
    }
}
