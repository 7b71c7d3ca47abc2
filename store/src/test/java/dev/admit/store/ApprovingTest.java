package dev.admit.store;

import static dev.admit.store.Harbour.CORIN;
import static dev.admit.store.Harbour.made;
import static org.assertj.core.api.Assertions.assertThat;

import dev.admit.contract.ClientWanted;
import dev.admit.contract.RoleWanted;
import dev.admit.contract.ScopeWanted;
import dev.admit.contract.StandingApprovalWanted;
import dev.admit.core.approval.Approval;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.Expected;
import dev.admit.core.registration.ClientRegistration;
import dev.admit.core.registration.RoleRegistration;
import dev.admit.core.registry.Client;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** Requesting and answering: who may, what it comes to, and what is written down of it. */
class ApprovingTest {
    private static final Instant START = Instant.parse("2026-03-01T08:00:00Z");
    private static final Actor OPERATOR = new Actor("edda", "Edda Lorne", "127.0.0.1", Actor.Power.OPERATOR);
    private static final Actor OWNER = new Actor("isolde", "Isolde Marrin", "127.0.0.1", Actor.Power.OWNER);

    @TempDir
    Path folder;

    private final SettableClock clock = new SettableClock(START.toString());
    private Harbour harbour;

    @BeforeEach
    void open() {
        harbour = new Harbour(folder, clock);
        harbour.readScope();
    }

    @AfterEach
    void close() {
        harbour.close();
    }

    private Client buoy() {
        return harbour.client("tide-buoy-07").client();
    }

    private static ClientWanted native_(String name, String... tags) {
        return new ClientWanted(
                name,
                null,
                null,
                "native",
                null,
                null,
                null,
                List.of(tags),
                List.of("http://127.0.0.1/back"),
                null,
                null,
                null,
                null,
                null,
                null,
                null,
                null,
                null,
                null,
                null);
    }

    private void standingFor(String tag) {
        made(harbour.scopes.change(
                harbour.issuer,
                harbour.tides,
                "tides.read",
                new ScopeWanted(
                        null,
                        null,
                        null,
                        null,
                        null,
                        null,
                        null,
                        null,
                        null,
                        null,
                        new StandingApprovalWanted(null, List.of(tag), null)),
                Expected.ANY,
                CORIN));
    }

    private List<String> actions() {
        return harbour.database.list("SELECT what FROM audit ORDER BY rowid", row -> row.text("what"));
    }

    @ParameterizedTest
    @EnumSource(names = {"THEMSELVES", "AUDITOR", "OPERATOR"})
    void whoIsNeitherAdministratorNorOwnerAnswersNothing(Actor.Power power) {
        Client buoy = buoy();
        Approval asked = made(harbour.approving.request(buoy, "tides.read", OPERATOR));
        Actor other = new Actor("x", "X", "127.0.0.1", power);
        assertThat(harbour.approving.grant(buoy, asked, Optional.empty(), other, Expected.ANY))
                .isInstanceOf(Change.Forbidden.class);
        assertThat(harbour.approving.decline(buoy, asked, "no", other, Expected.ANY))
                .isInstanceOf(Change.Forbidden.class);
        assertThat(harbour.approving.withdraw(buoy, asked, "no", other, Expected.ANY))
                .isInstanceOf(Change.Forbidden.class);
        assertThat(harbour.approving.grant(buoy, List.of("tides.read"), Optional.empty(), other))
                .isInstanceOf(Change.Forbidden.class);
        assertThat(harbour.approvals.ofClient(buoy.id()))
                .extracting(Approval::version)
                .containsExactly(1L);
    }

    @Test
    void anOwnerAnswersWhatWaitsAndGrantsNothingUnasked() {
        Client buoy = buoy();
        assertThat(harbour.approving.grant(buoy, List.of("tides.read"), Optional.empty(), OWNER))
                .isInstanceOf(Change.Forbidden.class);
        Approval asked = made(harbour.approving.request(buoy, "tides.read", OPERATOR));
        Approval granted = made(harbour.approving.grant(buoy, asked, Optional.empty(), OWNER, Expected.ANY));
        assertThat(granted.isGrantedAt(clock.instant())).isTrue();
        assertThat(granted.decidedBy()).contains("Isolde Marrin");
        assertThat(granted.version()).isEqualTo(2);
    }

