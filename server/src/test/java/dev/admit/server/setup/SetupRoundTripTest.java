package dev.admit.server.setup;

import static org.assertj.core.api.Assertions.assertThat;

import com.nimbusds.jose.jwk.Curve;
import com.nimbusds.jose.jwk.JWKSet;
import com.nimbusds.jose.jwk.gen.ECKeyGenerator;
import dev.admit.contract.ApiWanted;
import dev.admit.contract.ClientWanted;
import dev.admit.contract.FieldWanted;
import dev.admit.contract.FixedResponse;
import dev.admit.contract.IssuerWanted;
import dev.admit.contract.MintingView;
import dev.admit.contract.MintingWanted;
import dev.admit.contract.RoleWanted;
import dev.admit.contract.RouteLimits;
import dev.admit.contract.RouteTimeouts;
import dev.admit.contract.RouteTransform;
import dev.admit.contract.RouteWanted;
import dev.admit.contract.RouteWho;
import dev.admit.contract.ScopeWanted;
import dev.admit.contract.StandingApprovalWanted;
import dev.admit.contract.TrustedIssuerWanted;
import dev.admit.contract.UpstreamCredentialWanted;
import dev.admit.core.approval.Approvals;
import dev.admit.core.approval.Approving;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.Expected;
import dev.admit.core.registration.ApiRegistration;
import dev.admit.core.registration.ClientRegistration;
import dev.admit.core.registration.IssuerRegistration;
import dev.admit.core.registration.MintingRegistration;
import dev.admit.core.registration.RoleRegistration;
import dev.admit.core.registration.ScopeRegistration;
import dev.admit.core.registration.TrustRegistration;
import dev.admit.core.registration.UpstreamCredentialRegistration;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Issuers;
import dev.admit.core.route.Route;
import dev.admit.core.route.RouteRegistration;
import dev.admit.core.route.Routes;
import dev.admit.core.setup.ExportSetup;
import dev.admit.core.setup.LoadSetup;
import dev.admit.core.setup.Setup;
import dev.admit.core.setup.SetupOutcome;
import dev.admit.core.signin.FieldRegistration;
import dev.admit.server.AuthorizationServer;
import dev.admit.server.FirstStart;
import dev.admit.server.Settings;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.function.Supplier;
import java.util.stream.IntStream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.RepeatedTest;
import org.junit.jupiter.api.RepetitionInfo;

/**
 * Whatever an issuer came to hold: its setup file is taken back without a difference, and makes the same of an empty
 * service.
 */
class SetupRoundTripTest {
    private static final Actor BY = Actor.ADMIT;
    private static final List<String> KINDS = List.of("machine", "web", "browser", "native", "device");
    private static Path folder;
    private static AuthorizationServer first;
    private static AuthorizationServer second;
    private static String keys;

    private Random random;
    private Issuer issuer;

    @BeforeAll
    static void start() throws Exception {
        Path memory = Path.of("/dev/shm"); // so many issuers need no disk
        folder = Files.isDirectory(memory)
                ? Files.createTempDirectory(memory, "admit-setup")
                : Files.createTempDirectory("admit-setup");
        first = started("first");
        second = started("second");
        keys = new JWKSet(
                        new ECKeyGenerator(Curve.P_256).keyID("one").generate().toPublicJWK())
                .toString();
    }

    private static AuthorizationServer started(String name) throws Exception {
        AuthorizationServer server = AuthorizationServer.start(new Settings(
                "127.0.0.1",
                freePort(),
                freePort(),
                Optional.empty(),
                folder.resolve(name),
                Optional.empty(),
                1_000_000,
                Duration.ofSeconds(5),
                false,
                Optional.empty(),
                Optional.empty(),
                List.of(),
                Duration.ofDays(30),
                Duration.ofDays(30),
                Optional.empty(),
                Optional.empty(),
                Duration.ZERO));
        server.part(FirstStart.class).prepare();
        return server;
    }

    private static int freePort() throws Exception {
        try (ServerSocket socket = new ServerSocket(0)) {
            return socket.getLocalPort();
        }
    }

    @AfterAll
    static void stop() throws Exception {
        first.close();
        second.close();
        try (var files = Files.walk(folder)) {
            files.sorted(Comparator.reverseOrder()).forEach(it -> it.toFile().delete());
        }
    }

