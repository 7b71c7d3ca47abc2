/** Plans, subscriptions to them, and what of a subscription was used: what is kept, and what the gateway looks at. */
@NullMarked
package dev.admit.core.plan;

import org.jspecify.annotations.NullMarked;
