package dev.admit.core.registry;

import java.util.List;

/**
 * A named set of an API's scopes: clients request all of them by its name, and people can be given it.
 *
 * @param name unique in the issuer; without a dot, by which it is told from a scope
 * @param scopes names of scopes of the API
 * @param secondFactor whether people who have it need a second factor
 */
public record Role(
        String id,
        String issuerId,
        String apiId,
        String name,
        String title,
        List<String> scopes,
        boolean secondFactor,
        long version) {}
