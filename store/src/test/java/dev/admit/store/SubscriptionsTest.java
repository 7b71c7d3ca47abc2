package dev.admit.store;

import static org.assertj.core.api.Assertions.assertThat;

import dev.admit.contract.PlanOperation;
import dev.admit.contract.PlanWanted;
import dev.admit.contract.PublicationWanted;
import dev.admit.contract.RouteWanted;
import dev.admit.contract.RouteWho;
import dev.admit.contract.SubscriptionWanted;
import dev.admit.contract.UsageView;
import dev.admit.core.catalogue.Publish;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.Expected;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.limit.Counters;
import dev.admit.core.limit.Quotas;
import dev.admit.core.mail.WriteMail;
import dev.admit.core.owner.Owned;
import dev.admit.core.owner.Owner;
import dev.admit.core.person.Person;
import dev.admit.core.plan.Plan;
import dev.admit.core.plan.Subscription;
import dev.admit.core.plan.Subscription.Status;
import dev.admit.core.plan.SubscriptionsInForce;
import dev.admit.core.plan.Usage;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Client;
import dev.admit.core.subscription.PlanRegistration;
import dev.admit.core.subscription.ReadUsage;
import dev.admit.core.subscription.Subscribing;
import dev.admit.core.subscription.TellOfUse;
import dev.admit.core.subscription.TellSubscribers;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Plans and subscriptions on real records, and at the gate. */
class SubscriptionsTest {
    private static final Actor EDDA = new Actor("edda", "Edda Lorne", "127.0.0.1", Actor.Power.OPERATOR);
    private static final Actor ISOLDE = new Actor("pe_isolde", "Isolde Marrin", "127.0.0.1", Actor.Power.OWNER);
    private static final Actor JUNIA = new Actor("pe_junia", "Junia Hale", "127.0.0.1", Actor.Power.OWNER);

    @TempDir
    Path folder;

    private final SettableClock clock = new SettableClock("2026-11-30T23:00:00Z");
    private Harbour harbour;
    private SqlitePlans plans;
    private SqliteSubscriptions subscriptions;
    private SqliteOwners owners;
    private SqliteMails mails;
    private SubscriptionsInForce inForce;
    private PlanRegistration offering;
    private Subscribing subscribing;
    private Quotas quotas;
    private Usage usage;
    private TellOfUse tell;
    private AtTheGate gate;
    private Api berths;
    private Client board;

    @BeforeEach
    void open() {
        harbour = new Harbour(folder, clock);
        harbour.readScope();
        berths = Harbour.made(
                harbour.apis.register(harbour.issuer, Harbour.api("berths", "https://berths.saltmarsh.example"), EDDA));
        SqlitePeople people = new SqlitePeople(harbour.database);
        owners = new SqliteOwners(harbour.database);
        for (String name : List.of("isolde", "junia"))
            people.insert(new Person(
                    "pe_" + name,
                    harbour.issuer.id(),
                    name + "@saltmarsh.example",
                    true,
                    Map.of(),
                    List.of(),
                    Optional.empty(),
                    true,
                    1,
                    Instant.EPOCH,
                    Instant.EPOCH));
        var registered = harbour.client("quayside-board", "tides.read");
        harbour.given(registered);
        board = registered.client();
        owns("isolde", Owned.of(berths));
        owns("junia", Owned.of(board));
        connect();
        route("/tides/**", "tides", true);
        offer("open-water", "automatic", List.of("60 per 1m by client"), List.of(), "tides GET /tides/**");
        publish(harbour.tides, "public");
    }