    @Test
    void anApprovalHasAnEndAheadOrNoneAndAnswersTwiceAlike() {
        Client buoy = buoy();
        Approval asked = made(harbour.approving.request(buoy, "tides.read", OPERATOR));
        assertThat(harbour.approving.grant(buoy, asked, Optional.of(START), CORIN, Expected.ANY))
                .as("an end that is now")
                .isInstanceOf(Change.Invalid.class);
        Optional<Instant> tomorrow = Optional.of(START.plusSeconds(86_400));
        made(harbour.approving.grant(buoy, asked, tomorrow, CORIN, Expected.ANY));
        Change<Approval> again = harbour.approving.grant(buoy, asked, tomorrow, CORIN, Expected.ANY);
        assertThat(((Change.Made<Approval>) again).notes()).containsExactly("tides.read was granted before.");
        clock.move(Duration.ofSeconds(86_401));
        assertThat(harbour.approvals.ofClient(buoy.id()).getFirst().statusAt(clock.instant()))
                .isEqualTo(Approval.Status.EXPIRED);
        assertThat(made(harbour.approving.request(buoy, "tides.read", OPERATOR)).statusAt(clock.instant()))
                .as("asked again after its end, it waits")
                .isEqualTo(Approval.Status.WAITING);
    }

    @Test
    void onlyWhatWaitsIsDeclinedAndOnlyWhatIsGrantedIsWithdrawn() {
        Client buoy = buoy();
        Approval asked = made(harbour.approving.request(buoy, "tides.read", OPERATOR));
        assertThat(harbour.approving.withdraw(buoy, asked, "", CORIN, Expected.ANY))
                .isInstanceOf(Change.Refused.class);
        made(harbour.approving.grant(buoy, asked, Optional.empty(), CORIN, Expected.ANY));
        assertThat(harbour.approving.decline(buoy, asked, "", CORIN, Expected.ANY))
                .isInstanceOf(Change.Refused.class);
        Approval ended = made(harbour.approving.withdraw(buoy, asked, "The buoy is lost.", CORIN, Expected.ANY));
        assertThat(ended.reason()).isEqualTo("The buoy is lost.");
        assertThat(harbour.approving.withdraw(buoy, asked, "", CORIN, Expected.version(1)))
                .isInstanceOf(Change.Stale.class);
        assertThat(actions()).endsWith("approval.asked", "approval.granted", "approval.withdrawn");
    }

    @Test
    void afterANoItWaitsAgainAndAnAdministratorsNoIsTheLastWord() {
        Client buoy = buoy();
        Approval asked = made(harbour.approving.request(buoy, "tides.read", OPERATOR));
        made(harbour.approving.decline(buoy, asked, "Not this one.", CORIN, Expected.ANY));
        Approval again = made(harbour.approving.request(buoy, "tides.read", OPERATOR));
        assertThat(again.statusAt(clock.instant())).isEqualTo(Approval.Status.WAITING);
        assertThat(harbour.approving.grant(buoy, again, Optional.empty(), OWNER, Expected.ANY))
                .isInstanceOf(Change.Refused.class);
        assertThat(harbour.approving.drop(buoy, again, OPERATOR))
                .as("dropped and asked anew, the no would be forgotten")
                .isInstanceOf(Change.Refused.class);
        made(harbour.approving.drop(buoy, again, CORIN));
        assertThat(harbour.approvals.ofClient(buoy.id())).isEmpty();
        assertThat(harbour.approving.drop(buoy, again, CORIN)).isInstanceOf(Change.Absent.class);
    }

    @Test
    void aStandingApprovalAnswersOnlyTheFirstRequestAndAPersonsAnswerIsNotForgotten() {
        standingFor("fleet");
        Client tagged = made(harbour.clients.register(
                        harbour.issuer,
                        new ClientWanted(
                                "fleet-buoy",
                                null,
                                null,
                                null,
                                null,
                                null,
                                null,
                                List.of("fleet"),
                                null,
                                null,
                                null,
                                null,
                                null,
                                null,
                                null,
                                null,
                                null,
                                null,
                                null,
                                List.of("tides.read")),
                        CORIN))
                .client();
        Approval ahead = harbour.approvals.ofClient(tagged.id()).getFirst();
        assertThat(ahead.isGrantedAt(clock.instant())).isTrue();
        assertThat(actions()).endsWith("approval.asked", "approval.granted-ahead");
        made(harbour.approving.withdraw(tagged, ahead, "", CORIN, Expected.ANY));
        assertThat(made(harbour.approving.request(tagged, "tides.read", OPERATOR))
                        .statusAt(clock.instant()))
                .as("a person withdrew it; no rule grants it again")
                .isEqualTo(Approval.Status.WAITING);
        assertThat(harbour.approving.drop(tagged, ahead, OPERATOR)).isInstanceOf(Change.Refused.class);
    }

