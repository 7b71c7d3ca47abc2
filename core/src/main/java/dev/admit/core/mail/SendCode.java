package dev.admit.core.mail;

import dev.admit.core.change.Ids;
import dev.admit.core.change.RandomBits;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.SecretHash;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;

/** Writes mails with codes in them, and few to one address, so that nobody can be flooded through this service. */
public final class SendCode {
    private static final Duration LIFETIME = Duration.ofMinutes(15);
    private static final Duration INVITATION = Duration.ofDays(7);
    private static final int TRIES = 5;
    private static final int MOST_TO_ADDRESS = 5;
    private static final int MOST_FROM_PLACE = 100;

    private final WriteMail mail;
    private final MailedCodes codes;
    private final MailCount sent = new MailCount();

    /** Whom a code is for. */
    public enum To {
        /** A person who is to have it. */
        SOMEBODY,
        /** An address that is nobody's. */
        NOBODY,
        /** A person to whom another mail has just been written instead. */
        TOLD_ALREADY
    }

    public SendCode(WriteMail mail, MailedCodes codes) {
        this.mail = mail;
        this.codes = codes;
    }

    /**
     * Sends a code. What it returns is the same whether a mail was sent or not, so that nobody learns who is here, or
     * that enough was sent already.
     *
     * @param from where the wish came from
     * @param to whom it is for: what is written for nobody costs as much as what is written for a person
     * @return the id that the code has to be given with
     */
    public String send(Issuer issuer, String email, MailedCode.Purpose purpose, To to, String from, Instant now) {
        String id = Ids.random("mc_");
        if (!mayGo(issuer, email, from) || to == To.TOLD_ALREADY) return id;
        String code = "%08d".formatted(RandomBits.below(100_000_000));
        String what = purpose == MailedCode.Purpose.SIGN_UP ? "go on with signing up" : "choose another password";
        if (to == To.NOBODY) {
            // A record like any other, which no code opens: so that neither time nor load tells that nobody is there.
            mail.writeNothing(
                    issuer,
                    () -> codes.insert(new MailedCode(
                            id, issuer.id(), email, purpose, hash(id, Ids.random("")), 0, now.plus(LIFETIME))));
            return id;
        }
        MailedCode mailed = new MailedCode(id, issuer.id(), email, purpose, hash(id, code), TRIES, now.plus(LIFETIME));
        mail.write(
                issuer,
                email,
                "%s: your code".formatted(issuer.title()),
                mailed,
                spaced(code),
                (digits, codeId) -> """
                Your code for %s is

                    %s

                Type it on the page that is open, to %s. It is good for 15 minutes.

                You requested nothing? Then a person typed your address; do nothing, and do not pass the code on.
                """.formatted(issuer.title(), digits, what),
                () -> codes.insert(mailed),
                now);
        return id;
    }

    /** Both are counted, whichever of them is over. */
    @SuppressWarnings("ShortCircuitBoolean")
    private boolean mayGo(Issuer issuer, String email, String from) {
        return sent.isWithin(MOST_TO_ADDRESS, "to " + issuer.id() + " " + email)
                & sent.isWithin(MOST_FROM_PLACE, "from " + from);
    }

    /** Tells a person who wants to sign up that they are here already; the page does not say so. */
    public void sendAlreadyHere(Issuer issuer, String email, String from, Instant now) {
        if (!mayGo(issuer, email, from)) return;
        mail.write(
                issuer,
                email,
                "%s: you are here already".formatted(issuer.title()),
                """
                A person, probably you, wanted to sign up at %s with this address. You are here already.

                Sign in at %s/sign-in; there you can also choose another password.
                """.formatted(issuer.title(), issuer.url()),
                now);
    }

    /** Invites a person whom an administrator added, or helps a person who asked an administrator. */
    public void invite(Issuer issuer, String email, boolean fresh, Instant now) {
        String id = Ids.random("mc_");
        String code = "%08d".formatted(RandomBits.below(100_000_000));
        MailedCode mailed = new MailedCode(
                id, issuer.id(), email, MailedCode.Purpose.PASSWORD, hash(id, code), TRIES, now.plus(INVITATION));
        mail.write(
                issuer,
                email,
                fresh
                        ? "%s: an invitation".formatted(issuer.title())
                        : "%s: choose another password".formatted(issuer.title()),
                mailed,
                spaced(code),
                (digits, codeId) -> """
                %s

                Open  %s/new-password?mailed=%s
                and type the code  %s

                It is good for 7 days.
                """.formatted(
                                fresh
                                        ? "You can sign in at %s from now on. Choose a password first."
                                                .formatted(issuer.title())
                                        : ("An administrator of %s sent you this, so that you can choose another "
                                                        + "password.")
                                                .formatted(issuer.title()),
                                issuer.url(),
                                codeId,
                                digits),
                () -> codes.insert(mailed),
                now);
    }

    /**
     * What a code proves; it is one try, and the code is not used up by it.
     *
     * @return the address, empty when the code is wrong, over, used, or tried too often; nothing tells which
     */
    public Optional<String> check(Issuer issuer, String id, String code, MailedCode.Purpose purpose, Instant now) {
        return codes.attempt(id, now)
                .filter(it -> it.issuerId().equals(issuer.id())
                        && it.purpose() == purpose
                        && it.hash().matches(hash(id, code.replaceAll("\\D", ""))))
                .map(MailedCode::email);
    }

    /**
     * Uses a code up.
     *
     * @return whether this call did: each opens once
     */
    public boolean use(String id) {
        boolean used = codes.delete(id);
        if (used) mail.erase(id);
        return used;
    }

    private static String spaced(String code) {
        return code.substring(0, 4) + " " + code.substring(4);
    }

    private static SecretHash hash(String id, String code) {
        return SecretHash.of(id + " " + code);
    }
}
