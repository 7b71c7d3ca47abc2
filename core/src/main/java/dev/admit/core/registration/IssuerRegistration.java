package dev.admit.core.registration;

import dev.admit.contract.IssuerWanted;
import dev.admit.core.audit.Audit;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.Expected;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Fields;
import dev.admit.core.change.Ids;
import dev.admit.core.change.Republish;
import dev.admit.core.change.Transactions;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.IssuerSettings;
import dev.admit.core.registry.Issuers;
import dev.admit.core.route.Routes;
import java.net.URI;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/** Sets up issuers, changes their texts and settings, removes them. */
public final class IssuerRegistration {
    /** First segments of the service's own addresses, which no issuer can take. */
    private static final Set<String> RESERVED = Set.of(
            "admin", "console", "health", "ready", "metrics", "assets", "static", "error", "catalogue", "openapi");

    private static final Pattern DOMAIN =
            Pattern.compile("([a-z0-9]([a-z0-9-]{0,61}[a-z0-9])?\\.)*[a-z0-9]([a-z0-9-]{0,61}[a-z0-9])?");
    private static final Duration SHORTEST_ROTATION = Duration.ofHours(1);
    private static final Duration LONGEST = Duration.ofDays(3660);
    private static final int MOST_DOMAINS = 50;

    private final Transactions transactions;
    private final Issuers issuers;
    private final Routes routes;
    private final KeyRegistration keys;
    private final Set<String> grantTypes;
    private final Audit audit;
    private final Republish live;
    private final Clock clock;
    private final URI publicUrl;

    /** @param grantTypes every one that the service has */
    public IssuerRegistration(
            Transactions transactions,
            Issuers issuers,
            Routes routes,
            KeyRegistration keys,
            Set<String> grantTypes,
            Audit audit,
            Republish live,
            Clock clock,
            URI publicUrl) {
        this.transactions = transactions;
        this.issuers = issuers;
        this.routes = routes;
        this.keys = keys;
        this.grantTypes = new TreeSet<>(grantTypes);
        this.audit = audit;
        this.live = live;
        this.clock = clock;
        this.publicUrl = publicUrl;
    }

    /** Makes an issuer with its first signing key; its metadata answers when this returns. */
    public Change<Issuer> create(IssuerWanted wanted, Actor by) {
        Fields fields = new Fields();
        String name = fields.name("/name", wanted.name());
        if (RESERVED.contains(name)) {
            fields.fault(
                    "/name",
                    "a name that is not an address of the service itself",
                    Fields.quoted(name),
                    "Choose another name.");
        }
        Issuer blank = new Issuer(
                Ids.random("iss_"),
                name,
                name,
                "",
                Issuer.urlOf(publicUrl, name),
                IssuerSettings.USUAL,
                0,
                1,
                clock.instant());
        Issuer issuer = read(fields, wanted, blank, 1);
        if (fields.faulty()) return new Change.Invalid<>(fields.faults());
        return published(transactions.inOne(() -> {
            if (issuers.named(name).isPresent()) {
                return new Change.Taken<>(new FieldFault(
                        "/name", "a name no issuer here has", Fields.quoted(name), "Choose another name."));
            }
            Optional<FieldFault> taken = takenFromOthers(issuer);
            if (taken.isPresent()) return new Change.Taken<>(taken.get());
            if (routes.ofOthers(issuer.id()).stream()
                    .anyMatch(it -> it.pattern().beginsWith(name))) {
                return new Change.Taken<>(new FieldFault(
                        "/name",
                        "a name that no route's path begins with",
                        Fields.quoted(name),
                        "Choose another name: at the gateway /%s would no longer be reached.".formatted(name)));
            }
            issuers.insert(issuer);
            keys.first(issuer);
            audit.added(by, issuer.id(), "issuer.added", name, issuer);
            return new Change.Made<>(issuer, fields.notes());
        }));
    }

