package dev.admit.core.signin;

import dev.admit.contract.FieldWanted;
import dev.admit.core.audit.Audit;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Fields;
import dev.admit.core.change.Ids;
import dev.admit.core.change.Republish;
import dev.admit.core.change.Transactions;
import dev.admit.core.person.ProfileField;
import dev.admit.core.person.ProfileFields;
import dev.admit.core.registry.Issuer;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import java.util.regex.PatternSyntaxException;

/** Sets which attributes people of an issuer have, beside the standard ones. */
public final class FieldRegistration {
    private static final int MOST = 30;
    private static final int MOST_CHOICES = 50;
    private static final Pattern NAME = Pattern.compile("[a-z][a-z0-9_]{0,39}");
    /** What tokens say themselves: no field may say it for them. */
    private static final Set<String> RESERVED = Set.of(
            "iss",
            "sub",
            "aud",
            "exp",
            "iat",
            "nbf",
            "jti",
            "azp",
            "nonce",
            "acr",
            "amr",
            "auth_time",
            "sid",
            "at_hash",
            "c_hash",
            "email",
            "email_verified",
            "updated_at",
            "client_id",
            "scope",
            "cnf",
            "act",
            "id",
            "roles");

    private final Transactions transactions;
    private final ProfileFields fields;
    private final Audit audit;
    private final Republish live;

    public FieldRegistration(Transactions transactions, ProfileFields fields, Audit audit, Republish live) {
        this.transactions = transactions;
        this.fields = fields;
        this.audit = audit;
        this.live = live;
    }

    public Change<ProfileField> add(Issuer issuer, FieldWanted wanted, Actor by) {
        return published(transactions.inOne(() -> {
            Fields faults = new Fields();
            String name = wanted.name() == null ? "" : wanted.name().strip();
            boolean standard =
                    ProfileField.standard().stream().anyMatch(it -> it.name().equals(name));
            if (!NAME.matcher(name).matches() || RESERVED.contains(name) || standard) {
                faults.fault(
                        "/name",
                        "1 to 40 lower-case letters, figures and underscores, and no name that the standards use",
                        name.isEmpty() ? "nothing" : Fields.quoted(name),
                        "Choose a name such as home_quay.");
            }
            ProfileField blank = new ProfileField(
                    Ids.random("fld_"),
                    issuer.id(),
                    name,
                    name,
                    ProfileField.Type.TEXT,
                    List.of(),
                    Optional.empty(),
                    false,
                    true,
                    Optional.empty(),
                    true,
                    0);
            ProfileField field = read(faults, wanted, blank);
            if (faults.faulty()) return new Change.Invalid<>(faults.faults());
            if (fields.of(issuer.id()).size() >= MOST)
                return new Change.Refused<>(
                        "An issuer has at most %d fields of its own.".formatted(MOST), "Remove one first.");
            if (fields.named(issuer.id(), name).isPresent())
                return new Change.Taken<>(new FieldFault(
                        "/name", "a name no field here has", Fields.quoted(name), "Change the one that is there."));
            fields.insert(field);
            audit.added(by, issuer.id(), "field.added", name, field);
            return new Change.Made<>(field, faults.notes());
        }));
    }

    public Change<ProfileField> change(Issuer issuer, String named, FieldWanted wanted, Actor by) {
        return published(transactions.inOne(() -> {
            Optional<ProfileField> kept = fields.named(issuer.id(), named);
            Optional<ProfileField> old =
                    kept.or(() -> ProfileField.standard(named).map(it -> it.ofIssuer(Ids.random("fld_"), issuer.id())));
            if (old.isEmpty()) return new Change.Absent<>("field", named);
            Fields faults = new Fields();
            if (wanted.name() != null && !wanted.name().strip().equals(named))
                faults.fault(
                        "/name",
                        named + ", because profiles have it",
                        Fields.quoted(wanted.name()),
                        "Add a field with the new name.");
            ProfileField changed = read(faults, wanted, old.get());
            if (faults.faulty()) return new Change.Invalid<>(faults.faults());
            if (Audit.same(old.get(), changed)) return Change.made(old.get(), "Nothing differs from what is there.");
            if (kept.isPresent()) fields.update(changed);
            else fields.insert(changed);
            audit.changed(by, issuer.id(), "field.changed", named, old.get(), changed);
            return new Change.Made<>(changed, faults.notes());
        }));
    }

