package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A plan as it is wanted; what is null stays as it is.
 *
 * @param title one line that people read
 * @param description what it is for, in Markdown
 * @param operations what it covers
 * @param rates such as '60 per 1m by client'
 * @param quotas such as '100000 per month by client'
 * @param approval automatic, or by an owner of one of its APIs
 * @param secretLifetime the longest that a new secret of a subscribed client lasts, such as 90d; empty for any
 * @param terms what has to be accepted, in Markdown; empty for nothing
 * @param keepUntil until when the subscriptions that there are keep what the plan was, such as 30d or 2027-01-31
 */
public record PlanWanted(
        @Nullable String name,
        @Nullable String title,
        @Nullable String description,
        @Nullable List<PlanOperation> operations,
        @Nullable List<String> rates,
        @Nullable List<String> quotas,
        @OneOf({"automatic", "owner"}) @Nullable String approval,
        @JsonProperty("secret_lifetime") @Nullable String secretLifetime,
        @Nullable String terms,
        @JsonProperty("keep_until") @Nullable String keepUntil) {
    public static final PlanWanted NOTHING = new PlanWanted(null, null, null, null, null, null, null, null, null, null);

    /** The same with a name; null for the one that it has. */
    public PlanWanted named(@Nullable String other) {
        return new PlanWanted(
                other, title, description, operations, rates, quotas, approval, secretLifetime, terms, keepUntil);
    }
}
