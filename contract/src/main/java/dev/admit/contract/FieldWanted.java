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
        @JsonProperty("on_profile_page") @Nullable Boolean onProfilePage) {
    /** All as usual, or as it is. */
    public static final FieldWanted NOTHING = new FieldWanted(null, null, null, null, null, null, null, null, null);

    /** The same, by another name or by none. */
    public FieldWanted named(@Nullable String other) {
        return new FieldWanted(other, title, type, choices, pattern, atSignUp, editable, claim, onProfilePage);
    }
}
