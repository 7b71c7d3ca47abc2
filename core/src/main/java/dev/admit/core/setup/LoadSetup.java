package dev.admit.core.setup;

import com.nimbusds.jose.util.JSONObjectUtils;
import dev.admit.core.approval.Approval;
import dev.admit.core.approval.Approvals;
import dev.admit.core.approval.Approving;
import dev.admit.core.approval.Withdrawal;
import dev.admit.core.audit.Audit;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.Expected;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Fields;
import dev.admit.core.change.Page;
import dev.admit.core.change.Republish;
import dev.admit.core.owner.NameOwners;
import dev.admit.core.owner.Owned;
import dev.admit.core.owner.Owner;
import dev.admit.core.owner.Owners;
import dev.admit.core.registration.ApiRegistration;
import dev.admit.core.registration.ClientRegistration;
import dev.admit.core.registration.IssuerRegistration;
import dev.admit.core.registration.MintingRegistration;
import dev.admit.core.registration.RoleRegistration;
import dev.admit.core.registration.ScopeRegistration;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Apis;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Issuers;
import dev.admit.core.registry.Role;
import dev.admit.core.registry.Roles;
import dev.admit.core.registry.Scope;
import dev.admit.core.registry.Scopes;
import dev.admit.core.person.ProfileField;
import dev.admit.core.person.ProfileFields;
import dev.admit.core.signin.FieldRegistration;
import dev.admit.core.route.Route;
import dev.admit.core.route.RouteRegistration;
import dev.admit.core.route.Routes;
import java.time.Clock;
import java.time.Instant;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeSet;
import java.util.function.Function;

/**
 * Loads a setup file: everything in it through the same use cases as by hand, in one transaction, so that it holds altogether or
 * not at all. What would change is found by doing it and taking it back; a file that says what is there already changes nothing.
 */
public final class LoadSetup {
    private static final int MOST_FAULTS = 20;
    private static final String FILE = "a setup file was loaded";

    /** The use cases that it leans on. */
    public record UseCases(IssuerRegistration issuers, ApiRegistration apis, ScopeRegistration scopes, RoleRegistration roles, MintingRegistration mintings, RouteRegistration routes,
                           ClientRegistration clients, Approving approving, FieldRegistration fields, NameOwners owners) {}

    /** What is kept now. */
    public record Records(Issuers issuers, Apis apis, Scopes scopes, Roles roles, Routes routes, Clients clients, Approvals approvals, ProfileFields fields, Owners owners) {}

    private final UseCases use;
    private final Records records;
    private final Withdrawal withdrawal;
    private final Republish.Held live;
    private final Runnable forgetClients;
    private final Clock clock;

    public LoadSetup(UseCases use, Records records, Withdrawal withdrawal, Republish.Held live, Runnable forgetClients, Clock clock) {
        this.use = use;
        this.records = records;
        this.withdrawal = withdrawal;
        this.live = live;
        this.forgetClients = forgetClients;
        this.clock = clock;
    }

    /**
     * @param secrets     client name → the secret that the file refers to, resolved by whoever loads it
     * @param withoutRest whether what the issuer has beyond the file is to go
     */
    public record Request(Setup setup, Map<String, String> secrets, boolean withoutRest) {
        @Override public String toString() {
            return "Request[" + setup.issuer() + "]";
        }
    }

    public SetupOutcome load(Request request, Actor by) {
        return run(request, by, true);
    }

    /** What loading would come to, without doing it. */
    public SetupOutcome compare(Request request, Actor by) {
        return run(request, by, false);
    }

    private SetupOutcome run(Request request, Actor by, boolean forGood) {
        SetupOutcome outcome;
        try {
            Change<SetupOutcome> change = withdrawal.together(() -> live.held(() -> {
                Loading loading = new Loading(request, by);
                SetupOutcome came = loading.run();
                if (!forGood || came instanceof SetupOutcome.Refused) throw new TakenBack(came);
                return Change.made(came);
            }));
            outcome = ((Change.Made<SetupOutcome>) change).value();
        } catch (TakenBack taken) {
            return taken.outcome;
        }
        forgetClients.run(); // what others read while it was not yet committed is out of date
        live.republish();
        return outcome;
    }