    @RepeatedTest(20)
    void whatIsExportedIsTakenBackAndMakesTheSameElsewhere(RepetitionInfo repetition) {
        random = new Random(repetition.getCurrentRepetition());
        String name = "quay-" + repetition.getCurrentRepetition();
        issuer = ((Change.Made<Issuer>) first.part(IssuerRegistration.class).create(new IssuerWanted(name, "Quay"), BY))
                .value();
        fill();
        for (int i = 0; i < 25; i++) act();

        String file = exported(first);
        SetupOutcome again = first.part(LoadSetup.class).compare(request(file), BY);
        assertThat(again).as(file).isInstanceOfSatisfying(SetupOutcome.Fits.class, fits -> assertThat(fits.steps())
                .as(file)
                .isEmpty());
        SetupOutcome elsewhere = second.part(LoadSetup.class).load(request(file), BY);
        assertThat(elsewhere).as(file).isInstanceOf(SetupOutcome.Fits.class);
        assertThat(exported(second).replace(origin(second), origin(first))).isEqualTo(file);
    }

    private static String origin(AuthorizationServer server) {
        return server.publicUrl().toString();
    }

    private String exported(AuthorizationServer from) {
        Issuer its = from.part(Issuers.class).named(issuer.name()).orElseThrow();
        return SetupYaml.write(from.part(ExportSetup.class).whole(its), "A quay.");
    }

    private LoadSetup.Request request(String file) {
        Setup setup = ((SetupYaml.Reading.Good) SetupYaml.read(file, Optional.empty())).setup();
        Map<String, String> secrets = new HashMap<>();
        if (setup.upstreamCredentials() != null)
            setup.upstreamCredentials()
                    .keySet()
                    .forEach(it -> secrets.put("upstream-credential " + it, "a secret of theirs"));
        return new LoadSetup.Request(setup, secrets, false);
    }

    private boolean chance(int in) {
        return random.nextInt(in) == 0;
    }

    @SafeVarargs
    private <T> T one(T... of) {
        return of[random.nextInt(of.length)];
    }

    private List<String> some(List<String> of) {
        return of.stream().filter(it -> random.nextBoolean()).toList();
    }

    private <T> T orNull(Supplier<T> value) {
        return random.nextBoolean() ? value.get() : null;
    }

    /** A little of everything. */
    private void fill() {
        for (int i = 0; i < 2 + random.nextInt(2); i++) addApi("api-" + i);
        for (int i = 0; i < 3; i++) addField("field_" + i);
        for (int i = 0; i < 5; i++) addClient("client-" + i);
        for (int i = 0; i < 2; i++) addTrusted("theirs-" + i);
        for (int i = 0; i < 2; i++) addCredential("key-" + i);
        for (int i = 0; i < 6; i++) addRoute("/r" + i);
        for (int i = 0; i < 2; i++) minting("api-" + i);
    }

    /** A change, a removal or a renaming; what the rules refuse changes nothing. */
    private void act() {
        int which = random.nextInt(5);
        switch (random.nextInt(13)) {
            case 0 ->
                first.part(ClientRegistration.class)
                        .remove(issuer, "client-" + which, Expected.ANY, "client-" + which, BY);
            case 1 ->
                first.part(RoleRegistration.class)
                        .remove(issuer, api(which % 2), "role-" + which % 2, Expected.ANY, BY);
            case 2 ->
                first.part(ScopeRegistration.class)
                        .remove(
                                issuer,
                                api(which % 2),
                                "api-" + which % 2 + ".s" + which % 3,
                                Expected.ANY,
                                "api-" + which % 2 + ".s" + which % 3,
                                BY);
            case 3 -> first.part(TrustRegistration.class).remove(issuer, "theirs-" + which % 2, Expected.ANY, BY);
            case 4 ->
                first.part(UpstreamCredentialRegistration.class).remove(issuer, "key-" + which % 2, Expected.ANY, BY);
            case 5 -> first.part(FieldRegistration.class).remove(issuer, "field_" + which % 3, BY);
            case 6 -> first.part(ApiRegistration.class).remove(issuer, "api-2", Expected.ANY, "api-2", BY);
            case 7 ->
                route(which).ifPresent(it -> first.part(RouteRegistration.class)
                        .remove(issuer, it.id(), Expected.ANY, null, BY));
            case 8 ->
                first.part(ClientRegistration.class)
                        .change(issuer, "client-" + which, wanted("renamed-" + which, null), Expected.ANY, BY);
            case 9 ->
                first.part(ClientRegistration.class)
                        .change(
                                issuer,
                                "client-" + which,
                                wanted(null, one(KINDS.toArray(String[]::new))),
                                Expected.ANY,
                                BY);
            case 10 -> answer(which);
            case 11 -> minting("api-" + which % 2);
            default -> addRoute("/again" + which);
        }
    }

    private dev.admit.core.registry.Api api(int number) {
        return first.part(dev.admit.core.registry.Apis.class)
                .named(issuer.id(), "api-" + number)
                .orElseThrow();
    }

    private Optional<Route> route(int number) {
        List<Route> all = first.part(Routes.class).of(issuer.id());
        return all.isEmpty() ? Optional.empty() : Optional.of(all.get(number % all.size()));
    }

