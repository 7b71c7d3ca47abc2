package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;

/**
 * An error answer (RFC 9457).
 *
 * @param reason our word, which never changes
 * @param wouldBreak what stops working, where a confirmation is wanted
 * @param confirm the word to confirm with
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record Problem(
        String type,
        String title,
        Integer status,
        String detail,
        String reason,
        String expected,
        String received,
        FixView fix,
        List<FaultView> faults,
        @JsonProperty("would_break") List<String> wouldBreak,
        String confirm,
        String decision) {}