    /** What a service does when it starts. */
    private void connect() {
        plans = new SqlitePlans(harbour.database);
        subscriptions = new SqliteSubscriptions(harbour.database);
        mails = new SqliteMails(harbour.database);
        inForce = new SubscriptionsInForce(plans, subscriptions);
        SqliteApis apis = new SqliteApis(harbour.database);
        SqliteClients clients = new SqliteClients(harbour.database);
        offering = new PlanRegistration(
                harbour.database, plans, subscriptions, apis, clients, owners, harbour.audit, inForce, clock);
        subscribing = new Subscribing(
                harbour.database,
                plans,
                subscriptions,
                new SqlitePublications(harbour.database),
                clients,
                owners,
                harbour.audit,
                inForce,
                clock);
        quotas = new Quotas(new SqliteQuotas(harbour.database));
        usage = new Usage(new SqliteUsage(harbour.database));
        tell = new TellOfUse(
                usage,
                plans,
                subscriptions,
                new SqliteIssuers(harbour.database),
                clients,
                new TellSubscribers(
                        owners,
                        apis,
                        clients,
                        plans,
                        new WriteMail(harbour.database, mails, Optional.empty(), Harbour.MASTER_KEY),
                        clock),
                clock);
        gate = new AtTheGate(harbour, clock, new Counters(), quotas, inForce, usage);
    }

    @AfterEach
    void close() {
        harbour.close();
    }

    private void owns(String name, Owned owned) {
        owners.insert(new Owner(
                harbour.issuer.id(), "pe_" + name, name + "@saltmarsh.example", owned, clock.instant(), "corin"));
    }

    private void publish(Api api, String readers) {
        Harbour.made(new Publish(
                        harbour.database,
                        new SqlitePublications(harbour.database),
                        new SqlitePeople(harbour.database),
                        harbour.audit,
                        clock)
                .change(harbour.issuer, api, PublicationWanted.forReaders(readers), Expected.ANY, EDDA));
    }

    private void route(String path, String api, boolean subscription) {
        Harbour.made(harbour.routes.add(
                harbour.issuer,
                new RouteWanted(
                        List.of("GET"),
                        path,
                        api,
                        List.of("tides.read"),
                        null,
                        null,
                        null,
                        null,
                        null,
                        null,
                        new RouteWho(null, null, null, null, null, null, null, null, subscription),
                        null,
                        null,
                        null),
                null,
                Harbour.CORIN));
    }

    private static PlanWanted wanted(
            @Nullable String name,
            @Nullable String approval,
            @Nullable List<String> rates,
            @Nullable List<String> quotas,
            @Nullable String terms,
            @Nullable String keepUntil,
            String @Nullable ... operations) {
        List<PlanOperation> read = operations == null || operations.length == 0
                ? null
                : java.util.Arrays.stream(operations)
                        .map(it -> it.split(" "))
                        .map(it -> new PlanOperation(it[0], List.of(it[1]), it[2]))
                        .toList();
        return new PlanWanted(name, null, null, read, rates, quotas, approval, null, terms, keepUntil);
    }

    private Plan offer(String name, String approval, List<String> rates, List<String> quotas, String... operations) {
        return Harbour.made(
                offering.add(harbour.issuer, wanted(name, approval, rates, quotas, null, null, operations), EDDA));
    }

    private Change<Subscription> request(String plan, Actor by) {
        return subscribing.request(harbour.issuer, board, new SubscriptionWanted(plan, null), by);
    }

    private Subscription subscribed(String plan) {
        return Harbour.made(request(plan, JUNIA));
    }

    private String call(String path) {
        return gate.verdict("GET", path, "Bearer " + gate.token(board.id(), "tides.read"));
    }

    private Subscription now(Subscription it) {
        return subscriptions.find(it.id()).orElseThrow();
    }

    @Test
    void aCallPassesByASubscriptionThatCoversItAndByNoOther() {
        offer("elsewhere", "automatic", List.of(), List.of(), "tides GET /received", "tides POST /tides/north");
        assertThat(call("/tides/north")).isEqualTo("no-subscription");
        subscribed("elsewhere");
        assertThat(call("/tides/north")).isEqualTo("no-subscription");
        assertThat(gate.last.refusal().orElseThrow().received()).isEqualTo("elsewhere, which does not cover it");
        Subscription it = subscribed("open-water");
        assertThat(call("/tides/north")).isEqualTo("admitted");
        assertThat(gate.verdict("HEAD", "/tides/north", "Bearer " + gate.token(board.id(), "tides.read")))
                .isEqualTo("admitted");

        Harbour.made(subscribing.pause(harbour.issuer, it.id(), "Too many calls.", EDDA, Expected.ANY));
        assertThat(call("/tides/north")).as("from the next request on").isEqualTo("subscription-paused");
        Harbour.made(subscribing.resume(harbour.issuer, it.id(), EDDA, Expected.ANY));
        assertThat(call("/tides/north")).isEqualTo("admitted");
        Harbour.made(subscribing.end(harbour.issuer, it.id(), null, JUNIA, Expected.ANY));
        assertThat(call("/tides/north")).isEqualTo("no-subscription");
    }

