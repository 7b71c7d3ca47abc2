package dev.admit.core.registration;

import dev.admit.contract.ApiWanted;
import dev.admit.core.access.AdminApi;
import dev.admit.core.approval.Approval;
import dev.admit.core.approval.Approvals;
import dev.admit.core.approval.Withdrawal;
import dev.admit.core.audit.Audit;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.Expected;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Fields;
import dev.admit.core.change.Ids;
import dev.admit.core.change.Republish;
import dev.admit.core.change.Transactions;
import dev.admit.core.plan.Plan;
import dev.admit.core.plan.Plans;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.ApiSecret;
import dev.admit.core.registry.Apis;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Issuers;
import dev.admit.core.registry.Minting;
import dev.admit.core.registry.NewSecret;
import dev.admit.core.registry.Scope;
import dev.admit.core.registry.Scopes;
import dev.admit.core.route.Route;
import dev.admit.core.route.Routes;
import java.net.URI;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/** Registers, changes and removes APIs. */
public final class ApiRegistration {
    private static final Pattern PLAIN_AUDIENCE = Pattern.compile("[A-Za-z0-9._~-]{1,200}");
    private static final Duration SECRET_LIFETIME = Duration.ofDays(365);
    private static final Duration LONGEST_SECRET = Duration.ofDays(3660);
    private static final int MOST_SECRETS = 5;

    private final Transactions transactions;
    private final Issuers issuers;
    private final Apis apis;
    private final Clients clients;
    private final Routes routes;
    private final Plans plans;
    private final Scopes scopes;
    private final Approvals approvals;
    private final Withdrawal withdrawal;
    private final Audit audit;
    private final Republish live;
    private final Clock clock;

    public ApiRegistration(
            Transactions transactions,
            Issuers issuers,
            Apis apis,
            Clients clients,
            Routes routes,
            Plans plans,
            Scopes scopes,
            Approvals approvals,
            Withdrawal withdrawal,
            Audit audit,
            Republish live,
            Clock clock) {
        this.transactions = transactions;
        this.issuers = issuers;
        this.apis = apis;
        this.clients = clients;
        this.routes = routes;
        this.plans = plans;
        this.scopes = scopes;
        this.approvals = approvals;
        this.withdrawal = withdrawal;
        this.audit = audit;
        this.live = live;
        this.clock = clock;
    }

    public Change<Api> register(Issuer issuer, ApiWanted wanted, Actor by) {
        return published(added(issuer, wanted, by));
    }

    /** An API that is not saved, as it would be. */
    public Change<Api> preview(Issuer issuer, ApiWanted wanted, Actor by) {
        return transactions.rehearse(() -> added(issuer, wanted, by));
    }

    private Change<Api> added(Issuer issuer, ApiWanted wanted, Actor by) {
        Fields fields = new Fields();
        String name = fields.name("/name", wanted.name());
        String title = fields.line("/title", wanted.title(), name, Fields.TEXT_LENGTH);
        Optional<URI> upstream =
                blank(wanted.upstream()) ? Optional.empty() : fields.upstream("/upstream", wanted.upstream());
        Optional<String> audience = blank(wanted.audience()) ? Optional.empty() : readAudience(fields, issuer, wanted);
        if (wanted.defaultScopes() != null) readDefaults(fields, wanted.defaultScopes(), List.of());
        if (fields.faulty()) return new Change.Invalid<>(fields.faults());

        return transactions.inOne(() -> {
            if (apis.named(issuer.id(), name).isPresent()) return nameTaken(name);
            if (audience.filter(it -> isTaken(issuer, it)).isPresent()) return audienceTaken(audience.get());
            String chosen = audience.orElseGet(() -> proposeAudience(issuer, name));
            Api api = new Api(
                    Ids.random("api_"),
                    issuer.id(),
                    name,
                    title,
                    chosen,
                    upstream,
                    Minting.USUAL,
                    List.of(),
                    Boolean.TRUE.equals(wanted.allByDefault()),
                    1,
                    clock.instant());
            apis.insert(api);
            audit.added(by, issuer.id(), "api.added", name, api);
            List<String> notes = new ArrayList<>(fields.notes());
            if (audience.isEmpty()) notes.add("The audience was proposed: " + chosen + ".");
            return new Change.Made<>(api, notes);
        });
    }

