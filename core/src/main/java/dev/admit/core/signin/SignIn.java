package dev.admit.core.signin;

import dev.admit.core.approval.Withdrawal;
import dev.admit.core.audit.Audit;
import dev.admit.core.authorization.OneTimeSecret;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.Ids;
import dev.admit.core.change.Transactions;
import dev.admit.core.clientauth.SlowedGuessing;
import dev.admit.core.decision.Action;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Recorder;
import dev.admit.core.person.Credentials;
import dev.admit.core.person.PasswordHashing;
import dev.admit.core.person.People;
import dev.admit.core.person.Person;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.PeopleSettings;
import dev.admit.core.registry.SecretHash;
import dev.admit.core.tries.Network;
import dev.admit.core.tries.Tries;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/** People sign in and out, and are signed out. */
public final class SignIn {
    private static final int LONGEST_AGENT = 120;
    /** How often it is noted that a session is in use. */
    private static final Duration SEEN_EVERY = Duration.ofMinutes(5);

    private final People people;
    private final Credentials credentials;
    private final Sessions sessions;
    private final PasswordHashing hashing;
    private final SlowedGuessing guessing;
    private final Tries tries;
    private final Withdrawal withdrawal;
    private final Transactions transactions;
    private final Audit audit;

    public SignIn(
            People people,
            Credentials credentials,
            Sessions sessions,
            PasswordHashing hashing,
            SlowedGuessing guessing,
            Tries tries,
            Withdrawal withdrawal,
            Transactions transactions,
            Audit audit) {
        this.people = people;
        this.credentials = credentials;
        this.sessions = sessions;
        this.hashing = hashing;
        this.guessing = guessing;
        this.tries = tries;
        this.withdrawal = withdrawal;
        this.transactions = transactions;
        this.audit = audit;
    }

    /**
     * A browser: the text of its cookie, and what it says of itself.
     *
     * @param cookie empty where it has none yet
     */
    public record Browser(Optional<String> cookie, String from, String agent) {
        Optional<SecretHash> hash() {
            return cookie.map(SecretHash::of);
        }

        @Override
        public String toString() {
            return "Browser[" + from + "]";
        }
    }

    /**
     * A session just begun.
     *
     * @param cookie what the browser has from now on: another than before, so that nobody can have put it there
     *     (session fixation)
     */
    public record Begun(SignedIn signedIn, String cookie) {
        @Override
        public String toString() {
            return "Begun[" + signedIn.person().id() + "]";
        }
    }

    /** Who is signed in in a browser at an issuer, the latest first. */
    public List<SignedIn> in(Browser browser, Issuer issuer, Instant now) {
        if (browser.hash().isEmpty()) return List.of();
        List<SignedIn> all = new ArrayList<>();
        for (Session session : sessions.ofBrowser(issuer.id(), browser.hash().get(), now)) {
            Optional<Person> person = people.find(session.personId()).filter(Person::enabled);
            if (person.isEmpty()) continue;
            if (session.seenAt().plus(SEEN_EVERY).isBefore(now))
                sessions.seen(
                        session.id(),
                        now,
                        now.plus(issuer.settings().people().sessionIdleTimeout()),
                        issuer.settings().people().maxSessionAge());
            all.add(new SignedIn(session, person.get()));
        }
        return all;
    }

    /** The tries that a password costs, charged before it is looked at. */
    private record Charged(List<Map.Entry<Tries.At, String>> spent) {}

    /**
     * Checks an address and a password. The tries of the account and of the network are charged first, for an unknown
     * address as for a known one. Once they are spent, only a browser that has signed in to this account before is
     * looked at: so nobody guesses on, and nobody is locked out.
     *
     * @param knownBrowser the id of a browser that has signed in to this account before; empty for any other
     * @return the person, or empty; the decision has one sentence for an unknown address and a wrong password
     */
    public Optional<Person> byPassword(
            Issuer issuer, String address, String password, Optional<String> knownBrowser, Recorder decision) {
        String email = address.strip().toLowerCase(Locale.ROOT);
        Optional<Charged> charged = charge(issuer.id() + " " + accountOf(email), knownBrowser, decision);
        if (charged.isEmpty()) {
            decision.add(CheckResult.refused(
                    "password",
                    Reason.TOO_MANY_WRONG_CREDENTIALS,
                    "at most %d tries an hour at one account".formatted(Tries.At.ACCOUNT.most()),
                    "more, or many from one network",
                    Fix.of("Wait an hour, sign in with a browser that has signed in before, or choose "
                            + "another password.")));
            return Optional.empty();
        }
        Optional<Person> person;
        try {
            person = checked(issuer, email, password, decision);
        } catch (PasswordHashing.Busy notLookedAt) {
            charged.get().spent().forEach(it -> tries.giveBack(it.getKey(), it.getValue(), decision.at()));
            throw notLookedAt;
        }
        if (person.isPresent())
            charged.get().spent().forEach(it -> tries.giveBack(it.getKey(), it.getValue(), decision.at()));
        return person;
    }

