package dev.admit.server.admin;

import com.nimbusds.jose.util.JSONObjectUtils;
import dev.admit.contract.ActionView;
import dev.admit.contract.ApiView;
import dev.admit.contract.ApprovalView;
import dev.admit.contract.CheckView;
import dev.admit.contract.ClientView;
import dev.admit.contract.DecisionView;
import dev.admit.contract.FixView;
import dev.admit.contract.FixedResponse;
import dev.admit.contract.IssuerView;
import dev.admit.contract.OpenApiSummary;
import dev.admit.contract.PeopleSettingsView;
import dev.admit.contract.Preview;
import dev.admit.contract.RouteLimits;
import dev.admit.contract.RouteTransform;
import dev.admit.contract.RouteView;
import dev.admit.contract.RouteWanted;
import dev.admit.contract.RouteWho;
import dev.admit.contract.ScopeView;
import dev.admit.contract.SecretOnce;
import dev.admit.contract.SecretView;
import dev.admit.contract.SelfRegistrationView;
import dev.admit.contract.SetupView;
import dev.admit.contract.StandingApprovalView;
import dev.admit.core.approval.Approval;
import dev.admit.core.approval.Approvals;
import dev.admit.core.change.Fields;
import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.clientauth.KnownClients;
import dev.admit.core.clientauth.SecretUses;
import dev.admit.core.clientstatus.ClientStatus;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.configuration.LiveConfiguration;
import dev.admit.core.decision.Action;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Command;
import dev.admit.core.decision.Decision;
import dev.admit.core.decision.Endpoint;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Refusal;
import dev.admit.core.grant.IssueToken;
import dev.admit.core.openapi.OpenApiDocuments;
import dev.admit.core.owner.Owned;
import dev.admit.core.owner.Owner;
import dev.admit.core.owner.Owners;
import dev.admit.core.person.People;
import dev.admit.core.person.Person;
import dev.admit.core.registration.ApiSentences;
import dev.admit.core.registration.ClientRegistration;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Apis;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.ClientKind;
import dev.admit.core.registry.ClientSecret;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.IssuerSettings;
import dev.admit.core.registry.PeopleSettings;
import dev.admit.core.registry.Scope;
import dev.admit.core.registry.StandingApproval;
import dev.admit.core.route.Route;
import dev.admit.core.route.RouteSentences;
import dev.admit.core.route.RouteWords;
import dev.admit.core.route.Transform;
import dev.admit.core.route.Who;
import dev.admit.core.selfregistration.SelfRegistration;
import dev.admit.core.selfregistration.SelfRegistrations;
import dev.admit.core.setup.SetupOutcome;
import dev.admit.core.trust.TrustedIssuer;
import dev.admit.core.trust.TrustedIssuers;
import dev.admit.core.upstream.UpstreamCredentials;
import java.text.ParseException;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;
import org.springframework.stereotype.Component;

/** The core's objects as the admin API shows them. */
@Component
class Views {
    private static final Pattern PERSON_ID = Pattern.compile("\\bpe_[A-Za-z0-9_-]+");

    private final LiveConfiguration configuration;
    private final KnownClients directory;
    private final SecretUses uses;
    private final Apis apis;
    private final Clients clients;
    private final Owners owners;
    private final People people;
    private final Approvals approvals;
    private final TrustedIssuers trusted;
    private final UpstreamCredentials credentials;
    private final OpenApiDocuments documents;
    private final SelfRegistrations registrations;
    private final Clock clock;

    Views(
            LiveConfiguration configuration,
            KnownClients directory,
            SecretUses uses,
            Apis apis,
            Clients clients,
            Owners owners,
            People people,
            Approvals approvals,
            TrustedIssuers trusted,
            UpstreamCredentials credentials,
            OpenApiDocuments documents,
            SelfRegistrations registrations,
            Clock clock) {
        this.configuration = configuration;
        this.directory = directory;
        this.uses = uses;
        this.apis = apis;
        this.clients = clients;
        this.owners = owners;
        this.people = people;
        this.approvals = approvals;
        this.trusted = trusted;
        this.credentials = credentials;
        this.documents = documents;
        this.registrations = registrations;
        this.clock = clock;
    }