    /** What another client is subscribed to helps nobody. */
    @Test
    void aSubscriptionIsOfOneClient() {
        subscribed("open-water");
        var other = harbour.client("ferry-kiosk", "tides.read");
        harbour.given(other);
        assertThat(gate.verdict(
                        "GET",
                        "/tides/north",
                        "Bearer " + gate.token(other.client().id(), "tides.read")))
                .isEqualTo("no-subscription");
    }

    /** Both results stand in the decision, each with its fix, and the first is the reason. */
    @Test
    void whatElseWouldRefuseIsToldWithIt() {
        Harbour.made(harbour.scopes.add(
                harbour.issuer, harbour.tides, Harbour.scope("tides.late", "reads", "everyone", "both"), EDDA));
        assertThat(gate.verdict("GET", "/tides/north", "Bearer " + gate.token(board.id(), "tides.late")))
                .isEqualTo("insufficient-scope");
        List<CheckResult.Refused> refused = gate.last.checks().stream()
                .filter(CheckResult.Refused.class::isInstance)
                .map(CheckResult.Refused.class::cast)
                .toList();
        assertThat(refused)
                .extracting(it -> it.refusal().reason().toString())
                .containsExactly("insufficient-scope", "no-subscription");
        assertThat(refused)
                .allSatisfy(it -> assertThat(it.refusal().fix().sentence()).isNotEmpty());
        assertThat(gate.last.refusal().orElseThrow().reason().toString()).isEqualTo("insufficient-scope");
        // A stranger is told of nothing that only a client has.
        assertThat(gate.verdict("GET", "/tides/north", "Bearer x.y.z")).isEqualTo("malformed-token");
        assertThat(gate.last.checks()).noneMatch(it -> it.toString().contains("subscription"));
    }

    @Test
    void aPlansLimitsCountForTheSubscription() {
        offer(
                "narrow",
                "automatic",
                List.of("2 per 1h by client"),
                List.of("100 per month by client"),
                "tides GET /tides/**");
        Subscription it = subscribed("narrow");
        assertThat(List.of(call("/tides/north"), call("/tides/north"), call("/tides/north")))
                .containsExactly("admitted", "admitted", "rate-exceeded");
        assertThat(gate.last.refusal().orElseThrow().fix().sentence())
                .contains("move the subscription to another plan");
        usage.flush();
        UsageView used = new ReadUsage(plans, quotas, usage, clock).of(it);
        assertThat(used.days()).hasSize(30);
        assertThat(used.days().getLast()).isEqualTo(new UsageView.Day("2026-11-30", 2, 1));
        assertThat(used.quotas().getFirst().used()).isEqualTo(2);

        // The wider of two plans is the one that counts.
        subscribed("open-water");
        assertThat(call("/tides/north")).isEqualTo("admitted");
    }

    @Test
    void aQuotaOutlivesARestartAndBeginsAnewWithTheMonth() {
        offer("monthly", "automatic", List.of(), List.of("5 per month by client"), "tides GET /tides/**");
        Subscription it = subscribed("monthly");
        for (int i = 0; i < 4; i++) assertThat(call("/tides/north")).isEqualTo("admitted");
        quotas.flush();
        usage.flush();
        connect();
        assertThat(call("/tides/north")).isEqualTo("admitted");
        assertThat(call("/tides/north")).isEqualTo("quota-exceeded");
        clock.move(Duration.ofHours(1));
        assertThat(new ReadUsage(plans, quotas, usage, clock)
                        .of(it)
                        .quotas()
                        .getFirst()
                        .used())
                .as("read at the turn of the month, before a call")
                .isZero();
        assertThat(call("/tides/north")).isEqualTo("admitted");
        List<UsageView.Day> days =
                new ReadUsage(plans, quotas, usage, clock).of(it).days();
        assertThat(days.get(28)).isEqualTo(new UsageView.Day("2026-11-30", 5, 1));
        assertThat(days.get(29)).isEqualTo(new UsageView.Day("2026-12-01", 1, 0));
    }

