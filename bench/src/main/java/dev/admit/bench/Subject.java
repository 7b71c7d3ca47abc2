package dev.admit.bench;

import dev.admit.contract.ApiWanted;
import dev.admit.contract.IssuerWanted;
import dev.admit.contract.PlanOperation;
import dev.admit.contract.PlanWanted;
import dev.admit.contract.PublicationWanted;
import dev.admit.contract.RouteWanted;
import dev.admit.contract.ScopeWanted;
import dev.admit.contract.SubscriptionWanted;
import dev.admit.core.approval.Approval;
import dev.admit.core.approval.Approvals;
import dev.admit.core.catalogue.Publish;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.Expected;
import dev.admit.core.change.Ids;
import dev.admit.core.change.Transactions;
import dev.admit.core.configuration.LiveConfiguration;
import dev.admit.core.openapi.KeepOpenApi;
import dev.admit.core.registration.ApiRegistration;
import dev.admit.core.registration.IssuerRegistration;
import dev.admit.core.registration.ScopeRegistration;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.ClientAuthMethod;
import dev.admit.core.registry.ClientKind;
import dev.admit.core.registry.ClientSecret;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Issuers;
import dev.admit.core.registry.Scope;
import dev.admit.core.registry.SecretHash;
import dev.admit.core.route.Limits;
import dev.admit.core.route.PathPattern;
import dev.admit.core.route.Route;
import dev.admit.core.route.RouteRegistration;
import dev.admit.core.route.Routes;
import dev.admit.core.route.Timeouts;
import dev.admit.core.route.Transform;
import dev.admit.core.route.Who;
import dev.admit.core.subscription.PlanRegistration;
import dev.admit.core.subscription.Subscribing;
import dev.admit.server.AuthorizationServer;
import dev.admit.server.FirstStart;
import dev.admit.server.Settings;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeSet;

/**
 * The service that is measured: the real one, in a process of its own, filled with as many routes and clients as
 * wanted. The secret of client {@code cl_bench_N} is {@code secret-N}.
 */
final class Subject {
    private Subject() {}

    /**
     * {@code PORT GATEWAY-PORT UPSTREAM-PORT ROUTES CLIENTS}; prints a client of people, the operator's id and secret,
     * and "ready".
     */
    public static void main(String[] args) throws Exception {
        Path data = Files.createTempDirectory("admit-bench");
        AuthorizationServer server = AuthorizationServer.start(
                new Settings(
                        "127.0.0.1",
                        Integer.parseInt(args[0]),
                        Integer.parseInt(args[1]),
                        Optional.empty(),
                        data,
                        Optional.empty(),
                        1 << 20,
                        Duration.ofSeconds(30),
                        false,
                        Optional.empty(),
                        Optional.empty(),
                        List.of(),
                        Duration.ofDays(30),
                        Duration.ofDays(400),
                        Optional.empty(),
                        Optional.empty(),
                        Duration.ZERO),
                TokenFloor.class);
        FirstStart.Credential operator = server.part(FirstStart.class).prepare().orElseThrow();
        fill(server, URI.create("http://127.0.0.1:" + args[2]), Integer.parseInt(args[3]), Integer.parseInt(args[4]));
        server.part(LiveConfiguration.class).held(() -> catalogue(server, Integer.parseInt(args[5])));
        server.part(LiveConfiguration.class).republish();
        System.out.println(operator.clientId() + " " + operator.secret());
        System.out.println("ready");
        System.in.read(); // until the one who started it goes away
        server.close();
        try (var all = Files.walk(data)) {
            for (Path each : all.sorted(java.util.Comparator.reverseOrder()).toList()) Files.delete(each);
        }
        System.exit(0);
    }

