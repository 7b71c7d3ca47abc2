package dev.admit.contract;

import java.util.List;

/**
 * An API in the catalogue, as a list has it.
 *
 * @param readers who finds it
 * @param description what the API is for, in Markdown
 * @param scopes that a client may request
 * @param operations how many its OpenAPI document has; 0 for no document
 * @param page where it is read
 */
public record CatalogueEntry(
        String api,
        String title,
        @OneOf({"none", "public", "signed-in", "named"}) String readers,
        String description,
        List<String> scopes,
        int operations,
        String page) {}
