package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * An error answer (RFC 9457).
 *
 * @param reason our word, which never changes
 * @param wouldBreak what stops working, where a confirmation is wanted
 * @param confirm the word to confirm with
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record Problem(
        @Nullable String type,
        @Nullable String title,
        @Nullable Integer status,
        @Nullable String detail,
        @Nullable String reason,
        @Nullable String expected,
        @Nullable String received,
        @Nullable FixView fix,
        @Nullable List<FaultView> faults,
        @JsonProperty("would_break") @Nullable List<String> wouldBreak,
        @Nullable String confirm,
        @Nullable String decision) {}
