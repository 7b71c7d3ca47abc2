package dev.admit.store;

import static dev.admit.store.Harbour.CORIN;
import static dev.admit.store.Harbour.api;
import static dev.admit.store.Harbour.made;
import static dev.admit.store.Harbour.route;
import static dev.admit.store.Harbour.scope;
import static org.assertj.core.api.Assertions.assertThat;

import dev.admit.contract.ApiWanted;
import dev.admit.contract.FixedResponse;
import dev.admit.contract.IssuerWanted;
import dev.admit.contract.RouteWanted;
import dev.admit.contract.RouteWho;
import dev.admit.core.approval.Approval;
import dev.admit.core.change.Change;
import dev.admit.core.change.Expected;
import dev.admit.core.change.Page;
import dev.admit.core.registration.ClientRegistration;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Scope;
import dev.admit.core.route.RouteRegistration;
import dev.admit.core.token.TokenId;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Registering, changing, removing and approving, by the core's rules on real records. */
class RegistrationTest {
    @TempDir
    Path folder;

    private Harbour harbour;

    @BeforeEach
    void open() {
        harbour = new Harbour(folder);
    }

    @AfterEach
    void close() {
        harbour.close();
    }

    private static String outcome(Change<?> change) {
        return switch (change) {
            case Change.Made<?> made -> "made";
            case Change.Invalid<?> invalid ->
                "invalid " + invalid.faults().getFirst().pointer();
            case Change.Taken<?> taken -> "taken " + taken.fault().pointer();
            case Change.Absent<?> absent -> "absent";
            case Change.Stale<?> stale -> "stale";
            case Change.NeedsConfirmation<?> needs -> "confirm " + needs.word();
            case Change.Refused<?> refused -> "refused";
            case Change.Forbidden<?> forbidden -> "forbidden";
        };
    }

    @Test
    void anAudienceIsProposedAndUnique() {
        assertThat(harbour.tides.audience()).isEqualTo("http://127.0.0.1:9470/harbour/apis/tides");
        assertThat(outcome(harbour.apis.register(harbour.issuer, api("copy", harbour.tides.audience()), CORIN)))
                .isEqualTo("taken /audience");
        assertThat(outcome(harbour.apis.register(harbour.issuer, api("tides", null), CORIN)))
                .isEqualTo("taken /name");
        made(harbour.apis.change(
                harbour.issuer, "tides", new ApiWanted("heights", null, null, null), Expected.ANY, null, CORIN));
        assertThat(made(harbour.apis.register(harbour.issuer, api("tides", null), CORIN))
                        .audience())
                .endsWith("/apis/tides-2");
    }

    @ParameterizedTest(name = "issuer {0}: {1}")
    @CsvSource({
        "gullwing,made",
        "harbour,taken /name",
        "admin,invalid /name",
        "console,invalid /name",
        "Health,invalid /name",
        "'',invalid /name"
    })
    void issuersHaveNamesThatAreNoAddressOfTheService(String name, String expected) {
        assertThat(outcome(harbour.issuers.create(new IssuerWanted(name, null), CORIN)))
                .isEqualTo(expected);
    }

    @ParameterizedTest(name = "scope {0} {1} {2} {3}: {4}")
    @CsvSource(textBlock = """
            tides.read,       reads,   everyone, clients, made
            tides.read.deep,  changes, own,      people,  made
            tides,            reads,   everyone, clients, made
            tides.Read,       reads,   everyone, clients, made
            act_as_keeper,   reads,   everyone, clients, made
            read:orders,      reads,   everyone, clients, made
            https://tides.example/all, reads, everyone, clients, made
            openid,           reads,   everyone, clients, invalid /name
            offline_access,   reads,   everyone, clients, invalid /name
            admit:run,        reads,   everyone, clients, invalid /name
            admin.change,     reads,   everyone, clients, invalid /name
            'tides\read',     reads,   everyone, clients, invalid /name
            tidés.read,       reads,   everyone, clients, invalid /name
            'tides.re ad',    reads,   everyone, clients, invalid /name
            'tides."read"',   reads,   everyone, clients, invalid /name
            tides.all,        reads,   everyone, clients, made
            tides.everything, reads,   everyone, clients, made
            tides.read,       writes,  everyone, clients, invalid /effect
            tides.read,       reads,   world,    clients, invalid /reach
            tides.read,       reads,   everyone, robots,  invalid /for""")
    void scopesAreNamedForWhatTheyPermit(String name, String effect, String reach, String forWhom, String expected) {
        assertThat(outcome(
                        harbour.scopes.add(harbour.issuer, harbour.tides, scope(name, effect, reach, forWhom), CORIN)))
                .isEqualTo(expected);
    }

