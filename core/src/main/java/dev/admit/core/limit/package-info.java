/** Rates, quotas and concurrent requests, each counted by client, person, address or route. */
package dev.admit.core.limit;
