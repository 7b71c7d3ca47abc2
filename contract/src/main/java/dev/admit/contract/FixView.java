package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import org.jspecify.annotations.Nullable;

/**
 * What would turn a refusal into a pass.
 *
 * @param sentence what to do
 * @param doneBy the act that does it; null where there is none
 * @param command the same for the command line, ready to run
 * @param who acts when it is not the caller; may be null
 */
public record FixView(
        String sentence,
        @JsonProperty("done_by") @Nullable ActionView doneBy,
        @Nullable String command,
        @Nullable String who) {}
