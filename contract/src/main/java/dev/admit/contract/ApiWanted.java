package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * An API as it is wanted.
 *
 * @param title what people read
 * @param audience the aud of its tokens; one is proposed when left out
 * @param upstream where its routes forward to
 * @param outsideDomains said on purpose: the https audience may lie outside the issuer's domains
 * @param defaultScopes what a request gets that names no scope
 * @param allByDefault whether a request that names no scope gets every scope that the client is approved for
 */
public record ApiWanted(
        @Nullable String name,
        @Nullable String title,
        @Nullable String audience,
        @Nullable String upstream,
        @JsonProperty("outside_domains") @Nullable Boolean outsideDomains,
        @JsonProperty("default_scopes") @Nullable List<String> defaultScopes,
        @JsonProperty("all_by_default") @Nullable Boolean allByDefault) {
    public ApiWanted(
            @Nullable String name,
            @Nullable String title,
            @Nullable String audience,
            @Nullable String upstream,
            @Nullable Boolean outsideDomains) {
        this(name, title, audience, upstream, outsideDomains, null, null);
    }

    public ApiWanted(
            @Nullable String name, @Nullable String title, @Nullable String audience, @Nullable String upstream) {
        this(name, title, audience, upstream, null);
    }
}
