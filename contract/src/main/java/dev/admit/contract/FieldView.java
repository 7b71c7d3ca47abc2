package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A profile field of an issuer.
 *
 * @param type text, number, date or choice
 * @param claim null for none
 */
public record FieldView(
        String name,
        String title,
        @OneOf({"text", "number", "date", "choice"}) String type,
        List<String> choices,
        @Nullable String pattern,
        @JsonProperty("at_sign_up") boolean atSignUp,
        boolean editable,
        @Nullable String claim,
        @JsonProperty("on_profile_page") boolean onProfilePage,
        boolean standard,
        long version) {}
