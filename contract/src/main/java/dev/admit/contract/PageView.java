package dev.admit.contract;

import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * One page of a list.
 *
 * @param next the cursor for the page after it; null on the last
 */
public record PageView<T>(List<T> items, @Nullable String next) {}