    IssuerView issuer(Issuer it) {
        IssuerSettings rules = it.settings();
        List<String> grantTypes = IssueToken.grantTypes(it);
        return new IssuerView(
                it.id(),
                it.name(),
                it.title(),
                it.description(),
                it.url().toString(),
                rules.domains(),
                rules.keyRotation().map(Fields::written).orElse("none"),
                Fields.written(rules.secretLifetime()),
                Fields.written(rules.maxSecretLifetime()),
                rules.nonExpiringSecrets(),
                rules.loopbackRedirects(),
                grantTypes,
                people(rules.people()),
                it.revision(),
                it.version(),
                it.createdAt());
    }

    private static PeopleSettingsView people(PeopleSettings it) {
        PeopleSettings.Look look = it.look();
        return new PeopleSettingsView(
                it.listed(),
                it.signUp(),
                it.secondFactor(),
                Fields.written(it.sessionIdleTimeout()),
                Fields.written(it.maxSessionAge()),
                look.logo().orElse(null),
                look.accent().orElse(null),
                look.welcome().orElse(null),
                look.styleSheet().orElse(null));
    }

    ApiView api(Api it) {
        return new ApiView(
                it.id(),
                it.name(),
                it.title(),
                it.audience(),
                it.upstream().map(Object::toString).orElse(null),
                owners(Owned.of(it)),
                apis.secretsOf(it.id()).stream()
                        .map(secret -> new SecretView(
                                secret.id(), secret.label(), secret.createdAt(), secret.expiresAt(), null))
                        .toList(),
                it.defaultScopes(),
                it.allByDefault(),
                ApiSentences.of(it),
                documents
                        .summary(it.id())
                        .map(document -> new OpenApiSummary(
                                document.title(), document.version(), document.operations(), document.importedAt()))
                        .orElse(null),
                it.version(),
                it.createdAt());
    }

    private List<String> owners(Owned owned) {
        return owners.of(owned).stream().map(Owner::email).toList();
    }

    ScopeView scope(Api api, Scope it) {
        return new ScopeView(
                it.id(),
                it.name(),
                api.name(),
                it.effect().toString(),
                it.reach().toString(),
                it.forWhom().toString(),
                it.consequence(),
                reads(it),
                it.approver().toString(),
                it.byRole(),
                it.status().toString(),
                it.closesOn().orElse(null),
                it.listed(),
                it.standing().map(standing -> standing(api, it, standing)).orElse(null),
                it.version());
    }

    StandingApprovalView standing(Api api, Scope scope, StandingApproval it) {
        Instant now = clock.instant();
        List<String> kinds = it.kinds().stream().map(ClientKind::toString).toList();
        List<String> owners = it.owners().stream()
                .map(id -> people.named(scope.issuerId(), id).map(Person::email).orElse(id))
                .toList();
        String sentence = (kinds.isEmpty() ? "clients" : "clients of kind " + String.join(" or ", kinds))
                + (it.tags().isEmpty() ? "" : " with the tag " + String.join(" or ", it.tags()))
                + (owners.isEmpty() ? "" : " of " + String.join(" or ", owners));
        return new StandingApprovalView(
                api.name(),
                scope.name(),
                kinds,
                it.tags(),
                owners,
                it.setBy(),
                it.setAt(),
                sentence,
                approvals.ofScope(scope.id()).stream()
                        .filter(approval -> approval.byStanding() && approval.isGrantedAt(now))
                        .count());
    }