    @ParameterizedTest(name = "{0} {1} for {2}: approved by {3}")
    @CsvSource({
        "reads,own,people,person",
        "reads,own,both,person",
        "reads,everyone,people,administrator",
        "changes,own,people,administrator",
        "both,own,people,administrator",
        "reads,own,clients,administrator"
    })
    void theApproverIsProposedAndInDoubtAnAdministrator(String effect, String reach, String forWhom, String approver) {
        Change.Made<Scope> added = (Change.Made<Scope>)
                harbour.scopes.add(harbour.issuer, harbour.tides, scope("tides.look", effect, reach, forWhom), CORIN);
        assertThat(added.value().approver()).hasToString(approver);
        assertThat(added.value().consequence()).isNotBlank();
        assertThat(added.value().consequenceForPerson())
                .contains(reach.equals("own") ? "your data" : "everyone's data");
        assertThat(added.value().consequenceForAdministrator())
                .contains(reach.equals("own") ? "the caller's own" : "everyone's");
        assertThat(added.notes().stream().anyMatch(note -> note.contains("both reads and changes")))
                .isEqualTo(effect.equals("both"));
    }

    @Test
    void aScopeNameIsUniqueInTheIssuerAndStays() {
        harbour.readScope();
        Api other = made(harbour.apis.register(harbour.issuer, api("berths", null), CORIN));
        assertThat(outcome(harbour.scopes.add(
                        harbour.issuer, other, scope("tides.read", "reads", "own", "clients"), CORIN)))
                .isEqualTo("taken /name");
        assertThat(outcome(harbour.scopes.change(
                        harbour.issuer,
                        harbour.tides,
                        "tides.read",
                        scope("tides.look", null, null, null),
                        Expected.ANY,
                        CORIN)))
                .isEqualTo("invalid /name");
        assertThat(outcome(harbour.scopes.change(
                        harbour.issuer, other, "tides.read", scope(null, "changes", null, null), Expected.ANY, CORIN)))
                .isEqualTo("absent");
    }

    @ParameterizedTest(name = "route {0} {1}: {2}")
    @CsvSource(textBlock = """
            GET,     /tides/**,     made
            any,     /tides/**,     made
            get,     /tides/x,      made
            CONNECT, /tides/x,      invalid /methods/0
            'GE T',  /tides/x,      invalid /methods/0
            GET,     tides,         invalid /path
            GET,     /a//b,         invalid /path
            GET,     /.well-known/x, invalid /path
            GET,     /_admit/x,     invalid /path
            GET,     /berths/{b},   taken /path""")
    void aRouteMustBeAbleToMatchAndBeTheOnlyOne(String method, String path, String expected) {
        harbour.readScope();
        made(harbour.routes.add(harbour.issuer, route("GET", "/berths/{berth}", "tides.read"), null, CORIN));
        assertThat(outcome(harbour.routes.add(harbour.issuer, route(method, path, "tides.read"), null, CORIN)))
                .isEqualTo(expected);
    }

