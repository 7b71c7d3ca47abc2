package dev.admit.core.setup;

import dev.admit.contract.ApiWanted;
import dev.admit.contract.FieldWanted;
import dev.admit.contract.IssuerWanted;
import dev.admit.contract.MintingView;
import dev.admit.contract.MintingWanted;
import dev.admit.contract.PlanWanted;
import dev.admit.contract.PublicationWanted;
import dev.admit.contract.RegistrationWanted;
import dev.admit.contract.RoleWanted;
import dev.admit.contract.ScopeWanted;
import dev.admit.core.approval.Approvals;
import dev.admit.core.approval.Approving;
import dev.admit.core.approval.Withdrawal;
import dev.admit.core.catalogue.Publication;
import dev.admit.core.catalogue.Publications;
import dev.admit.core.catalogue.Publish;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.Expected;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Page;
import dev.admit.core.change.Republish;
import dev.admit.core.change.TakenBack;
import dev.admit.core.openapi.KeepOpenApi;
import dev.admit.core.openapi.OpenApiDocuments;
import dev.admit.core.owner.NameOwners;
import dev.admit.core.owner.Owned;
import dev.admit.core.owner.Owners;
import dev.admit.core.person.People;
import dev.admit.core.person.ProfileField;
import dev.admit.core.person.ProfileFields;
import dev.admit.core.plan.Plan;
import dev.admit.core.plan.Plans;
import dev.admit.core.plan.Subscriptions;
import dev.admit.core.registration.ApiRegistration;
import dev.admit.core.registration.ClientRegistration;
import dev.admit.core.registration.IssuerRegistration;
import dev.admit.core.registration.MintingRegistration;
import dev.admit.core.registration.RoleRegistration;
import dev.admit.core.registration.ScopeRegistration;
import dev.admit.core.registration.TrustRegistration;
import dev.admit.core.registration.UpstreamCredentialRegistration;
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
import dev.admit.core.route.Route;
import dev.admit.core.route.RouteRegistration;
import dev.admit.core.route.Routes;
import dev.admit.core.selfregistration.RegistrationPolicy;
import dev.admit.core.selfregistration.SelfRegistrations;
import dev.admit.core.selfregistration.SetRegistration;
import dev.admit.core.signin.FieldRegistration;
import dev.admit.core.subscription.PlanRegistration;
import dev.admit.core.subscription.PlanSentences;
import dev.admit.core.subscription.Subscribing;
import dev.admit.core.trust.TrustedIssuer;
import dev.admit.core.trust.TrustedIssuers;
import dev.admit.core.upstream.UpstreamCredentials;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/**
 * Loads a setup file: everything in it through the same use cases as by hand, in one transaction, so that it holds
 * altogether or not at all. What would change is found by doing it and taking it back; a file that says what is there
 * already changes nothing.
 */
public final class LoadSetup {
    /** The use cases that it leans on. */
    public record UseCases(
            IssuerRegistration issuers,
            ApiRegistration apis,
            ScopeRegistration scopes,
            RoleRegistration roles,
            MintingRegistration mintings,
            RouteRegistration routes,
            ClientRegistration clients,
            Approving approving,
            FieldRegistration fields,
            NameOwners owners,
            TrustRegistration trust,
            UpstreamCredentialRegistration credentials,
            KeepOpenApi documents,
            Publish publish,
            SetRegistration registration,
            PlanRegistration plans,
            Subscribing subscribing) {}

    /** What is kept now. */
    public record Records(
            Issuers issuers,
            Apis apis,
            Scopes scopes,
            Roles roles,
            Routes routes,
            Clients clients,
            Approvals approvals,
            ProfileFields fields,
            People people,
            Owners owners,
            TrustedIssuers trusted,
            UpstreamCredentials credentials,
            OpenApiDocuments documents,
            Publications publications,
            SelfRegistrations registrations,
            Plans plans,
            Subscriptions subscriptions) {}

