package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * An API as it is wanted.
 *
 * @param audience proposed when left out; what is left out of a change stays
 * @param outsideDomains lets an https audience lie outside the issuer's domains
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
