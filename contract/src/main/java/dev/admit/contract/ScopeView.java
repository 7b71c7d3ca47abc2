package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;
import org.jspecify.annotations.Nullable;

/**
 * A scope of an API.
 *
 * @param consequence what holding it allows, with {whose} where the reader finds whose things it reaches
 * @param consequenceReads the same as its readers find it
 * @param effect reads, changes or both
 * @param reach own or everyone
 * @param forWhom people, clients or both
 * @param approver person or administrator
 * @param byRole whether only people with a role hold it
 * @param status draft, in-use or closing, the last with closes_on
 */
public record ScopeView(
        String id,
        String name,
        String api,
        @OneOf({"reads", "changes", "both"}) String effect,
        @OneOf({"own", "everyone"}) String reach,

        @OneOf({"people", "clients", "both"}) @JsonProperty("for")
        String forWhom,

        String consequence,
        @JsonProperty("consequence_reads") Reads consequenceReads,
        @OneOf({"person", "administrator"}) String approver,
        @JsonProperty("by_role") boolean byRole,
        @OneOf({"draft", "in-use", "closing"}) String status,
        @JsonProperty("closes_on") @Nullable Instant closesOn,
        boolean listed,
        @JsonProperty("standing_approval") @Nullable StandingApprovalView standingApproval,
        long version) {

    /** The consequence for the person who is asked, and for an administrator. */
    public record Reads(String person, String administrator) {}
}