    /** Changes texts and settings. The name stays: it is part of the URL that clients and tokens hold. */
    public Change<Issuer> change(String named, IssuerWanted wanted, Expected expected, Actor by) {
        Fields fields = new Fields();
        return published(transactions.inOne(() -> {
            Optional<Issuer> found = issuers.named(named);
            if (found.isEmpty()) return new Change.Absent<>("issuer", named);
            Issuer old = found.get();
            Optional<Change<Issuer>> stale = expected.stale(old.version());
            if (stale.isPresent()) return stale.get();
            if (wanted.name() != null && !wanted.name().strip().equals(old.name())) {
                fields.fault(
                        "/name",
                        old.name() + ", because the issuer's URL has it and clients and tokens hold that",
                        Fields.quoted(wanted.name()),
                        "Add an issuer with the new name, and move its clients.");
            }
            Issuer changed = read(fields, wanted, old, old.version() + 1);
            if (fields.faulty()) return new Change.Invalid<>(fields.faults());
            if (Audit.same(old, changed)) return Change.made(old, "Nothing differs from what is there.");
            Optional<FieldFault> taken = takenFromOthers(changed);
            if (taken.isPresent()) return new Change.Taken<>(taken.get());
            issuers.update(changed);
            audit.changed(by, old.id(), "issuer.changed", old.name(), old, changed);
            fields.removed(
                    "domain", old.settings().domains(), changed.settings().domains());
            fields.removed(
                    "grant type",
                    old.settings().grantTypes().orElse(List.copyOf(grantTypes)),
                    changed.settings().grantTypes().orElse(List.copyOf(grantTypes)));
            return new Change.Made<>(changed, fields.notes());
        }));
    }

    /** A domain is one issuer's: hosts below it are not for others to name, nor to take away. */
    private Optional<FieldFault> takenFromOthers(Issuer issuer) {
        List<String> theirs = issuers.all().stream()
                .filter(it -> !it.id().equals(issuer.id()))
                .flatMap(it -> it.settings().domains().stream())
                .toList();
        List<String> hosts = routes.ofOthers(issuer.id()).stream()
                .map(it -> it.pattern().host())
                .filter(it -> !it.isEmpty())
                .toList();
        return issuer.settings().domains().stream()
                .filter(domain -> theirs.stream().anyMatch(other -> isBelow(domain, other) || isBelow(other, domain))
                        || hosts.stream().anyMatch(host -> isBelow(host, domain)))
                .findFirst()
                .map(domain -> new FieldFault(
                        "/domains",
                        "domains that no other issuer has or names a host in",
                        Fields.quoted(domain),
                        "Remove it."));
    }

    private static boolean isBelow(String host, String domain) {
        return host.equals(domain) || host.endsWith("." + domain);
    }

    /**
     * Removes an issuer with everything it holds; its tokens and addresses end at once. Its audit stays.
     *
     * @param confirm its name
     */
    public Change<Issuer> remove(String named, Expected expected, String confirm, Actor by) {
        return published(transactions.inOne(() -> {
            Optional<Issuer> found = issuers.named(named);
            if (found.isEmpty()) return new Change.Absent<>("issuer", named);
            Issuer issuer = found.get();
            Optional<Change<Issuer>> stale = expected.stale(issuer.version());
            if (stale.isPresent()) return stale.get();
            if (!issuer.name().equals(confirm)) {
                Issuers.Holds holds = issuers.holds(issuer.id());
                return new Change.NeedsConfirmation<>(
                        issuer.name(),
                        List.of(
                                "APIs: %d, with routes: %d".formatted(holds.apis(), holds.routes()),
                                "clients: %d, with approvals: %d".formatted(holds.clients(), holds.approvals()),
                                "its signing keys, and with them every token it issued"));
            }
            issuers.delete(issuer.id());
            audit.removed(by, issuer.id(), "issuer.removed", issuer.name(), issuer);
            return Change.made(issuer, "Its audit stays, under " + issuer.id() + ".");
        }));
    }

