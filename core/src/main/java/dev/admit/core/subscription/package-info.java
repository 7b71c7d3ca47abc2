/** The use cases of plans and subscriptions: who may offer, request, approve and end them, and who is told. */
@NullMarked
package dev.admit.core.subscription;

import org.jspecify.annotations.NullMarked;
