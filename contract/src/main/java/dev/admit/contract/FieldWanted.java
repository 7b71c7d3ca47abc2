package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;

/**
 * A profile field as it is wanted; what is left out of a change stays. @param rule a regular expression, @param claim
 * empty for none
 */
public record FieldWanted(
        String name,
        String title,
        String type,
        List<String> choices,
        String pattern,
        @JsonProperty("at_sign_up") Boolean atSignUp,
        Boolean editable,
        String claim,
        @JsonProperty("on_profile_page") Boolean onProfilePage) {}
