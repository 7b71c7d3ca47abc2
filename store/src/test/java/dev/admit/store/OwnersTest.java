package dev.admit.store;

import static org.assertj.core.api.Assertions.assertThat;

import dev.admit.core.access.Permission;
import dev.admit.core.approval.Approval;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.Expected;
import dev.admit.core.change.Page;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.owner.NameOwners;
import dev.admit.core.owner.Owned;
import dev.admit.core.owner.Owner;
import dev.admit.core.owner.OwnerRights;
import dev.admit.core.person.Person;
import dev.admit.core.registration.ClientRegistration;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class OwnersTest {
    @TempDir
    private Path folder;

    private Harbour harbour;
    private SqlitePeople people;
    private SqliteOwners owners;
    private NameOwners naming;
    private OwnerRights rights;

    @BeforeEach
    void open() {
        harbour = new Harbour(folder);
        people = new SqlitePeople(harbour.database);
        owners = new SqliteOwners(harbour.database);
        naming = new NameOwners(harbour.database, owners, people, harbour.audit, Clock.systemUTC());
        rights = new OwnerRights(
                owners,
                harbour.approvals,
                new SqliteScopes(harbour.database),
                new SqliteRoutes(harbour.database),
                new SqlitePlans(harbour.database),
                new SqliteSubscriptions(harbour.database));
        for (String name : List.of("isolde", "junia")) person(name, true);
    }

    @AfterEach
    void close() {
        harbour.close();
    }

    private void person(String name, boolean enabled) {
        people.insert(new Person(
                "pe_" + name,
                harbour.issuer.id(),
                name + "@saltmarsh.example",
                true,
                Map.of(),
                List.of(),
                Optional.empty(),
                enabled,
                1,
                Instant.EPOCH,
                Instant.EPOCH));
    }

    private Owned tides() {
        return Owned.of(harbour.tides);
    }

    private List<String> ownersOf(Owned owned) {
        return owners.of(owned).stream().map(Owner::email).toList();
    }

    @Test
    void whoeverIsNamedTwiceAnswersOnce() {
        Harbour.made(naming.name(harbour.issuer, "Isolde@saltmarsh.example", tides(), Harbour.CORIN));
        Change<Owner> again = naming.name(harbour.issuer, "pe_isolde", tides(), Harbour.CORIN);
        assertThat(((Change.Made<Owner>) again).notes())
                .singleElement()
                .asString()
                .contains("before");
        assertThat(ownersOf(tides())).containsExactly("isolde@saltmarsh.example");
    }

    @Test
    void nobodyWhoIsOffIsNamedNorTakesAnythingOver() {
        person("gone", false);
        Harbour.made(naming.name(harbour.issuer, "pe_isolde", tides(), Harbour.CORIN));
        assertThat(naming.name(harbour.issuer, "pe_gone", tides(), Harbour.CORIN))
                .isInstanceOf(Change.Refused.class);
        assertThat(naming.handOver(harbour.issuer, "pe_isolde", "pe_gone", Harbour.CORIN))
                .isInstanceOf(Change.Refused.class);
        assertThat(naming.handOver(harbour.issuer, "pe_isolde", "pe_isolde", Harbour.CORIN))
                .isInstanceOf(Change.Invalid.class);
        assertThat(ownersOf(tides())).containsExactly("isolde@saltmarsh.example");
    }

    @Test
    void handingOverLeavesNothingBehindAndDoublesNothing() {
        Owned client = Owned.of(harbour.client("tide-buoy").client());
        for (Owned owned : List.of(tides(), client))
            Harbour.made(naming.name(harbour.issuer, "pe_isolde", owned, Harbour.CORIN));
        Harbour.made(naming.name(harbour.issuer, "pe_junia", client, Harbour.CORIN));
        assertThat(Harbour.made(naming.handOver(harbour.issuer, "pe_isolde", "pe_junia", Harbour.CORIN)))
                .hasSize(2);
        assertThat(owners.ofPerson("pe_isolde")).isEmpty();
        assertThat(owners.ofPerson("pe_junia"))
                .extracting(it -> it.owned().kind())
                .containsExactly(Owned.Kind.API, Owned.Kind.CLIENT);
    }

    @Test
    void aListSaysThemAllOrChangesNothing() {
        Harbour.made(naming.set(
                harbour.issuer,
                tides(),
                List.of("isolde@saltmarsh.example", "junia@saltmarsh.example"),
                "/owners",
                Harbour.CORIN));
        assertThat(naming.set(
                        harbour.issuer,
                        tides(),
                        List.of("junia@saltmarsh.example", "nobody@saltmarsh.example"),
                        "/owners",
                        Harbour.CORIN))
                .isInstanceOf(Change.Invalid.class);
        assertThat(ownersOf(tides())).hasSize(2);
        Harbour.made(naming.set(harbour.issuer, tides(), List.of("junia@saltmarsh.example"), "/owners", Harbour.CORIN));
        assertThat(ownersOf(tides())).containsExactly("junia@saltmarsh.example");
        assertThat(owners.list(harbour.issuer.id(), "", Page.Ask.first(1)).next())
                .isEmpty();
    }

    @Test
    void whatIsRemovedHasNoOwners() {
        Owned client = Owned.of(harbour.client("tide-buoy").client());
        Harbour.made(naming.name(harbour.issuer, "pe_isolde", client, Harbour.CORIN));
        Harbour.made(harbour.clients.remove(harbour.issuer, "tide-buoy", Expected.ANY, "tide-buoy", Harbour.CORIN));
        assertThat(owners.ofPerson("pe_isolde")).isEmpty();
        assertThat(rights.check("pe_isolde", harbour.issuer, Permission.OwnerOf.ANYTHING, named("", "", "")))
                .isEmpty();
    }

    @Test
    void aListIsReadPageByPage() {
        for (String name : List.of("buoy-a", "buoy-b", "buoy-c"))
            Harbour.made(naming.name(
                    harbour.issuer, "pe_junia", Owned.of(harbour.client(name).client()), Harbour.CORIN));
        Harbour.made(naming.name(harbour.issuer, "pe_isolde", tides(), Harbour.CORIN));
        Page<Owner> first = owners.list(harbour.issuer.id(), "", Page.Ask.first(2));
        Page<Owner> second = owners.list(harbour.issuer.id(), "", new Page.Ask(first.next(), 2));
        assertThat(first.items()).extracting(it -> it.owned().name()).containsExactly("tides", "buoy-a");
        assertThat(second.items()).extracting(it -> it.owned().name()).containsExactly("buoy-b", "buoy-c");
        assertThat(second.next()).isEmpty();
    }

    @Test
    void afterAnAdministratorsNoOnlyAnAdministratorSaysYes() {
        harbour.readScope();
        ClientRegistration.Registered client = harbour.client("tide-buoy", "tides.read");
        Actor owner = new Actor("pe_isolde", "isolde@saltmarsh.example", "", Actor.Power.OWNER);
        Approval asked = client.requested().getFirst();
        Harbour.made(harbour.approving.decline(client.client(), asked, "", Harbour.CORIN, Expected.ANY));
        Harbour.made(harbour.approving.request(client.client(), "tides.read", owner));
        assertThat(harbour.approving.grant(client.client(), asked, Optional.empty(), owner, Expected.ANY))
                .isInstanceOf(Change.Refused.class);
        assertThat(harbour.approving.drop(client.client(), asked, owner))
                .as("to ask anew")
                .isInstanceOf(Change.Refused.class);
        Harbour.made(harbour.approving.grant(client.client(), asked, Optional.empty(), Harbour.CORIN, Expected.ANY));
        Harbour.made(harbour.approving.withdraw(client.client(), asked, "", owner, Expected.ANY));
        Harbour.made(harbour.approving.grant(client.client(), asked, Optional.empty(), owner, Expected.ANY));
        assertThat(harbour.directory
                        .find(client.client().id())
                        .orElseThrow()
                        .approvals()
                        .getFirst()
                        .lastWord())
                .isFalse();
    }

    private static OwnerRights.Named named(String api, String client, String approval) {
        return new OwnerRights.Named(
                said(api), said(client), Optional.of("rt_none"), said(approval), Optional.empty(), Optional.empty());
    }

    private static Optional<String> said(String text) {
        return Optional.of(text).filter(it -> !it.isEmpty());
    }

    @ParameterizedTest(name = "{0} of API {1}, client {2}, approval {3}: {4}")
    @CsvSource(emptyValue = "", textBlock = """
            ANYTHING,        '',     '',     '',      passed
            NOTHING,         tides,  '',     '',      refused
            API,             tides,  '',     '',      passed
            API,             tides2, '',     '',      refused
            API,             '',     '',     '',      refused
            API,             '',     tides,  '',      refused
            CLIENT,          tides,  tides,  '',      refused
            ROUTE_API,       tides,  '',     '',      refused
            APPROVAL,        tides,  '',     ap_none, refused
            APPROVAL_API,    tides,  '',     ap_none, refused
            APPROVAL_CLIENT, tides,  '',     ap_none, refused""")
    void whatAnOwnerOfOneApiMayUse(
            Permission.OwnerOf wanted, String api, String client, String approval, String verdict) {
        Harbour.made(naming.name(harbour.issuer, "pe_isolde", tides(), Harbour.CORIN));
        OwnerRights.Named named = named(api, client, approval);
        assertThat(rights.check("pe_isolde", harbour.issuer, wanted, named).orElseThrow() instanceof CheckResult.Passed)
                .isEqualTo(verdict.equals("passed"));
        assertThat(rights.check("pe_junia", harbour.issuer, wanted, named))
                .as("who owns nothing")
                .isEmpty();
    }

    @Test
    void anApprovalIsAnsweredByTheOwnerOfItsApiAndTakenBackByTheOwnerOfItsClient() {
        harbour.readScope();
        ClientRegistration.Registered client = harbour.client("tide-buoy", "tides.read");
        Harbour.made(naming.name(harbour.issuer, "pe_isolde", tides(), Harbour.CORIN));
        Harbour.made(naming.name(harbour.issuer, "pe_junia", Owned.of(client.client()), Harbour.CORIN));
        OwnerRights.Named named = named("", "", client.requested().getFirst().id());
        assertThat(rights.check("pe_isolde", harbour.issuer, Permission.OwnerOf.APPROVAL_API, named)
                        .orElseThrow())
                .isInstanceOf(CheckResult.Passed.class);
        assertThat(rights.check("pe_isolde", harbour.issuer, Permission.OwnerOf.APPROVAL_CLIENT, named)
                        .orElseThrow())
                .isInstanceOf(CheckResult.Refused.class);
        assertThat(rights.check("pe_junia", harbour.issuer, Permission.OwnerOf.APPROVAL_CLIENT, named)
                        .orElseThrow())
                .isInstanceOf(CheckResult.Passed.class);
        assertThat(rights.check("pe_junia", harbour.issuer, Permission.OwnerOf.APPROVAL_API, named)
                        .orElseThrow())
                .isInstanceOf(CheckResult.Refused.class);
    }

    @ParameterizedTest
    @CsvSource({"OPERATOR", "OWNER", "AUDITOR", "THEMSELVES"})
    void anAdministratorsNoOutlivesTheRequest(Actor.Power power) {
        harbour.readScope();
        ClientRegistration.Registered client = harbour.client("tide-buoy", "tides.read");
        Actor by = new Actor("pe_edda", "edda@saltmarsh.example", "", power);
        Approval asked = client.requested().getFirst();
        Harbour.made(harbour.approving.decline(client.client(), asked, "", Harbour.CORIN, Expected.ANY));
        assertThat(harbour.approving.drop(client.client(), asked, by))
                .as("to request it anew")
                .isInstanceOf(Change.Refused.class);
        Harbour.made(harbour.approving.request(client.client(), "tides.read", by));
        assertThat(harbour.directory
                        .find(client.client().id())
                        .orElseThrow()
                        .approvals()
                        .getFirst()
                        .lastWord())
                .isTrue();
        Class<?> refusal = by.isOwner() ? Change.Refused.class : Change.Forbidden.class;
        assertThat(harbour.approving.grant(client.client(), asked, Optional.empty(), by, Expected.ANY))
                .isInstanceOf(refusal);
    }
}
