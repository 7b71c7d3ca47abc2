package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A plan.
 *
 * @param description in Markdown
 * @param secretLifetime the longest that a new secret of a subscribed client lasts; null for any
 * @param terms in Markdown; empty for nothing to accept
 * @param termsVersion counts what the terms were; to be named by the one who accepts them
 * @param subscriptions how many are active or paused
 * @param waiting how many wait for approval
 * @param earlier what subscriptions that began before a change keep for a while
 * @param sentences what it gives, in words
 */
public record PlanView(
        String id,
        String name,
        String title,
        String description,
        List<PlanOperation> operations,
        List<String> rates,
        List<String> quotas,
        @OneOf({"automatic", "owner"}) String approval,
        @JsonProperty("secret_lifetime") @Nullable String secretLifetime,
        String terms,
        @JsonProperty("terms_version") long termsVersion,
        int subscriptions,
        int waiting,
        List<Earlier> earlier,
        List<String> sentences,
        long version,
        @JsonProperty("changed_at") Instant changedAt) {

    /**
     * What the plan was.
     *
     * @param until when those that keep it go over to what is there now
     * @param subscriptions how many keep it
     */
    public record Earlier(long version, Instant until, int subscriptions, List<String> sentences) {}
}
