package dev.admit.core.setup;

import com.nimbusds.jose.util.JSONObjectUtils;
import dev.admit.contract.FieldWanted;
import dev.admit.contract.FixedResponse;
import dev.admit.contract.IssuerWanted;
import dev.admit.contract.PeopleSettingsView;
import dev.admit.contract.PlanWanted;
import dev.admit.contract.PublicationWanted;
import dev.admit.contract.RegistrationLimits;
import dev.admit.contract.RegistrationWanted;
import dev.admit.contract.RoleWanted;
import dev.admit.contract.ScopeWanted;
import dev.admit.contract.StandingApprovalWanted;
import dev.admit.core.approval.Approval;
import dev.admit.core.catalogue.Publication;
import dev.admit.core.catalogue.Publish;
import dev.admit.core.change.Fields;
import dev.admit.core.owner.Owned;
import dev.admit.core.owner.Owner;
import dev.admit.core.person.Person;
import dev.admit.core.person.ProfileField;
import dev.admit.core.plan.Plan;
import dev.admit.core.plan.Subscription;
import dev.admit.core.registration.ClientRegistration;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.ClientKind;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.IssuerSettings;
import dev.admit.core.registry.Minting;
import dev.admit.core.registry.PeopleSettings;
import dev.admit.core.registry.Role;
import dev.admit.core.registry.Scope;
import dev.admit.core.registry.StandingApproval;
import dev.admit.core.route.Route;
import dev.admit.core.route.RouteWords;
import dev.admit.core.selfregistration.Limits;
import dev.admit.core.selfregistration.RegistrationPolicy;
import dev.admit.core.subscription.PlanSentences;
import dev.admit.core.trust.TrustedIssuer;
import dev.admit.core.upstream.UpstreamCredential;
import dev.admit.core.upstream.UpstreamCredentials;
import java.net.URI;
import java.text.ParseException;
import java.time.Clock;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * Writes an issuer, or a piece of it, as its setup file would have it; what is as usual is left out, so that it reads
 * well.
 */
public final class ExportSetup {
    private final LoadSetup.Records records;
    private final Clock clock;

    public ExportSetup(LoadSetup.Records records, Clock clock) {
        this.records = records;
        this.clock = clock;
    }

    public Setup whole(Issuer issuer) {
        Map<String, Setup.ApiPart> apis = new LinkedHashMap<>();
        for (Api api : LoadSetup.all(ask -> records.apis().list(issuer.id(), ask))) apis.put(api.name(), api(api));
        Map<String, Setup.ClientPart> clients = new LinkedHashMap<>();
        for (Client client : LoadSetup.all(ask -> records.clients().list(issuer.id(), Clients.Filter.ALL, ask))) {
            // Admit makes that one itself, wherever it runs; a client that registered itself belongs to nobody here.
            if (!client.name().equals(ClientRegistration.OWN_NAME) && !client.selfRegistered())
                clients.put(client.name(), client(client));
        }
        Map<String, FieldWanted> fields = new LinkedHashMap<>();
        for (ProfileField it : records.fields().of(issuer.id())) {
            fields.put(
                    it.name(),
                    new FieldWanted(
                            null,
                            it.title(),
                            it.type() == ProfileField.Type.TEXT
                                    ? null
                                    : it.type().toString(),
                            list(it.choices()),
                            it.pattern().orElse(null),
                            flag(it.atSignUp(), false),
                            flag(it.editable(), true),
                            it.isStandard() ? null : it.claim().orElse(null),
                            flag(it.onProfilePage(), true)));
        }
        Map<String, Setup.TrustedPart> trusted = new LinkedHashMap<>();
        for (TrustedIssuer it : records.trusted().of(issuer.id())) trusted.put(it.name(), trusted(it));
        Map<String, Setup.CredentialPart> credentials = new LinkedHashMap<>();
        for (UpstreamCredentials.Stored it : records.credentials().of(issuer.id()))
            credentials.put(it.credential().name(), credential(it.credential()));
        return new Setup(
                issuer.name(),
                issuer.title(),
                text(issuer.description()),
                rules(issuer.settings()),
                map(fields),
                map(apis),
                list(records.routes().of(issuer.id()).stream().map(this::route).toList()),
                map(clients),
                map(trusted),
                map(credentials),
                records.registrations()
                        .policy(issuer.id())
                        .map(ExportSetup::registration)
                        .orElse(null),
                map(plans(issuer)));
    }

