package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;

/** A scope as it is wanted: consequence and approver are proposed when left out; what is left out of a change stays. */
public record ScopeWanted(
        String name,
        String effect,
        String reach,
        @JsonProperty("for") String forWhom,
        String consequence,
        String approver,
        @JsonProperty("by_role") Boolean byRole,
        String status,
        @JsonProperty("closes_on") String closesOn,
        Boolean listed,
        @JsonProperty("standing_approval") StandingApprovalWanted standingApproval) {}