    /** Carries the outcome out of a transaction that is to leave nothing behind. */
    private static final class TakenBack extends RuntimeException {
        private final transient SetupOutcome outcome;

        TakenBack(SetupOutcome outcome) {
            super("taken back", null, false, false);
            this.outcome = outcome;
        }
    }

    /** One run through the file, from what others lean on to what leans on it. */
    private final class Loading {
        private final Setup setup;
        private final Request request;
        private final Actor by;
        private final List<SetupOutcome.Step> steps = new ArrayList<>();
        private final List<SetupOutcome.Made> made = new ArrayList<>();
        private final List<String> notes = new ArrayList<>();
        private final List<FieldFault> faults = new ArrayList<>();
        /** The notes of the change that was made last. */
        private List<String> said = List.of();

        Loading(Request request, Actor by) {
            this.request = request;
            this.setup = request.setup();
            this.by = by;
        }

        SetupOutcome run() {
            Optional<Issuer> issuer = issuer();
            if (issuer.isPresent()) {
                orNone(setup.fields()).forEach((name, part) -> field(issuer.get(), name, part));
                orNone(setup.apis()).forEach((name, part) -> api(issuer.get(), name, part));
                for (int i = 0; setup.routes() != null && i < setup.routes().size(); i++) route(issuer.get(), "/routes/" + i, setup.routes().get(i));
                orNone(setup.clients()).forEach((name, part) -> client(issuer.get(), name, part));
                if (request.withoutRest()) removeRest(issuer.get());
            }
            return faults.isEmpty() ? new SetupOutcome.Fits(steps, made, notes) : new SetupOutcome.Refused(faults.subList(0, Math.min(MOST_FAULTS, faults.size())));
        }

        private <T> Optional<T> settle(String at, Change<T> change) {
            switch (change) {
                case Change.Made<T> it -> {
                    said = it.notes();
                    return Optional.of(it.value());
                }
                case Change.Invalid<T>(List<FieldFault> some) -> some.forEach(fault -> fault(at + fault.pointer(), fault.expected(), fault.came(), fault.mend()));
                case Change.Taken<T>(FieldFault fault) -> fault(at + fault.pointer(), fault.expected(), fault.came(), fault.mend());
                case Change.Absent<T>(String kind, String named) -> fault(at, "the name of a " + kind, Fields.quoted(named), "Correct it.");
                case Change.Stale<T> stale -> fault(at, "what it was when it was read", "another version", "Load again.");
                case Change.NeedsConfirmation<T>(String word, List<String> wouldBreak) -> fault(at, "a change that breaks nothing",
                        String.join("; ", wouldBreak), "Make this change by hand, where it can be confirmed.");
                case Change.Refused<T>(String sentence, String mend) -> fault(at, "a change that the rules allow", sentence, mend);
            }
            return Optional.empty();
        }

        private void fault(String at, String expected, String came, String mend) {
            faults.add(new FieldFault(at, expected, came, mend));
        }

        /** Notes a step when something differs, with what was said about it; of what stays as it is there is nothing to say. */
        private <T> void step(String what, Optional<T> before, T after) {
            if (before.isEmpty()) {
                add("added", what, List.of());
                return;
            }
            List<SetupOutcome.Difference> members = Audit.differences(before.get(), after).entrySet().stream()
                    .map(it -> new SetupOutcome.Difference(it.getKey(), it.getValue().getFirst(), it.getValue().getLast())).toList();
            if (!members.isEmpty()) add("changed", what, members);
        }

        private void add(String verb, String what, List<SetupOutcome.Difference> members) {
            steps.add(new SetupOutcome.Step(verb, what, members));
            said.forEach(note -> notes.add(Character.toUpperCase(what.charAt(0)) + what.substring(1) + ": " + note));
            said = List.of();
        }

