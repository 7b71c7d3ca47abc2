package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * A person as they are wanted; what is left out stays.
 *
 * @param profile field → value; an empty value takes it away
 * @param roles names; all of them
 * @param adminRole administrator, operator, auditor or none
 * @param password when an administrator sets the first one, on adding only
 */
public record PersonWanted(
        @Nullable String email,
        @Nullable Map<String, String> profile,
        @Nullable List<String> roles,
        @JsonProperty("admin_role") @Nullable String adminRole,
        @Nullable String password) {
    @Override
    public String toString() {
        return "PersonWanted[" + email + "]";
    }

    public PersonWanted(
            @Nullable String email,
            @Nullable Map<String, String> profile,
            @Nullable List<String> roles,
            @Nullable String adminRole) {
        this(email, profile, roles, adminRole, null);
    }
}
