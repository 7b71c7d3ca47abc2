package dev.admit.core.signin;

import dev.admit.core.audit.Audit;
import dev.admit.core.change.RandomBits;
import dev.admit.core.change.Transactions;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.decision.Action;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Recorder;
import dev.admit.core.key.MasterKey;
import dev.admit.core.key.SigningFault;
import dev.admit.core.person.Credentials;
import dev.admit.core.person.Person;
import dev.admit.core.person.TimeCode;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.SecretHash;
import dev.admit.core.tries.Tries;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;

/**
 * The second factor: a code that an authenticator shows, or one of the recovery codes. The one who comes so far has the
 * password, so wrong codes are counted strictly without giving a stranger a way to lock anybody out.
 */
public final class SecondFactor {
    private static final int RECOVERY_CODES = 10;
    private static final String LETTERS = "23456789abcdefghjkmnpqrstuvwxyz";

    private final Credentials credentials;
    private final MasterKey masterKey;
    private final Transactions transactions;
    private final Audit audit;
    private final Tries tries;

    public SecondFactor(
            Credentials credentials, MasterKey masterKey, Tries tries, Transactions transactions, Audit audit) {
        this.credentials = credentials;
        this.masterKey = masterKey;
        this.tries = tries;
        this.transactions = transactions;
        this.audit = audit;
    }

    public boolean has(Person person) {
        return credentials.seed(person.id()).isPresent();
    }

    /**
     * Whether a person must show one for a client: the issuer, the client or one of their roles says so, or they have
     * set one up.
     */
    public boolean isNeeded(Person person, CompiledIssuer issuer, Client client) {
        return client.people().secondFactor() || isNeeded(person, issuer);
    }

    /** The same, for their own pages. */
    public boolean isNeeded(Person person, CompiledIssuer issuer) {
        return issuer.issuer().settings().people().secondFactor()
                || issuer.roleNeedsSecondFactor(person)
                || has(person);
    }

    public int recoveryCodesLeft(Person person) {
        return credentials.recoveryCodesLeft(person.id());
    }

    /**
     * A seed on offer, not yet in use.
     *
     * @param sealed travels with the form
     * @param text for an authenticator
     * @param uri the same for its camera
     */
    public record Offer(String sealed, String text, String uri) {
        @Override
        public String toString() {
            return "Offer[hidden]";
        }
    }

    public Offer offer(Person person, String issuer) {
        byte[] seed = TimeCode.newSeed();
        return offerOf(seed, person, issuer);
    }

    /** The same offer again, for a page that is shown again; another where the old one does not open. */
    public Offer again(String sealed, Person person, String issuer) {
        return open(sealed, person).map(seed -> offerOf(seed, person, issuer)).orElseGet(() -> offer(person, issuer));
    }

    private Offer offerOf(byte[] seed, Person person, String issuer) {
        String sealed =
                Base64.getUrlEncoder().withoutPadding().encodeToString(masterKey.seal(seed, "offer to " + person.id()));
        String text = TimeCode.base32(seed);
        String label = encoded(issuer) + ":" + encoded(person.email());
        return new Offer(sealed, text, "otpauth://totp/%s?secret=%s&issuer=%s".formatted(label, text, encoded(issuer)));
    }

    private static String encoded(String text) {
        return java.net.URLEncoder.encode(text, java.nio.charset.StandardCharsets.UTF_8)
                .replace("+", "%20");
    }

    private Optional<byte[]> open(String sealed, Person person) {
        try {
            return Optional.of(masterKey.open(Base64.getUrlDecoder().decode(sealed), "offer to " + person.id()));
        } catch (SigningFault | IllegalArgumentException none) {
            return Optional.empty();
        }
    }