    private List<String> mailed() {
        return mails.list(harbour.issuer.id(), "", dev.admit.core.change.Page.Ask.first(50)).items().stream()
                .map(it -> it.to() + ": " + it.subject())
                .sorted()
                .toList();
    }

    @Test
    void ownersAreToldOnceWhenMuchOfAQuotaIsUsed() {
        offer("monthly", "automatic", List.of(), List.of("10 per month by client"), "tides GET /tides/**");
        subscribed("monthly");
        for (int i = 0; i < 7; i++) call("/tides/north");
        tell.ofQuotas();
        assertThat(mailed()).isEmpty();
        call("/tides/north");
        tell.ofQuotas();
        quotas.flush();
        connect();
        for (int i = 0; i < 4; i++) call("/tides/north");
        tell.ofQuotas();
        tell.ofQuotas();
        assertThat(mailed())
                .containsExactly(
                        "junia@saltmarsh.example: Saltmarsh Harbour Authority: quayside-board used 100 % of monthly",
                        "junia@saltmarsh.example: Saltmarsh Harbour Authority: quayside-board used 80 % of monthly");
    }

    @Test
    void aChangeOfAPlanSaysWhomItTouchesAndMayLeaveThemAsTheyAre() {
        Subscription it = subscribed("open-water");
        PlanWanted narrower = wanted(null, null, List.of("1 per 1h by client"), null, null, null);
        Change<Plan> unasked = offering.change(harbour.issuer, "open-water", narrower, Expected.ANY, null, EDDA);
        assertThat(unasked).isInstanceOf(Change.NeedsConfirmation.class);
        assertThat(((Change.NeedsConfirmation<Plan>) unasked).wouldBreak())
                .containsExactly(
                        "No longer so: At most 60 per 1m by client.",
                        "New: At most 1 per 1h by client.",
                        "quayside-board has it at once.");
        assertThat(plans.find(it.planId()).orElseThrow().version()).isEqualTo(1);

        Harbour.made(offering.change(
                harbour.issuer,
                "open-water",
                wanted(null, null, List.of("1 per 1h by client"), null, null, "30d"),
                Expected.ANY,
                "open-water",
                EDDA));
        for (int i = 0; i < 3; i++) assertThat(call("/tides/north")).isEqualTo("admitted");
        clock.move(Duration.ofDays(20));
        tell.ofEnds();
        tell.ofEnds();
        assertThat(mailed())
                .containsExactly("junia@saltmarsh.example: Saltmarsh Harbour Authority: the plan open-water changes for"
                        + " quayside-board");
        clock.move(Duration.ofDays(10));
        assertThat(List.of(call("/tides/north"), call("/tides/north"))).containsExactly("admitted", "rate-exceeded");
    }

    @ParameterizedTest(name = "kept until {0}: {1}")
    @CsvSource(textBlock = """
            2027-01-31, 2027-01-31T00:00:00Z
            30d,        2026-12-30T23:00:00Z
            2026-11-30, refused
            2028-11-30, refused
            2027-02-31, refused
            soon,       refused
            """)
    void aChangeIsPutOffToADay(String said, String until) {
        subscribed("open-water");
        Change<Plan> change = offering.change(
                harbour.issuer,
                "open-water",
                wanted(null, null, List.of("1 per 1h by client"), null, null, said),
                Expected.ANY,
                "open-water",
                EDDA);
        assertThat(
                        change instanceof Change.Made<Plan> made
                                ? made.value().earlier().getFirst().until().toString()
                                : "refused")
                .isEqualTo(until);
    }