    private static void fill(AuthorizationServer server, URI upstream, int routes, int clients) {
        Issuer issuer = made(server.part(IssuerRegistration.class)
                .create(new IssuerWanted("harbour", "Saltmarsh Harbour Authority"), Actor.ADMIT));
        Api tides = made(server.part(ApiRegistration.class)
                .register(
                        issuer,
                        new ApiWanted("tides", null, "https://tides.saltmarsh.example", upstream.toString()),
                        Actor.ADMIT));
        Scope read = made(server.part(ScopeRegistration.class)
                .add(
                        issuer,
                        tides,
                        new ScopeWanted(
                                "tides.read", "reads", "everyone", "clients", null, null, null, null, null, null, null),
                        Actor.ADMIT));
        made(server.part(ApiRegistration.class)
                .change(
                        issuer,
                        "tides",
                        new ApiWanted(null, null, null, null, null, List.of("tides.read"), null),
                        Expected.ANY,
                        null,
                        Actor.ADMIT));
        Transactions transactions = server.part(Transactions.class);
        transactions.inOne(() -> {
            for (int i = 0; i < routes; i++)
                server.part(Routes.class)
                        .insert(route(
                                issuer,
                                tides,
                                i == 0 ? "/tides/**" : "/quays/q%d/berths/{berth}/b%d".formatted(i % 100, i),
                                Transform.Proof.REUSED));
            server.part(Routes.class).insert(route(issuer, tides, "/each/**", Transform.Proof.EACH_REQUEST));
            for (String plan : List.of("covered", "limited"))
                server.part(Routes.class)
                        .insert(subscribed(route(issuer, tides, "/" + plan + "/**", Transform.Proof.REUSED)));
            return null;
        });
        for (int from = 0; from < clients; from += 5_000) {
            int first = from;
            transactions.inOne(() -> {
                for (int i = first; i < Math.min(first + 5_000, clients); i++) insertClient(server, issuer, read, i);
                return null;
            });
        }
        server.part(LiveConfiguration.class).republish();
        offer(server, issuer, "covered", List.of(), List.of());
        offer(
                server,
                issuer,
                "limited",
                List.of("999999999 per 1m by client"),
                List.of("999999999999 per month by client"));
        BenchPeople.fill(server, issuer);
    }

    private static int catalogue(AuthorizationServer server, int apis) {
        if (apis == 0) return 0;
        Issuer issuer = server.part(Issuers.class).named("harbour").orElseThrow();
        for (int i = 0; i < apis; i++) {
            String name = "c" + i;
            Api api = made(server.part(ApiRegistration.class)
                    .register(
                            issuer,
                            new ApiWanted(
                                    name,
                                    "Things " + i,
                                    "https://" + name + ".saltmarsh.example",
                                    "http://127.0.0.1:9"),
                            Actor.ADMIT));
            made(server.part(ScopeRegistration.class)
                    .add(
                            issuer,
                            api,
                            new ScopeWanted(
                                    name + ".read",
                                    "reads",
                                    "everyone",
                                    "both",
                                    null,
                                    null,
                                    null,
                                    null,
                                    null,
                                    null,
                                    null),
                            Actor.ADMIT));
            made(server.part(KeepOpenApi.class).keep(issuer, api, document(name), Actor.ADMIT));
            made(server.part(Publish.class)
                    .change(
                            issuer,
                            api,
                            new PublicationWanted(
                                    "public", null, "Things of the harbour %d of all kinds.".formatted(i), null, null),
                            Expected.ANY,
                            Actor.ADMIT));
            made(server.part(RouteRegistration.class)
                    .add(
                            issuer,
                            new RouteWanted(
                                    List.of("GET"),
                                    "/" + name + "/**",
                                    name,
                                    List.of(name + ".read"),
                                    null,
                                    null,
                                    null,
                                    null,
                                    null,
                                    null,
                                    null,
                                    null,
                                    null,
                                    null),
                            null,
                            Actor.ADMIT));
        }
        return apis;
    }

    private static Map<String, Object> document(String name) {
        Map<String, Object> paths = new LinkedHashMap<>();
        Map<String, Object> thing = Map.of(
                "type",
                "object",
                "properties",
                Map.of(
                        "id", Map.of("type", "string"),
                        "name", Map.of("type", "string", "description", "what people call it"),
                        "height", Map.of("type", "number")));
        for (int i = 0; i < 40; i++)
            paths.put(
                    "/%s/things%d/{id}".formatted(name, i),
                    Map.of(
                            "get",
                            Map.of(
                                    "summary",
                                    "Reads thing " + i,
                                    "description",
                                    "A thing of the harbour, with **all** that is known of it.",
                                    "parameters",
                                    List.of(Map.of(
                                            "name",
                                            "id",
                                            "in",
                                            "path",
                                            "required",
                                            true,
                                            "schema",
                                            Map.of("type", "string"))),
                                    "responses",
                                    Map.of(
                                            "200",
                                            Map.of(
                                                    "description",
                                                    "The thing",
                                                    "content",
                                                    Map.of("application/json", Map.of("schema", thing)))))));
        return new LinkedHashMap<>(Map.of(
                "openapi", "3.0.3", "info", Map.of("title", "Things of " + name, "version", "1"), "paths", paths));
    }