    /**
     * Takes an offer up, once the person shows that their authenticator has it.
     *
     * @return the recovery codes, to be shown once; empty when the code does not fit
     */
    public Optional<List<String>> enrol(Person person, String sealedOffer, String code, Recorder decision) {
        if (!mayTry(person, decision)) return Optional.empty();
        Optional<byte[]> seed = open(sealedOffer, person);
        OptionalLong step =
                seed.isEmpty() ? OptionalLong.empty() : TimeCode.stepOf(plain(code), seed.get(), decision.at());
        if (step.isEmpty()) {
            refuse(decision);
            return Optional.empty();
        }
        List<String> codes = new ArrayList<>();
        for (int i = 0; i < RECOVERY_CODES; i++) codes.add(recoveryCode());
        transactions.inOne(() -> {
            credentials.putSeed(
                    person.id(), Optional.of(masterKey.seal(seed.get(), "second factor of " + person.id())));
            credentials.takeStep(person.id(), step.getAsLong());
            credentials.putRecoveryCodes(
                    person.id(),
                    codes.stream().map(it -> SecretHash.of(plain(it))).toList());
            audit.added(
                    SignIn.actor(person, decision.from()),
                    person.issuerId(),
                    "person.factor-added",
                    person.email(),
                    Map.of("person", person.id()));
            return null;
        });
        tries.giveBack(Tries.At.TIME_CODE, person.id(), decision.at());
        decision.add(CheckResult.passed("second-factor", "a code of the authenticator", "one that fits"));
        return Optional.of(codes);
    }

    /** Sets a seed that an administrator brings, for a demo or from elsewhere. */
    public void put(Person person, byte[] seed) {
        credentials.putSeed(person.id(), Optional.of(masterKey.seal(seed, "second factor of " + person.id())));
    }

    /** Whether the code is good; each opens once. The decision says it. */
    public boolean check(Person person, String code, Recorder decision) {
        if (!mayTry(person, decision)) return false;
        Optional<byte[]> sealed = credentials.seed(person.id());
        OptionalLong step = sealed.isEmpty()
                ? OptionalLong.empty()
                : TimeCode.stepOf(
                        plain(code), masterKey.open(sealed.get(), "second factor of " + person.id()), decision.at());
        boolean good = step.isPresent() && credentials.takeStep(person.id(), step.getAsLong())
                || sealed.isPresent()
                        && plain(code).length() == 10
                        && credentials.takeRecoveryCode(person.id(), SecretHash.of(plain(code)));
        if (!good) {
            refuse(decision);
            return false;
        }
        tries.giveBack(Tries.At.TIME_CODE, person.id(), decision.at());
        decision.add(CheckResult.passed(
                "second-factor", "a code of the authenticator, or a recovery code", "one that fits"));
        return true;
    }

    /** The try is reserved before the code is looked at: of many at once no more are looked at than there are tries. */
    private boolean mayTry(Person person, Recorder decision) {
        if (tries.charge(Tries.At.TIME_CODE, person.id(), decision.at())) return true;
        decision.add(CheckResult.refused(
                "second-factor",
                Reason.TOO_MANY_WRONG_CREDENTIALS,
                "at most %d wrong codes an hour".formatted(Tries.At.TIME_CODE.most()),
                "more",
                Fix.of(
                        "Wait an hour, or have the second factor reset.",
                        Action.of("person", "reset", person.email()).with("factor", ""))));
        return false;
    }

    private static void refuse(Recorder decision) {
        decision.add(CheckResult.refused(
                "second-factor",
                Reason.SECOND_FACTOR_WRONG,
                "the code that the authenticator shows now, not used before, or a recovery code",
                "one that does not fit",
                Fix.of("Wait for the next code, and check the clock of the authenticator.")));
    }

    /** 10 places of 31 letters and figures: 49 bits. */
    private static String recoveryCode() {
        return RandomBits.letters(LETTERS, 5) + "-" + RandomBits.letters(LETTERS, 5);
    }

    private static String plain(String code) {
        return code.toLowerCase(Locale.ROOT).replaceAll("[^a-z0-9]", "");
    }
}