    private Map<String, PlanWanted> plans(Issuer issuer) {
        Map<String, PlanWanted> plans = new LinkedHashMap<>();
        for (Plan it : LoadSetup.all(ask -> records.plans().list(issuer.id(), Optional.empty(), ask))) {
            PlanWanted said = PlanSentences.said(
                    it,
                    id -> records.apis().named(issuer.id(), id).map(Api::name).orElse(id));
            plans.put(
                    it.name(),
                    new PlanWanted(
                            null,
                            it.title(),
                            text(it.description()),
                            said.operations(),
                            list(Fields.orNone(said.rates())),
                            list(Fields.orNone(said.quotas())),
                            said.approval(),
                            said.secretLifetime(),
                            text(it.terms().text()),
                            null));
        }
        return plans;
    }

    private Map<String, String> subscriptions(Client client) {
        Map<String, String> all = new LinkedHashMap<>();
        for (Subscription it : records.subscriptions().ofClient(client.id()))
            if (it.status().isLive())
                records.plans()
                        .find(it.planId())
                        .ifPresent(plan -> all.put(plan.name(), it.status().toString()));
        return all;
    }

    private static RegistrationWanted registration(RegistrationPolicy it) {
        Limits limits = it.limits();
        return new RegistrationWanted(
                it.mode().toString(),
                limits.equals(Limits.USUAL)
                        ? null
                        : new RegistrationLimits(
                                list(limits.kinds().stream()
                                        .map(Object::toString)
                                        .toList()),
                                list(limits.grantTypes()),
                                list(limits.scopes()),
                                list(limits.redirectDomains())),
                it.approver() == Scope.Approver.PERSON ? null : it.approver().toString());
    }

    /** An API with its scopes, minting and routes. */
    public Setup piece(Issuer issuer, Api api) {
        return new Setup(
                issuer.name(),
                null,
                null,
                null,
                null,
                Map.of(api.name(), api(api)),
                list(records.routes().ofApi(issuer.id(), api.id()).stream()
                        .map(this::route)
                        .toList()),
                null,
                null,
                null);
    }

    public Setup piece(Issuer issuer, Client client) {
        return new Setup(
                issuer.name(), null, null, null, null, null, null, Map.of(client.name(), client(client)), null, null);
    }

    private static @Nullable IssuerWanted rules(IssuerSettings it) {
        IssuerSettings usual = IssuerSettings.USUAL;
        if (it.equals(usual)) return null;
        return new IssuerWanted(
                null,
                null,
                null,
                list(it.domains()),
                it.keyRotation().equals(usual.keyRotation())
                        ? null
                        : it.keyRotation().map(Fields::written).orElse("none"),
                it.secretLifetime().equals(usual.secretLifetime()) ? null : Fields.written(it.secretLifetime()),
                it.maxSecretLifetime().equals(usual.maxSecretLifetime())
                        ? null
                        : Fields.written(it.maxSecretLifetime()),
                flag(it.nonExpiringSecrets(), false),
                flag(it.loopbackRedirects(), true),
                it.grantTypes().orElse(null),
                people(it.people()));
    }

    private static @Nullable PeopleSettingsView people(PeopleSettings it) {
        PeopleSettings usual = PeopleSettings.USUAL;
        if (it.equals(usual)) return null;
        return new PeopleSettingsView(
                flag(it.listed(), usual.listed()),
                flag(it.signUp(), usual.signUp()),
                flag(it.secondFactor(), usual.secondFactor()),
                it.sessionIdleTimeout().equals(usual.sessionIdleTimeout())
                        ? null
                        : Fields.written(it.sessionIdleTimeout()),
                it.maxSessionAge().equals(usual.maxSessionAge()) ? null : Fields.written(it.maxSessionAge()),
                it.look().logo().orElse(null),
                it.look().accent().orElse(null),
                it.look().welcome().orElse(null),
                it.look().styleSheet().orElse(null));
    }

    private Setup.ApiPart api(Api it) {
        Map<String, ScopeWanted> scopes = new LinkedHashMap<>();
        for (Scope scope : records.scopes().of(it.id())) scopes.put(scope.name(), scope(scope));
        Map<String, RoleWanted> roles = new LinkedHashMap<>();
        for (Role role : records.roles().of(it.id()))
            roles.put(role.name(), new RoleWanted(null, role.title(), role.scopes(), flag(role.secondFactor(), false)));
        return new Setup.ApiPart(
                it.title(),
                it.audience(),
                null,
                it.upstream().map(Object::toString).orElse(null),
                owners(Owned.of(it)),
                minting(it.minting()),
                map(scopes),
                map(roles),
                list(it.defaultScopes()),
                flag(it.allByDefault(), false),
                records.documents()
                        .of(it.id())
                        .map(document -> json(document.document()))
                        .orElse(null),
                records.publications().of(it.id()).map(this::publication).orElse(null));
    }

