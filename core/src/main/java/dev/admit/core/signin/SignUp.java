package dev.admit.core.signin;

import dev.admit.contract.PersonWanted;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Fields;
import dev.admit.core.mail.MailedCode;
import dev.admit.core.mail.SendCode;
import dev.admit.core.person.PasswordRule;
import dev.admit.core.person.People;
import dev.admit.core.person.Person;
import dev.admit.core.person.ProfileField;
import dev.admit.core.registry.Issuer;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * People sign up by a code that is mailed to them, and choose another password the same way. Nothing tells a stranger
 * whose address is known here.
 */
public final class SignUp {
    private static final FieldFault WRONG_CODE = new FieldFault(
            "/code",
            "the code of the last mail",
            "one that does not fit, or came too late",
            "Check it. After five tries request another.");

    private final People people;
    private final PersonRegistration registration;
    private final OwnAccount account;
    private final ProfileReading profiles;
    private final SendCode codes;

    public SignUp(
            People people,
            PersonRegistration registration,
            OwnAccount account,
            ProfileReading profiles,
            SendCode codes) {
        this.people = people;
        this.registration = registration;
        this.account = account;
        this.profiles = profiles;
        this.codes = codes;
    }

    /** What must be given: the address aside, the name and what the issuer requests. */
    public List<ProfileField> fields(Issuer issuer) {
        return profiles.fieldsOf(issuer).stream().filter(ProfileField::atSignUp).toList();
    }

    /** @return the id that the code has to be given with */
    public Change<String> begin(Issuer issuer, String address, String from, Instant now) {
        Fields fields = new Fields();
        String email = fields.email("/email", address);
        if (fields.faulty()) return new Change.Invalid<>(fields.faults());
        if (!issuer.settings().people().signUp())
            return new Change.Refused<>(
                    "%s lets nobody sign up by themselves.".formatted(issuer.title()), "Request an invitation.");
        boolean known = people.named(issuer.id(), email).isPresent();
        if (known) codes.sendAlreadyHere(issuer, email, from, now);
        return Change.made(codes.send(
                issuer,
                email,
                MailedCode.Purpose.SIGN_UP,
                known ? SendCode.To.TOLD_ALREADY : SendCode.To.SOMEBODY,
                from,
                now));
    }

    /** Everything that can be wrong is looked at before the code is used up; each look is one of its few tries. */
    public Change<Person> finish(
            Issuer issuer,
            String mailed,
            String code,
            Map<String, String> profile,
            PersonRegistration.ChosenPassword password,
            String from,
            Instant now) {
        if (!issuer.settings().people().signUp())
            return new Change.Refused<>(
                    "%s lets nobody sign up by themselves.".formatted(issuer.title()), "Request an invitation.");
        List<FieldFault> faults = new ArrayList<>();
        for (ProfileField field : fields(issuer)) {
            String value = profile.getOrDefault(field.name(), "").strip();
            if (value.isEmpty())
                faults.add(new FieldFault("/profile/" + field.name(), "something", "nothing", "Fill it in."));
            else
                field.expectedInsteadOf(value)
                        .ifPresent(expected -> faults.add(new FieldFault(
                                "/profile/" + field.name(), expected, Fields.quoted(value), "Correct it.")));
        }
        Optional<String> email = codes.check(issuer, mailed, code, MailedCode.Purpose.SIGN_UP, now);
        if (email.isEmpty()) faults.add(WRONG_CODE);
        PasswordRule.faultOf(password.reveal(), email.orElse(""), issuer.name())
                .ifPresent(sentence -> faults.add(
                        new FieldFault("/password", "a password that is hard to guess", "one that is not", sentence)));
        if (!faults.isEmpty()) return new Change.Invalid<>(faults);
        if (!codes.use(mailed)) return Change.invalid(WRONG_CODE);
        List<String> asked = fields(issuer).stream().map(ProfileField::name).toList();
        Map<String, String> kept = new java.util.HashMap<>(profile);
        kept.keySet().retainAll(asked); // no other field, the one who sends it
        return registration.add(
                issuer,
                new PersonWanted(email.get(), kept, null, null),
                Optional.of(password),
                true,
                new Actor("", email.get(), from));
    }

    /**
     * Mails a code for another password, where the address is a person's.
     *
     * @return the id that the code has to be given with
     */
    public String forgotten(Issuer issuer, String address, String from, Instant now) {
        String email = address.strip().toLowerCase(java.util.Locale.ROOT);
        boolean meant = people.named(issuer.id(), email)
                .filter(it -> it.email().equals(email) && it.enabled())
                .isPresent();
        return codes.send(
                issuer,
                email,
                MailedCode.Purpose.PASSWORD,
                meant ? SendCode.To.SOMEBODY : SendCode.To.NOBODY,
                from,
                now);
    }

    /** Sets another password by a mailed code, and signs the person out everywhere. */
    public Change<Person> choosePassword(
            Issuer issuer,
            String mailed,
            String code,
            PersonRegistration.ChosenPassword password,
            String from,
            Instant now) {
        Optional<Person> person = codes.check(issuer, mailed, code, MailedCode.Purpose.PASSWORD, now)
                .flatMap(email -> people.named(issuer.id(), email))
                .filter(Person::enabled);
        if (person.isEmpty()) return Change.invalid(WRONG_CODE);
        Optional<String> fault =
                PasswordRule.faultOf(password.reveal(), person.get().email(), issuer.name());
        if (fault.isPresent())
            return Change.invalid(
                    new FieldFault("/password", "a password that is hard to guess", "one that is not", fault.get()));
        if (!codes.use(mailed)) return Change.invalid(WRONG_CODE);
        Change<Person> change = account.setPassword(issuer, person.get(), password, SignIn.actor(person.get(), from));
        if (change instanceof Change.Made<Person> && !person.get().emailVerified()) account.proven(person.get());
        return change;
    }

    /**
     * Mails an invitation, or the means to choose another password.
     *
     * @param fresh whether they never had one
     */
    public void invite(Issuer issuer, Person person, boolean fresh, Instant now) {
        codes.invite(issuer, person.email(), fresh, now);
    }
}