    @Test
    void aRouteIsSavedOnlyWithAnAudienceAndADecisionOnScopes() {
        harbour.readScope();
        var without = new RouteWanted(
                List.of("GET"),
                "/x",
                null,
                null,
                null,
                null,
                null,
                "http://127.0.0.1:1",
                null,
                null,
                null,
                null,
                null,
                null);
        assertThat(outcome(harbour.routes.add(harbour.issuer, without, null, CORIN)))
                .isEqualTo("invalid /api");
        assertThat(outcome(harbour.routes.add(harbour.issuer, route("GET", "/x"), null, CORIN)))
                .isEqualTo("invalid /scopes");
        assertThat(outcome(harbour.routes.add(harbour.issuer, route("GET", "/x", "tides.nope"), null, CORIN)))
                .isEqualTo("invalid /scopes/0");
        var onPurpose = new RouteWanted(
                List.of("GET"), "/x", "tides", null, null, null, true, null, null, null, null, null, null, null);
        assertThat(((Change.Made<RouteRegistration.Revised>) harbour.routes.add(harbour.issuer, onPurpose, null, CORIN))
                        .notes())
                .singleElement()
                .asString()
                .contains("whatever its scope");
        var both = new RouteWanted(
                List.of("GET"),
                "/y",
                "tides",
                List.of("tides.read"),
                null,
                true,
                null,
                null,
                null,
                null,
                null,
                null,
                null,
                null);
        assertThat(outcome(harbour.routes.add(harbour.issuer, both, null, CORIN)))
                .isEqualTo("invalid /open");
        var badAnswer = new RouteWanted(
                List.of("GET"),
                "/z",
                null,
                null,
                null,
                true,
                null,
                null,
                new FixedResponse(200, "text/plain\r\nSet-Cookie: a=b", ""),
                null,
                null,
                null,
                null,
                null);
        assertThat(outcome(harbour.routes.add(harbour.issuer, badAnswer, null, CORIN)))
                .isEqualTo("invalid /fixed_response/content_type");
    }

    @Test
    void everyChangeOfRoutesHasANumberAndIsLiveWhenItReturns() {
        harbour.readScope();
        RouteRegistration.Revised first =
                made(harbour.routes.add(harbour.issuer, route("GET", "/tides/**", "tides.read"), null, CORIN));
        assertThat(first.revision()).isEqualTo(1);
        assertThat(harbour.configuration
                        .get()
                        .issuer("harbour")
                        .orElseThrow()
                        .issuer()
                        .revision())
                .isEqualTo(1);
        assertThat(harbour.configuration.get().routes().match("GET", "", List.of("tides")))
                .isInstanceOf(dev.admit.core.route.RouteTable.Match.Found.class);
        assertThat(made(harbour.routes.remove(harbour.issuer, first.route().id(), Expected.ANY, null, CORIN))
                        .revision())
                .isEqualTo(2);
        assertThat(harbour.configuration.get().routes().match("GET", "", List.of("tides")))
                .isInstanceOf(dev.admit.core.route.RouteTable.Match.Nothing.class);
    }

    @Test
    void oneIssuersRoutesAreNotNamedToAnother() {
        harbour.readScope();
        made(harbour.routes.add(harbour.issuer, route("GET", "/tides/**", "tides.read"), null, CORIN));
        var gullwing = made(harbour.issuers.create(new IssuerWanted("gullwing", null), CORIN));
        var open = new RouteWanted(
                List.of("GET"),
                "/tides/**",
                null,
                null,
                null,
                true,
                null,
                "http://127.0.0.1:1",
                null,
                null,
                null,
                null,
                null,
                null);
        assertThat(harbour.routes.add(gullwing, open, null, CORIN))
                .isInstanceOfSatisfying(
                        Change.Taken.class, taken -> assertThat(taken.fault().received())
                                .isEqualTo("some that a route of another issuer has"));
    }

    @Test
    void removingAnApiInUseSaysWhatWouldBreakAndWantsTheWord() {
        harbour.readScope();
        made(harbour.routes.add(harbour.issuer, route("GET", "/tides/**", "tides.read"), null, CORIN));
        ClientRegistration.Registered buoy = harbour.client("tide-buoy-07", "tides.read");
        harbour.given(buoy);
        Change<Api> refused = harbour.apis.remove(harbour.issuer, "tides", Expected.ANY, "yes", CORIN);
        assertThat(refused).isInstanceOfSatisfying(Change.NeedsConfirmation.class, needs -> assertThat(
                        needs.wouldBreak().toString())
                .contains("tides.read")
                .contains("route GET /tides/**"));
        assertThat(harbour.approvals.ofClient(buoy.client().id())).hasSize(1);
        made(harbour.apis.remove(harbour.issuer, "tides", Expected.ANY, "tides", CORIN));
        assertThat(harbour.approvals.ofClient(buoy.client().id())).isEmpty();
        assertThat(harbour.revocations.ending(new dev.admit.core.token.IssuedToken(
                        harbour.issuer.id(),
                        buoy.client().id(),
                        aTokenMintedLongAgo(),
                        List.of("urn:x"),
                        List.of("tides.read"),
                        "",
                        buoy.client().id(),
                        "",
                        "")))
                .isPresent();
    }

