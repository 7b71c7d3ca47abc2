package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A profile field as it is wanted; what is left out of a change stays.
 *
 * @param pattern a regular expression
 * @param claim empty for none
 */
public record FieldWanted(
        @Nullable String name,
        @Nullable String title,

        @OneOf({"text", "number", "date", "choice"}) @Nullable
        String type,

        @Nullable List<String> choices,
        @Nullable String pattern,
        @JsonProperty("at_sign_up") @Nullable Boolean atSignUp,
        @Nullable Boolean editable,
        @Nullable String claim,
        @JsonProperty("on_profile_page") @Nullable Boolean onProfilePage) {}
