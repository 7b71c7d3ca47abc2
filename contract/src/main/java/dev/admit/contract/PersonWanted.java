package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;
import java.util.Map;

/**
 * A person as they are wanted; what is left out stays.
 *
 * @param profile field → value; an empty value takes it away
 * @param roles names; all of them
 * @param adminRole administrator, operator, auditor or none
 * @param password when an administrator sets the first one, on adding only
 */
public record PersonWanted(
        String email,
        Map<String, String> profile,
        List<String> roles,
        @JsonProperty("admin_role") String adminRole,
        String password) {
    @Override
    public String toString() {
        return "PersonWanted[" + email + "]";
    }
}
