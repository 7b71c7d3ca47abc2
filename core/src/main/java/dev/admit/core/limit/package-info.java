/** Rates, quotas and concurrent requests, each counted by client, person, address or route. */
@NullMarked
package dev.admit.core.limit;

import org.jspecify.annotations.NullMarked;
