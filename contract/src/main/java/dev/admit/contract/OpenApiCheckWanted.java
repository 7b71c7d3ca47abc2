package dev.admit.contract;

import org.jspecify.annotations.Nullable;

/**
 * An OpenAPI document that the routes in force are held against.
 *
 * @param document its text; null for the one that the API has
 */
public record OpenApiCheckWanted(@Nullable String document) {
    @Override
    public String toString() {
        return "OpenApiCheckWanted[hidden]";
    }
}