    /** A plan that the first client is subscribed to. */
    private static void offer(
            AuthorizationServer server, Issuer issuer, String name, List<String> rates, List<String> quotas) {
        made(server.part(PlanRegistration.class)
                .add(
                        issuer,
                        new PlanWanted(
                                name,
                                null,
                                null,
                                List.of(new PlanOperation("tides", List.of("GET"), "/" + name + "/**")),
                                rates,
                                quotas,
                                "automatic",
                                null,
                                null,
                                null),
                        Actor.ADMIT));
        Client client = server.part(Clients.class).named(issuer.id(), "bench-0").orElseThrow();
        made(server.part(Subscribing.class).request(issuer, client, new SubscriptionWanted(name, null), Actor.ADMIT));
    }

    private static Route subscribed(Route it) {
        Route.Guard.Token token = (Route.Guard.Token) it.guard();
        Who who = new Who(
                List.of(),
                Who.For.ANYONE,
                List.of(),
                List.of(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                true);
        return new Route(
                it.id(),
                it.issuerId(),
                it.methods(),
                it.pattern(),
                new Route.Guard.Token(token.apiId(), token.scopes(), token.any(), who),
                it.target(),
                it.transform(),
                it.timeouts(),
                it.limits(),
                it.cors(),
                it.version(),
                it.createdAt());
    }

    private static Route route(Issuer issuer, Api api, String path, Transform.Proof proof) {
        PathPattern pattern = ((PathPattern.Reading.Good) PathPattern.read(path)).pattern();
        return new Route(
                Ids.random("rt_"),
                issuer.id(),
                new TreeSet<>(List.of("GET")),
                pattern,
                new Route.Guard.Token(api.id(), List.of("tides.read"), false, Who.ANYONE),
                new Route.Target.Upstream(Optional.empty()),
                with(proof),
                Timeouts.NONE,
                Limits.NONE,
                false,
                1,
                Instant.now());
    }

    private static Transform with(Transform.Proof proof) {
        Transform it = Transform.NONE;
        return new Transform(
                it.path(),
                it.setOnRequest(),
                it.renamedOnRequest(),
                it.removedOnRequest(),
                it.setOnResponse(),
                it.removedOnResponse(),
                it.credential(),
                it.refusals(),
                proof);
    }

    private static void insertClient(AuthorizationServer server, Issuer issuer, Scope scope, int n) {
        String id = "cl_bench_" + n;
        Instant now = Instant.now();
        Clients clients = server.part(Clients.class);
        clients.insert(new Client(
                id,
                issuer.id(),
                "bench-" + n,
                ClientKind.MACHINE,
                Client.Texts.named("Bench"),
                Client.Proof.by(ClientAuthMethod.CLIENT_SECRET_POST),
                Client.Addresses.NONE,
                Optional.empty(),
                List.of(),
                Client.People.USUAL,
                true,
                1,
                now));
        clients.insert(new ClientSecret(
                "sec_bench_" + n,
                id,
                "first",
                SecretHash.of("secret-" + n),
                now,
                Optional.of(now.plus(Duration.ofDays(1))),
                Optional.empty()));
        server.part(Approvals.class)
                .insert(new Approval(
                        "ap_bench_" + n,
                        issuer.id(),
                        id,
                        scope.id(),
                        scope.name(),
                        Approval.Status.GRANTED,
                        now,
                        "bench",
                        Optional.of(now),
                        Optional.of("bench"),
                        Optional.empty(),
                        "",
                        false,
                        false,
                        1));
    }

    private static <T> T made(Change<T> change) {
        if (change instanceof Change.Made<T> made) return made.value();
        throw new IllegalStateException("filling came to " + change);
    }
}
