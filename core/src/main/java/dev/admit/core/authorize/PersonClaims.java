package dev.admit.core.authorize;

import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.person.Person;
import dev.admit.core.person.ProfileField;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** What a client learns of a person, by the scopes it has (OpenID Connect Core §5.4). */
public final class PersonClaims {
    private PersonClaims() {}

    /** Without {@code sub}, which every token has. */
    public static Map<String, Object> of(Person person, List<String> scopes, CompiledIssuer issuer) {
        Map<String, Object> claims = new LinkedHashMap<>();
        for (ProfileField field : ProfileField.standard()) {
            String scope =
                    switch (field.name()) {
                        case "phone_number" -> "phone";
                        case "address" -> "address";
                        default -> "profile";
                    };
            if (scopes.contains(scope)) put(field, person, claims);
        }
        if (scopes.contains("profile")) {
            for (ProfileField field : issuer.fields())
                if (!field.isStandard()) put(field, person, claims); // a standard one is told by its own scope
            claims.put("updated_at", person.changedAt().getEpochSecond());
        }
        if (scopes.contains("email")) {
            claims.put("email", person.email());
            claims.put("email_verified", person.emailVerified());
        }
        return claims;
    }

    private static void put(ProfileField field, Person person, Map<String, Object> claims) {
        String value = person.profile().get(field.name());
        if (value != null && field.claim().isPresent()) claims.put(field.claim().get(), field.asClaim(value));
    }
}