    ClientView client(Issuer issuer, Client it) {
        List<String> owners = owners(Owned.of(it));
        KnownClient known = directory.find(it.id()).orElse(new KnownClient(it, List.of(), List.of()));
        ClientStatus standing = configuration
                .get()
                .issuer(issuer.name())
                .map(inForce -> ClientStatus.of(known, inForce, !owners.isEmpty(), clock.instant()))
                .orElse(new ClientStatus(List.of(), List.of(), List.of()));
        Client.Texts texts = it.texts();
        return new ClientView(
                it.id(),
                it.name(),
                it.clientName(),
                texts.description(),
                it.kind().toString(),
                it.tokenEndpointAuthMethod().toString(),
                owners,
                texts.contacts(),
                texts.links().stream().map(Object::toString).toList(),
                texts.tags(),
                it.addresses().redirects(),
                it.addresses().origins(),
                it.usableGrantTypes(),
                it.openidScopes(),
                it.proof().jwks().map(Views::json).orElse(null),
                it.proof().jwksUri().map(Object::toString).orElse(null),
                it.proof().algorithm().map(Object::toString).orElse(null),
                it.people().openidGranted(),
                it.people().secondFactor(),
                it.people().idTokenSignedResponseAlg().map(Object::toString).orElse(null),
                it.people().postLogoutRedirectUris(),
                it.mayIntrospect(),
                it.enabled(),
                issuer.name(),
                issuer.url() + "/token",
                clients.secretsOf(it.id()).stream().map(this::secret).toList(),
                known.approvals().stream()
                        .map(approval -> approval(issuer, approval))
                        .toList(),
                it.selfRegistered()
                        ? registrations.of(it.id()).map(Views::selfRegistration).orElse(null)
                        : null,
                standing.may(),
                standing.missing().stream()
                        .map(line -> Command.at(issuer.name(), line))
                        .toList(),
                standing.remarks().stream()
                        .map(line -> Command.at(issuer.name(), line))
                        .toList(),
                it.version(),
                it.createdAt());
    }

    private static SelfRegistrationView selfRegistration(SelfRegistration it) {
        return new SelfRegistrationView(it.by(), it.from(), it.registeredAt(), it.more());
    }

    /** What a setup changes, or would change. */
    List<SetupView.Step> steps(List<SetupOutcome.Step> all) {
        return all.stream()
                .map(step -> new SetupView.Step(
                        step.verb(),
                        step.what(),
                        step.members().stream()
                                .map(it ->
                                        new SetupView.Difference(it.member(), byName(it.before()), byName(it.after())))
                                .toList()))
                .toList();
    }

    /** A client that is not registered, as it would be. */
    Preview preview(Issuer issuer, ClientRegistration.Registered it) {
        KnownClient known = new KnownClient(
                it.client(), it.secret().map(secret -> List.of(secret.kept())).orElse(List.of()), it.requested());
        List<String> said = new ArrayList<>(ClientStatus.proof(known));
        List<String> missing = new ArrayList<>();
        configuration.get().issuer(issuer.name()).ifPresent(inForce -> {
            ClientStatus would = ClientStatus.of(known, inForce, true, clock.instant());
            said.addAll(would.may());
            would.missing().forEach(line -> missing.add(Command.at(issuer.name(), line)));
        });
        return new Preview(said, missing);
    }

    private static Map<String, Object> json(String jwks) {
        try {
            return JSONObjectUtils.parse(jwks);
        } catch (ParseException damaged) {
            throw new IllegalStateException("a kept key set cannot be read", damaged);
        }
    }

    SecretView secret(ClientSecret it) {
        return new SecretView(
                it.id(),
                it.label(),
                it.createdAt(),
                it.expiresAt().orElse(null),
                uses.since(it.id()).or(it::usedAt).orElse(null));
    }

    /** A secret with the lines to paste: the only answer it is ever part of. */
    SecretOnce secretOnce(Issuer issuer, Client client, ClientRegistration.IssuedSecret it) {
        return ReadySecret.of(
                issuer,
                client,
                directory.find(client.id()).map(KnownClient::approvals).orElse(List.of()).stream()
                        .map(Approval::scopeName)
                        .toList(),
                it);
    }

    ApprovalView approval(Issuer issuer, Approval it) {
        Optional<CompiledIssuer> inForce = configuration.get().issuer(issuer.name());
        Optional<Scope> scope = inForce.map(found -> found.scopesByName().get(it.scopeName()));
        String api = scope.flatMap(found -> inForce.map(in -> in.apisById().get(found.apiId())))
                .map(Api::name)
                .orElse("");
        Instant now = clock.instant();
        List<String> owners = scope.map(found -> owners(new Owned(Owned.Kind.API, found.apiId(), api)))
                .orElse(List.of());
        boolean waits = scope.isPresent() && it.statusAt(now) == Approval.Status.WAITING;
        return new ApprovalView(
                it.id(),
                it.clientId(),
                directory
                        .find(it.clientId())
                        .map(known -> known.client().name())
                        .orElse(""),
                api,
                it.scopeName(),
                scope.map(Scope::consequenceForAdministrator).orElse(""),
                it.statusAt(now).toString(),
                it.requestedAt(),
                it.requestedBy(),
                it.decidedAt().orElse(null),
                it.decidedBy().orElse(null),
                it.expiresAt().orElse(null),
                it.reason(),
                waits
                        ? directory
                                .find(it.clientId())
                                .map(known -> ClientStatus.waitsFor(known.client(), scope.get(), owners))
                                .orElse(null)
                        : null,
                it.byStanding(),
                it.version());
    }