    @Test
    void whatARouteOrAMappingNamesIsNotRemovedUnderIt() {
        harbour.readScope();
        ClientRegistration.Registered buoy = harbour.client("tide-buoy-07", "tides.read");
        var who = new RouteWho(null, null, List.of("tide-buoy-07"), List.of("keeper"), null, null, null, null, null);
        made(harbour.routes.add(
                harbour.issuer,
                new RouteWanted(
                        List.of("GET"),
                        "/named",
                        "tides",
                        List.of("tides.read"),
                        null,
                        null,
                        null,
                        "http://127.0.0.1:1",
                        null,
                        null,
                        who,
                        null,
                        null,
                        null),
                null,
                CORIN));
        Change<?> refused = harbour.clients.remove(harbour.issuer, "tide-buoy-07", Expected.ANY, "tide-buoy-07", CORIN);
        assertThat(refused).isInstanceOfSatisfying(Change.Refused.class, it -> assertThat(it.sentence())
                .isEqualTo("The client tide-buoy-07 is named by the route GET /named, among those that pass."));
        assertThat(harbour.approvals.ofClient(buoy.client().id()))
                .as("nothing of it went")
                .hasSize(1);
    }

    private static TokenId aTokenMintedLongAgo() {
        return new TokenId(new UUID(1_700_000_000_000L << 16 | 0x7000, 0x8000000000000000L));
    }

    @Test
    void aScopeThatARouteNeedsCannotBeRemoved() {
        harbour.readScope();
        made(harbour.routes.add(harbour.issuer, route("GET", "/tides/**", "tides.read"), null, CORIN));
        assertThat(outcome(harbour.scopes.remove(
                        harbour.issuer, harbour.tides, "tides.read", Expected.ANY, "tides.read", CORIN)))
                .isEqualTo("refused");
    }

    @Test
    void aChangeFromAnOldStateIsRefused() {
        long version = harbour.tides.version();
        made(harbour.apis.change(
                harbour.issuer,
                "tides",
                new ApiWanted(null, "Heights", null, null),
                Expected.version(version),
                null,
                CORIN));
        assertThat(outcome(harbour.apis.change(
                        harbour.issuer,
                        "tides",
                        new ApiWanted(null, "Depths", null, null),
                        Expected.version(version),
                        null,
                        CORIN)))
                .isEqualTo("stale");
        assertThat(outcome(harbour.apis.remove(harbour.issuer, "tides", Expected.version(version), null, CORIN)))
                .isEqualTo("stale");
    }

    @Test
    void aClientIsRegisteredWholeOrNotAtAll() {
        harbour.readScope();
        made(harbour.scopes.add(harbour.issuer, harbour.tides, scope("tides.mine", "reads", "own", "people"), CORIN));
        Change<?> refused = harbour.clients.register(
                harbour.issuer, Harbour.wantedClient("buoy", "tides.read", "tides.nope", "tides.mine"), Harbour.CORIN);
        assertThat(refused).isInstanceOfSatisfying(Change.Invalid.class, invalid -> assertThat(invalid.faults())
                .extracting("pointer")
                .containsExactly("/scopes/1", "/scopes/2"));
        assertThat(new SqliteClients(harbour.database).named(harbour.issuer.id(), "buoy"))
                .isEmpty();
        assertThat(harbour.client("buoy", "tides.read", "tides.read").requested())
                .hasSize(1);
    }

    private dev.admit.core.clientstatus.ClientStatus standing(dev.admit.core.registry.Client client) {
        return dev.admit.core.clientstatus.ClientStatus.of(
                harbour.directory.find(client.id()).orElseThrow(),
                harbour.configuration.get().issuer("harbour").orElseThrow(),
                false,
                Instant.now());
    }