    /** By its hash: what strangers type is not kept as they typed it. */
    private static String accountOf(String email) {
        return java.util.HexFormat.of().formatHex(SecretHash.of(email).bytes(), 0, 16);
    }

    private Optional<Charged> charge(String account, Optional<String> knownBrowser, Recorder decision) {
        Instant now = decision.at();
        Map.Entry<Tries.At, String> network = Map.entry(Tries.At.PASSWORD_FROM_NETWORK, Network.of(decision.from()));
        Map.Entry<Tries.At, String> its = Map.entry(Tries.At.ACCOUNT, account);
        boolean fromNetwork = tries.charge(network.getKey(), network.getValue(), now);
        if (fromNetwork && tries.charge(its.getKey(), its.getValue(), now))
            return Optional.of(new Charged(List.of(network, its)));
        if (knownBrowser.isEmpty()) return Optional.empty();
        Map.Entry<Tries.At, String> known =
                Map.entry(Tries.At.ACCOUNT_IN_KNOWN_BROWSER, account + " " + knownBrowser.get());
        return tries.charge(known.getKey(), known.getValue(), now)
                ? Optional.of(new Charged(List.of(known)))
                : Optional.empty();
    }

    private Optional<Person> checked(Issuer issuer, String email, String password, Recorder decision) {
        Optional<Person> person =
                people.named(issuer.id(), email).filter(it -> it.email().equals(email));
        Optional<String> hash = person.flatMap(it -> credentials.password(it.id()));
        // An address that nobody has takes as long as one with another password.
        boolean fits = hashing.matches(password, hash.orElseGet(hashing::nobodys)) && hash.isPresent();
        if (!fits) {
            decision.take(guessing.refused(
                    email,
                    CheckResult.refused(
                            "password",
                            Reason.PERSON_NOT_RECOGNISED,
                            "an address of this place with its password",
                            "two that do not fit",
                            Fix.of("Check both. If you forgot the password, choose another.")),
                    decision.from()));
            return Optional.empty();
        }
        decision.subject(person.get().id());
        if (!person.get().enabled()) {
            decision.add(CheckResult.refused(
                    "password",
                    Reason.PERSON_SWITCHED_OFF,
                    "a person who may sign in",
                    "one who is switched off",
                    Fix.of("Have them switched on.", Action.of("person", "on", email))
                            .by("an administrator")));
            return Optional.empty();
        }
        decision.add(CheckResult.passed("password", "an address of this place with its password", email));
        return person;
    }

    /**
     * Begins a session, or makes a present one of the same person in the same browser fresh.
     *
     * @param methods of RFC 8176
     */
    public Begun begin(Issuer issuer, Person person, Browser browser, List<String> methods, Instant now) {
        String cookie = OneTimeSecret.browser();
        PeopleSettings rules = issuer.settings().people();
        Duration idle = rules.sessionIdleTimeout().compareTo(rules.maxSessionAge()) < 0
                ? rules.sessionIdleTimeout()
                : rules.maxSessionAge();
        return transactions.inOne(() -> {
            browser.hash().ifPresent(old -> sessions.move(old, SecretHash.of(cookie)));
            Optional<Session> present = sessions.ofBrowser(issuer.id(), SecretHash.of(cookie), now).stream()
                    .filter(it -> it.personId().equals(person.id()))
                    .findFirst();
            if (present.isPresent()) sessions.proven(present.get().id(), now, methods);
            else
                sessions.insert(new Session(
                        Ids.random("ses_"),
                        issuer.id(),
                        person.id(),
                        SecretHash.of(cookie),
                        now,
                        methods,
                        now,
                        now,
                        now.plus(idle),
                        browser.from(),
                        shortened(browser.agent())));
            audit.added(
                    actor(person, browser.from()),
                    issuer.id(),
                    "person.signed-in",
                    person.email(),
                    Map.of("methods", String.join(" ", methods)));
            Session session = sessions.ofBrowser(issuer.id(), SecretHash.of(cookie), now).stream()
                    .filter(it -> it.personId().equals(person.id()))
                    .findFirst()
                    .orElseThrow();
            return new Begun(new SignedIn(session, person), cookie);
        });
    }

    private static String shortened(String agent) {
        String visible = agent.codePoints()
                .filter(c -> c >= 0x20 && c < 0x7f)
                .limit(LONGEST_AGENT)
                .collect(StringBuilder::new, StringBuilder::appendCodePoint, StringBuilder::append)
                .toString();
        return visible.isEmpty() ? "unknown" : visible;
    }

    /** Ends a session, and with it every token that leans on it, from the next request on. */
    public Change<Session> end(Session session, String on, Actor by) {
        return withdrawal.revoking(revoke -> {
            sessions.delete(session.id());
            revoke.session(session.id());
            audit.added(by, session.issuerId(), "person.signed-out", on, Map.of("session", session.id()));
            return Change.made(session);
        });
    }

    static Actor actor(Person person, String from) {
        return new Actor(person.id(), person.email(), from);
    }
}