        private Optional<Issuer> issuer() {
            if (setup.issuer() == null || setup.issuer().isBlank()) {
                fault("/issuer", "the name of the issuer that is meant", "nothing", "Begin the file with issuer: NAME.");
                return Optional.empty();
            }
            Setup.Rules rules = setup.rules() == null ? new Setup.Rules(null, null, null, null, null, null, null, null) : setup.rules();
            Optional<Issuer> before = records.issuers().named(setup.issuer().strip());
            IssuerRegistration.Wanted wanted = new IssuerRegistration.Wanted(before.isPresent() ? null : setup.issuer(), setup.title(), setup.description(), rules.domains(),
                    rules.keyRotation(), rules.secretLifetime(), rules.longestSecret(), rules.secretsWithoutEnd(), rules.developmentAddresses(), rules.grantTypes(), people(rules.people()));
            int known = faults.size();
            Optional<Issuer> after = settle("", before.isPresent() ? use.issuers().change(before.get().name(), wanted, Expected.ANY, by) : use.issuers().create(wanted, by));
            for (int i = known; i < faults.size(); i++) {
                FieldFault it = faults.get(i);
                boolean ofRules = !List.of("/issuer", "/title", "/description", "/name").contains(it.pointer());
                faults.set(i, new FieldFault(it.pointer().equals("/name") ? "/issuer" : ofRules ? "/rules" + it.pointer() : it.pointer(), it.expected(), it.came(), it.mend()));
            }
            after.ifPresent(it -> step("issuer " + it.name(), before, it));
            return after;
        }

        private static IssuerRegistration.WantedPeople people(Setup.PeoplePart it) {
            return it == null ? null : new IssuerRegistration.WantedPeople(it.signUp(), it.secondFactor(), it.sessionIdle(), it.sessionLongest(), it.logo(), it.accent(), it.welcome(), it.styleSheet());
        }

        private void field(Issuer issuer, String name, Setup.FieldPart said) {
            Setup.FieldPart part = said == null ? new Setup.FieldPart(null, null, null, null, null, null, null) : said;
            Optional<ProfileField> before = records.fields().named(issuer.id(), name);
            FieldRegistration.Wanted wanted = new FieldRegistration.Wanted(before.isPresent() ? null : name, part.title(), part.type(), part.choices(), part.rule(), part.atSignUp(), part.editable(), part.claim());
            settle("/fields/" + escaped(name), before.isPresent() ? use.fields().change(issuer, name, wanted, by) : use.fields().add(issuer, wanted, by))
                    .ifPresent(after -> step("field " + name, before, after));
        }

        private void api(Issuer issuer, String name, Setup.ApiPart said) {
            String at = "/apis/" + escaped(name);
            Setup.ApiPart part = said == null ? Setup.ApiPart.NOTHING : said;
            Optional<Api> before = records.apis().named(issuer.id(), name);
            ApiRegistration.Wanted wanted = new ApiRegistration.Wanted(before.isPresent() ? null : name, part.title(), part.audience(), part.upstream(), part.outsideDomains());
            Optional<Api> after = settle(at, before.isPresent() ? use.apis().change(issuer, name, wanted, Expected.ANY, null, by) : use.apis().register(issuer, wanted, by));
            if (after.isEmpty()) return;
            step("API " + name, before, after.get());
            owners(issuer, at, Owned.of(after.get()), part.owners());
            if (part.minting() != null) minting(issuer, at + "/minting", after.get(), part.minting());
            orNone(part.scopes()).forEach((scope, its) -> scope(issuer, at + "/scopes/" + escaped(scope), after.get(), scope, its));
            orNone(part.roles()).forEach((role, its) -> role(issuer, at + "/roles/" + escaped(role), after.get(), role, its));
        }