    private void addApi(String name) {
        first.part(ApiRegistration.class)
                .register(
                        issuer,
                        new ApiWanted(
                                name,
                                orNull(() -> "The " + name),
                                orNull(() -> one("urn:" + name, "https://elsewhere.example/" + name)),
                                orNull(() -> "http://127.0.0.1:9"),
                                true,
                                null,
                                random.nextBoolean()),
                        BY);
        Optional<dev.admit.core.registry.Api> made =
                first.part(dev.admit.core.registry.Apis.class).named(issuer.id(), name);
        if (made.isEmpty()) return;
        for (int i = 0; i < 3; i++) {
            String forWhom = one("people", "clients", "both");
            first.part(ScopeRegistration.class)
                    .add(
                            issuer,
                            made.get(),
                            new ScopeWanted(
                                    name + ".s" + i,
                                    one("reads", "changes", "both"),
                                    one("own", "everyone"),
                                    forWhom,
                                    orNull(() -> one("Reads it.", "Reads {whose} things.")),
                                    orNull(() -> forWhom.equals("clients")
                                            ? "administrator"
                                            : one("person", "administrator")),
                                    orNull(() -> !forWhom.equals("clients")),
                                    one("draft", "in-use", "in-use"),
                                    null,
                                    random.nextBoolean(),
                                    orNull(() -> new StandingApprovalWanted(
                                            orNull(() -> List.of(one("machine", "web"))),
                                            orNull(() -> List.of("night-shift", "buoy")),
                                            null))),
                            BY);
        }
        if (chance(2))
            first.part(ApiRegistration.class)
                    .change(
                            issuer,
                            name,
                            new ApiWanted(
                                    null, null, null, null, null, some(List.of(name + ".s0", name + ".s1")), null),
                            Expected.ANY,
                            null,
                            BY);
        for (int i = 0; i < 2; i++)
            first.part(RoleRegistration.class)
                    .add(
                            issuer,
                            made.get(),
                            new RoleWanted(
                                    "role-" + i,
                                    null,
                                    some(List.of(name + ".s0", name + ".s1", name + ".s2")),
                                    random.nextBoolean()),
                            BY);
    }

    private void addField(String name) {
        String type = one("text", "choice", "number");
        first.part(FieldRegistration.class)
                .add(
                        issuer,
                        new FieldWanted(
                                name,
                                "Field",
                                type,
                                type.equals("choice") ? List.of("North", "South") : null,
                                type.equals("text") ? orNull(() -> "[a-z]+") : null,
                                random.nextBoolean(),
                                random.nextBoolean(),
                                orNull(() -> name),
                                random.nextBoolean()),
                        BY);
        if (chance(3))
            first.part(FieldRegistration.class)
                    .change(
                            issuer,
                            "given_name",
                            new FieldWanted(
                                    null,
                                    "First name",
                                    null,
                                    null,
                                    null,
                                    random.nextBoolean(),
                                    random.nextBoolean(),
                                    null,
                                    random.nextBoolean()),
                            BY);
    }

    private ClientWanted wanted(String name, String kind) {
        boolean redirects = kind != null && !kind.equals("machine") && !kind.equals("device");
        return new ClientWanted(
                name,
                orNull(() -> "A client"),
                orNull(() -> "Details"),
                kind,
                null,
                orNull(() -> List.of("junia.hale@saltmarsh.example")),
                orNull(() -> List.of("https://saltmarsh.example/about")),
                orNull(() -> some(List.of("night", "day"))),
                redirects ? List.of("http://127.0.0.1:7/" + random.nextInt(9)) : null,
                "browser".equals(kind) ? List.of("http://127.0.0.1:7") : null,
                null,
                null,
                null,
                null,
                null,
                orNull(random::nextBoolean),
                null,
                null,
                orNull(random::nextBoolean),
                null);
    }

    private void addClient(String name) {
        String kind = one(KINDS.toArray(String[]::new));
        Change<ClientRegistration.Registered> made =
                first.part(ClientRegistration.class).register(issuer, wanted(name, kind), BY);
        if (!(made
                instanceof
                Change.Made<ClientRegistration.Registered>(ClientRegistration.Registered it, List<String> notes)))
            return;
        for (int i = 0; i < 3; i++)
            if (chance(2))
                first.part(Approving.class)
                        .request(it.client(), "api-" + random.nextInt(2) + ".s" + random.nextInt(3), BY);
        if (chance(3)) first.part(ClientRegistration.class).switchTo(issuer, name, false, Expected.ANY, BY);
        if (chance(3)) first.part(ClientRegistration.class).grantOpenid(issuer, name, true, BY);
    }

