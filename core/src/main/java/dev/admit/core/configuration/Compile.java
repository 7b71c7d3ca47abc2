package dev.admit.core.configuration;

import static java.util.stream.Collectors.groupingBy;
import static java.util.stream.Collectors.toUnmodifiableMap;

import dev.admit.core.access.AdminApi;
import dev.admit.core.change.Known;
import dev.admit.core.expression.Expression;
import dev.admit.core.key.IssuerKeys;
import dev.admit.core.key.MasterKey;
import dev.admit.core.key.SigningKey;
import dev.admit.core.key.SigningKeys;
import dev.admit.core.minting.MintingInForce;
import dev.admit.core.person.ProfileField;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.ApiSecret;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Role;
import dev.admit.core.registry.Scope;
import dev.admit.core.route.HeaderName;
import dev.admit.core.route.PathRewrite;
import dev.admit.core.route.RequestCondition;
import dev.admit.core.route.Route;
import dev.admit.core.route.RouteTable;
import dev.admit.core.route.Template;
import dev.admit.core.route.Transform;
import dev.admit.core.route.Who;
import dev.admit.core.token.AudienceCheck;
import dev.admit.core.token.BearerDoor;
import dev.admit.core.token.BearerKindCheck;
import dev.admit.core.token.Lifetime;
import dev.admit.core.token.LifetimeCheck;
import dev.admit.core.token.NamedClientCheck;
import dev.admit.core.token.RevocationCheck;
import dev.admit.core.token.Revocations;
import dev.admit.core.token.RoleCheck;
import dev.admit.core.token.ScopeCheck;
import dev.admit.core.token.ScopeStatusCheck;
import dev.admit.core.token.SignInCheck;
import dev.admit.core.token.TokenCheck;
import dev.admit.core.trust.LinkedClientCheck;
import dev.admit.core.trust.TrustedIssuer;
import dev.admit.core.trust.TrustedKeys;
import dev.admit.core.trust.TrustedTokens;
import dev.admit.core.upstream.Presenting;
import dev.admit.core.upstream.UpstreamCredentials;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.stream.Stream;

/**
 * Compiles what is kept into what the request paths read. Here stands which checks a route makes, and in what order.
 */
final class Compile {
    private final MasterKey masterKey;
    private final Revocations revocations;
    private final TrustedKeys trustedKeys;
    private final Presenting presenting;
    private final Predicate<String> clientIsOn;
    /** Keys once opened stay the same objects, by which remembered tokens know that their key still holds. */
    private final Map<String, SigningKey> opened = new HashMap<>();

    Compile(
            MasterKey masterKey,
            Revocations revocations,
            TrustedKeys trustedKeys,
            Presenting presenting,
            Predicate<String> clientIsOn) {
        this.masterKey = masterKey;
        this.revocations = revocations;
        this.trustedKeys = trustedKeys;
        this.presenting = presenting;
        this.clientIsOn = clientIsOn;
    }

    Configuration compile(StoredConfiguration kept, long serial) {
        Map<String, List<Api>> apis = kept.apis().stream().collect(groupingBy(Api::issuerId));
        Map<String, List<Scope>> scopes = kept.scopes().stream().collect(groupingBy(Scope::issuerId));
        Map<String, List<SigningKeys.Stored>> keys =
                kept.keys().stream().collect(groupingBy(SigningKeys.Stored::issuerId));
        Map<String, List<ApiSecret>> secrets = kept.apiSecrets().stream().collect(groupingBy(ApiSecret::apiId));
        Map<String, List<Role>> roles = kept.roles().stream().collect(groupingBy(Role::issuerId));
        Map<String, List<ProfileField>> fields = kept.fields().stream().collect(groupingBy(ProfileField::issuerId));
        Optional<Api> admin = adminApi(kept);
        Map<String, CompiledIssuer> byName = new HashMap<>();
        Map<String, CompiledIssuer> byId = new HashMap<>();
        for (Issuer issuer : kept.issuers()) {
            List<Api> its = apis.getOrDefault(issuer.id(), List.of());
            Api itsAdmin = admin.filter(api -> api.issuerId().equals(issuer.id()))
                    .orElseGet(() -> CompiledIssuer.adminApiAt(
                            issuer, admin.map(Api::audience).orElse("")));
            List<StoredConfiguration.Registering> registering = kept.registering().stream()
                    .filter(it -> it.issuerId().equals(issuer.id()))
                    .toList();
            CompiledIssuer inForce = new CompiledIssuer(
                    issuer,
                    issuer.url().toString(),
                    IssuerKeys.of(
                            keys.getOrDefault(issuer.id(), List.of()),
                            this::open,
                            Lifetime.LONGEST.plus(Lifetime.SKEW)),
                    its.stream().collect(toUnmodifiableMap(Api::id, api -> api)),
                    its.stream().collect(toUnmodifiableMap(Api::audience, api -> api)),
                    scopes.getOrDefault(issuer.id(), List.of()).stream()
                            .collect(toUnmodifiableMap(Scope::name, scope -> scope)),
                    Stream.concat(its.stream(), Stream.of(CompiledIssuer.ownOf(issuer), itsAdmin))
                            .distinct()
                            .collect(toUnmodifiableMap(Api::id, MintingInForce::of)),
                    its.stream()
                            .filter(api -> secrets.containsKey(api.id()))
                            .collect(toUnmodifiableMap(Api::id, api -> secrets.get(api.id()))),
                    roles.getOrDefault(issuer.id(), List.of()).stream()
                            .collect(toUnmodifiableMap(Role::id, role -> role)),
                    fields.getOrDefault(issuer.id(), List.of()),
                    CompiledIssuer.ownOf(issuer),
                    itsAdmin,
                    everywhere(scopes.getOrDefault(issuer.id(), List.of()), its),
                    registering.stream().anyMatch(StoredConfiguration.Registering::open),
                    registering.stream().anyMatch(StoredConfiguration.Registering::administratorApproves));
            byName.put(issuer.name(), inForce);
            byId.put(issuer.id(), inForce);
        }
        Map<Route, GuardedRoute> routes = new HashMap<>();
        Map<String, TrustedIssuer> trusted =
                kept.trusted().stream().collect(toUnmodifiableMap(TrustedIssuer::id, it -> it));
        Map<String, UpstreamCredentials.Stored> credentials = kept.credentials().stream()
                .collect(toUnmodifiableMap(it -> it.credential().id(), it -> it));
        SignInHosts signIns = SignInHosts.of(kept.routes());
        for (Route route : kept.routes())
            routes.put(route, guarded(route, Known.in(byId, route.issuerId()), trusted, credentials, signIns));
        return new Configuration(serial, Map.copyOf(byName), new RouteTable<>(routes));
    }