    /** A plan that gives more than before is shown and confirmed like one that gives less. */
    @Test
    void aPlanIsNotWidenedUnderARunningSubscriptionUnseen() {
        subscribed("open-water");
        PlanWanted wider = wanted(null, null, null, null, null, null, "tides GET /tides/**", "berths GET /berths/**");
        assertThat(offering.change(harbour.issuer, "open-water", wider, Expected.ANY, "no", EDDA))
                .isInstanceOf(Change.NeedsConfirmation.class);
        // And it lets nothing pass that the scopes do not: the route asks for both.
        Harbour.made(offering.change(harbour.issuer, "open-water", wider, Expected.ANY, "open-water", EDDA));
        assertThat(gate.verdict("GET", "/tides/north", "Bearer " + gate.token(board.id(), "berths.read")))
                .isEqualTo("insufficient-scope");
    }

    @Test
    void anOwnerOffersWhatIsTheirsAlone() {
        PlanWanted theirs = wanted("berthing", null, null, null, null, null, "berths GET /berths/**");
        Harbour.made(offering.add(harbour.issuer, theirs, ISOLDE));
        PlanWanted others =
                wanted("mixed", null, null, null, null, null, "berths GET /berths/**", "tides GET /tides/**");
        assertThat(offering.add(harbour.issuer, others, ISOLDE)).isInstanceOf(Change.Forbidden.class);
        assertThat(offering.change(harbour.issuer, "berthing", others.named(null), Expected.ANY, "berthing", ISOLDE))
                .isInstanceOf(Change.Forbidden.class);
        Harbour.made(offering.add(harbour.issuer, others, EDDA));
        assertThat(offering.change(harbour.issuer, "mixed", theirs.named(null), Expected.ANY, "mixed", ISOLDE))
                .as("neither may they take others' APIs out")
                .isInstanceOf(Change.Forbidden.class);
        assertThat(offering.remove(harbour.issuer, "mixed", Expected.ANY, "mixed", ISOLDE))
                .isInstanceOf(Change.Forbidden.class);
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(delimiter = '|', textBlock = """
            /rates/0          | 60 per 1m by address
            /rates/0          | often
            /operations/0/api | none GET /x
            /operations/0/path | tides GET /x/**/y
            /operations/0/methods/0 | tides TRACE /x
            /operations       | -""")
    void whatAPlanCannotBeIsToldAtItsPlace(String pointer, String what) {
        boolean rate = pointer.startsWith("/rates");
        Change<Plan> change = offering.add(
                harbour.issuer,
                wanted(
                        "faulty",
                        null,
                        rate ? List.of(what) : null,
                        null,
                        null,
                        null,
                        rate ? new String[] {"tides GET /x"} : what.equals("-") ? new String[0] : new String[] {what}),
                EDDA);
        assertThat(((Change.Invalid<Plan>) change).faults())
                .extracting(it -> it.pointer())
                .contains(pointer);
        assertThat(plans.named(harbour.issuer.id(), "faulty")).isEmpty();
    }

    /** What is not published for them looks like what is not there. */
    @Test
    void aPersonWithoutAnAdminRoleFindsThePlansOfWhatIsPublished() {
        offer("trade", "automatic", List.of(), List.of(), "tides GET /tides/**", "berths GET /berths/**");
        assertThat(request("trade", JUNIA)).isEqualTo(new Change.Absent<>("plan", "trade"));
        assertThat(request("none", JUNIA)).isEqualTo(new Change.Absent<>("plan", "none"));
        publish(berths, "signed-in");
        Harbour.made(request("trade", JUNIA));
        assertThat(request("trade", JUNIA)).isInstanceOf(Change.Taken.class);
    }

    private Change<Subscription> approve(Subscription it, String plan, Actor by) {
        return subscribing.approve(harbour.issuer, it.id(), plan, by, Expected.ANY);
    }

    @Test
    void aPlanThatWantsApprovalWaitsForIt() {
        offer("asked", "owner", List.of(), List.of(), "tides GET /tides/**");
        Subscription it = subscribed("asked");
        assertThat(it.status()).isEqualTo(Status.WAITING);
        assertThat(call("/tides/north")).isEqualTo("subscription-waiting");
        assertThat(subscribing.decline(harbour.issuer, it.id(), " ", EDDA, Expected.ANY))
                .as("a no wants a reason")
                .isInstanceOf(Change.Invalid.class);
        Harbour.made(subscribing.decline(harbour.issuer, it.id(), "Ask in spring.", EDDA, Expected.ANY));
        assertThat(now(it).reason()).isEqualTo("Ask in spring.");
        assertThat(call("/tides/north")).isEqualTo("no-subscription");
        Harbour.made(approve(it, "asked", EDDA));
        assertThat(call("/tides/north")).isEqualTo("admitted");
    }

    /** What was looked at is what is approved. */
    @Test
    void aYesIsForThePlanThatItNames() {
        offer("small", "owner", List.of("1 per 1h by client"), List.of(), "tides GET /tides/**");
        offer("large", "owner", List.of(), List.of(), "tides GET /**");
        Subscription it = subscribed("small");
        Harbour.made(
                subscribing.move(harbour.issuer, it.id(), new SubscriptionWanted("large", null), JUNIA, Expected.ANY));
        assertThat(approve(it, "small", EDDA)).isInstanceOf(Change.Invalid.class);
        assertThat(approve(it, null, EDDA)).isInstanceOf(Change.Invalid.class);
        assertThat(now(it).status()).isEqualTo(Status.WAITING);
        Harbour.made(approve(it, "large", EDDA));
        assertThat(now(it).status()).isEqualTo(Status.ACTIVE);
    }

    @Test
    void aMoveThatWaitsLeavesThePlanThatIsThere() {
        offer("asked", "owner", List.of(), List.of(), "tides GET /**");
        Subscription it = subscribed("open-water");
        SubscriptionWanted to = new SubscriptionWanted("asked", null);
        Harbour.made(subscribing.move(harbour.issuer, it.id(), to, JUNIA, Expected.ANY));
        assertThat(call("/tides/north")).isEqualTo("admitted");
        assertThat(now(it).moving()).isPresent();
        Harbour.made(subscribing.decline(harbour.issuer, it.id(), "No.", EDDA, Expected.ANY));
        assertThat(now(it))
                .extracting(Subscription::status, one -> one.moving().isPresent())
                .containsExactly(Status.ACTIVE, false);
        Harbour.made(subscribing.move(harbour.issuer, it.id(), to, JUNIA, Expected.ANY));
        Harbour.made(approve(it, "asked", EDDA));
        assertThat(plans.find(now(it).planId()).orElseThrow().name()).isEqualTo("asked");
        Harbour.made(subscribing.move(
                harbour.issuer, it.id(), new SubscriptionWanted("open-water", null), JUNIA, Expected.ANY));
        assertThat(plans.find(now(it).planId()).orElseThrow().name()).isEqualTo("open-water");
    }

    /** Whoever was sent away does not come back by ending and asking anew, or by another plan's door. */
    @Test
    void aPauseIsNotSlippedOutOf() {
        offer("other", "automatic", List.of(), List.of(), "tides GET /**");
        Subscription it = subscribed("open-water");
        Harbour.made(subscribing.pause(harbour.issuer, it.id(), "Too many calls.", EDDA, Expected.ANY));
        assertThat(subscribing.move(
                        harbour.issuer, it.id(), new SubscriptionWanted("other", null), JUNIA, Expected.ANY))
                .isInstanceOf(Change.Refused.class);
        Harbour.made(subscribing.end(harbour.issuer, it.id(), null, JUNIA, Expected.ANY));
        Subscription again = subscribed("open-water");
        assertThat(again.status()).isEqualTo(Status.WAITING);
        Harbour.made(subscribing.end(harbour.issuer, again.id(), null, JUNIA, Expected.ANY));
        // From another plan it is no other.
        Subscription by = subscribed("other");
        Harbour.made(subscribing.move(
                harbour.issuer, by.id(), new SubscriptionWanted("open-water", null), JUNIA, Expected.ANY));
    }

    @Test
    void termsAreAcceptedInTheVersionThatIsThere() {
        Harbour.made(offering.add(
                harbour.issuer,
                wanted("termed", "automatic", null, null, "Be kind.", null, "tides GET /tides/**"),
                EDDA));
        assertThat(request("termed", JUNIA)).isInstanceOf(Change.Invalid.class);
        assertThat(subscribing.request(harbour.issuer, board, new SubscriptionWanted("termed", 2L), JUNIA))
                .isInstanceOf(Change.Invalid.class);
        Subscription it =
                Harbour.made(subscribing.request(harbour.issuer, board, new SubscriptionWanted("termed", 1L), JUNIA));
        assertThat(it.accepted().orElseThrow()).isEqualTo(new Subscription.Accepted(1, "Junia Hale", clock.instant()));
        Harbour.made(offering.change(
                harbour.issuer,
                "termed",
                wanted(null, null, null, null, "Be kind, and quick.", null),
                Expected.ANY,
                "termed",
                EDDA));
        assertThat(now(it).accepted().orElseThrow().terms()).isEqualTo(1);
        Harbour.made(subscribing.acceptTerms(harbour.issuer, it.id(), 2L, JUNIA, Expected.ANY));
        assertThat(now(it).accepted().orElseThrow().terms()).isEqualTo(2);
    }

    @Test
    void aPlanGoesWithItsSubscriptionsOnceThatIsConfirmed() {
        Subscription it = subscribed("open-water");
        assertThat(offering.remove(harbour.issuer, "open-water", Expected.ANY, null, EDDA))
                .isInstanceOf(Change.NeedsConfirmation.class);
        Harbour.made(offering.remove(harbour.issuer, "open-water", Expected.ANY, "open-water", EDDA));
        assertThat(subscriptions.find(it.id())).isEmpty();
        assertThat(call("/tides/north")).isEqualTo("no-subscription");
    }

    /** How long the credentials of a subscribed client last is the plan's to say. */
    @Test
    void aNewSecretLastsNoLongerThanThePlanSays() {
        harbour.longestSecret = client -> inForce.longestSecret(client, clock.instant());
        Harbour.made(offering.add(
                harbour.issuer,
                new PlanWanted(
                        "careful",
                        null,
                        null,
                        List.of(new PlanOperation("tides", null, "/tides/**")),
                        null,
                        null,
                        "automatic",
                        "30d",
                        null,
                        null),
                EDDA));
        assertThat(secretEnd(null)).isEqualTo("Made 90");
        Subscription it = subscribed("careful");
        assertThat(secretEnd(null)).isEqualTo("Made 30");
        assertThat(secretEnd("20d")).isEqualTo("Made 20");
        assertThat(secretEnd("31d")).isEqualTo("Invalid");
        assertThat(secretEnd("never")).isEqualTo("Invalid");
        Harbour.made(subscribing.end(harbour.issuer, it.id(), null, JUNIA, Expected.ANY));
        assertThat(secretEnd("31d")).isEqualTo("Made 31");
    }

    private String secretEnd(@Nullable String lifetime) {
        var change = harbour.clients.addSecret(harbour.issuer, board.name(), "s" + ++secrets, lifetime, Harbour.CORIN);
        return change instanceof Change.Made<dev.admit.core.registration.ClientRegistration.IssuedSecret> made
                ? "Made "
                        + Duration.between(
                                        clock.instant(),
                                        made.value().kept().expiresAt().orElseThrow())
                                .toDays()
                : change.getClass().getSimpleName();
    }

    private int secrets;

    @Test
    void anApiThatPlansCoverIsNotRemovedUnseenAndLeavesThePlanThatCoversOthers() {
        offer("both", "automatic", List.of(), List.of(), "tides GET /tides/**", "berths GET /berths/**");
        assertThat(harbour.apis.remove(harbour.issuer, "berths", Expected.ANY, null, EDDA))
                .isInstanceOf(Change.NeedsConfirmation.class);
        Harbour.made(harbour.apis.remove(harbour.issuer, "berths", Expected.ANY, "berths", EDDA));
        Subscription it = subscribed("both");
        assertThat(call("/tides/north")).isEqualTo("admitted");
        Plan changed = Harbour.made(offering.change(
                harbour.issuer,
                "both",
                wanted(null, null, List.of("9 per 1m by client"), null, null, null),
                Expected.ANY,
                "both",
                EDDA));
        assertThat(changed.content().apiIds()).containsExactly(harbour.tides.id());
        assertThat(now(it).status()).isEqualTo(Status.ACTIVE);
    }
}
