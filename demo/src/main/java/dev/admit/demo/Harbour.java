package dev.admit.demo;

import dev.admit.core.approval.Approval;
import dev.admit.core.approval.Approving;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.Expected;
import dev.admit.core.registration.ApiRegistration;
import dev.admit.core.registration.ClientRegistration;
import dev.admit.core.registration.IssuerRegistration;
import dev.admit.core.registration.ScopeRegistration;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Apis;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.ClientSecret;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Issuers;
import dev.admit.core.route.RouteRegistration;
import dev.admit.server.Authority;
import java.net.URI;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Saltmarsh Harbour: its issuers, APIs, scopes, clients and routes, set up through the same rules as everyone else's. */
final class Harbour {
    static final String ISSUER = "harbour";
    private static final String USUAL = "90d";
    private static final String A_WEEK = "7d";

    /** A client with the secret that this start made for it. */
    record DemoClient(Client client, String secret, String resource, List<String> scopes) {
        @Override public String toString() {
            return "DemoClient[" + client.name() + ", hidden]";
        }
    }

    record DemoRoute(String method, String path, String api, List<String> scopes) {}

    private record ClientPlan(String name, String title, String owner, String secret, String resource, List<String> asks, boolean given) {}

    private static final List<ClientPlan> CLIENTS = List.of(
            new ClientPlan("tide-buoy-07", "Tide buoy 7", "Corin Ashby", USUAL, "https://tides.saltmarsh.example", List.of("tides.read", "tides.publish"), true),
            new ClientPlan("old-crane", "The old crane's controller", "", A_WEEK, "https://berths.saltmarsh.example", List.of("berths.read"), true),
            new ClientPlan("night-audit", "Nightly cargo audit", "Nell Draper", USUAL, "https://manifests.saltmarsh.example", List.of("manifests.inspect"), false));

    private static final List<DemoRoute> ROUTES = List.of(
            new DemoRoute("GET", "/tides/**", "tides", List.of("tides.read")),
            new DemoRoute("POST", "/tides/readings", "tides", List.of("tides.publish")),
            new DemoRoute("GET", "/received", "tides", List.of("tides.read")),
            new DemoRoute("GET", "/berths/**", "berths", List.of("berths.read")),
            new DemoRoute("POST", "/berths/{berth}/bookings", "berths", List.of("berths.book")),
            new DemoRoute("PUT", "/berths/{berth}/ship", "berths", List.of("berths.assign")),
            new DemoRoute("GET", "/manifests/{voyage}", "manifests", List.of("manifests.read", "manifests.inspect")),
            new DemoRoute("PATCH", "/manifests/{voyage}", "manifests", List.of("manifests.amend")),
            new DemoRoute("GET", "/status", null, List.of()));

    private final Authority authority;
    private final Map<String, URI> upstreams;

    /** @param upstreams API → where its stand-in listens */
    Harbour(Authority authority, Map<String, URI> upstreams) {
        this.authority = authority;
        this.upstreams = upstreams;
    }

    /** Sets the harbour up, or, on a data folder that has it, points it at today's stand-ins and makes fresh secrets. */
    List<DemoClient> prepare() {
        Optional<Issuer> before = authority.part(Issuers.class).named(ISSUER);
        return before.isPresent() ? refresh(before.get()) : setUp();
    }

    static List<DemoRoute> routes() {
        return ROUTES;
    }

    Map<String, String> issuerUrls() {
        Map<String, String> urls = new LinkedHashMap<>();
        for (String name : List.of("admit", ISSUER, "gullwing")) {
            authority.part(Issuers.class).named(name).ifPresent(issuer -> urls.put(name, issuer.url().toString()));
        }
        return urls;
    }

