package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import org.jspecify.annotations.Nullable;

/**
 * The key that is to sign next.
 *
 * @param purpose access-token, which is usual, or id-token: which tokens it signs
 * @param alg ES256, RS256, PS256 or EdDSA; that of the active one when left out
 * @param after how long it is published before it signs, such as 10m, which is usual
 * @param imported a private key in PEM (PKCS #8) or as JWK; left out to have one made
 */
public record KeyWanted(
        @OneOf({"access-token", "id-token"}) @Nullable String purpose,

        @OneOf({"ES256", "RS256", "PS256", "EdDSA"}) @Nullable
        String alg,

        @Nullable String after,
        @JsonProperty("import") @Nullable String imported) {
    @Override
    public String toString() {
        return "KeyWanted[" + alg + ", " + after + "]";
    }
}
