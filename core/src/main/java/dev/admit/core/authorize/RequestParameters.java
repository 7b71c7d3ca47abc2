package dev.admit.core.authorize;

import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * The parameters of an authorization request, each as often as it came. Empty values count as absent (RFC 6749 §3.1).
 */
public record RequestParameters(Map<String, List<String>> values) {
    Optional<String> one(String name) {
        return values.getOrDefault(name, List.of()).stream()
                .filter(value -> !value.isEmpty())
                .findFirst();
    }

    List<String> all(String name) {
        return values.getOrDefault(name, List.of()).stream()
                .filter(value -> !value.isEmpty())
                .toList();
    }

    /** One that came twice; only {@code resource} may (RFC 6749 §3.1, RFC 8707 §2). */
    Optional<String> repeated() {
        return values.entrySet().stream()
                .filter(it -> !it.getKey().equals("resource") && it.getValue().size() > 1)
                .map(Map.Entry::getKey)
                .findFirst();
    }
}