    private List<DemoClient> setUp() {
        IssuerRegistration issuers = authority.part(IssuerRegistration.class);
        Issuer harbour = made(issuers.create(new IssuerRegistration.Wanted(ISSUER, "Saltmarsh Harbour Authority"), Actor.ADMIT));
        made(issuers.create(new IssuerRegistration.Wanted("gullwing", "Gullwing Lines"), Actor.ADMIT));
        api(harbour, "tides", "Tide heights");
        api(harbour, "berths", "Ship berths");
        api(harbour, "manifests", "Cargo manifests");
        scope(harbour, "tides", "tides.read", "reads", "everyone", "both", "person", false, true, "See the tide heights of every gauge; nothing is changed.");
        scope(harbour, "tides", "tides.publish", "changes", "everyone", "clients", "administrator", false, false, "Publish readings that ships rely on; they show at once.");
        scope(harbour, "berths", "berths.read", "reads", "everyone", "both", "person", false, false, "See every berth and which ship lies there; nothing is changed.");
        scope(harbour, "berths", "berths.book", "changes", "own", "people", "person", true, false, "Book berths for one's own ships; a booking blocks the berth.");
        scope(harbour, "berths", "berths.assign", "changes", "everyone", "people", "administrator", true, false, "Say which ship lies at which berth; pilots act on it at once.");
        scope(harbour, "manifests", "manifests.read", "reads", "own", "people", "person", true, false, "See the cargo lists of one's own firm; nothing is changed.");
        scope(harbour, "manifests", "manifests.inspect", "reads", "everyone", "clients", "administrator", false, false, "See the cargo lists of every firm; nothing is changed.");
        scope(harbour, "manifests", "manifests.amend", "changes", "own", "people", "administrator", true, false, "Amend the cargo lists of one's own firm; customs sees the change at once.");
        for (DemoRoute route : ROUTES) made(authority.part(RouteRegistration.class).add(harbour, wanted(route), Actor.ADMIT));
        List<DemoClient> clients = new ArrayList<>();
        for (ClientPlan plan : CLIENTS) clients.add(register(harbour, plan));
        return clients;
    }

    private void api(Issuer harbour, String name, String title) {
        made(authority.part(ApiRegistration.class).register(harbour,
                new ApiRegistration.Wanted(name, title, "https://" + name + ".saltmarsh.example", upstreams.get(name).toString()), Actor.ADMIT));
    }

    private void scope(Issuer harbour, String api, String name, String effect, String reach, String holders, String approver, boolean byRole,
                       boolean byDefault, String words) {
        Api of = authority.part(Apis.class).named(harbour.id(), api).orElseThrow();
        made(authority.part(ScopeRegistration.class).add(harbour, of, new ScopeRegistration.Wanted(name, effect, reach, holders, words, null, approver, byRole,
                "in-use", null, byDefault, true), Actor.ADMIT));
    }

    private static RouteRegistration.Wanted wanted(DemoRoute it) {
        if (it.api() == null) {
            return new RouteRegistration.Wanted(List.of(it.method()), it.path(), null, null, null, true, null, null,
                    new RouteRegistration.WantedAnswer(200, "application/json", "{\"harbour\":\"open\"}"));
        }
        return new RouteRegistration.Wanted(List.of(it.method()), it.path(), it.api(), it.scopes(), it.scopes().size() > 1 ? "any-of" : "all-of", null, null, null, null);
    }

    private DemoClient register(Issuer harbour, ClientPlan plan) {
        ClientRegistration.Registered registered = made(authority.part(ClientRegistration.class).register(harbour,
                ClientRegistration.Wanted.service(plan.name(), plan.title(), plan.owner(), plan.asks()), plan.secret(), Actor.ADMIT));
        if (plan.given()) {
            for (Approval ask : registered.asks()) {
                made(authority.part(Approving.class).give(registered.client(), ask, Optional.empty(), new Actor("corin", "Corin Ashby", ""), Expected.ANY));
            }
        }
        return new DemoClient(registered.client(), registered.secret().orElseThrow().secret().reveal(), plan.resource(), plan.asks());
    }

    private List<DemoClient> refresh(Issuer harbour) {
        for (Map.Entry<String, URI> upstream : upstreams.entrySet()) {
            authority.part(ApiRegistration.class).change(harbour, upstream.getKey(),
                    new ApiRegistration.Wanted(null, null, null, upstream.getValue().toString()), Expected.ANY, null, Actor.ADMIT);
        }
        List<DemoClient> clients = new ArrayList<>();
        for (ClientPlan plan : CLIENTS) {
            Optional<Client> client = authority.part(Clients.class).named(harbour.id(), plan.name());
            client.ifPresent(it -> clients.add(new DemoClient(it, freshSecret(authority, harbour, it, plan.secret()), plan.resource(), plan.asks())));
        }
        return clients;
    }

    /** What a secret was is nowhere, so a start on old data makes another, in the place of the one that the last start made. */
    static String freshSecret(Authority authority, Issuer issuer, Client client, String lifetime) {
        List<ClientSecret> secrets = authority.part(Clients.class).secretsOf(client.id());
        for (ClientSecret old : secrets) {
            if (old.label().equals("demo")) made(authority.part(ClientRegistration.class).removeSecret(issuer, client.name(), old.id(), client.name(), Actor.ADMIT));
        }
        return made(authority.part(ClientRegistration.class).addSecret(issuer, client.name(), "demo", lifetime, Actor.ADMIT)).secret().reveal();
    }

    private static <T> T made(Change<T> change) {
        if (change instanceof Change.Made<T> made) return made.value();
        throw new IllegalStateException("the demo's setup came to " + change);
    }
}