    /** The consequence of a scope as its readers find it. */
    static ScopeView.Reads reads(Scope it) {
        return new ScopeView.Reads(it.consequenceForPerson(), it.consequenceForAdministrator());
    }

    RouteView route(Issuer issuer, Route it) {
        RouteWanted said = asWanted(issuer, it);
        return new RouteView(
                it.id(),
                List.copyOf(it.methods()),
                it.pattern().toString(),
                said.api(),
                it.guard() instanceof Route.Guard.Token guard ? guard.scopes() : List.of(),
                said.mode(),
                it.guard() instanceof Route.Guard.Open,
                Boolean.TRUE.equals(said.anyScope()),
                said.upstream(),
                said.fixedResponse(),
                it.cors(),
                who(said.who()),
                transform(said.transform()),
                said.timeouts(),
                limits(said.limits()),
                RouteSentences.of(said),
                it.version(),
                it.createdAt());
    }

    /** A route as it would be wanted: everything in it called by its name. */
    RouteWanted asWanted(Issuer issuer, Route it) {
        Optional<Route.Guard.Token> token =
                it.guard() instanceof Route.Guard.Token guard ? Optional.of(guard) : Optional.empty();
        return new RouteWanted(
                List.copyOf(it.methods()),
                it.pattern().toString(),
                token.flatMap(guard -> configuration.get().issuer(issuer.name()).map(in -> in.apisById()
                                .get(guard.apiId())))
                        .map(Api::name)
                        .orElse(null),
                token.map(Route.Guard.Token::scopes).orElse(null),
                token.map(guard -> guard.any() ? "any-of" : "all-of").orElse(null),
                token.isEmpty() ? true : null,
                token.filter(guard -> guard.scopes().isEmpty()).isPresent() ? true : null,
                it.target() instanceof Route.Target.Upstream(var base)
                        ? base.map(Object::toString).orElse(null)
                        : null,
                it.target() instanceof Route.Target.FixedResponse(int status, String type, String body)
                        ? new FixedResponse(status, type, body)
                        : null,
                it.cors(),
                RouteWords.of(
                        it,
                        id -> directory
                                .find(id)
                                .map(known -> known.client().name())
                                .orElse(id),
                        id -> id.equals(issuer.id())
                                ? issuer.name()
                                : trusted.named(issuer.id(), id)
                                        .map(TrustedIssuer::name)
                                        .orElse(id)),
                RouteWords.of(it.transform(), id -> credentials
                        .named(issuer.id(), id)
                        .map(kept -> kept.credential().name())
                        .orElse(id)),
                RouteWords.of(it.timeouts()),
                RouteWords.of(it.limits()));
    }

    private static @Nullable RouteWho who(@Nullable RouteWho it) {
        return it == null
                ? null
                : new RouteWho(
                        some(it.issuers()),
                        it.forWhom() == null ? Who.For.ANYONE.toString() : it.forWhom(),
                        some(it.clients()),
                        some(it.roles()),
                        it.maxAge(),
                        it.acr(),
                        it.condition(),
                        it.signIn(),
                        Boolean.TRUE.equals(it.subscription()));
    }

    private static @Nullable RouteTransform transform(@Nullable RouteTransform it) {
        return it == null
                ? null
                : new RouteTransform(
                        it.path(),
                        some(it.setOnRequest()),
                        some(it.renamedOnRequest()),
                        some(it.removedOnRequest()),
                        some(it.setOnResponse()),
                        some(it.removedOnResponse()),
                        it.credential(),
                        some(it.refusals()),
                        it.proof() == null ? Transform.Proof.REUSED.toString() : it.proof());
    }

