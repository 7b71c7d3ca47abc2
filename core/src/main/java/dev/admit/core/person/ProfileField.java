package dev.admit.core.person;

import dev.admit.core.change.Fields;
import java.time.LocalDate;
import java.time.format.DateTimeParseException;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Pattern;

/**
 * An attribute that a person of an issuer may have.
 *
 * @param choices of a choice
 * @param pattern a regular expression that a text must match as a whole
 * @param atSignUp whether it must be given at sign-up
 * @param editable whether the person may change it later
 * @param onProfilePage whether the person sees it among their own
 * @param claim the name under which clients with the scope {@code profile} learn it
 */
public record ProfileField(
        String id,
        String issuerId,
        String name,
        String title,
        Type type,
        List<String> choices,
        Optional<String> pattern,
        boolean atSignUp,
        boolean editable,
        Optional<String> claim,
        boolean onProfilePage,
        long version) {
    public static final int LONGEST = 200;

    public enum Type {
        TEXT,
        NUMBER,
        DATE,
        CHOICE;

        @Override
        public String toString() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /** Those that OpenID Connect names (Core §5.1) and that every person may have. */
    public static List<ProfileField> standard() {
        return List.of(
                standard("name", "Name", true),
                standard("given_name", "Given name", false),
                standard("family_name", "AuthorizationGrant name", false),
                standard("phone_number", "Telephone", false),
                standard("address", "Address", false),
                standard("locale", "Language", false));
    }

    private static ProfileField standard(String name, String title, boolean atSignUp) {
        return new ProfileField(
                name,
                "",
                name,
                title,
                Type.TEXT,
                List.of(),
                Optional.empty(),
                atSignUp,
                true,
                Optional.of(name),
                true,
                1);
    }

    /** Whether OpenID Connect names it; an issuer may have its own rules for such a field. */
    public boolean isStandard() {
        return standard(name).isPresent();
    }

    /** The standard field of this name, as it is where an issuer says nothing of it. */
    public static Optional<ProfileField> standard(String name) {
        return standard().stream().filter(it -> it.name().equals(name)).findFirst();
    }

    /** The same field, as a rule of one issuer. */
    public ProfileField ofIssuer(String newId, String newIssuerId) {
        return new ProfileField(
                newId, newIssuerId, name, title, type, choices, pattern, atSignUp, editable, claim, onProfilePage, 0);
    }

    /**
     * What is wrong with a value, as a phrase of what is expected; empty when it is good.
     *
     * @param value neither empty nor with spaces around it
     */
    public Optional<String> expectedInsteadOf(String value) {
        boolean good = value.length() <= LONGEST
                && Fields.isVisible(value)
                && switch (type) {
                    case TEXT -> pattern.isEmpty() || Pattern.matches(pattern.get(), value);
                    case NUMBER -> value.matches("-?\\d{1,15}(\\.\\d{1,6})?");
                    case DATE -> isDate(value);
                    case CHOICE -> choices.contains(value);
                };
        return good
                ? Optional.empty()
                : Optional.of(
                        switch (type) {
                            case TEXT ->
                                pattern.map(it -> "text that fits the pattern " + it)
                                        .orElse("one line of visible text of at most " + LONGEST + " characters");
                            case NUMBER -> "a number";
                            case DATE -> "a date such as 2026-11-23";
                            case CHOICE -> "one of " + String.join(", ", choices);
                        });
    }

    private static boolean isDate(String value) {
        try {
            LocalDate.parse(value);
            return true;
        } catch (DateTimeParseException none) {
            return false;
        }
    }

    /** The value as a claim has it. */
    public Object asClaim(String value) {
        if (name.equals("address") && isStandard())
            return java.util.Map.of("formatted", value); // OpenID Connect Core §5.1.1
        return type == Type.NUMBER ? value.contains(".") ? (Object) Double.valueOf(value) : Long.valueOf(value) : value;
    }
}