    /** Empty while the service starts for the first time. */
    private static Optional<Api> adminApi(StoredConfiguration kept) {
        Optional<String> service = kept.issuers().stream()
                .filter(it -> it.name().equals(AdminApi.ISSUER))
                .map(Issuer::id)
                .findFirst();
        return service.flatMap(id -> kept.apis().stream()
                .filter(api -> api.issuerId().equals(id) && api.name().equals(AdminApi.NAME))
                .findFirst());
    }

    private String opened(UpstreamCredentials.Stored it) {
        return new String(masterKey.open(it.sealed(), it.credential().sealedAs()), StandardCharsets.UTF_8);
    }

    private SigningKey open(SigningKeys.Stored key) {
        return opened.computeIfAbsent(key.kid(), kid -> SigningKey.unseal(kid, key.sealed(), masterKey));
    }

    /** Lifetime, then revocation, then whether what it was given for is still given. */
    private List<TokenCheck> everywhere(List<Scope> scopes, List<Api> apis) {
        Map<String, ScopeStatusCheck.End> ends = new HashMap<>();
        for (Scope scope : scopes) {
            String api = apis.stream()
                    .filter(it -> it.id().equals(scope.apiId()))
                    .map(Api::name)
                    .findFirst()
                    .orElse(scope.apiId());
            if (scope.status() == Scope.Status.DRAFT)
                ends.put(scope.name(), new ScopeStatusCheck.End(Instant.MIN, api));
            scope.closesOn().ifPresent(end -> ends.put(scope.name(), new ScopeStatusCheck.End(end, api)));
        }
        List<TokenCheck> checks =
                new ArrayList<>(List.of(new LifetimeCheck(Lifetime.SKEW), new RevocationCheck(revocations)));
        if (!ends.isEmpty()) checks.add(new ScopeStatusCheck(Map.copyOf(ends)));
        return List.copyOf(checks);
    }

    private GuardedRoute guarded(
            Route route,
            CompiledIssuer issuer,
            Map<String, TrustedIssuer> trusted,
            Map<String, UpstreamCredentials.Stored> credentials,
            SignInHosts signIns) {
        Optional<Api> api = route.apiId().map(issuer.apisById()::get);
        Optional<URI> upstream =
                switch (route.target()) {
                    case Route.Target.Upstream(Optional<URI> base) -> base.or(() -> api.flatMap(Api::upstream));
                    case Route.Target.FixedResponse answer -> Optional.empty();
                };
        BearerDoor.Ways ways = BearerDoor.Ways.NONE;
        String needed = "";
        String stepUp = "";
        if (route.guard() instanceof Route.Guard.Token(String apiId, List<String> scopes, boolean any, Who who)) {
            List<TokenCheck> right = rights(route, api.orElseThrow(), scopes, any, who);
            ways = ways(issuer, api.get(), who, right, trusted);
            stepUp = right.stream()
                    .filter(SignInCheck.class::isInstance)
                    .map(it -> ((SignInCheck) it).challenge())
                    .findFirst()
                    .orElse("");
            needed = String.join(" ", scopes);
        }
        return new GuardedRoute(
                route,
                route.label(),
                issuer,
                api,
                ways,
                needed,
                upstream,
                route.transform()
                        .credential()
                        .map(credentials::get)
                        .map(it -> presenting.of(it.credential(), () -> opened(it))),
                prepared(route, stepUp, signIns.sandboxes(route)));
    }

