package dev.admit.contract;

import org.jspecify.annotations.Nullable;

/**
 * A name that the texts of a route may be filled in with.
 *
 * @param name as it stands between the braces
 * @param means what it stands for
 * @param example what it held in the last request; null where none came
 */
public record PlaceholderView(
        String name, String means, @Nullable String example) {}
