package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * A setup file to be loaded, or compared with what runs.
 *
 * @param file the YAML
 * @param stage a second file with the values that differ here; may be null
 * @param secrets client name, or 'upstream-credential' and a name → the secret that the file refers to, resolved where
 *     the file lies
 * @param removeUnlisted whether what the issuer has beyond the file is to go
 */
public record SetupWanted(
        @Nullable String file,
        @Nullable String stage,
        @Nullable Map<String, String> secrets,
        @JsonProperty("remove_unlisted") @Nullable Boolean removeUnlisted) {
    @Override
    public String toString() {
        return "SetupWanted[hidden]";
    }
}