    /** What people have in it stays with them, unseen, until a field of the name is there again. */
    public Change<ProfileField> remove(Issuer issuer, String named, Actor by) {
        return published(transactions.inOne(() -> {
            Optional<ProfileField> old = fields.named(issuer.id(), named);
            if (old.isEmpty()) return new Change.Absent<>("field", named);
            fields.delete(old.get().id());
            audit.removed(by, issuer.id(), "field.removed", named, old.get());
            return Change.made(old.get()); // of a standard field only the rules of this issuer are gone
        }));
    }

    private static ProfileField read(Fields faults, FieldWanted wanted, ProfileField old) {
        String title = wanted.title() == null
                ? old.title()
                : faults.line("/title", wanted.title(), old.name(), Fields.NAME_LENGTH);
        ProfileField.Type type = faults.word(
                        "/type",
                        wanted.type(),
                        ProfileField.Type.class,
                        wanted.type() == null
                                        && wanted.choices() != null
                                        && !wanted.choices().isEmpty()
                                ? ProfileField.Type.CHOICE
                                : old.type())
                .orElse(old.type());
        List<String> choices = wanted.choices() == null ? old.choices() : readChoices(faults, wanted.choices());
        if ((type == ProfileField.Type.CHOICE) == choices.isEmpty()) {
            faults.fault(
                    "/choices",
                    type == ProfileField.Type.CHOICE
                            ? "2 to %d choices".formatted(MOST_CHOICES)
                            : "none, because only a choice has them",
                    choices.size() + " of them",
                    "Give them with the type choice, and not otherwise.");
        }
        Optional<String> pattern = wanted.pattern() == null
                ? old.pattern()
                : wanted.pattern().isBlank() ? Optional.empty() : readRule(faults, wanted.pattern());
        if (pattern.isPresent() && type != ProfileField.Type.TEXT)
            faults.fault(
                    "/pattern", "none, because only a text has one", Fields.quoted(pattern.get()), "Leave it out.");
        Optional<String> claim = wanted.claim() == null
                ? old.claim()
                : wanted.claim().isBlank()
                        ? Optional.empty()
                        : Optional.of(wanted.claim().strip());
        if (old.isStandard()) {
            if (!claim.equals(old.claim()))
                faults.fault(
                        "/claim",
                        old.name() + ", because OpenID Connect names it so (Core §5.1)",
                        Fields.quoted(wanted.claim()),
                        "Leave it out.");
        } else if (claim.filter(it -> !NAME.matcher(it).matches() || RESERVED.contains(it))
                .isPresent())
            faults.fault(
                    "/claim",
                    "the name of a claim that no standard uses",
                    Fields.quoted(claim.get()),
                    "Choose another.");
        return new ProfileField(
                old.id(),
                old.issuerId(),
                old.name(),
                title,
                type,
                choices,
                pattern,
                wanted.atSignUp() == null ? old.atSignUp() : wanted.atSignUp(),
                wanted.editable() == null ? old.editable() : wanted.editable(),
                claim,
                wanted.onProfilePage() == null ? old.onProfilePage() : wanted.onProfilePage(),
                old.version() + 1);
    }

    private static List<String> readChoices(Fields faults, List<String> wanted) {
        if (wanted.size() > MOST_CHOICES)
            faults.fault(
                    "/choices", "at most " + MOST_CHOICES, wanted.size() + " of them", "Use a text with a pattern.");
        List<String> choices = new ArrayList<>();
        for (int i = 0; i < wanted.size(); i++) {
            String choice = faults.line("/choices/" + i, wanted.get(i), null, ProfileField.LONGEST);
            if (!choice.isEmpty() && !choices.contains(choice)) choices.add(choice);
        }
        return choices;
    }

    private static Optional<String> readRule(Fields faults, String wanted) {
        try {
            // Repetition within repetition can take for ever on a text of a few characters.
            if (wanted.length() > 200 || wanted.matches(".*[+*}]\\)?[+*{].*"))
                throw new PatternSyntaxException("too long, or repetition in repetition", wanted, 0);
            Pattern.compile(wanted);
            return Optional.of(wanted);
        } catch (PatternSyntaxException none) {
            faults.fault(
                    "/pattern",
                    "a regular expression of at most 200 characters, without repetition in repetition",
                    none.getDescription(),
                    "Write such as [A-Z]{2}-[0-9]{4}.");
            return Optional.empty();
        }
    }

    private Change<ProfileField> published(Change<ProfileField> change) {
        if (change instanceof Change.Made<ProfileField>) live.republish();
        return change;
    }
}