    private static @Nullable RouteLimits limits(@Nullable RouteLimits it) {
        return it == null
                ? null
                : new RouteLimits(some(it.rates()), some(it.quotas()), it.concurrent(), it.body(), it.headers());
    }

    private static <T> List<T> some(@Nullable List<T> many) {
        return many == null ? List.of() : many;
    }

    private static <V> Map<String, V> some(@Nullable Map<String, V> many) {
        return many == null ? Map.of() : many;
    }

    /**
     * A decision for a reader who asks why: a removed client is said to be one, and a command names people by their
     * addresses.
     */
    Decision forReader(Decision it) {
        if (it.refusal().isEmpty() || it.endpoint() == Endpoint.ADMIN) return it;
        Decision.About about = it.about();
        boolean theirs = about.clientId().contains(":"); // of a trusted issuer, which is never registered here
        if (!about.clientId().isEmpty()
                && !theirs
                && directory.find(about.clientId()).isEmpty()) {
            String name = about.clientName().isEmpty() ? about.clientId() : about.clientName();
            return it.withFix(
                    Fix.of(("The client %s was removed, or never was here. Register a client, or have the caller "
                                            + "use another.")
                                    .formatted(name))
                            .by("an operator"));
        }
        return it.refusal()
                .get()
                .fix()
                .action()
                .map(action -> it.withFix(it.refusal().get().fix().by(named(action, about))))
                .orElse(it);
    }

    /** Who and what is meant by name, where only an id was at hand. */
    private Action named(Action action, Decision.About about) {
        return switch (action.thing()) {
            case "person" ->
                people.find(about.subject())
                        .map(person -> action.named(person.id(), person.email()))
                        .orElse(action);
            case "trusted-issuer" ->
                configuration
                        .get()
                        .issuer(about.issuer())
                        .flatMap(its ->
                                trusted.named(its.issuer().id(), action.on().getFirst()))
                        .map(it -> action.named(it.id(), it.name()))
                        .orElse(action);
            default -> about.clientName().isEmpty() ? action : action.named(about.clientId(), about.clientName());
        };
    }

    /** A text in which people are named by id, with their addresses instead. */
    String byName(String text) {
        return PERSON_ID
                .matcher(text)
                .replaceAll(id -> Matcher.quoteReplacement(
                        people.find(id.group()).map(Person::email).orElse(id.group())));
    }

    static DecisionView decision(Decision it) {
        Decision.About about = it.about();
        Optional<Refusal> refusal = it.refusal();
        return new DecisionView(
                it.id(),
                it.at(),
                it.endpoint().toString(),
                about.issuer(),
                about.clientId(),
                about.clientName(),
                about.subject(),
                about.api(),
                about.route(),
                about.revision(),
                about.method(),
                about.path(),
                about.scopes(),
                about.from(),
                it.verdict().toString(),
                refusal.map(why -> why.reason().toString()).orElse(null),
                refusal.map(why -> why.reason().error())
                        .filter(error -> !error.isEmpty())
                        .orElse(null),
                it.answered(),
                it.micros(),
                IntStream.range(0, it.checks().size())
                        .mapToObj(i -> check(
                                it.checks().get(i),
                                i < it.took().size() ? it.took().get(i) : null))
                        .toList(),
                refusal.map(why -> fix(why.fix())).orElse(null),
                it.done());
    }

    private static CheckView check(CheckResult check, @Nullable Integer nanos) {
        return switch (check) {
            case CheckResult.Passed it ->
                new CheckView(it.check(), "passed", it.expected(), it.received(), null, nanos);
            case CheckResult.Refused it ->
                new CheckView(
                        it.check(),
                        "refused",
                        it.refusal().expected(),
                        it.refusal().received(),
                        null,
                        nanos);
            case CheckResult.Skipped it -> new CheckView(it.check(), "skipped", null, null, it.why(), nanos);
        };
    }

    static FixView fix(Fix it) {
        return new FixView(
                it.sentence(),
                it.action().map(Views::action).orElse(null),
                it.command().orElse(null),
                it.who().orElse(null));
    }

    private static ActionView action(Action it) {
        Map<String, String> options = new LinkedHashMap<>();
        it.options().forEach(option -> options.put(option.name(), option.value()));
        return new ActionView(it.thing(), it.act(), it.on(), options);
    }
}
