package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;

/** A scope as it is wanted: words and approver are proposed when left out; what is left out of a change stays. */
public record ScopeWanted(
        String name,
        String effect,
        String reach,
        String holders,
        String words,
        @JsonProperty("words_for_person") String wordsForPerson,
        String approver,
        @JsonProperty("by_role") Boolean byRole,
        String life,
        @JsonProperty("closes_on") String closesOn,
        @JsonProperty("given_by_default") Boolean givenByDefault,
        @JsonProperty("in_metadata") Boolean inMetadata,
        @JsonProperty("standing_approval") StandingApprovalWanted standingApproval) {}
