package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import org.jspecify.annotations.Nullable;

/**
 * A scope as it is wanted: consequence and approver are proposed when left out; what is left out of a change stays.
 *
 * @param effect reads, changes, or both
 * @param reach own or everyone: whose things it reaches
 * @param forWhom people, clients, or both
 * @param approver person or administrator; proposed when left out
 * @param byRole only people with a role hold it
 * @param closesOn from when on it is no longer granted
 * @param listed named in the issuer's public metadata
 */
public record ScopeWanted(
        @Nullable String name,
        @OneOf({"reads", "changes", "both"}) @Nullable String effect,
        @OneOf({"own", "everyone"}) @Nullable String reach,

        @OneOf({"people", "clients", "both"}) @JsonProperty("for") @Nullable
        String forWhom,

        @Nullable String consequence,
        @OneOf({"person", "administrator"}) @Nullable String approver,
        @JsonProperty("by_role") @Nullable Boolean byRole,
        @OneOf({"draft", "in-use", "closing"}) @Nullable String status,
        @JsonProperty("closes_on") @Nullable String closesOn,
        @Nullable Boolean listed,
        @JsonProperty("standing_approval") @Nullable StandingApprovalWanted standingApproval) {
    /** All as usual, or as it is. */
    public static final ScopeWanted NOTHING =
            new ScopeWanted(null, null, null, null, null, null, null, null, null, null, null);

    /** The same, by another name or by none. */
    public ScopeWanted named(@Nullable String other) {
        return new ScopeWanted(
                other,
                effect,
                reach,
                forWhom,
                consequence,
                approver,
                byRole,
                status,
                closesOn,
                listed,
                standingApproval);
    }
}
