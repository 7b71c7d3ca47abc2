package dev.admit.contract;

import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Calls that a plan covers.
 *
 * @param api the API by name
 * @param methods such as GET; empty for any
 * @param path as callers write it, such as /tides/**
 */
public record PlanOperation(
        @Nullable String api,
        @Nullable List<String> methods,
        @Nullable String path) {}
