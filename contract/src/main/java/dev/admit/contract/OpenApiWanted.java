package dev.admit.contract;

import org.jspecify.annotations.Nullable;

/**
 * An OpenAPI document that an API, its scopes and its routes are to come from.
 *
 * @param document its text, 3.0 or 3.1, in JSON or YAML; null where it is to be fetched
 * @param url where it is, at the API's upstream; null where its text is given
 * @param prefix what paths at the gateway begin with, such as /tides; null for nothing
 * @param upstream where the API is; null for as it is, or as the document's first server says
 * @param sha256 what the answer before said of the document, so that what is loaded is what was looked at; needed to
 *     load from a url
 * @param load whether it is saved; else only what would change is told
 */
public record OpenApiWanted(
        @Nullable String document,
        @Nullable String url,
        @Nullable String prefix,
        @Nullable String upstream,
        @Nullable String sha256,
        @Nullable Boolean load) {
    @Override
    public String toString() {
        return "OpenApiWanted[" + (url == null ? "text" : url) + "]";
    }
}
