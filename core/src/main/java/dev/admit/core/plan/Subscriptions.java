package dev.admit.core.plan;

import dev.admit.core.change.Page;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** The subscriptions that are kept. */
public interface Subscriptions {
    void insert(Subscription subscription);

    void update(Subscription subscription);

    /** Those of a plan that have no earlier version keep this one for a while. */
    void keepOn(String planId, long version);

    Optional<Subscription> find(String issuerId, String id);

    Optional<Subscription> find(String id);

    /** The newest first, those that ended too. */
    List<Subscription> ofClient(String clientId);

    /** Those that are live, by client. */
    List<Subscription> liveOfPlan(String planId);

    /** All that are live. */
    List<Subscription> live();

    /**
     * Notes that a mail about a subscription is written.
     *
     * @param what it is about, such as a quota and its period
     * @return false when it was written before
     */
    boolean isFirstNotice(String subscriptionId, String what, Instant at);

    /**
     * Which subscriptions are wanted.
     *
     * @param clientId empty for all, as the next three
     * @param seenBy a person who owns the client, or an API of the plan
     */
    record Wanted(
            Optional<String> clientId,
            Optional<String> planId,
            Optional<Subscription.Status> status,
            Optional<String> seenBy) {}

    /** The newest first. */
    Page<Subscription> list(String issuerId, Wanted wanted, Page.Ask ask);
}
