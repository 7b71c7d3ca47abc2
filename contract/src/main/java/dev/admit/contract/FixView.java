package dev.admit.contract;

import org.jspecify.annotations.Nullable;

/**
 * What would turn a refusal into a pass.
 *
 * @param sentence what to do
 * @param action the act that does it; null where there is none
 * @param command the same for the command line, ready to run
 * @param who acts when it is not the caller; may be null
 */
public record FixView(
        String sentence,
        @Nullable ActionView action,
        @Nullable String command,
        @Nullable String who) {}
