package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;

/**
 * A scope of an API.
 *
 * @param effect reads, changes or both
 * @param reach own or everyone
 * @param holders people, clients or both
 * @param approver person or administrator
 * @param byRole whether only people with a role hold it
 * @param life draft, in-use or closing, the last with closes_on
 */
public record ScopeView(
        String id,
        String name,
        String api,
        String effect,
        String reach,
        String holders,
        String words,
        @JsonProperty("words_for_person") String wordsForPerson,
        String approver,
        @JsonProperty("by_role") boolean byRole,
        String life,
        @JsonProperty("closes_on") Instant closesOn,
        @JsonProperty("given_by_default") boolean givenByDefault,
        @JsonProperty("in_metadata") boolean inMetadata,
        @JsonProperty("standing_approval") StandingApprovalView standingApproval,
        long version) {}