    /** What a token must be good for, the one who minted it. */
    private static List<TokenCheck> rights(Route route, Api api, List<String> scopes, boolean any, Who who) {
        List<TokenCheck> checks = new ArrayList<>();
        if (!scopes.isEmpty()) checks.add(ScopeCheck.of(scopes, any));
        boolean signIn = who.maxAge().isPresent() || who.acr().isPresent();
        // Where the sign-in is looked at, a token without one is told so (RFC 9470 §3): that says more than that a
        // person is wanted.
        if (who.forWhom() != Who.For.ANYONE && !signIn)
            checks.add(new BearerKindCheck(who.forWhom() == Who.For.PEOPLE));
        if (!who.clients().isEmpty()) checks.add(new NamedClientCheck(Set.copyOf(who.clients()), route.label()));
        if (!who.roles().isEmpty()) checks.add(new RoleCheck(who.roles(), api.name()));
        if (signIn) checks.add(new SignInCheck(who.maxAge(), who.acr()));
        return checks;
    }

    /** The order of RFC 9068 §4: aud, then the lifetime; revocation with it; then what the token is good for. */
    private BearerDoor.Ways ways(
            CompiledIssuer issuer, Api api, Who who, List<TokenCheck> rights, Map<String, TrustedIssuer> trusted) {
        List<BearerDoor.Way> ways = new ArrayList<>();
        if (who.issuers().isEmpty() || who.issuers().contains(issuer.issuer().id()))
            ways.add(new BearerDoor.Way(issuer.tokens(), checks(api.audience(), issuer, List.of(), rights)));
        for (String id : who.issuers()) {
            TrustedIssuer it = trusted.get(id);
            if (it == null) continue; // this issuer itself; or gone, and then nobody passes by it
            ways.add(new BearerDoor.Way(
                    new TrustedTokens(it, trustedKeys.of(it)),
                    checks(
                            it.audience().orElse(api.audience()),
                            issuer,
                            it.clients().isEmpty()
                                    ? List.of()
                                    : List.of(new LinkedClientCheck(
                                            Set.copyOf(it.clients().values()), clientIsOn)),
                            rights)));
        }
        return BearerDoor.Ways.of(ways);
    }

    private static List<TokenCheck> checks(
            String audience, CompiledIssuer issuer, List<TokenCheck> more, List<TokenCheck> rights) {
        List<TokenCheck> checks = new ArrayList<>(List.of(AudienceCheck.of(audience)));
        checks.addAll(issuer.everywhere());
        checks.addAll(more);
        checks.addAll(rights);
        return List.copyOf(checks);
    }

    private static GuardedRoute.Prepared prepared(Route route, String stepUp, boolean sandboxed) {
        Optional<String> when =
                route.guard() instanceof Route.Guard.Token token ? token.who().condition() : Optional.empty();
        Optional<Template> answer =
                route.target() instanceof Route.Target.FixedResponse(int status, String type, String body)
                        ? Optional.of(Template.read(body, Template.Spelling.of(type)))
                        : Optional.empty();
        return GuardedRoute.Prepared.of(
                when.map(text -> condition(text, route.label())),
                stepUp,
                route.transform().path().map(PathRewrite::of),
                templates(route.transform().setOnRequest()),
                templates(route.transform().setOnResponse()),
                answer,
                texts(route.transform().refusals()),
                ownHeaders(route.transform()),
                sandboxed);
    }

    private static Set<String> ownHeaders(Transform transform) {
        return Stream.of(
                        transform.setOnRequest().keySet(),
                        transform.renamedOnRequest().keySet(),
                        transform.renamedOnRequest().values(),
                        transform.removedOnRequest())
                .flatMap(java.util.Collection::stream)
                .map(HeaderName::asBackendsRead)
                .collect(java.util.stream.Collectors.toUnmodifiableSet());
    }

    /** One that cannot be read any more lets nobody pass: a fault denies. */
    private static RequestCondition condition(String text, String route) {
        try {
            return RequestCondition.read(text, route);
        } catch (Expression.Senseless broken) {
            return RequestCondition.never(text, route);
        }
    }

    private static Map<String, GuardedRoute.OwnText> texts(Map<String, Transform.Text> refusals) {
        return refusals.entrySet().stream()
                .collect(toUnmodifiableMap(
                        Map.Entry::getKey,
                        it -> new GuardedRoute.OwnText(
                                it.getValue().contentType(),
                                Template.read(
                                        it.getValue().body(),
                                        Template.Spelling.of(it.getValue().contentType())))));
    }

    private static Map<String, Template> templates(Map<String, String> headers) {
        Map<String, Template> templates = new LinkedHashMap<>();
        headers.forEach((name, text) -> templates.put(name, Template.read(text, Template.Spelling.HEADER)));
        return templates;
    }
}
