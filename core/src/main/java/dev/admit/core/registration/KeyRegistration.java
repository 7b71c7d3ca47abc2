package dev.admit.core.registration;

import dev.admit.contract.KeyWanted;
import dev.admit.core.audit.Audit;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Fields;
import dev.admit.core.change.Republish;
import dev.admit.core.change.Transactions;
import dev.admit.core.decision.Command;
import dev.admit.core.key.ImportKey;
import dev.admit.core.key.KeySpan;
import dev.admit.core.key.MasterKey;
import dev.admit.core.key.SigningAlgorithm;
import dev.admit.core.key.SigningKey;
import dev.admit.core.key.SigningKeys;
import dev.admit.core.key.SigningKeys.Purpose;
import dev.admit.core.registry.Issuer;
import dev.admit.core.token.Lifetime;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * The life of an issuer's signing keys: the next one is published before it signs, the last one stays until its tokens
 * are gone.
 */
public final class KeyRegistration {
    /** Twice as long as others may remember the key set. */
    public static final Duration PUBLISHED_BEFORE = Duration.ofMinutes(10);

    private static final Duration LONGEST_WAIT = Duration.ofDays(366);
    private static final int MOST_KEYS = 20;

    private final Transactions transactions;
    private final SigningKeys keys;
    private final MasterKey masterKey;
    private final Audit audit;
    private final Republish live;
    private final Clock clock;

    public KeyRegistration(
            Transactions transactions,
            SigningKeys keys,
            MasterKey masterKey,
            Audit audit,
            Republish live,
            Clock clock) {
        this.transactions = transactions;
        this.keys = keys;
        this.masterKey = masterKey;
        this.audit = audit;
        this.live = live;
        this.clock = clock;
    }

    public List<KeySpan> of(Issuer issuer) {
        return KeySpan.of(keys.of(issuer.id()), bound());
    }

    private static Duration bound() {
        return Lifetime.LONGEST.plus(Lifetime.SKEW);
    }

    /**
     * Makes or imports the first key of a new issuer, in the caller's transaction. It signs at once: nobody knows the
     * issuer yet.
     */
    void first(Issuer issuer) {
        keys.insert(kept(
                SigningKey.generate(SigningAlgorithm.ES256), Purpose.ACCESS_TOKEN, issuer, clock.instant(), false));
        firstOfIdentity(issuer);
    }

    /** Sees to it that an issuer can sign ID tokens: those that are older than people here have no key for them. */
    public void firstOfIdentity(Issuer issuer) {
        if (keys.of(issuer.id()).stream().anyMatch(key -> key.purpose() == Purpose.ID_TOKEN)) return;
        keys.insert(
                kept(SigningKey.generate(SigningAlgorithm.RS256), Purpose.ID_TOKEN, issuer, clock.instant(), false));
    }

    private SigningKeys.Stored kept(
            SigningKey key, Purpose purpose, Issuer issuer, Instant signsFrom, boolean imported) {
        return new SigningKeys.Stored(
                key.kid(),
                issuer.id(),
                purpose,
                key.algorithm().getName(),
                key.sealWith(masterKey),
                clock.instant(),
                signsFrom,
                imported,
                Optional.empty());
    }