    @Test
    void anAskIsAnsweredWithdrawnAndAskedAgain() {
        harbour.readScope();
        ClientRegistration.Registered buoy = harbour.client("buoy", "tides.read");
        Approval ask = buoy.requested().getFirst();
        assertThat(outcome(harbour.approving.withdraw(buoy.client(), ask, null, Harbour.CORIN, Expected.ANY)))
                .isEqualTo("refused");
        assertThat(made(harbour.approving.decline(buoy.client(), ask, "not now", Harbour.CORIN, Expected.ANY))
                        .reason())
                .isEqualTo("not now");
        assertThat(made(harbour.approving.request(buoy.client(), "tides.read", Harbour.CORIN))
                        .status())
                .isEqualTo(Approval.Status.WAITING);
        assertThat(outcome(harbour.approving.grant(
                        buoy.client(), ask, Optional.of(Instant.EPOCH), Harbour.CORIN, Expected.ANY)))
                .isEqualTo("invalid /until");
        assertThat(harbour.given(buoy).decidedBy()).hasValue("Corin Ashby");
        assertThat(outcome(harbour.approving.decline(buoy.client(), ask, null, Harbour.CORIN, Expected.ANY)))
                .isEqualTo("refused");
        assertThat(standing(buoy.client()).missing()).isEmpty();
        assertThat(made(harbour.approving.withdraw(buoy.client(), ask, "over", Harbour.CORIN, Expected.ANY))
                        .status())
                .isEqualTo(Approval.Status.WITHDRAWN);
        assertThat(standing(buoy.client()).missing()).singleElement().asString().contains("withdrawn");
        assertThat(harbour.revocations.ending(new dev.admit.core.token.IssuedToken(
                        harbour.issuer.id(),
                        buoy.client().id(),
                        aTokenMintedLongAgo(),
                        List.of("urn:x"),
                        List.of("tides.read"),
                        "",
                        buoy.client().id(),
                        "",
                        "")))
                .isPresent();
    }

    @Test
    void secretsOverlapUpToFiveAndTheLastOneIsRemovedOnlyOnPurpose() {
        ClientRegistration.Registered buoy = harbour.client("buoy");
        for (int i = 0; i < 4; i++) made(harbour.clients.addSecret(harbour.issuer, "buoy", null, "1d", CORIN));
        assertThat(outcome(harbour.clients.addSecret(harbour.issuer, "buoy", null, "1d", CORIN)))
                .isEqualTo("refused");
        var all = new SqliteClients(harbour.database).secretsOf(buoy.client().id());
        all.subList(1, 5)
                .forEach(
                        secret -> made(harbour.clients.removeSecret(harbour.issuer, "buoy", secret.id(), null, CORIN)));
        assertThat(outcome(harbour.clients.removeSecret(
                        harbour.issuer, "buoy", all.getFirst().id(), null, CORIN)))
                .isEqualTo("confirm buoy");
    }

    @Test
    void listsPageToTheEndWithoutLossOrRepetition() {
        for (int i = 0; i < 7; i++) harbour.client("buoy-" + i);
        SqliteClients clients = new SqliteClients(harbour.database);
        List<String> seen = new ArrayList<>();
        Optional<String> after = Optional.empty();
        do {
            var page = clients.list(harbour.issuer.id(), search("buoy"), new Page.Ask(after, 3));
            page.items().forEach(client -> seen.add(client.name()));
            after = page.next();
        } while (after.isPresent());
        assertThat(seen).containsExactly("buoy-0", "buoy-1", "buoy-2", "buoy-3", "buoy-4", "buoy-5", "buoy-6");
        assertThat(clients.list(harbour.issuer.id(), search("oy-3"), Page.Ask.first(10))
                        .items())
                .hasSize(1);
        assertThat(clients.list(harbour.issuer.id(), search("%"), Page.Ask.first(10))
                        .items())
                .as("no wildcard hides in a search")
                .isEmpty();
    }

    @Test
    void ofTwoWhoRegisterOneNameAtOnceOneGetsIt() throws Exception {
        AtomicInteger made = new AtomicInteger();
        List<Thread> threads = new ArrayList<>();
        for (int i = 0; i < 8; i++) {
            threads.add(Thread.ofVirtual().start(() -> {
                if (harbour.apis.register(harbour.issuer, api("same", null), CORIN) instanceof Change.Made<Api>)
                    made.incrementAndGet();
            }));
        }
        for (Thread thread : threads) thread.join();
        assertThat(made).hasValue(1);
    }

    private static dev.admit.core.registry.Clients.Filter search(String text) {
        return new dev.admit.core.registry.Clients.Filter(
                text,
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                false);
    }
}