    private Issuer read(Fields fields, IssuerWanted wanted, Issuer old, long version) {
        String title = wanted.title() == null
                ? old.title()
                : fields.line("/title", wanted.title(), old.name(), Fields.TEXT_LENGTH);
        String description = wanted.description() == null
                ? old.description()
                : fields.line("/description", wanted.description(), "", Fields.LONG_TEXT_LENGTH);
        IssuerSettings was = old.settings();
        Duration secretLifetime = fields.duration(
                        "/secret_lifetime", wanted.secretLifetime(), was.secretLifetime(), LONGEST)
                .orElse(was.secretLifetime());
        Duration maxSecretLifetime = fields.duration(
                        "/max_secret_lifetime", wanted.maxSecretLifetime(), was.maxSecretLifetime(), LONGEST)
                .orElse(was.maxSecretLifetime());
        if (secretLifetime.compareTo(maxSecretLifetime) > 0) {
            fields.fault(
                    "/secret_lifetime",
                    "at most max_secret_lifetime, which is %dd".formatted(maxSecretLifetime.toDays()),
                    "%dd".formatted(secretLifetime.toDays()),
                    "Shorten it, or raise max_secret_lifetime.");
        }
        boolean nonExpiringSecrets =
                wanted.nonExpiringSecrets() == null ? was.nonExpiringSecrets() : wanted.nonExpiringSecrets();
        if (nonExpiringSecrets && !was.nonExpiringSecrets())
            fields.note("Secrets may now be made that never expire; each is marked.");
        boolean development = wanted.loopbackRedirects() == null ? was.loopbackRedirects() : wanted.loopbackRedirects();
        IssuerSettings rules = new IssuerSettings(
                readDomains(fields, wanted.domains(), was.domains()),
                readRotation(fields, wanted.keyRotation(), was.keyRotation()),
                secretLifetime,
                maxSecretLifetime,
                nonExpiringSecrets,
                development,
                readGrantTypes(fields, wanted.grantTypes(), was.grantTypes()),
                wanted.people() == null ? was.people() : PeopleReading.read(fields, wanted.people(), was.people()));
        return new Issuer(
                old.id(), old.name(), title, description, old.url(), rules, old.revision(), version, old.createdAt());
    }

    private static List<String> readDomains(Fields fields, @Nullable List<String> wanted, List<String> old) {
        if (wanted == null) return old;
        if (wanted.size() > MOST_DOMAINS)
            fields.fault(
                    "/domains",
                    "at most " + MOST_DOMAINS,
                    wanted.size() + " of them",
                    "Name the ones that others hang below.");
        List<String> domains = new ArrayList<>();
        for (int i = 0; i < wanted.size(); i++) {
            String domain = wanted.get(i) == null ? "" : wanted.get(i).strip().toLowerCase(Locale.ROOT);
            if (!DOMAIN.matcher(domain).matches() || domain.length() > 253) {
                fields.fault(
                        "/domains/" + i,
                        "a host name such as saltmarsh.example, without scheme, port or path",
                        domain.isEmpty() ? "nothing" : Fields.quoted(domain),
                        "Give the name alone.");
            }
            if (!domains.contains(domain)) domains.add(domain);
        }
        return domains;
    }

    private static Optional<Duration> readRotation(Fields fields, @Nullable String wanted, Optional<Duration> old) {
        if (wanted == null) return old;
        if (wanted.strip().equals("none")) return Optional.empty();
        Optional<Duration> every = fields.duration("/key_rotation", wanted, old.orElse(Duration.ofDays(90)), LONGEST);
        if (every.filter(it -> it.compareTo(SHORTEST_ROTATION) < 0).isPresent()) {
            fields.fault("/key_rotation", "1h or more, or none", Fields.quoted(wanted), "Choose a longer time.");
        }
        return every;
    }

    private Optional<List<String>> readGrantTypes(
            Fields fields, @Nullable List<String> wanted, Optional<List<String>> old) {
        if (wanted == null) return old;
        TreeSet<String> chosen = new TreeSet<>();
        for (int i = 0; i < wanted.size(); i++) {
            String type = wanted.get(i) == null ? "" : wanted.get(i).strip();
            if (!grantTypes.contains(type)) {
                fields.fault(
                        "/grant_types/" + i,
                        "one of " + String.join(", ", grantTypes),
                        type.isEmpty() ? "nothing" : Fields.quoted(type),
                        "Choose among them.");
            }
            chosen.add(type);
        }
        if (chosen.isEmpty()) fields.note("No grant type is on: this issuer gives no tokens.");
        return Optional.of(List.copyOf(chosen));
    }

    private Change<Issuer> published(Change<Issuer> change) {
        if (change instanceof Change.Made<Issuer>) live.republish();
        return change;
    }
}
