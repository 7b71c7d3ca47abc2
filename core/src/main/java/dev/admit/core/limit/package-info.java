/** Rates, quotas and requests at once, each counted by client, person, address or route. */
package dev.admit.core.limit;