    /** @param confirm the API's name, said when tokens in use would stop working */
    public Change<Api> change(
            Issuer issuer, String named, ApiWanted wanted, Expected expected, @Nullable String confirm, Actor by) {
        Fields fields = new Fields();
        return published(transactions.inOne(() -> {
            Optional<Api> found = apis.named(issuer.id(), named);
            if (found.isEmpty()) return new Change.Absent<>("API", named);
            Api old = found.get();
            Optional<Change<Api>> stale = expected.stale(old.version());
            if (stale.isPresent()) return stale.get();
            String name = wanted.name() == null ? old.name() : fields.name("/name", wanted.name());
            String title = wanted.title() == null
                    ? old.title()
                    : fields.line("/title", wanted.title(), name, Fields.TEXT_LENGTH);
            String audience = blank(wanted.audience())
                    ? old.audience()
                    : readAudience(fields, issuer, wanted).orElse("");
            Optional<URI> upstream = wanted.upstream() == null
                    ? old.upstream()
                    : wanted.upstream().isBlank() ? Optional.empty() : fields.upstream("/upstream", wanted.upstream());
            List<String> defaults = wanted.defaultScopes() == null
                    ? old.defaultScopes()
                    : readDefaults(fields, wanted.defaultScopes(), scopes.of(old.id()));
            if (fields.faulty()) return new Change.Invalid<>(fields.faults());
            if (!name.equals(old.name()) && apis.named(issuer.id(), name).isPresent()) return nameTaken(name);
            if (!audience.equals(old.audience())) {
                if (isTaken(issuer, audience)) return audienceTaken(audience);
                List<Approval> granted = granted(old);
                if (!granted.isEmpty() && !old.name().equals(confirm)) {
                    return new Change.NeedsConfirmation<>(
                            old.name(),
                            List.of(("Tokens for %s stop working at the gateway at once; "
                                            + "%d approvals lean on this API.")
                                    .formatted(old.audience(), granted.size())));
                }
            }
            Api changed = new Api(
                    old.id(),
                    issuer.id(),
                    name,
                    title,
                    audience,
                    upstream,
                    old.minting(),
                    defaults,
                    wanted.allByDefault() == null ? old.allByDefault() : wanted.allByDefault(),
                    old.version() + 1,
                    old.createdAt());
            if (Audit.same(old, changed)) return Change.made(old, "Nothing differs from what is there.");
            apis.update(changed);
            audit.changed(by, issuer.id(), "api.changed", name, old, changed);
            return new Change.Made<>(changed, fields.notes());
        }));
    }

    /**
     * Removes an API with its scopes, its routes, and what was requested and approved; tokens that lean on it end at
     * once.
     *
     * @param confirm the API's name, said when something leans on it
     */
    public Change<Api> remove(Issuer issuer, String named, Expected expected, String confirm, Actor by) {
        return published(withdrawal.revoking(revoke -> {
            Optional<Api> found = apis.named(issuer.id(), named);
            if (found.isEmpty()) return new Change.Absent<>("API", named);
            Api api = found.get();
            Optional<Change<Api>> stale = expected.stale(api.version());
            if (stale.isPresent()) return stale.get();
            List<Approval> asked = approvals.ofApi(api.id());
            List<Route> leaning = routes.ofApi(issuer.id(), api.id());
            List<String> broken = new ArrayList<>(wouldBreak(asked, leaning));
            List<Plan> covering = plans.ofApi(api.id());
            covering.forEach(plan -> broken.add("plan " + plan.name()));
            if (!broken.isEmpty() && !api.name().equals(confirm)) {
                return new Change.NeedsConfirmation<>(api.name(), broken);
            }
            asked.forEach(revoke::approval);
            if (!leaning.isEmpty()) issuers.nextRevision(issuer.id());
            covering.forEach(plan -> plans.update(plan.without(api.id())));
            leaning.forEach(route -> routes.delete(route.id()));
            apis.delete(api.id());
            audit.removed(by, issuer.id(), "api.removed", api.name(), api);
            return Change.made(api);
        }));
    }

