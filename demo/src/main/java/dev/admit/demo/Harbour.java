package dev.admit.demo;

import dev.admit.core.browser.SignInAtGate;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.Known;
import dev.admit.core.registration.ClientRegistration;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.ClientSecret;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Issuers;
import dev.admit.core.registry.NewSecret;
import dev.admit.core.route.Routes;
import dev.admit.core.setup.LoadSetup;
import dev.admit.core.setup.Setup;
import dev.admit.core.setup.SetupOutcome;
import dev.admit.server.AuthorizationServer;
import dev.admit.server.setup.SetupYaml;
import java.io.IOException;
import java.io.InputStream;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;

/** Saltmarsh Harbour: its setup files, loaded as anyone's would be, with today's addresses as their stage. */
final class Harbour {
    static final String ISSUER = "harbour";
    private static final String WARNINGS = "GET /warnings";
    private static final String DESK = "http://127.0.0.1:9495/back";
    private static final List<String> FILES = List.of("harbour", "gullwing");
    private static final Actor CORIN = new Actor("corin", "Corin Ashby", "", Actor.Power.ADMINISTRATOR);

    /**
     * A client with what this start gave it to prove itself with: a secret, or a private key in PEM; empty for one that
     * has neither.
     */
    record DemoClient(Client client, String credential, String resource, List<String> scopes, boolean granted) {
        @Override
        public String toString() {
            return "DemoClient[" + client.name() + ", hidden]";
        }
    }

    private final AuthorizationServer server;
    private final Map<String, URI> upstreams;
    private final CustomsStandIn customs;
    private final CoastguardStandIn coastguard;
    private final Setup setup;

    /** @param upstreams API → where its stand-in listens */
    Harbour(
            AuthorizationServer server,
            Map<String, URI> upstreams,
            CustomsStandIn customs,
            CoastguardStandIn coastguard) {
        this.server = server;
        this.upstreams = upstreams;
        this.customs = customs;
        this.coastguard = coastguard;
        this.setup = described(read("harbour"));
    }

    private Setup read(String file) {
        try (InputStream in = Harbour.class.getResourceAsStream("/setup/" + file + ".yaml")) {
            String text = new String(in.readAllBytes(), StandardCharsets.UTF_8);
            return switch (SetupYaml.read(text, file.equals("harbour") ? Optional.of(stage()) : Optional.empty())) {
                case SetupYaml.Reading.Good good -> withWarnings(good.setup());
                case SetupYaml.Reading.Malformed malformed ->
                    throw new IllegalStateException("the demo's setup file: " + malformed.faults());
            };
        } catch (IOException cause) {
            throw new IllegalStateException("the demo's setup file cannot be read", cause);
        }
    }

    /** Where people come back to whom the gateway signs in. */
    private String atGateway() {
        return server.gatewayUrl() + SignInAtGate.BACK;
    }

    /** The tides have a document of their makers. */
    private static Setup described(Setup file) {
        Map<String, Setup.ApiPart> apis = new LinkedHashMap<>(Objects.requireNonNull(file.apis()));
        apis.computeIfPresent("tides", (name, part) -> part.describedBy(TidesStandIn.described()));
        return file.withApis(apis);
    }

    /** The one route that leads to the coastguard, which is nobody's API here, leads to where it is this time. */
    private Setup withWarnings(Setup file) {
        if (file.routes() == null) return file;
        List<Setup.RoutePart> routes = file.routes().stream()
                .map(it -> WARNINGS.equals(it.route()) ? it.to(coastguard.url().toString()) : it)
                .toList();
        return file.withRoutes(routes);
    }

    /** Where everything is on this machine, this time. */
    private String stage() {
        StringBuilder stage = new StringBuilder("apis:\n");
        upstreams.forEach((api, url) -> stage.append("  ")
                .append(api)
                .append(": {upstream: '")
                .append(url)
                .append("'}\n"));
        return stage
                + ("clients:\n  customs-sync: {jwks_uri: '%s'}\n  berth-desk: {redirect_uris: ['%s', "
                                + "'%s']}\ntrusted_issuers:\n  coastguard: {url: '%s', metadata: '%s'}\n")
                        .formatted(customs.jwks(), DESK, atGateway(), coastguard.url(), coastguard.metadata())
                + "upstream_credentials:\n  coastguard-warnings: {upstream: '%s', issuer: '%s'}\n"
                        .formatted(coastguard.url(), coastguard.url());
    }

    /**
     * Sets the harbour up, or, on a data folder that has it, points it at today's stand-ins and makes fresh secrets.
     */
    List<DemoClient> prepare() {
        Map<String, String> secrets = new LinkedHashMap<>();
        clients().forEach((name, part) -> {
            boolean hasSecret = part.kind() == null && part.tokenEndpointAuthMethod() == null
                    || "client_secret_post".equals(part.tokenEndpointAuthMethod());
            if (hasSecret) secrets.put(name, NewSecret.make().reveal());
        });
        secrets.put("upstream-credential coastguard-warnings", coastguard.secret());
        Optional<Issuer> before = server.part(Issuers.class).named(ISSUER);
        if (before.isPresent()) refresh(before.get(), secrets);
        else
            FILES.forEach(
                    file -> load(file.equals(ISSUER) ? setup : read(file), file.equals(ISSUER) ? secrets : Map.of()));
        return describe(secrets);
    }