    @Test
    void aTagThatAStandingApprovalGoesByIsPutOnByAdministratorsAlone() {
        standingFor("fleet");
        assertThat(harbour.clients.register(harbour.issuer, native_("sly-app", "fleet"), OPERATOR))
                .isInstanceOf(Change.Forbidden.class);
        made(harbour.clients.register(harbour.issuer, native_("plain-app", "night-shift"), OPERATOR));
        made(harbour.clients.register(harbour.issuer, native_("fleet-app", "fleet"), CORIN));
        assertThat(harbour.clients.change(
                        harbour.issuer,
                        "plain-app",
                        native_("plain-app", "night-shift", "fleet"),
                        Expected.ANY,
                        OPERATOR))
                .isInstanceOf(Change.Forbidden.class);
        assertThat(harbour.clients.change(
                        harbour.issuer,
                        "fleet-app",
                        native_("fleet-app", "fleet", "night-shift"),
                        Expected.ANY,
                        OPERATOR))
                .as("what an administrator put on stays on")
                .isInstanceOf(Change.Made.class);
    }

    @Test
    void aScopeIsRequestedByTheKindsThatCanHoldIt() {
        made(harbour.scopes.add(
                harbour.issuer, harbour.tides, Harbour.scope("tides.own", "reads", "own", "people"), CORIN));
        Client app = made(harbour.clients.register(harbour.issuer, native_("tide-app"), CORIN))
                .client();
        assertThat(faultOf(harbour.approving.request(app, "tides.read", OPERATOR)))
                .contains("which is for clients");
        made(harbour.approving.request(app, "tides.own", OPERATOR));
        Client buoy = buoy();
        assertThat(faultOf(harbour.approving.request(buoy, "tides.own", OPERATOR)))
                .contains("which is for people");
        assertThat(faultOf(harbour.approving.request(buoy, null, OPERATOR))).isEqualTo("''");
        assertThat(faultOf(harbour.approving.request(buoy, "no.such", OPERATOR)))
                .contains("no.such");
        assertThat(harbour.approving.request(buoy, " tides.read ", OPERATOR)).isInstanceOf(Change.Made.class);
    }

    private static String faultOf(Change<?> change) {
        return ((Change.Invalid<?>) change).faults().getFirst().received();
    }

    @Test
    void aRoleStandsForItsScopesAndAnEmptyGrantForNothing() {
        RoleRegistration roles = new RoleRegistration(
                harbour.database,
                new SqliteRoles(harbour.database),
                new SqliteScopes(harbour.database),
                harbour.namedBy,
                harbour.withdrawal,
                harbour.audit,
                harbour.configuration);
        made(roles.add(
                harbour.issuer, harbour.tides, new RoleWanted("tide-desk", null, List.of("tides.read"), null), CORIN));
        Client buoy = buoy();
        assertThat(harbour.approving.spelledOut(harbour.issuer.id(), List.of("tide-desk", "tides.read", "no.such")))
                .containsExactly("tides.read", "no.such");
        assertThat(harbour.approving.grant(buoy, List.of(), Optional.empty(), CORIN))
                .isInstanceOf(Change.Invalid.class);
        assertThat(harbour.approving.grant(buoy, List.of("tide-desk", "no.such"), Optional.empty(), CORIN))
                .isInstanceOf(Change.Invalid.class);
        assertThat(harbour.approvals.ofClient(buoy.id()))
                .as("all of it or nothing")
                .isEmpty();
        assertThat(made(harbour.approving.grant(buoy, List.of("tide-desk"), Optional.empty(), CORIN)))
                .extracting(Approval::scopeName)
                .containsExactly("tides.read");
        made(harbour.approving.requestRole(buoy, "tide-desk", OPERATOR));
        assertThat(harbour.approving.requestRole(buoy, "no-such", OPERATOR)).isInstanceOf(Change.Invalid.class);
        assertThat(harbour.approving.requestRole(buoy, null, OPERATOR)).isInstanceOf(Change.Invalid.class);
    }

    /** What a rehearsal found stays found; what it wrote does not. */
    @Test
    void aRehearsalLeavesNothingBehind() {
        int before = actions().size();
        ClientRegistration.Registered would =
                made(harbour.clients.preview(harbour.issuer, Harbour.wantedClient("told-tug", "tides.read"), OPERATOR));
        assertThat(would.requested()).extracting(Approval::scopeName).containsExactly("tides.read");
        assertThat(would.secret()).isPresent();
        assertThat(actions()).hasSize(before);
        assertThat(harbour.directory.find(would.client().id())).isEmpty();
        made(harbour.clients.register(harbour.issuer, Harbour.wantedClient("told-tug", "tides.read"), OPERATOR));
        assertThat(harbour.clients.preview(harbour.issuer, Harbour.wantedClient("told-tug"), OPERATOR))
                .isInstanceOf(Change.Taken.class);
    }
}
