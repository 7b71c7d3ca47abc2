package dev.admit.core.plan;

import dev.admit.core.limit.Count;
import dev.admit.core.route.Limits;
import java.time.Instant;

/** Is told by the gateway what came by a subscription. */
public interface SubscriptionUse {
    /** Nobody is told. */
    SubscriptionUse NOT_KEPT = new SubscriptionUse() {
        @Override
        public void admitted(String subscriptionId, Instant at) {}

        @Override
        public void limited(String subscriptionId, Instant at) {}

        @Override
        public void counted(String subscriptionId, Limits.Quota quota, Count count, Instant at) {}
    };

    void admitted(String subscriptionId, Instant at);

    /** A limit of the plan had no room. */
    void limited(String subscriptionId, Instant at);

    /** @param count what the quota came to */
    void counted(String subscriptionId, Limits.Quota quota, Count count, Instant at);
}