    /**
     * Brings in the next key; or, when one is upcoming already, sets anew from when on it signs.
     *
     * @param confirm the issuer's name, where the key would sign before everyone can have it
     */
    public Change<KeySpan> rotate(Issuer issuer, KeyWanted wanted, Actor by, String confirm) {
        Fields fields = new Fields();
        Duration after = wanted.after() != null && wanted.after().strip().equals("0s")
                ? Duration.ZERO
                : fields.duration("/after", wanted.after(), PUBLISHED_BEFORE, LONGEST_WAIT)
                        .orElse(PUBLISHED_BEFORE);
        Optional<SigningAlgorithm> algorithm = blank(wanted.alg())
                ? Optional.empty()
                : fields.word("/alg", wanted.alg(), SigningAlgorithm.class, null);
        Purpose purpose = fields.word("/purpose", wanted.purpose(), Purpose.class, Purpose.ACCESS_TOKEN)
                .orElse(Purpose.ACCESS_TOKEN);
        if (fields.faulty()) return new Change.Invalid<>(fields.faults());
        Optional<SigningKey> imported = Optional.empty();
        // The one who holds a private key mints what they like: so a key from elsewhere is an administrator's to bring.
        if (!blank(wanted.imported()) && !by.isAdministrator())
            return Change.Forbidden.toAllBut("administrators", "import a key");
        if (wanted.imported() != null && !wanted.imported().isBlank()) {
            switch (ImportKey.read(wanted.imported(), algorithm)) {
                case ImportKey.Reading.Good(SigningKey key) -> imported = Optional.of(key);
                case ImportKey.Reading.Unusable(String received, String fix) -> {
                    return Change.invalid(
                            new FieldFault("/import", "a private key for ES256, RS256, PS256 or EdDSA", received, fix));
                }
            }
        }
        if (after.compareTo(PUBLISHED_BEFORE) < 0 && !issuer.name().equals(confirm)) {
            return new Change.NeedsConfirmation<>(
                    issuer.name(),
                    List.of(("the one who checks tokens by themselves and fetched the key set less than %d minutes "
                                    + "before, "
                                    + "until they fetch it again")
                            .formatted(PUBLISHED_BEFORE.toMinutes())));
        }
        return published(
                bringIn(issuer, purpose, algorithm, imported, clock.instant().plus(after), by));
    }

    private Change<KeySpan> bringIn(
            Issuer issuer,
            Purpose purpose,
            Optional<SigningAlgorithm> algorithm,
            Optional<SigningKey> imported,
            Instant signsFrom,
            Actor by) {
        SigningKey fresh = imported.orElseGet(
                () -> SigningKey.generate(algorithm.orElseGet(() -> algorithmInUse(issuer, purpose))));
        return transactions.inOne(() -> {
            List<SigningKeys.Stored> all = keys.of(issuer.id());
            Optional<KeySpan> upcoming = of(issuer, purpose).stream()
                    .filter(it -> it.stateAt(clock.instant()) == KeySpan.State.UPCOMING)
                    .findFirst();
            if (upcoming.isPresent()) {
                if (imported.isPresent()
                        || algorithm
                                .filter(it ->
                                        !it.toString().equals(upcoming.get().algorithm()))
                                .isPresent()) {
                    return new Change.Refused<>(
                            "%s is upcoming already, for %s."
                                    .formatted(
                                            upcoming.get().kid(), upcoming.get().algorithm()),
                            "Let it sign, or remove it with: "
                                    + Command.of("key", "remove", upcoming.get().kid()));
                }
                SigningKeys.Stored moved = all.stream()
                        .filter(key -> key.kid().equals(upcoming.get().kid()))
                        .findFirst()
                        .orElseThrow()
                        .signingFrom(signsFrom);
                keys.update(moved);
                KeySpan now = span(issuer, moved.kid());
                audit.changed(by, issuer.id(), "key.changed", moved.kid(), upcoming.get(), now);
                return Change.made(now, "%s was upcoming already; only its time is changed.".formatted(moved.kid()));
            }
            String thumbprint = fresh.thumbprint();
            if (all.stream().anyMatch(key -> SigningKey.unseal(key.kid(), key.sealed(), masterKey)
                    .thumbprint()
                    .equals(thumbprint))) {
                return new Change.Taken<>(new FieldFault(
                        "/import", "a key that this issuer never had", "one that it has or had", "Give another."));
            }
            if (all.stream().filter(key -> key.removedAt().isEmpty()).count() >= MOST_KEYS) {
                return new Change.Refused<>(
                        "An issuer keeps at most %d keys.".formatted(MOST_KEYS), "Remove a retired one first.");
            }
            keys.insert(kept(fresh, purpose, issuer, signsFrom, imported.isPresent()));
            KeySpan now = span(issuer, fresh.kid());
            audit.added(by, issuer.id(), "key.added", fresh.kid(), now);
            return Change.made(now);
        });
    }

    private List<KeySpan> of(Issuer issuer, Purpose purpose) {
        return of(issuer).stream().filter(it -> it.purpose() == purpose).toList();
    }

