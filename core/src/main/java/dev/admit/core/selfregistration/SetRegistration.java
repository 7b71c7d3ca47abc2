package dev.admit.core.selfregistration;

import dev.admit.contract.InitialAccessTokenWanted;
import dev.admit.contract.RegistrationLimits;
import dev.admit.contract.RegistrationWanted;
import dev.admit.core.approval.Withdrawal;
import dev.admit.core.audit.Audit;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.Expected;
import dev.admit.core.change.Fields;
import dev.admit.core.change.Ids;
import dev.admit.core.change.Page;
import dev.admit.core.change.Republish;
import dev.admit.core.change.Transactions;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.ClientKind;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.NewSecret;
import dev.admit.core.registry.Scope;
import dev.admit.core.registry.Scopes;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/** Says whether clients may register themselves at an issuer, and makes the tokens with which they may. */
public final class SetRegistration {
    private static final Pattern DOMAIN =
            Pattern.compile("[a-z0-9]([a-z0-9-]*[a-z0-9])?(\\.[a-z0-9]([a-z0-9-]*[a-z0-9])?)*");
    private static final Duration USUAL_LIFETIME = Duration.ofDays(7);
    private static final Duration LONGEST_LIFETIME = Duration.ofDays(366);
    private static final int MOST_USES = 10_000;
    private static final int MOST_TOKENS = 100;
    private static final int MOST_OF_EACH = 50;

    private final Transactions transactions;
    private final SelfRegistrations registrations;
    private final Clients clients;
    private final Withdrawal withdrawal;
    private final Scopes scopes;
    private final Set<String> grantTypes;
    private final Audit audit;
    private final Republish live;
    private final Clock clock;

    /** @param grantTypes every one that the service has */
    public SetRegistration(
            Transactions transactions,
            SelfRegistrations registrations,
            Clients clients,
            Withdrawal withdrawal,
            Scopes scopes,
            Set<String> grantTypes,
            Audit audit,
            Republish live,
            Clock clock) {
        this.transactions = transactions;
        this.registrations = registrations;
        this.clients = clients;
        this.withdrawal = withdrawal;
        this.scopes = scopes;
        this.grantTypes = grantTypes;
        this.audit = audit;
        this.live = live;
        this.clock = clock;
    }

    /** An initial access token just made: the kept half, and the half to show once. */
    public record Made(InitialAccessToken kept, NewSecret secret) {}

    public RegistrationPolicy of(Issuer issuer) {
        return registrations.policy(issuer.id()).orElseGet(() -> RegistrationPolicy.closed(issuer.id()));
    }

    public Change<RegistrationPolicy> change(Issuer issuer, RegistrationWanted wanted, Expected expected, Actor by) {
        if (!by.isAdministrator())
            return Change.Forbidden.toAllBut("administrators", "say whether clients may register themselves");
        Fields fields = new Fields();
        Change<RegistrationPolicy> change = withdrawal.revoking(revoke -> {
            RegistrationPolicy old = of(issuer);
            Optional<Change<RegistrationPolicy>> stale = expected.stale(old.version());
            if (stale.isPresent()) return stale.get();
            RegistrationPolicy.Mode mode = wanted.mode() == null
                    ? old.mode()
                    : fields.word("/mode", wanted.mode(), RegistrationPolicy.Mode.class, RegistrationPolicy.Mode.CLOSED)
                            .orElse(old.mode());
            Limits limits = limits(fields, issuer, wanted.limits(), old.limits());
            Scope.Approver approver = wanted.approver() == null
                    ? old.approver()
                    : fields.word("/approver", wanted.approver(), Scope.Approver.class, Scope.Approver.PERSON)
                            .orElse(old.approver());
            if (fields.faulty()) return new Change.Invalid<>(fields.faults());
            RegistrationPolicy now = new RegistrationPolicy(issuer.id(), mode, limits, approver, old.version() + 1);
            if (old.mode() == mode && old.limits().equals(limits) && old.approver() == approver)
                return Change.made(old, "Nothing differs from what is there.");
            registrations.put(now);
            // What people approved counts no more, so tokens that lean on it end with the next request.
            if (old.approver() != approver && approver == Scope.Approver.ADMINISTRATOR)
                unknown(issuer).forEach(it -> revoke.client(it.id()));
            audit.changed(by, issuer.id(), "registration.changed", issuer.name(), old, now);
            return new Change.Made<>(now, fields.notes());
        });
        if (change instanceof Change.Made<RegistrationPolicy>) live.republish();
        return change;
    }

    private List<Client> unknown(Issuer issuer) {
        List<Client> all = new ArrayList<>();
        Optional<String> after = Optional.empty();
        do {
            Page<Client> page =
                    clients.list(issuer.id(), Clients.Filter.SELF_REGISTERED, new Page.Ask(after, Page.Ask.MOST));
            all.addAll(page.items());
            after = page.next();
        } while (after.isPresent());
        return all;
    }

