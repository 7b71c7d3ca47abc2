package dev.admit.contract;

import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Which route answers a method and path.
 *
 * @param answers null when none does
 * @param behind those that fit as well, in order
 * @param methods labels of routes that fit the path with other methods
 * @param said the same in sentences
 */
public record TriedView(@Nullable RouteView answers, List<Behind> behind, List<String> methods, List<String> said) {
    /** @param why it comes after the one before it */
    public record Behind(String route, String why) {}
}
