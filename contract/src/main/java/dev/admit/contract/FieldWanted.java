package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A profile field as it is wanted; what is left out of a change stays.
 *
 * @param title what people read
 * @param type text, number, date or choice
 * @param pattern what a text must match as a whole
 * @param atSignUp whether it must be given at sign-up
 * @param editable whether the person may change it later
 * @param claim under which clients with the scope profile learn it
 * @param onProfilePage whether people see it in their profile
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