    private static List<String> readDefaults(Fields fields, List<String> wanted, List<Scope> scopes) {
        List<String> names = wanted.stream()
                .map(it -> it == null ? "" : it.strip())
                .distinct()
                .toList();
        for (int i = 0; i < names.size(); i++) {
            String name = names.get(i);
            if (scopes.stream().noneMatch(it -> it.name().equals(name)))
                fields.fault(
                        "/default_scopes/" + i,
                        "a scope of this API",
                        name.isEmpty() ? "nothing" : Fields.quoted(name),
                        scopes.isEmpty() ? "Add its scopes first." : "Name one that the API has.");
        }
        return names;
    }

    private Optional<String> readAudience(Fields fields, Issuer issuer, ApiWanted wanted) {
        String said = wanted.audience() == null ? "" : wanted.audience().strip();
        if (!said.contains(":")) return readPlainAudience(fields, said);
        Optional<URI> audience = fields.absoluteUri("/audience", wanted.audience());
        boolean outside = audience.filter(it -> "https".equals(it.getScheme())
                        && !issuer.settings().owns(it.getHost().toLowerCase(Locale.ROOT)))
                .isPresent();
        if (outside && !Boolean.TRUE.equals(wanted.outsideDomains())) {
            fields.fault(
                    "/audience",
                    "an https audience in a domain of this issuer: "
                            + String.join(", ", issuer.settings().domains()),
                    Fields.quoted(audience.get().getHost()),
                    "Correct it, or say outside_domains on purpose (on the command line --outside-domains).");
        }
        audience.map(URI::toString)
                .filter(it -> issuers.all().stream()
                        .anyMatch(one -> one.url().toString().equals(it)))
                .ifPresent(it -> fields.fault(
                        "/audience",
                        "an audience of the API's own",
                        Fields.quoted(it) + ", which is an issuer: tokens for its userinfo endpoint have this audience",
                        "Leave it out to have one proposed, or choose another."));
        return audience.map(URI::toString);
    }

    /**
     * An audience that is no URI, as some come from elsewhere: it is compared as a string (RFC 7519 §4.1.3), and no
     * request can name it.
     */
    private static Optional<String> readPlainAudience(Fields fields, String said) {
        if (!PLAIN_AUDIENCE.matcher(said).matches() || said.startsWith("cl_") || said.startsWith("api_")) {
            fields.fault(
                    "/audience",
                    "an absolute URI without a fragment, or 1 to 200 letters, digits and -._~",
                    Fields.quoted(said),
                    "Give a URI such as https://tides.saltmarsh.example.");
            return Optional.empty();
        }
        fields.note(("%s is no absolute URI: it is compared as a string, and clients cannot name it as resource (RFC "
                        + "8707 §2); they name scopes.")
                .formatted(said));
        return Optional.of(said);
    }

    /** A secret just made: the kept half, and the half to show once. */
    public record IssuedSecret(ApiSecret kept, NewSecret secret) {}