    private void load(Setup file, Map<String, String> secrets) {
        SetupOutcome outcome = server.part(LoadSetup.class).load(new LoadSetup.Request(file, secrets, false), CORIN);
        if (!(outcome instanceof SetupOutcome.Fits))
            throw new IllegalStateException("the demo's setup came to " + outcome);
    }

    /** What people changed since stays; only addresses and secrets are new. */
    private void refresh(Issuer harbour, Map<String, String> secrets) {
        Map<String, Setup.ApiPart> apis = new LinkedHashMap<>();
        upstreams.forEach((api, url) -> apis.put(api, Setup.ApiPart.at(url.toString())));
        Map<String, Setup.ClientPart> clients = new LinkedHashMap<>();
        for (String name : clients().keySet()) {
            Optional<Client> client = server.part(Clients.class).named(harbour.id(), name);
            if (client.isEmpty()) {
                secrets.remove(name);
                continue;
            }
            if (secrets.containsKey(name)) forgetSecrets(server, harbour, client.get());
            String jwks = name.equals("customs-sync") ? customs.jwks().toString() : null;
            Setup.SecretPart secret = Known.in(clients(), name).secret();
            Setup.ClientPart part = Setup.ClientPart.proving(jwks, secret);
            clients.put(name, name.equals("berth-desk") ? part.returningTo(List.of(DESK, atGateway())) : part);
        }
        boolean warned = server.part(Routes.class).of(harbour.id()).stream()
                .anyMatch(it -> it.label().equals(WARNINGS));
        List<Setup.RoutePart> routes = routes().stream()
                .filter(it -> warned && WARNINGS.equals(it.route()))
                .toList();
        Setup.CredentialPart credential = Setup.CredentialPart.at(
                coastguard.url().toString(), coastguard.url().toString(), null);
        load(
                new Setup(
                        ISSUER,
                        null,
                        null,
                        null,
                        null,
                        apis,
                        routes,
                        clients,
                        Map.of(
                                "coastguard",
                                Setup.TrustedPart.at(
                                        coastguard.url().toString(),
                                        coastguard.metadata().toString())),
                        warned ? Map.of("coastguard-warnings", credential) : null),
                secrets);
    }

    private static void forgetSecrets(AuthorizationServer server, Issuer issuer, Client client) {
        for (ClientSecret old : server.part(Clients.class).secretsOf(client.id())) {
            if (old.label().equals("granted"))
                made(server.part(ClientRegistration.class)
                        .removeSecret(issuer, client.name(), old.id(), client.name(), Actor.ADMIT));
        }
    }

    /**
     * What a secret was is nowhere, so a start on old data makes another, in the place of the one that the last start
     * made.
     */
    static String freshSecret(AuthorizationServer server, Issuer issuer, Client client) {
        forgetSecrets(server, issuer, client);
        String secret = NewSecret.make().reveal();
        made(server.part(ClientRegistration.class).giveSecret(issuer, client.name(), secret, null, false, Actor.ADMIT));
        return secret;
    }

    private List<DemoClient> describe(Map<String, String> secrets) {
        Issuer harbour = server.part(Issuers.class).named(ISSUER).orElseThrow();
        List<DemoClient> clients = new ArrayList<>();
        clients().forEach((name, part) -> server.part(Clients.class)
                .named(harbour.id(), name)
                .ifPresent(client -> {
                    if (part.scopes() == null) {
                        clients.add(new DemoClient(client, "", "", List.of(), true));
                        return;
                    }
                    String api = part.scopes().keySet().iterator().next().split("\\.")[0];
                    String credential =
                            name.equals("customs-sync") ? customs.privateKey() : secrets.getOrDefault(name, "");
                    clients.add(new DemoClient(
                            client,
                            credential,
                            audienceOf(api),
                            List.copyOf(part.scopes().keySet()),
                            part.scopes().containsValue("granted")));
                }));
        return clients;
    }

    List<Setup.RoutePart> routes() {
        return Objects.requireNonNull(setup.routes(), "the demo's setup file has routes");
    }

    /** How the setup file names a route. */
    static String label(Setup.RoutePart it) {
        return Objects.requireNonNull(it.route(), "a route of the setup file has its label");
    }

    private Map<String, Setup.ClientPart> clients() {
        return Objects.requireNonNull(setup.clients(), "the demo's setup file has clients");
    }

    private String audienceOf(String api) {
        Map<String, Setup.ApiPart> apis = Objects.requireNonNull(setup.apis(), "the demo's setup file has APIs");
        return Objects.requireNonNull(Known.in(apis, api).audience(), api);
    }

    Map<String, String> issuerUrls() {
        Map<String, String> urls = new LinkedHashMap<>();
        for (String name : List.of("admit", ISSUER, "gullwing")) {
            server.part(Issuers.class)
                    .named(name)
                    .ifPresent(issuer -> urls.put(name, issuer.url().toString()));
        }
        return urls;
    }

    private static <T> T made(Change<T> change) {
        if (change instanceof Change.Made<T> made) return made.value();
        throw new IllegalStateException("the demo's setup came to " + change);
    }
}