    private PublicationWanted publication(Publication it) {
        PublicationWanted all = Publish.said(it, records.people());
        return new PublicationWanted(
                all.readers(),
                list(Fields.orNone(all.people())),
                text(it.description()),
                text(it.gettingStarted()),
                list(Fields.orNone(all.changes())));
    }

    private @Nullable List<String> owners(Owned owned) {
        return list(records.owners().of(owned).stream().map(Owner::email).toList());
    }

    private static Setup.@Nullable MintingPart minting(Minting it) {
        if (it.equals(Minting.USUAL)) return null;
        Map<String, String> claims = new LinkedHashMap<>();
        it.claims().forEach(claim -> claims.put(claim.name(), claim.expression()));
        Map<String, Setup.ExceptionPart> exceptions = new LinkedHashMap<>();
        for (Minting.Exempt one : it.exceptions()) {
            exceptions.put(
                    one.name(),
                    new Setup.ExceptionPart(
                            list(one.clients()),
                            list(one.tags()),
                            list(one.grantTypes()),
                            one.lifetime().map(Fields::written).orElse(null),
                            one.format().map(Object::toString).orElse(null),
                            one.refreshIdleTimeout().map(Fields::written).orElse(null),
                            one.maxRefreshAge().map(Fields::written).orElse(null),
                            list(one.without())));
        }
        return new Setup.MintingPart(
                Fields.written(it.lifetime()),
                it.format().toString(),
                map(claims),
                it.refreshIdleTimeout().equals(Minting.USUAL.refreshIdleTimeout())
                        ? null
                        : Fields.written(it.refreshIdleTimeout()),
                it.maxRefreshAge().equals(Minting.USUAL.maxRefreshAge()) ? null : Fields.written(it.maxRefreshAge()),
                map(exceptions));
    }

    private ScopeWanted scope(Scope it) {
        return new ScopeWanted(
                null,
                it.effect().toString(),
                it.reach().toString(),
                it.forWhom().toString(),
                it.consequence(),
                it.approver().toString(),
                flag(it.byRole(), false),
                it.status() == Scope.Status.IN_USE ? null : it.status().toString(),
                it.closesOn().map(Instant::toString).orElse(null),
                flag(it.listed(), true),
                it.standing().map(standing -> standing(it, standing)).orElse(null));
    }

    private StandingApprovalWanted standing(Scope scope, StandingApproval it) {
        return new StandingApprovalWanted(
                list(it.kinds().stream().map(ClientKind::toString).toList()),
                list(it.tags()),
                list(it.owners().stream()
                        .map(id -> records.people()
                                .named(scope.issuerId(), id)
                                .map(Person::email)
                                .orElse(id))
                        .toList()));
    }

    /** One route, as a setup file has it. */
    Setup.RoutePart route(Route it) {
        Optional<Route.Guard.Token> token =
                it.guard() instanceof Route.Guard.Token guard ? Optional.of(guard) : Optional.empty();
        String upstream = it.target() instanceof Route.Target.Upstream(var base)
                ? base.map(Object::toString).orElse(null)
                : null;
        FixedResponse fixed = it.target() instanceof Route.Target.FixedResponse(int status, String type, String body)
                ? new FixedResponse(status, type, body)
                : null;
        return new Setup.RoutePart(
                label(it),
                token.flatMap(guard -> records.apis().named(it.issuerId(), guard.apiId()))
                        .map(Api::name)
                        .orElse(null),
                token.map(Route.Guard.Token::scopes)
                        .filter(scopes -> !scopes.isEmpty())
                        .orElse(null),
                token.filter(Route.Guard.Token::any).map(guard -> "any-of").orElse(null),
                token.isEmpty() ? true : null,
                token.filter(guard -> guard.scopes().isEmpty())
                        .map(guard -> true)
                        .orElse(null),
                upstream,
                fixed,
                flag(it.cors(), false),
                RouteWords.of(
                        it,
                        id -> records.clients()
                                .named(it.issuerId(), id)
                                .map(Client::name)
                                .orElse(id),
                        id -> issuerNamed(it, id)),
                RouteWords.of(it.transform(), id -> records.credentials()
                        .named(it.issuerId(), id)
                        .map(kept -> kept.credential().name())
                        .orElse(id)),
                RouteWords.of(it.timeouts()),
                RouteWords.of(it.limits()));
    }

    private String issuerNamed(Route it, String id) {
        return id.equals(it.issuerId())
                ? records.issuers().named(id).map(Issuer::name).orElse(id)
                : records.trusted()
                        .named(it.issuerId(), id)
                        .map(TrustedIssuer::name)
                        .orElse(id);
    }