    /**
     * Gives an API a credential of its own, with which it asks at the introspection endpoint.
     *
     * @param lifetime such as 90d; null for a year
     */
    public Change<IssuedSecret> addSecret(
            Issuer issuer, String named, @Nullable String label, @Nullable String lifetime, Actor by) {
        Fields fields = new Fields();
        String said = fields.line("/label", label, "introspection", Fields.TEXT_LENGTH);
        Optional<Duration> length = fields.duration("/lifetime", lifetime, SECRET_LIFETIME, LONGEST_SECRET);
        if (fields.faulty()) return new Change.Invalid<>(fields.faults());
        Change<IssuedSecret> change = transactions.inOne(() -> {
            Optional<Api> found = apis.named(issuer.id(), named);
            if (found.isEmpty()) return new Change.Absent<>("API", named);
            if (apis.secretsOf(found.get().id()).size() >= MOST_SECRETS) {
                return new Change.Refused<>(
                        "An API has at most " + MOST_SECRETS + " secrets.", "Remove one that is no longer used.");
            }
            NewSecret secret = NewSecret.make();
            Instant now = clock.instant();
            ApiSecret kept = new ApiSecret(
                    Ids.random("sec_"), found.get().id(), said, secret.hash(), now, now.plus(length.orElseThrow()));
            apis.insert(kept);
            audit.added(by, issuer.id(), "api-secret.added", found.get().name(), kept);
            return new Change.Made<>(new IssuedSecret(kept, secret), fields.notes());
        });
        if (change instanceof Change.Made<IssuedSecret>) live.republish();
        return change;
    }

    public Change<ApiSecret> removeSecret(Issuer issuer, String named, String secretId, Actor by) {
        Change<ApiSecret> change = transactions.inOne(() -> {
            Optional<Api> found = apis.named(issuer.id(), named);
            if (found.isEmpty()) return new Change.Absent<>("API", named);
            Optional<ApiSecret> secret = apis.secretsOf(found.get().id()).stream()
                    .filter(it -> it.id().equals(secretId))
                    .findFirst();
            if (secret.isEmpty()) return new Change.Absent<>("secret", secretId);
            apis.deleteSecret(secretId);
            audit.removed(by, issuer.id(), "api-secret.removed", found.get().name(), secret.get());
            return Change.made(secret.get());
        });
        if (change instanceof Change.Made<ApiSecret>) live.republish();
        return change;
    }

    private List<String> wouldBreak(List<Approval> asked, List<Route> leaning) {
        List<String> broken = new ArrayList<>();
        for (Approval approval : asked) {
            broken.add("client %s: %s, %s"
                    .formatted(approval.clientId(), approval.scopeName(), approval.statusAt(clock.instant())));
        }
        for (Route route : leaning) broken.add("route " + route.label());
        return broken;
    }

    private List<Approval> granted(Api api) {
        Instant now = clock.instant();
        return approvals.ofApi(api.id()).stream()
                .filter(approval -> approval.isGrantedAt(now))
                .toList();
    }

    private String proposeAudience(Issuer issuer, String name) {
        String base = issuer.url() + "/apis/" + name;
        String proposal = base;
        for (int n = 2; apis.withAudience(issuer.id(), proposal).isPresent(); n++) proposal = base + "-" + n;
        return proposal;
    }

    private Change<Api> published(Change<Api> change) {
        if (change instanceof Change.Made<Api>) live.republish();
        return change;
    }

    private static Change<Api> nameTaken(String name) {
        return new Change.Taken<>(new FieldFault(
                "/name", "a name no API of this issuer has", Fields.quoted(name), "Choose another name."));
    }

    /** By another API of the issuer; or by the admin API, which is known by one audience at every issuer. */
    private boolean isTaken(Issuer issuer, String audience) {
        boolean isAdmins = issuers.named(AdminApi.ISSUER)
                .flatMap(it -> apis.withAudience(it.id(), audience))
                .filter(it -> it.name().equals(AdminApi.NAME))
                .isPresent();
        // An ID token has its client's id as audience: an API that had it too would be sent tokens that are not for it.
        boolean isClients = clients.named(issuer.id(), audience)
                .filter(it -> it.id().equals(audience))
                .isPresent();
        return isAdmins || isClients || apis.withAudience(issuer.id(), audience).isPresent();
    }

    private static Change<Api> audienceTaken(String audience) {
        return new Change.Taken<>(new FieldFault(
                "/audience",
                "an audience that no API of this issuer has, and no client as its id",
                Fields.quoted(audience),
                "Choose another, or leave it out to have one proposed."));
    }

    private static boolean blank(@Nullable String value) {
        return value == null || value.isBlank();
    }
}