    private void answer(int which) {
        Optional<Client> client = first.part(Clients.class).named(issuer.id(), "client-" + which);
        if (client.isEmpty()) return;
        first.part(Approvals.class).ofClient(client.get().id()).forEach(it -> {
            if (chance(2)) first.part(Approving.class).grant(client.get(), it, Optional.empty(), BY, Expected.ANY);
            else first.part(Approving.class).decline(client.get(), it, "no", BY, Expected.ANY);
        });
    }

    private void addTrusted(String name) {
        Map<String, String> scopes = new HashMap<>();
        if (chance(2)) scopes.put("sea.read", "api-0.s0");
        Map<String, String> clients = new HashMap<>();
        if (chance(2)) clients.put("boat", "client-" + random.nextInt(5));
        first.part(TrustRegistration.class)
                .add(
                        issuer,
                        new TrustedIssuerWanted(
                                name,
                                "https://" + name + ".example",
                                null,
                                null,
                                keys,
                                orNull(() -> List.of("ES256")),
                                orNull(() -> List.of("JWT")),
                                orNull(() -> "urn:theirs"),
                                orNull(() -> "scp"),
                                orNull(() -> "/a/roles"),
                                null,
                                orNull(() -> "azp"),
                                scopes,
                                clients),
                        BY);
    }

    private void addCredential(String name) {
        boolean header = random.nextBoolean();
        first.part(UpstreamCredentialRegistration.class)
                .add(
                        issuer,
                        new UpstreamCredentialWanted(
                                name,
                                "http://127.0.0.1:9",
                                header ? "X-Key" : null,
                                header ? null : "harbour",
                                null,
                                "a secret of theirs",
                                null,
                                null,
                                null,
                                null,
                                null),
                        BY);
    }

    private void addRoute(String path) {
        String api = "api-" + random.nextInt(2);
        List<String> scopes = some(List.of(api + ".s0", api + ".s1"));
        boolean answers = random.nextBoolean();
        boolean open = chance(5);
        RouteWho who = open
                ? null
                : orNull(() -> new RouteWho(
                        orNull(() -> List.of(issuer.name(), "theirs-" + random.nextInt(2))),
                        orNull(() -> one("people", "clients")),
                        orNull(() -> some(List.of("client-0", "client-1"))),
                        orNull(() -> some(List.of("role-0", "role-1"))),
                        null,
                        null,
                        orNull(() -> "method == 'GET'"),
                        null,
                        orNull(() -> true)));
        RouteTransform transform = orNull(() -> new RouteTransform(
                null,
                orNull(() -> Map.of("X-A", "{{path.gauge}}")),
                null,
                orNull(() -> List.of("X-B")),
                orNull(() -> Map.of("X-C", "c")),
                null,
                answers ? null : orNull(() -> "key-" + random.nextInt(2)),
                orNull(() -> Map.of("any", new RouteTransform.OwnText("text/plain; charset=utf-8", "{{sentence}}"))),
                orNull(() -> one("none", "each-request"))));
        RouteLimits limits = orNull(() -> new RouteLimits(
                orNull(() -> List.of("60 per 1m by address")),
                orNull(() -> List.of("100 per day by route")),
                orNull(() -> 4),
                orNull(() -> 500L),
                orNull(() -> 4000)));
        first.part(RouteRegistration.class)
                .add(
                        issuer,
                        new RouteWanted(
                                IntStream.range(0, 1 + random.nextInt(2))
                                        .mapToObj(it -> List.of("GET", "PUT").get(it))
                                        .toList(),
                                "/" + issuer.name() + "s" + path,
                                open ? null : api,
                                open || scopes.isEmpty() ? null : scopes,
                                scopes.size() > 1 ? one("any-of", "all-of") : null,
                                open ? true : null,
                                !open && scopes.isEmpty() ? true : null,
                                answers ? null : "http://127.0.0.1:9",
                                answers ? new FixedResponse(200, null, "yes") : null,
                                random.nextBoolean(),
                                who,
                                transform,
                                answers ? null : orNull(() -> new RouteTimeouts("2s", null, one("1m", "20s"))),
                                limits),
                        null,
                        BY);
    }

    private void minting(String api) {
        List<MintingView.Exempt> exceptions = new ArrayList<>();
        if (chance(2))
            exceptions.add(new MintingView.Exempt(
                    "night", List.of("client-" + random.nextInt(5)), null, null, "2m", null, null, null, null));
        first.part(MintingRegistration.class)
                .change(
                        issuer,
                        api,
                        new MintingWanted(
                                one("5m", "15m"),
                                one("jwt", "opaque"),
                                random.nextBoolean() ? List.of(new MintingView.Claim("tags", "client.tags")) : null,
                                null,
                                null,
                                exceptions),
                        Expected.ANY,
                        BY);
    }
}
