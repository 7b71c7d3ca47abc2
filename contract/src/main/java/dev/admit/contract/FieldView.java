package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;

/** A profile field of an issuer. @param type text, number, date or choice, @param claim null for none */
public record FieldView(
        String name,
        String title,
        String type,
        List<String> choices,
        String pattern,
        @JsonProperty("at_sign_up") boolean atSignUp,
        boolean editable,
        String claim,
        @JsonProperty("on_profile_page") boolean onProfilePage,
        boolean standard,
        long version) {}