    private final UseCases use;
    private final Records records;
    private final Withdrawal withdrawal;
    private final Republish.Held live;
    private final Runnable forgetClients;
    private final Clock clock;

    public LoadSetup(
            UseCases use,
            Records records,
            Withdrawal withdrawal,
            Republish.Held live,
            Runnable forgetClients,
            Clock clock) {
        this.use = use;
        this.records = records;
        this.withdrawal = withdrawal;
        this.live = live;
        this.forgetClients = forgetClients;
        this.clock = clock;
    }

    /**
     * @param secrets client name, or {@code upstream-credential} and a name → the secret that the file refers to,
     *     resolved by the one who loads it
     * @param removeUnlisted whether what the issuer has beyond the file is to go
     */
    public record Request(Setup setup, Map<String, String> secrets, boolean removeUnlisted) {
        @Override
        public String toString() {
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
                SetupOutcome received = loading.run();
                if (!forGood || received instanceof SetupOutcome.Refused) throw new TakenBack(received);
                return Change.made(received);
            }));
            outcome = ((Change.Made<SetupOutcome>) change).value();
        } catch (TakenBack taken) {
            return (SetupOutcome) taken.outcome();
        }
        forgetClients.run(); // what others read while it was not yet committed is out of date
        live.republish();
        return outcome;
    }

    /** One run through the file, from what others lean on to what leans on it. */
    private final class Loading {
        private final Setup setup;
        private final Request request;
        private final Actor by;
        private final SetupSteps steps = new SetupSteps();
        private final LoadOwners owners;
        private final LoadRoutes routes;
        private final LoadClients clients;
        private final LoadTrusted trusted;
        private final LoadCredentials credentials;

        Loading(Request request, Actor by) {
            this.request = request;
            this.setup = request.setup();
            this.by = by;
            this.owners = new LoadOwners(use, records, steps, by);
            this.routes = new LoadRoutes(use, records, steps, by);
            this.clients = new LoadClients(use, records, steps, owners, request.secrets(), by, clock);
            this.trusted = new LoadTrusted(use, records, steps, by);
            this.credentials = new LoadCredentials(use, records, steps, request.secrets(), by);
        }

        SetupOutcome run() {
            Optional<Issuer> issuer = issuer();
            if (issuer.isPresent()) {
                SetupSteps.orNone(setup.profileFields()).forEach((name, part) -> field(issuer.get(), name, part));
                SetupSteps.orNone(setup.apis()).forEach((name, part) -> api(issuer.get(), name, part));
                SetupSteps.orNone(setup.plans()).forEach((name, part) -> plan(issuer.get(), name, part));
                SetupSteps.orNone(setup.clients()).forEach((name, part) -> clients.load(issuer.get(), name, part));
                SetupSteps.orNone(setup.trustedIssuers())
                        .forEach((name, part) -> trusted.load(issuer.get(), name, part));
                SetupSteps.orNone(setup.upstreamCredentials())
                        .forEach((name, part) -> credentials.load(issuer.get(), name, part));
                for (int i = 0; setup.routes() != null && i < setup.routes().size(); i++)
                    routes.load(issuer.get(), "/routes/" + i, setup.routes().get(i));
                if (setup.registration() != null) registration(issuer.get(), setup.registration());
                if (request.removeUnlisted()) removeRest(issuer.get());
            }
            return steps.outcome();
        }

        private Optional<Issuer> issuer() {
            if (setup.issuer() == null || setup.issuer().isBlank()) {
                steps.fault(
                        "/issuer",
                        "the name of the issuer that is meant",
                        "nothing",
                        "Begin the file with issuer: NAME.");
                return Optional.empty();
            }
            Optional<Issuer> before = records.issuers().named(setup.issuer().strip());
            IssuerWanted wanted = (setup.settings() == null ? IssuerWanted.NOTHING : setup.settings())
                    .named(before.isPresent() ? null : setup.issuer(), setup.title(), setup.description());
            List<FieldFault> faults = steps.faults();
            int known = faults.size();
            Optional<Issuer> after = steps.settle(
                    "",
                    before.isPresent()
                            ? use.issuers().change(before.get().name(), wanted, Expected.ANY, by)
                            : use.issuers().create(wanted, by));
            for (int i = known; i < faults.size(); i++) {
                FieldFault it = faults.get(i);
                boolean ofSettings =
                        !List.of("/issuer", "/title", "/description", "/name").contains(it.pointer());
                faults.set(
                        i,
                        new FieldFault(
                                it.pointer().equals("/name")
                                        ? "/issuer"
                                        : ofSettings ? "/settings" + it.pointer() : it.pointer(),
                                it.expected(),
                                it.received(),
                                it.fix()));
            }
            after.ifPresent(it -> steps.step("issuer " + it.name(), before, it));
            return after;
        }

        private void registration(Issuer issuer, RegistrationWanted wanted) {
            RegistrationPolicy before = use.registration().of(issuer);
            steps.settle("/registration", use.registration().change(issuer, wanted, Expected.ANY, by))
                    .ifPresent(after -> steps.step("registration at " + issuer.name(), Optional.of(before), after));
        }

        private void plan(Issuer issuer, String name, @Nullable PlanWanted said) {
            Optional<Plan> before = records.plans().named(issuer.id(), name);
            PlanWanted wanted = (said == null ? PlanWanted.NOTHING : said).named(before.isPresent() ? null : name);
            steps.settle(
                            "/plans/" + SetupSteps.escaped(name),
                            before.isPresent()
                                    ? use.plans().change(issuer, name, wanted, Expected.ANY, name, by)
                                    : use.plans().add(issuer, wanted, by))
                    .ifPresent(after ->
                            steps.step("plan " + name, before.map(it -> said(issuer, it)), said(issuer, after)));
        }

        private PlanWanted said(Issuer issuer, Plan it) {
            return PlanSentences.said(it, use.plans().apiNames(issuer.id()));
        }

        private void field(Issuer issuer, String name, @Nullable FieldWanted said) {
            Optional<ProfileField> before = records.fields().named(issuer.id(), name);
            boolean known = before.isPresent() || ProfileField.standard(name).isPresent();
            FieldWanted wanted = (said == null ? FieldWanted.NOTHING : said).named(known ? null : name);
            steps.settle(
                            "/profile_fields/" + SetupSteps.escaped(name),
                            known
                                    ? use.fields().change(issuer, name, wanted, by)
                                    : use.fields().add(issuer, wanted, by))
                    .ifPresent(after -> steps.step("profile field " + name, before, after));
        }

        private void api(Issuer issuer, String name, Setup.ApiPart said) {
            String at = "/apis/" + SetupSteps.escaped(name);
            Setup.ApiPart part = said == null ? Setup.ApiPart.NOTHING : said;
            Optional<Api> before = records.apis().named(issuer.id(), name);
            ApiWanted wanted = new ApiWanted(
                    before.isPresent() ? null : name,
                    part.title(),
                    part.audience(),
                    part.upstream(),
                    part.outsideDomains(),
                    null,
                    part.allByDefault());
            Optional<Api> after = steps.settle(
                    at,
                    before.isPresent()
                            ? use.apis().change(issuer, name, wanted, Expected.ANY, null, by)
                            : use.apis().register(issuer, wanted, by));
            if (after.isEmpty()) return;
            steps.step("API " + name, before, after.get());
            owners.load(issuer, at, Owned.of(after.get()), part.owners());
            if (part.openapi() != null) openapi(issuer, at + "/openapi", after.get(), part.openapi());
            if (part.catalogue() != null) catalogue(issuer, at + "/catalogue", after.get(), part.catalogue());
            if (part.minting() != null) minting(issuer, at + "/minting", after.get(), part.minting());
            SetupSteps.orNone(part.scopes())
                    .forEach((scope, its) ->
                            scope(issuer, at + "/scopes/" + SetupSteps.escaped(scope), after.get(), scope, its));
            if (part.defaultScopes() != null) defaultScopes(issuer, at, name, part.defaultScopes());
            SetupSteps.orNone(part.roles())
                    .forEach((role, its) ->
                            role(issuer, at + "/roles/" + SetupSteps.escaped(role), after.get(), role, its));
        }

        private void openapi(Issuer issuer, String at, Api api, Map<String, Object> document) {
            Optional<KeepOpenApi.Noted> before =
                    records.documents().of(api.id()).map(KeepOpenApi.Noted::of);
            steps.settle(at, use.documents().keep(issuer, api, document, by))
                    .ifPresent(after -> after.ifPresentOrElse(
                            it -> steps.step("OpenAPI document of " + api.name(), before, it),
                            () -> before.ifPresent(
                                    it -> steps.add("removed", "OpenAPI document of " + api.name(), List.of()))));
        }

        private void catalogue(Issuer issuer, String at, Api api, PublicationWanted wanted) {
            Optional<PublicationWanted> before =
                    records.publications().of(api.id()).map(this::said);
            steps.settle(at, use.publish().change(issuer, api, wanted, Expected.ANY, by))
                    .ifPresent(after -> steps.step("catalogue entry of " + api.name(), before, said(after)));
        }

        private PublicationWanted said(Publication it) {
            return Publish.said(it, records.people());
        }

        /** Once its scopes are there. */
        private void defaultScopes(Issuer issuer, String at, String name, List<String> scopes) {
            Optional<Api> before = records.apis().named(issuer.id(), name);
            ApiWanted wanted = new ApiWanted(null, null, null, null, null, scopes, null);
            steps.settle(at, use.apis().change(issuer, name, wanted, Expected.ANY, null, by))
                    .ifPresent(after -> steps.step("API " + name, before, after));
        }

        private void role(Issuer issuer, String at, Api api, String name, @Nullable RoleWanted said) {
            Optional<Role> before = records.roles().named(issuer.id(), name).filter(it -> it.apiId()
                    .equals(api.id()));
            RoleWanted wanted = (said == null ? RoleWanted.NOTHING : said).named(before.isPresent() ? null : name);
            steps.settle(
                            at,
                            before.isPresent()
                                    ? use.roles().change(issuer, api, name, wanted, Expected.ANY, by)
                                    : use.roles().add(issuer, api, wanted, by))
                    .ifPresent(after -> steps.step("role " + name, before, after));
        }

        private void minting(Issuer issuer, String at, Api api, Setup.MintingPart part) {
            MintingWanted wanted = new MintingWanted(
                    part.lifetime(),
                    part.format(),
                    part.claims() == null
                            ? null
                            : part.claims().entrySet().stream()
                                    .map(it -> new MintingView.Claim(it.getKey(), it.getValue()))
                                    .toList(),
                    part.refreshIdleTimeout(),
                    part.maxRefreshAge(),
                    part.exceptions() == null
                            ? null
                            : part.exceptions().entrySet().stream()
                                    .map(it -> exception(it.getKey(), it.getValue()))
                                    .toList());
            steps.settle(at, use.mintings().change(issuer, api.name(), wanted, Expected.ANY, by))
                    .ifPresent(after ->
                            steps.step("minting of " + api.name(), Optional.of(api.minting()), after.minting()));
        }

        private static MintingView.Exempt exception(String name, Setup.ExceptionPart it) {
            return it == null
                    ? new MintingView.Exempt(name, null, null, null, null, null, null, null, null)
                    : new MintingView.Exempt(
                            name,
                            it.clients(),
                            it.tags(),
                            it.grantTypes(),
                            it.lifetime(),
                            it.format(),
                            it.refreshIdleTimeout(),
                            it.maxRefreshAge(),
                            it.without());
        }

        private void scope(Issuer issuer, String at, Api api, String name, @Nullable ScopeWanted said) {
            Optional<Scope> before = records.scopes().named(issuer.id(), name).filter(it -> it.apiId()
                    .equals(api.id()));
            ScopeWanted wanted = (said == null ? ScopeWanted.NOTHING : said).named(before.isPresent() ? null : name);
            steps.settle(
                            at,
                            before.isPresent()
                                    ? use.scopes().change(issuer, api, name, wanted, Expected.ANY, by)
                                    : use.scopes().add(issuer, api, wanted, by))
                    .ifPresent(after -> steps.step("scope " + name, before, after));
        }

        /** From what names others to what is named. */
        private void removeRest(Issuer issuer) {
            for (ProfileField field : records.fields().of(issuer.id())) {
                if (!SetupSteps.orNone(setup.profileFields()).containsKey(field.name()))
                    steps.removed("profile field " + field.name(), use.fields().remove(issuer, field.name(), by));
            }
            List<String> kept = setup.routes() == null
                    ? List.of()
                    : setup.routes().stream()
                            .filter(it -> it != null && it.route() != null)
                            .map(it -> it.route().strip().replaceAll("\\s+", " "))
                            .toList();
            for (Route route : records.routes().of(issuer.id())) {
                if (!kept.contains(ExportSetup.label(route)))
                    steps.removed(
                            "route " + route.label(),
                            use.routes().remove(issuer, route.id(), Expected.ANY, LoadRoutes.FILE, by));
            }
            for (TrustedIssuer it : records.trusted().of(issuer.id())) {
                if (!SetupSteps.orNone(setup.trustedIssuers()).containsKey(it.name()))
                    steps.removed(
                            "trusted issuer " + it.name(), use.trust().remove(issuer, it.name(), Expected.ANY, by));
            }
            for (UpstreamCredentials.Stored it : records.credentials().of(issuer.id())) {
                String name = it.credential().name();
                if (!SetupSteps.orNone(setup.upstreamCredentials()).containsKey(name))
                    steps.removed(
                            "upstream credential " + name, use.credentials().remove(issuer, name, Expected.ANY, by));
            }
            for (Client client : all(ask -> records.clients().list(issuer.id(), Clients.Filter.ALL, ask))) {
                if (client.name().equals(ClientRegistration.OWN_NAME) || client.selfRegistered()) continue;
                Setup.ClientPart said = SetupSteps.orNone(setup.clients()).get(client.name());
                if (said != null) clients.endRest(issuer, client, said);
                if (!SetupSteps.orNone(setup.clients()).containsKey(client.name()))
                    steps.removed(
                            "client " + client.name(),
                            use.clients().remove(issuer, client.name(), Expected.ANY, client.name(), by));
            }
            for (Plan it : all(ask -> records.plans().list(issuer.id(), Optional.empty(), ask))) {
                if (!SetupSteps.orNone(setup.plans()).containsKey(it.name()))
                    steps.removed(
                            "plan " + it.name(), use.plans().remove(issuer, it.name(), Expected.ANY, it.name(), by));
            }
            for (Api api : all(ask -> records.apis().list(issuer.id(), ask))) {
                Setup.ApiPart part = SetupSteps.orNone(setup.apis()).get(api.name());
                if (!SetupSteps.orNone(setup.apis()).containsKey(api.name()))
                    steps.removed(
                            "API " + api.name(), use.apis().remove(issuer, api.name(), Expected.ANY, api.name(), by));
                else
                    for (Role role : records.roles().of(api.id())) {
                        if (part == null || !SetupSteps.orNone(part.roles()).containsKey(role.name()))
                            steps.removed(
                                    "role " + role.name(),
                                    use.roles().remove(issuer, api, role.name(), Expected.ANY, by));
                    }
                if (SetupSteps.orNone(setup.apis()).containsKey(api.name()))
                    for (Scope scope : records.scopes().of(api.id())) {
                        if (part == null || !SetupSteps.orNone(part.scopes()).containsKey(scope.name()))
                            steps.removed(
                                    "scope " + scope.name(),
                                    use.scopes().remove(issuer, api, scope.name(), Expected.ANY, scope.name(), by));
                    }
            }
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
}