    public Change<Made> addToken(Issuer issuer, InitialAccessTokenWanted wanted, Actor by) {
        Fields fields = new Fields();
        String label = fields.line("/label", wanted.label(), null, Fields.TEXT_LENGTH);
        int uses = wanted.uses() == null ? 1 : wanted.uses();
        if (uses < 1 || uses > MOST_USES)
            fields.fault("/uses", "1 to " + MOST_USES, String.valueOf(uses), "Say how many clients it may register.");
        Optional<Duration> lifetime = fields.duration("/lifetime", wanted.lifetime(), USUAL_LIFETIME, LONGEST_LIFETIME);
        Limits limits = limits(fields, issuer, wanted.limits(), Limits.USUAL);
        if (fields.faulty()) return new Change.Invalid<>(fields.faults());
        return transactions.inOne(() -> {
            if (registrations.tokensOf(issuer.id()).size() >= MOST_TOKENS)
                return new Change.Refused<>(
                        "An issuer has at most %d initial access tokens.".formatted(MOST_TOKENS),
                        "Remove those that are used up.");
            if (of(issuer).mode() == RegistrationPolicy.Mode.CLOSED)
                fields.note(
                        "Nobody may register here yet; change that with: admit registration change --mode with-token");
            NewSecret secret = NewSecret.make();
            Instant now = clock.instant();
            InitialAccessToken kept = new InitialAccessToken(
                    Ids.random("iat_"),
                    issuer.id(),
                    label,
                    secret.hash(),
                    uses,
                    limits,
                    now.plus(lifetime.orElseThrow()),
                    by.name(),
                    now);
            registrations.insert(kept);
            audit.added(by, issuer.id(), "initial-access-token.added", label, kept);
            return new Change.Made<>(new Made(kept, secret), fields.notes());
        });
    }

    public Change<InitialAccessToken> removeToken(Issuer issuer, String tokenId, Actor by) {
        return transactions.inOne(() -> {
            Optional<InitialAccessToken> found = registrations.tokensOf(issuer.id()).stream()
                    .filter(it -> it.id().equals(tokenId) || it.label().equals(tokenId))
                    .findFirst();
            if (found.isEmpty()) return new Change.Absent<>("initial access token", tokenId);
            registrations.deleteToken(issuer.id(), found.get().id());
            audit.removed(
                    by, issuer.id(), "initial-access-token.removed", found.get().label(), found.get());
            return Change.made(found.get());
        });
    }

    /** Limits as one would have to want them. */
    public static RegistrationLimits said(Limits it) {
        return new RegistrationLimits(
                it.kinds().stream().map(Object::toString).toList(), it.grantTypes(), it.scopes(), it.redirectDomains());
    }

    private Limits limits(Fields fields, Issuer issuer, @Nullable RegistrationLimits wanted, Limits old) {
        if (wanted == null) return old;
        return new Limits(
                wanted.kinds() == null ? old.kinds() : kinds(fields, wanted.kinds()),
                wanted.grantTypes() == null
                        ? old.grantTypes()
                        : each(
                                fields,
                                "grant_types",
                                wanted.grantTypes(),
                                grantTypes::contains,
                                "one of " + String.join(", ", new TreeSet<>(grantTypes))),
                wanted.scopes() == null
                        ? old.scopes()
                        : each(
                                fields,
                                "scopes",
                                wanted.scopes(),
                                it -> scopes.named(issuer.id(), it).isPresent(),
                                "a scope of this issuer"),
                wanted.redirectDomains() == null
                        ? old.redirectDomains()
                        : each(
                                fields,
                                "redirect_domains",
                                wanted.redirectDomains(),
                                it -> DOMAIN.matcher(it).matches(),
                                "a host name in lower case, such as apps.saltmarsh.example"));
    }

    private static List<ClientKind> kinds(Fields fields, List<String> wanted) {
        List<ClientKind> kinds = new ArrayList<>();
        for (int i = 0; i < wanted.size(); i++)
            fields.word("/limits/kinds/" + i, wanted.get(i), ClientKind.class, null)
                    .filter(it -> !kinds.contains(it))
                    .ifPresent(kinds::add);
        return List.copyOf(kinds);
    }

    private interface Fits {
        boolean test(String word);
    }

    private static List<String> each(Fields fields, String member, List<String> wanted, Fits fits, String expected) {
        if (wanted.size() > MOST_OF_EACH)
            fields.fault("/limits/" + member, "at most " + MOST_OF_EACH, wanted.size() + " of them", "Name fewer.");
        Set<String> read = new TreeSet<>();
        for (int i = 0; i < wanted.size(); i++) {
            String word = wanted.get(i) == null ? "" : wanted.get(i).strip();
            if (member.equals("redirect_domains")) word = word.toLowerCase(Locale.ROOT);
            if (fits.test(word)) read.add(word);
            else
                fields.fault(
                        "/limits/" + member + "/" + i,
                        expected,
                        word.isEmpty() ? "nothing" : Fields.quoted(word),
                        "Correct it.");
        }
        return List.copyOf(read);
    }
}