        private void owners(Issuer issuer, String at, Owned owned, List<String> addresses) {
            if (addresses == null) return;
            List<String> before = records.owners().of(owned).stream().map(Owner::email).toList();
            settle(at, use.owners().set(issuer, owned, addresses, "/owners", by)).map(all -> all.stream().map(Owner::email).toList()).filter(after -> !after.equals(before))
                    .ifPresent(after -> step("owners of " + owned, Optional.of(Map.of("owners", before)), Map.of("owners", after)));
        }

        private void role(Issuer issuer, String at, Api api, String name, Setup.RolePart said) {
            Setup.RolePart part = said == null ? new Setup.RolePart(null, null, null) : said;
            Optional<Role> before = records.roles().named(issuer.id(), name).filter(it -> it.apiId().equals(api.id()));
            RoleRegistration.Wanted wanted = new RoleRegistration.Wanted(before.isPresent() ? null : name, part.title(), part.scopes(), part.secondFactor());
            settle(at, before.isPresent() ? use.roles().change(issuer, api, name, wanted, Expected.ANY, by) : use.roles().add(issuer, api, wanted, by))
                    .ifPresent(after -> step("role " + name, before, after));
        }

        private void minting(Issuer issuer, String at, Api api, Setup.MintingPart part) {
            MintingRegistration.Wanted wanted = new MintingRegistration.Wanted(part.lifetime(), part.format(),
                    part.claims() == null ? null : part.claims().entrySet().stream().map(it -> new MintingRegistration.WantedClaim(it.getKey(), it.getValue())).toList(), part.refreshIdle(), part.refreshLongest(),
                    part.exceptions() == null ? null : part.exceptions().entrySet().stream().map(it -> exception(it.getKey(), it.getValue())).toList());
            settle(at, use.mintings().change(issuer, api.name(), wanted, Expected.ANY, by)).ifPresent(after -> step("minting of " + api.name(), Optional.of(api.minting()), after.minting()));
        }

        private static MintingRegistration.WantedException exception(String name, Setup.ExceptionPart it) {
            return it == null ? new MintingRegistration.WantedException(name, null, null, null, null, null, null, null, null)
                    : new MintingRegistration.WantedException(name, it.clients(), it.tags(), it.grantTypes(), it.lifetime(), it.format(), it.refreshIdle(), it.refreshLongest(), it.without());
        }

        private void scope(Issuer issuer, String at, Api api, String name, Setup.ScopePart said) {
            Setup.ScopePart part = said == null ? new Setup.ScopePart(null, null, null, null, null, null, null, null, null, null, null) : said;
            Optional<Scope> before = records.scopes().named(issuer.id(), name).filter(it -> it.apiId().equals(api.id()));
            ScopeRegistration.Wanted wanted = new ScopeRegistration.Wanted(before.isPresent() ? null : name, part.effect(), part.reach(), part.holders(), part.words(),
                    part.wordsForPerson(), part.approver(), part.byRole(), part.life(), part.closesOn(), part.givenByDefault(), part.inMetadata());
            settle(at, before.isPresent() ? use.scopes().change(issuer, api, name, wanted, Expected.ANY, by) : use.scopes().add(issuer, api, wanted, by))
                    .ifPresent(after -> step("scope " + name, before, after));
        }

        private void route(Issuer issuer, String at, Setup.RoutePart part) {
            if (part == null || part.route() == null || part.route().strip().split("\\s+").length != 2) {
                fault(at + "/route", "methods and a path, such as GET /tides/** or ANY /tides/**", part == null || part.route() == null ? "nothing" : Fields.quoted(part.route()), "Write it so.");
                return;
            }
            String[] words = part.route().strip().split("\\s+");
            List<String> methods = words[0].equals("ANY") ? List.of() : Arrays.asList(words[0].split(","));
            RouteRegistration.WantedAnswer answer = part.answer() == null ? null
                    : new RouteRegistration.WantedAnswer(part.answer().status(), part.answer().contentType(), part.answer().body());
            RouteRegistration.Wanted wanted = new RouteRegistration.Wanted(methods, words[1], part.api(), part.scopes(), part.mode(), part.open(), part.anyScope(), part.upstream(), answer, part.cors(), part.who(), part.shaping(),
                    part.limits());
            Optional<Route> before = find(issuer, methods, words[1]);
            settle(at, before.isPresent() ? use.routes().replace(issuer, before.get().id(), wanted, Expected.ANY, FILE, by) : use.routes().add(issuer, wanted, FILE, by))
                    .ifPresent(after -> step("route " + after.route().label(), before, after.route()));
        }

