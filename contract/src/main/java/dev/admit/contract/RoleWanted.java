package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A role as it is wanted; what is left out of a change stays.
 *
 * @param title what people read
 * @param secondFactor whether people who have it need a second factor
 */
public record RoleWanted(
        @Nullable String name,
        @Nullable String title,
        @Nullable List<String> scopes,
        @JsonProperty("second_factor") @Nullable Boolean secondFactor) {
    /** All as usual, or as it is. */
    public static final RoleWanted NOTHING = new RoleWanted(null, null, null, null);

    /** The same, by another name or by none. */
    public RoleWanted named(@Nullable String other) {
        return new RoleWanted(other, title, scopes, secondFactor);
    }
}
