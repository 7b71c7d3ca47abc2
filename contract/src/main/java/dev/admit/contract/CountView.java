package dev.admit.contract;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/**
 * How many decisions there are of one client, reason and so on.
 *
 * @param what empty where nobody knew
 * @param from the beginning of the stretch of time; null for all time
 */
public record CountView(String what, @Nullable Instant from, long decisions) {}