        private Optional<Route> find(Issuer issuer, List<String> methods, String path) {
            TreeSet<String> wanted = new TreeSet<>(methods.stream().map(it -> it.strip().toUpperCase(Locale.ROOT)).toList());
            return records.routes().of(issuer.id()).stream().filter(it -> it.methods().equals(wanted) && it.pattern().toString().equals(path)).findFirst();
        }

        private void client(Issuer issuer, String name, Setup.ClientPart said) {
            String at = "/clients/" + escaped(name);
            Setup.ClientPart part = said == null ? Setup.ClientPart.NOTHING : said;
            Optional<Client> before = records.clients().named(issuer.id(), name);
            ClientRegistration.Wanted wanted = new ClientRegistration.Wanted(before.isPresent() ? null : name, part.title(), part.description(), part.kind(), part.authMethod(), part.owner(),
                    part.contacts(), part.links(), part.tags(), part.redirectUris(), part.origins(), part.grantTypes(), part.identityScopes(),
                    part.jwks() == null ? null : JSONObjectUtils.toJSONString(part.jwks()), part.jwksUri(), part.assertionAlg(), part.secondFactor(), part.idTokenAlg(), part.afterSignOut(), null);
            Optional<Client> after;
            if (before.isPresent()) {
                after = settle(at, use.clients().change(issuer, name, wanted, Expected.ANY, by));
            } else {
                Optional<ClientRegistration.Registered> registered = settle(at, use.clients().register(issuer, wanted, part.secret() == null ? null : part.secret().lifetime(), by));
                boolean given = request.secrets().containsKey(name);
                if (!given) registered.ifPresent(it -> it.secret().ifPresent(secret -> made.add(new SetupOutcome.Made(it.client(), secret))));
                after = registered.map(ClientRegistration.Registered::client);
            }
            if (after.isEmpty()) return;
            step("client " + name, before, after.get());
            owners(issuer, at, Owned.of(after.get()), part.owners());
            if (request.secrets().containsKey(name)) secret(issuer, at, name, part, before.isEmpty());
            orNone(part.asks()).forEach((scope, standing) -> ask(issuer, at + "/asks/" + escaped(scope), after.get(), scope, standing));
            if (part.identityGiven() != null && part.identityGiven() != after.get().people().identityGiven()) {
                settle(at + "/identity_given", use.clients().giveIdentity(issuer, name, part.identityGiven(), by)).filter(it -> before.isPresent()).ifPresent(it -> step("client " + name, after, it));
            }
            if (part.enabled() != null && part.enabled() != after.get().enabled()) {
                settle(at, use.clients().switchTo(issuer, name, part.enabled(), Expected.ANY, by)).ifPresent(it -> step("client " + name, after, it));
            }
        }

        private void secret(Issuer issuer, String at, String name, Setup.ClientPart part, boolean fresh) {
            settle(at + "/secret", use.clients().giveSecret(issuer, name, request.secrets().get(name), part.secret() == null ? null : part.secret().lifetime(), fresh, by))
                    .filter(added -> added && !fresh).ifPresent(added -> add("added", "secret of " + name, List.of()));
        }

