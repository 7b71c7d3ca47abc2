package dev.admit.core.mail;

import dev.admit.core.access.AdminRole;
import dev.admit.core.audit.Audit;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.decision.Command;
import dev.admit.core.key.MasterKey;
import dev.admit.core.person.People;
import dev.admit.core.person.Person;
import dev.admit.core.registry.Issuer;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.util.Map;
import java.util.Optional;

/**
 * Shows an administrator the code in a mail that lies in the outbox, for a person whom no mail reaches. The one who has
 * the code has the account; so it is an act of the audit, and no way to an account that may as much as the
 * administrator.
 */
public final class RevealMail {
    private final Mails mails;
    private final People people;
    private final MasterKey masterKey;
    private final Audit audit;
    private final Clock clock;

    public RevealMail(Mails mails, People people, MasterKey masterKey, Audit audit, Clock clock) {
        this.mails = mails;
        this.people = people;
        this.masterKey = masterKey;
        this.audit = audit;
        this.clock = clock;
    }

    /** @return the mail with its code */
    public Change<Mail> reveal(Issuer issuer, String mailId, Actor by) {
        if (!by.isAdministrator()) return Change.Forbidden.toAllBut("administrators", "see a code in the outbox");
        Optional<Mail> found = mails.find(issuer.id(), mailId);
        if (found.isEmpty()) return new Change.Absent<>("mail", mailId);
        Mail mail = found.get();
        if (mail.sentAt().isPresent())
            return new Change.Refused<>(
                    "This mail was sent: its code is its reader's alone.", "Have the person look into their mailbox.");
        Optional<Mail.HiddenCode> code =
                mail.code().filter(it -> clock.instant().isBefore(it.until()));
        if (code.isEmpty())
            return new Change.Refused<>(
                    "No code is hidden in this mail: there was none, it was used, or it is over.",
                    "Send another with: " + Command.of("person", "reset", mail.to(), "--password"));
        Optional<Person> reader = people.named(issuer.id(), mail.to());
        if (reader.flatMap(Person::adminRole)
                .filter(role -> role.isAtLeast(AdminRole.ADMINISTRATOR))
                .isPresent()) {
            return new Change.Refused<>(
                    "%s is an administrator, as you are: nobody sees their code but they.".formatted(mail.to()),
                    "Set a mail server, so that the mail reaches them.");
        }
        audit.added(by, issuer.id(), "mail.revealed", mail.to(), Map.of("mail", mail.id(), "subject", mail.subject()));
        return Change.made(mail.reading(
                new String(masterKey.open(code.get().sealed(), Mail.sealedAs(mail.id())), StandardCharsets.UTF_8)));
    }
}
