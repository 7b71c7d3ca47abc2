package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;

/**
 * An API as it is wanted. @param audience proposed when left out; what is left out of a change stays, @param
 * outsideDomains lets an https audience lie outside the issuer's domains
 */
public record ApiWanted(
        String name,
        String title,
        String audience,
        String upstream,
        @JsonProperty("outside_domains") Boolean outsideDomains,
        @JsonProperty("default_scopes") List<String> defaultScopes,
        @JsonProperty("all_by_default") Boolean allByDefault) {}