        private void ask(Issuer issuer, String at, Client client, String scope, String standing) {
            String word = standing == null ? "waiting" : standing.strip();
            Optional<Instant> until = Optional.empty();
            if (word.startsWith("given until ")) {
                try {
                    until = Optional.of(Instant.parse(word.substring("given until ".length()).strip()));
                } catch (DateTimeParseException none) {
                    fault(at, "given until and a time such as 2027-01-31T00:00:00Z", Fields.quoted(word), "Correct the time.");
                    return;
                }
            } else if (!word.equals("given") && !word.equals("waiting")) {
                fault(at, "waiting, given, or given until and a time", Fields.quoted(word), "Choose one of them.");
                return;
            }
            Optional<Scope> found = records.scopes().named(issuer.id(), scope);
            Optional<Approval> before = found.flatMap(it -> records.approvals().of(client.id(), it.id()));
            Instant now = clock.instant();
            Optional<Instant> wanted = until;
            if (word.equals("waiting") && before.isPresent()) return; // asked already, whatever the answer was
            if (before.filter(it -> it.isGivenAt(now) && it.expiresAt().equals(wanted)).isPresent()) return;
            Optional<FieldFault> cannot = use.approving().faultOf(client, scope, at);
            if (cannot.isPresent()) {
                faults.add(cannot.get());
                return;
            }
            Optional<Approval> asked = settle(at, use.approving().ask(client, scope, by));
            if (asked.isEmpty()) return;
            Optional<Approval> after = word.equals("waiting") ? asked : settle(at, use.approving().give(client, asked.get(), wanted, by, Expected.ANY));
            after.ifPresent(it -> step("approval of %s for %s".formatted(scope, client.name()), before, it));
        }

        private void removeRest(Issuer issuer) {
            for (ProfileField field : records.fields().of(issuer.id())) {
                if (!orNone(setup.fields()).containsKey(field.name())) removed("field " + field.name(), use.fields().remove(issuer, field.name(), by));
            }
            for (Client client : all(ask -> records.clients().list(issuer.id(), Clients.Wanted.ALL, ask))) {
                if (!orNone(setup.clients()).containsKey(client.name())) removed("client " + client.name(), use.clients().remove(issuer, client.name(), Expected.ANY, client.name(), by));
            }
            List<String> kept = setup.routes() == null ? List.of() : setup.routes().stream().filter(it -> it != null && it.route() != null).map(it -> it.route().strip().replaceAll("\\s+", " ")).toList();
            for (Route route : records.routes().of(issuer.id())) {
                if (!kept.contains(ExportSetup.label(route))) removed("route " + route.label(), use.routes().remove(issuer, route.id(), Expected.ANY, FILE, by));
            }
            for (Api api : all(ask -> records.apis().list(issuer.id(), ask))) {
                Setup.ApiPart part = orNone(setup.apis()).get(api.name());
                if (!orNone(setup.apis()).containsKey(api.name())) removed("API " + api.name(), use.apis().remove(issuer, api.name(), Expected.ANY, api.name(), by));
                else for (Role role : records.roles().of(api.id())) {
                    if (part == null || !orNone(part.roles()).containsKey(role.name())) removed("role " + role.name(), use.roles().remove(issuer, api, role.name(), Expected.ANY, by));
                }
                if (orNone(setup.apis()).containsKey(api.name())) for (Scope scope : records.scopes().of(api.id())) {
                    if (part == null || !orNone(part.scopes()).containsKey(scope.name())) removed("scope " + scope.name(), use.scopes().remove(issuer, api, scope.name(), Expected.ANY, scope.name(), by));
                }
            }
        }

        private void removed(String what, Change<?> change) {
            if (settle("/", change).isPresent()) add("removed", what, List.of());
        }
    }

    static <T> List<T> all(Function<Page.Ask, Page<T>> pages) {
        List<T> all = new ArrayList<>();
        Optional<String> after = Optional.empty();
        do {
            Page<T> page = pages.apply(new Page.Ask(after, Page.Ask.MOST));
            all.addAll(page.items());
            after = page.next();
        } while (after.isPresent());
        return all;
    }

    /** RFC 6901 §3. */
    private static String escaped(String name) {
        return name.replace("~", "~0").replace("/", "~1");
    }

    private static <V> Map<String, V> orNone(Map<String, V> some) {
        return some == null ? Map.of() : some;
    }
}
