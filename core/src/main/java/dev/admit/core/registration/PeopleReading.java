package dev.admit.core.registration;

import dev.admit.contract.PeopleSettingsView;
import dev.admit.core.change.Fields;
import dev.admit.core.registry.PeopleSettings;
import java.time.Duration;
import java.util.Optional;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/** Reads how people sign in at an issuer, and what its pages look like. */
final class PeopleReading {
    private static final Duration LONGEST_SESSION = Duration.ofDays(90);
    private static final int LARGEST_LOGO = 100_000;
    private static final int LONGEST_STYLE = 20_000;
    private static final Pattern LOGO = Pattern.compile("data:image/(png|jpeg|webp|gif);base64,[A-Za-z0-9+/]+=*");
    private static final Pattern ACCENT = Pattern.compile("#[0-9a-fA-F]{6}");

    private PeopleReading() {}

    static PeopleSettings read(Fields fields, PeopleSettingsView wanted, PeopleSettings old) {
        boolean listed = wanted.listed() == null ? old.listed() : wanted.listed();
        boolean signUp = wanted.signUp() == null ? old.signUp() : wanted.signUp();
        boolean secondFactor = wanted.secondFactor() == null ? old.secondFactor() : wanted.secondFactor();
        Duration idle = fields.duration(
                        "/people/session_idle_timeout",
                        wanted.sessionIdleTimeout(),
                        old.sessionIdleTimeout(),
                        LONGEST_SESSION)
                .orElse(old.sessionIdleTimeout());
        Duration longest = fields.duration(
                        "/people/max_session_age", wanted.maxSessionAge(), old.maxSessionAge(), LONGEST_SESSION)
                .orElse(old.maxSessionAge());
        PeopleSettings.Look look = new PeopleSettings.Look(
                readLogo(fields, wanted.logo(), old.look().logo()),
                readAccent(fields, wanted.accent(), old.look().accent()),
                readWelcome(fields, wanted.welcome(), old.look().welcome()),
                readStyle(fields, wanted.styleSheet(), old.look().styleSheet()));
        return new PeopleSettings(listed, signUp, secondFactor, idle, longest, look);
    }

    private static Optional<String> readLogo(Fields fields, @Nullable String wanted, Optional<String> old) {
        if (wanted == null) return old;
        if (wanted.isBlank()) return Optional.empty();
        // No SVG: it can carry a script. No address: the page would tell another host who signs in.
        if (wanted.length() > LARGEST_LOGO || !LOGO.matcher(wanted.strip()).matches()) {
            fields.fault(
                    "/people/logo",
                    "a picture as data:image/png;base64,… (png, jpeg, webp or gif) of at most %d characters"
                            .formatted(LARGEST_LOGO),
                    wanted.length() > LARGEST_LOGO ? wanted.length() + " characters" : Fields.quoted(wanted),
                    "Give a small picture itself, not its address.");
        }
        return Optional.of(wanted.strip());
    }

    private static Optional<String> readAccent(Fields fields, @Nullable String wanted, Optional<String> old) {
        if (wanted == null) return old;
        if (wanted.isBlank()) return Optional.empty();
        if (!ACCENT.matcher(wanted.strip()).matches())
            fields.fault(
                    "/people/accent",
                    "a colour such as #1f6f63",
                    Fields.quoted(wanted),
                    "Write six hexadecimal digits behind #.");
        return Optional.of(wanted.strip().toLowerCase(java.util.Locale.ROOT));
    }

    private static Optional<String> readWelcome(Fields fields, @Nullable String wanted, Optional<String> old) {
        if (wanted == null) return old;
        return Optional.of(fields.line("/people/welcome", wanted, "", Fields.TEXT_LENGTH))
                .filter(text -> !text.isEmpty());
    }

    private static Optional<String> readStyle(Fields fields, @Nullable String wanted, Optional<String> old) {
        if (wanted == null) return old;
        if (wanted.isBlank()) return Optional.empty();
        if (wanted.length() > LONGEST_STYLE)
            fields.fault(
                    "/people/style_sheet",
                    "at most %d characters".formatted(LONGEST_STYLE),
                    wanted.length() + " characters",
                    "Shorten it.");
        return Optional.of(wanted);
    }
}
