package dev.admit.contract;

import com.fasterxml.jackson.annotation.JsonProperty;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * An issuer as it is wanted; what is left out is as usual, or stays.
 *
 * @param title what people read
 * @param description what it is for
 * @param domains a domain it owns
 * @param keyRotation how long a key signs, such as 90d; none for by command only
 * @param secretLifetime the usual lifetime of client secrets, such as 90d
 * @param maxSecretLifetime no client secret may live longer
 * @param nonExpiringSecrets whether a secret may be made that never expires
 * @param loopbackRedirects whether web clients may have plain-http redirect URIs on loopback
 * @param grantTypes a grant type that is on
 */
public record IssuerWanted(
        @Nullable String name,
        @Nullable String title,
        @Nullable String description,
        @Nullable List<String> domains,
        @JsonProperty("key_rotation") @Nullable String keyRotation,
        @JsonProperty("secret_lifetime") @Nullable String secretLifetime,
        @JsonProperty("max_secret_lifetime") @Nullable String maxSecretLifetime,
        @JsonProperty("non_expiring_secrets") @Nullable Boolean nonExpiringSecrets,
        @JsonProperty("loopback_redirects") @Nullable Boolean loopbackRedirects,
        @JsonProperty("grant_types") @Nullable List<String> grantTypes,
        @Nullable PeopleSettingsView people) {
    /** With all else as usual. */
    public IssuerWanted(String name, @Nullable String title) {
        this(name, title, null, null, null, null, null, null, null, null, null);
    }

    /** All as usual, or as it is. */
    public static final IssuerWanted NOTHING =
            new IssuerWanted(null, null, null, null, null, null, null, null, null, null, null);

    /** The same settings, of an issuer called otherwise. */
    public IssuerWanted named(@Nullable String other, @Nullable String itsTitle, @Nullable String itsDescription) {
        return new IssuerWanted(
                other,
                itsTitle,
                itsDescription,
                domains,
                keyRotation,
                secretLifetime,
                maxSecretLifetime,
                nonExpiringSecrets,
                loopbackRedirects,
                grantTypes,
                people);
    }
}
