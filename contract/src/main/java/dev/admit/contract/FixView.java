package dev.admit.contract;

import org.jspecify.annotations.Nullable;

/**
 * What would turn a refusal into a pass.
 *
 * @param who acts when it is not the caller; may be null, as the command
 */
public record FixView(
        String sentence, @Nullable String command, @Nullable String who) {}
