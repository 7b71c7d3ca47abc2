package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;
import java.util.List;

/**
 * For which clients a scope is approved ahead: one that fits has it as soon as it requests it.
 *
 * @param owners e-mail addresses
 * @param sentence whom it is for, as people say it
 * @param clients how many have the scope by it now
 */
public record StandingApprovalView(
        String api,
        String scope,

        @OneOf({"machine", "web", "browser", "native", "device"})
        List<String> kinds,

        List<String> tags,
        List<String> owners,
        @JsonProperty("set_by") String setBy,
        @JsonProperty("set_at") Instant setAt,
        String sentence,
        long clients) {}