    private Setup.TrustedPart trusted(TrustedIssuer it) {
        TrustedIssuer.Claims usual = TrustedIssuer.Claims.USUAL;
        TrustedIssuer.Claims claims = it.claims();
        Map<String, String> linked = new LinkedHashMap<>();
        it.clients()
                .forEach((theirs, ours) -> linked.put(
                        theirs,
                        records.clients()
                                .named(it.issuerId(), ours)
                                .map(Client::name)
                                .orElse(ours)));
        return new Setup.TrustedPart(
                it.url(),
                it.keys() instanceof TrustedIssuer.Keys.InMetadata(URI at) ? at.toString() : null,
                it.keys() instanceof TrustedIssuer.Keys.At(URI at) ? at.toString() : null,
                it.keys() instanceof TrustedIssuer.Keys.Pasted(String jwks) ? json(jwks) : null,
                list(it.algorithms().stream().map(Object::toString).toList()),
                list(it.types()),
                it.audience().orElse(null),
                unless(claims.scope(), usual.scope()),
                unless(claims.roles(), usual.roles()),
                unless(claims.person(), usual.person()),
                unless(claims.client(), usual.client()),
                map(it.scopes()),
                map(linked));
    }

    private static Setup.CredentialPart credential(UpstreamCredential it) {
        return switch (it.shown()) {
            case UpstreamCredential.Shown.Header(String name) ->
                new Setup.CredentialPart(
                        it.upstream().toString(), name, null, null, null, null, null, null, null, null);
            case UpstreamCredential.Shown.Login(String user) ->
                new Setup.CredentialPart(
                        it.upstream().toString(), null, user, null, null, null, null, null, null, null);
            case UpstreamCredential.Shown.Token token ->
                new Setup.CredentialPart(
                        it.upstream().toString(),
                        null,
                        null,
                        token.clientId(),
                        token.issuer().map(URI::toString).orElse(null),
                        token.tokenEndpoint().map(URI::toString).orElse(null),
                        token.inBody() ? "body" : null,
                        token.scope().orElse(null),
                        map(token.parameters()),
                        null);
        };
    }

    private static @Nullable String unless(String text, String usual) {
        return text.equals(usual) ? null : text;
    }

    static String label(Route it) {
        return it.label();
    }

    private Setup.ClientPart client(Client it) {
        Map<String, String> scopes = new LinkedHashMap<>();
        for (Approval approval : records.approvals().ofClient(it.id())) {
            scopes.put(
                    approval.scopeName(),
                    approval.isGrantedAt(clock.instant())
                            ? approval.expiresAt()
                                    .map(end -> "granted until " + end)
                                    .orElse("granted")
                            : "waiting");
        }
        boolean usualIdentity =
                it.openidScopes().equals(it.kind().forPeople() ? List.of("openid", "profile", "email") : List.of());
        return new Setup.ClientPart(
                it.clientName(),
                text(it.texts().description()),
                it.kind() == ClientKind.MACHINE ? null : it.kind().toString(),
                it.tokenEndpointAuthMethod().toString(),
                owners(Owned.of(it)),
                list(it.texts().contacts()),
                list(it.texts().links().stream().map(Object::toString).toList()),
                list(it.texts().tags()),
                list(it.addresses().redirects()),
                list(it.addresses().origins()),
                it.grantTypes().orElse(null),
                usualIdentity ? null : it.openidScopes(),
                it.proof().jwks().map(ExportSetup::json).orElse(null),
                it.proof().jwksUri().map(Object::toString).orElse(null),
                it.proof().algorithm().map(Object::toString).orElse(null),
                flag(it.people().openidGranted(), false),
                flag(it.people().secondFactor(), false),
                it.people().idTokenSignedResponseAlg().map(Object::toString).orElse(null),
                list(it.people().postLogoutRedirectUris()),
                flag(it.mayIntrospect(), false),
                flag(it.enabled(), true),
                null,
                map(scopes),
                it.id().startsWith("cl_") ? null : it.id(),
                map(subscriptions(it)));
    }

    private static Map<String, Object> json(String text) {
        try {
            return JSONObjectUtils.parse(text);
        } catch (ParseException damaged) {
            throw new IllegalStateException("kept JSON cannot be read", damaged);
        }
    }

    private static @Nullable String text(String text) {
        return text.isEmpty() ? null : text;
    }

    private static <V> @Nullable Map<String, V> map(Map<String, V> many) {
        return many.isEmpty() ? null : many;
    }

    private static <T> @Nullable List<T> list(List<T> many) {
        return many.isEmpty() ? null : many;
    }

    private static @Nullable Boolean flag(boolean value, boolean usual) {
        return value == usual ? null : value;
    }
}