    private SigningAlgorithm algorithmInUse(Issuer issuer, Purpose purpose) {
        Instant now = clock.instant();
        String used = of(issuer, purpose).stream()
                .filter(it -> it.stateAt(now) == KeySpan.State.ACTIVE)
                .map(KeySpan::algorithm)
                .findFirst()
                .orElse(purpose == Purpose.ACCESS_TOKEN ? "ES256" : "RS256");
        for (SigningAlgorithm one : SigningAlgorithm.values())
            if (one.toString().equals(used)) return one;
        return SigningAlgorithm.ES256;
    }

    private KeySpan span(Issuer issuer, String kid) {
        return of(issuer).stream()
                .filter(it -> it.kid().equals(kid))
                .findFirst()
                .orElseThrow();
    }

    /**
     * Takes a key out at once: every token it signed is refused from the next request on. When it was the one that
     * signs, the upcoming one takes over, or one made on the spot.
     *
     * @param confirm the key's id
     */
    public Change<KeySpan> remove(Issuer issuer, String kid, Actor by, String confirm) {
        if (!by.isAdministrator()) return Change.Forbidden.toAllBut("administrators", "remove a key");
        return published(transactions.inOne(() -> {
            Instant now = clock.instant();
            Optional<SigningKeys.Stored> found = keys.of(issuer.id()).stream()
                    .filter(key -> key.kid().equals(kid) && key.removedAt().isEmpty())
                    .findFirst();
            if (found.isEmpty()) return new Change.Absent<>("key", kid);
            KeySpan before = span(issuer, kid);
            KeySpan.State state = before.stateAt(now);
            boolean harmless = state == KeySpan.State.UPCOMING || state == KeySpan.State.RETIRED;
            if (!harmless && !kid.equals(confirm)) {
                return new Change.NeedsConfirmation<>(
                        kid,
                        List.of(
                                "every token that it signed and that has not expired",
                                state == KeySpan.State.ACTIVE
                                        ? "for a moment, the one who checks tokens by themselves and does not have the "
                                                + "next key yet"
                                        : "nothing else"));
            }
            keys.update(found.get().removed(now));
            if (state == KeySpan.State.ACTIVE) replace(issuer, before.purpose(), now);
            audit.removed(by, issuer.id(), "key.removed", kid, before);
            return Change.made(span(issuer, kid));
        }));
    }

    private void replace(Issuer issuer, Purpose purpose, Instant now) {
        Optional<SigningKeys.Stored> next = keys.of(issuer.id()).stream()
                .filter(key -> key.purpose() == purpose
                        && key.removedAt().isEmpty()
                        && key.signsFrom().isAfter(now))
                .findFirst();
        if (next.isPresent()) keys.update(next.get().signingFrom(now));
        else keys.insert(kept(SigningKey.generate(algorithmInUse(issuer, purpose)), purpose, issuer, now, false));
    }

    /** Brings in the next key of an issuer whose active one is due by its schedule. To be called again and again. */
    public void rotateWhenDue(Issuer issuer) {
        for (Purpose purpose : Purpose.values()) rotateWhenDue(issuer, purpose);
    }

    private void rotateWhenDue(Issuer issuer, Purpose purpose) {
        Optional<Duration> every = issuer.settings().keyRotation();
        if (every.isEmpty()) return;
        Instant now = clock.instant();
        List<KeySpan> spans = of(issuer, purpose);
        if (spans.stream().anyMatch(it -> it.stateAt(now) == KeySpan.State.UPCOMING)) return;
        Optional<KeySpan> active = spans.stream()
                .filter(it -> it.stateAt(now) == KeySpan.State.ACTIVE)
                .findFirst();
        if (active.isEmpty()) return;
        Duration ahead = every.get().dividedBy(10).compareTo(PUBLISHED_BEFORE) < 0
                ? PUBLISHED_BEFORE
                : every.get().dividedBy(10);
        Instant due = active.get().signsFrom().plus(every.get());
        if (now.isBefore(due.minus(ahead))) return;
        Instant soonest = now.plus(PUBLISHED_BEFORE);
        published(bringIn(
                issuer,
                purpose,
                Optional.empty(),
                Optional.empty(),
                due.isAfter(soonest) ? due : soonest,
                Actor.ADMIT));
    }

    private Change<KeySpan> published(Change<KeySpan> change) {
        if (change instanceof Change.Made<KeySpan>) live.republish();
        return change;
    }

    private static boolean blank(@Nullable String text) {
        return text == null || text.isBlank();
    }
}
