package dev.admit.core.signin;

import dev.admit.core.change.Fields;
import dev.admit.core.decision.Command;
import dev.admit.core.person.ProfileField;
import dev.admit.core.person.ProfileFields;
import dev.admit.core.registry.Issuer;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;

/** The fields that a person can have, and values for them as they came. */
public final class ProfileReading {
    private final ProfileFields fields;

    public ProfileReading(ProfileFields fields) {
        this.fields = fields;
    }

    /** Every field that a person of an issuer can have, the standard ones first. */
    public List<ProfileField> fieldsOf(Issuer issuer) {
        Map<String, ProfileField> all = new LinkedHashMap<>();
        for (ProfileField field : ProfileField.standard()) all.put(field.name(), field);
        for (ProfileField field : fields.of(issuer.id()))
            all.put(field.name(), field); // its own rules for a standard field take the place of the usual ones
        return List.copyOf(all.values());
    }

    /**
     * @param old what stays where nothing is wanted; an empty value takes a field away
     * @param editable which fields may differ
     */
    Map<String, String> read(
            Fields faults,
            Issuer issuer,
            @Nullable Map<String, String> wanted,
            Map<String, String> old,
            Predicate<ProfileField> editable) {
        if (wanted == null) return old;
        Map<String, String> profile = new LinkedHashMap<>(old);
        Map<String, ProfileField> known = new LinkedHashMap<>();
        for (ProfileField field : fieldsOf(issuer)) known.put(field.name(), field);
        wanted.forEach((name, value) -> {
            String trimmed = value == null ? "" : value.strip();
            ProfileField field = known.get(name);
            String at = "/profile/" + name;
            if (field == null || !editable.test(field) && !trimmed.equals(old.getOrDefault(name, ""))) {
                faults.fault(
                        at,
                        field == null
                                ? "one of " + String.join(", ", known.keySet())
                                : "a field that the person may edit",
                        Fields.quoted(name),
                        field == null
                                ? "Add the field first: " + Command.of("profile-field", "add", name)
                                : "Have an administrator change it.");
            } else if (trimmed.isEmpty()) {
                profile.remove(name);
            } else {
                field.expectedInsteadOf(trimmed)
                        .ifPresent(expected -> faults.fault(at, expected, Fields.quoted(trimmed), "Correct it."));
                profile.put(name, trimmed);
            }
        });
        return Map.copyOf(profile);
    }
}
