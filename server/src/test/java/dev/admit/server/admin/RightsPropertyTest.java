package dev.admit.server.admin;

import static org.assertj.core.api.Assertions.assertThat;

import dev.admit.contract.ApiWanted;
import dev.admit.contract.ClientWanted;
import dev.admit.contract.KeyWanted;
import dev.admit.contract.PersonWanted;
import dev.admit.contract.RoleWanted;
import dev.admit.contract.ScopeWanted;
import dev.admit.core.access.AdminApi;
import dev.admit.core.access.AdminRights;
import dev.admit.core.access.AdminRole;
import dev.admit.core.access.Permission;
import dev.admit.core.approval.Approval;
import dev.admit.core.approval.Approvals;
import dev.admit.core.approval.Approving;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.Expected;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.grant.GrantOutcome;
import dev.admit.core.owner.NameOwners;
import dev.admit.core.owner.Owned;
import dev.admit.core.owner.OwnerRights;
import dev.admit.core.person.People;
import dev.admit.core.person.Person;
import dev.admit.core.registration.ApiRegistration;
import dev.admit.core.registration.ClientRegistration;
import dev.admit.core.registration.KeyRegistration;
import dev.admit.core.registration.RoleRegistration;
import dev.admit.core.registration.ScopeRegistration;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Issuers;
import dev.admit.core.signin.PersonRegistration;
import dev.admit.server.AuthorizationServer;
import dev.admit.server.FirstStart;
import dev.admit.server.Settings;
import java.lang.reflect.Method;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.ShrinkingMode;
import net.jqwik.api.Tag;
import net.jqwik.api.constraints.IntRange;
import net.jqwik.api.constraints.Size;
import net.jqwik.api.lifecycle.AfterContainer;
import net.jqwik.api.lifecycle.BeforeContainer;

/**
 * Random acts by random people, on what endpoints declare and use cases allow. Whatever they did, nobody ends with a
 * right that no administrator granted: not by a credential, an address or a key of a client that can run Admit, by a
 * role, a scope or an approval.
 */
@Tag("thorough")
class RightsPropertyTest {
    private static final List<String> WHO = List.of("administrator", "operator", "auditor", "owner", "person");
    private static AuthorizationServer server;
    private static Path data;
    private static Issuer admit;
    private static Api cast;
    private static final Map<String, Person> PEOPLE = new HashMap<>();
    private static long sequences;

    @BeforeContainer
    static void start() throws Exception {
        Path memory = Path.of("/dev/shm"); // ten thousand sequences need no disk
        data = Files.isDirectory(memory)
                ? Files.createTempDirectory(memory, "admit-rights")
                : Files.createTempDirectory("admit-rights");
        server = AuthorizationServer.start(new Settings(
                "127.0.0.1",
                freePort(),
                freePort(),
                Optional.empty(),
                data,
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
        part(FirstStart.class).prepare();
        admit = part(Issuers.class).named(AdminApi.ISSUER).orElseThrow();
        cast = made(part(ApiRegistration.class)
                .register(admit, new ApiWanted("cast", "Cast", "urn:cast", "http://127.0.0.1:9"), Actor.ADMIT));
        for (String name : List.of("cast.read", "cast.write")) {
            made(part(ScopeRegistration.class)
                    .add(
                            admit,
                            cast,
                            new ScopeWanted(
                                    name,
                                    "changes",
                                    "everyone",
                                    "both",
                                    null,
                                    "administrator",
                                    true,
                                    "in-use",
                                    null,
                                    true,
                                    null),
                            Actor.ADMIT));
        }
        made(part(RoleRegistration.class)
                .add(admit, cast, new RoleWanted("reader", "Reader", List.of("cast.read"), false), Actor.ADMIT));
        for (String who : WHO) {
            String role = List.of("owner", "person").contains(who) ? null : who;
            PEOPLE.put(
                    who,
                    made(part(PersonRegistration.class)
                            .add(
                                    admit,
                                    new PersonWanted(who + "@admit.example", Map.of("name", who), List.of(), role),
                                    Optional.empty(),
                                    Actor.ADMIT)));
        }
    }

    @AfterContainer
    static void stop() throws Exception {
        server.close();
        try (var files = Files.walk(data)) {
            files.sorted(java.util.Comparator.reverseOrder())
                    .forEach(it -> it.toFile().delete());
        }
    }

    private static int freePort() throws Exception {
        try (ServerSocket socket = new ServerSocket(0)) {
            return socket.getLocalPort();
        }
    }

    private static <T> T part(Class<T> type) {
        return server.part(type);
    }

    private static <T> T made(Change<T> change) {
        if (change instanceof Change.Made<T> made) return made.value();
        throw new AssertionError("came to " + change);
    }

    /** What a person tries. Each names the endpoint by which it comes, whose declaration decides first. */
    private enum Act {
        REQUEST_ADMIN(ApprovalEndpoints.class, "request"),
        REQUEST_CAST(ApprovalEndpoints.class, "request"),
        GRANT(ApprovalEndpoints.class, "grant"),
        DECLINE(ApprovalEndpoints.class, "decline"),
        WITHDRAW(ApprovalEndpoints.class, "withdraw"),
        DROP(ApprovalEndpoints.class, "drop"),
        ADD_SECRET(ClientEndpoints.class, "addSecret"),
        REPLACE_SECRETS(ClientEndpoints.class, "replaceSecrets"),
        OWN_KEY(ClientEndpoints.class, "change"),
        OWN_REDIRECT(ClientEndpoints.class, "change"),
        WANT_RUN(ClientEndpoints.class, "change"),
        OTHER_KIND(ClientEndpoints.class, "change"),
        INTROSPECT(ClientEndpoints.class, "change"),
        GRANT_OPENID(ClientEndpoints.class, "openid"),
        COPY(ClientEndpoints.class, "copy"),
        SWITCH_OFF(ClientEndpoints.class, "off"),
        SWITCH_ON(ClientEndpoints.class, "on"),
        REMOVE(ClientEndpoints.class, "remove"),
        REGISTER(ClientEndpoints.class, "register"),
        REGISTER_ADMIN(ClientEndpoints.class, "register"),
        TRIAL(TrialEndpoint.class, "make"),
        BECOME(PersonEndpoints.class, "change"),
        OWN(OwnerEndpoints.class, "name"),
        IMPORT_KEY(KeyEndpoints.class, "rotate"),
        FILL_ROLE(RoleEndpoints.class, "change"),
        OPEN_SCOPE(ApiEndpoints.class, "changeScope");

        private final Permission permission;

        Act(Class<?> endpoints, String method) {
            Method it = Arrays.stream(endpoints.getDeclaredMethods())
                    .filter(one -> one.getName().equals(method) && one.isAnnotationPresent(Permitted.class))
                    .findFirst()
                    .orElseThrow();
            Permitted declared = it.getAnnotation(Permitted.class);
            permission = new Permission(declared.value(), declared.of(), declared.owner());
        }
    }

    /** One sequence: a client, what is known of who can use it, and who granted it what. */
    private static final class World {
        final String name = "c-" + ++sequences;
        final Map<String, Integer> holds = new HashMap<>();
        final Map<String, Integer> granted = new HashMap<>();
        final Set<String> mayIntrospect = new HashSet<>();
        int clock;

        Optional<Client> client() {
            return part(Clients.class).named(admit.id(), name);
        }

        List<Approval> approvals() {
            return client().map(it -> part(Approvals.class).ofClient(it.id())).orElse(List.of());
        }

        /**
         * As the door decides: by role, else as an owner.
         *
         * @return what they act as; empty when refused
         */
        Optional<Actor> admitted(String who, Act act) {
            Person person = part(People.class).find(PEOPLE.get(who).id()).orElseThrow();
            if (AdminRights.check(
                            new AdminRights.Caller(AdminApi.ISSUER, person.adminRole()),
                            act.permission,
                            Optional.of(AdminApi.ISSUER))
                    instanceof CheckResult.Passed) {
                return Optional.of(new Actor(
                        person.id(),
                        person.email(),
                        "",
                        Actor.Power.valueOf(person.adminRole().orElseThrow().name())));
            }
            OwnerRights.Named named = new OwnerRights.Named(
                    Optional.of("cast"),
                    Optional.of(name),
                    Optional.empty(),
                    approvals().stream().findFirst().map(Approval::id),
                    Optional.empty(),
                    Optional.empty());
            return part(OwnerRights.class)
                    .check(person.id(), admit, act.permission.owner(), named)
                    .filter(CheckResult.Passed.class::isInstance)
                    .map(it -> new Actor(person.id(), person.email(), "", Actor.Power.OWNER));
        }

        void act(String who, Act act, int pick) {
            Optional<Actor> by = admitted(who, act);
            if (by.isEmpty()) return;
            clock++;
            boolean done = tried(act, by.get(), pick);
            if (!done) return;
            if (Set.of(
                            Act.ADD_SECRET,
                            Act.REPLACE_SECRETS,
                            Act.OWN_KEY,
                            Act.OWN_REDIRECT,
                            Act.REGISTER,
                            Act.REGISTER_ADMIN,
                            Act.TRIAL,
                            Act.COPY)
                    .contains(act)) holds.put(who, clock);
        }

        private boolean tried(Act act, Actor by, int pick) {
            ClientRegistration clients = part(ClientRegistration.class);
            Optional<Client> client = client();
            if (act == Act.REGISTER || act == Act.REGISTER_ADMIN) {
                if (client.isPresent()) return false;
                granted.clear();
                holds.clear();
                List<String> scopes = act == Act.REGISTER ? List.of("cast.read") : List.of(AdminApi.CHANGE);
                return clients.register(admit, ClientWanted.machine(name, null, scopes), by) instanceof Change.Made;
            }
            if (client.isEmpty()) return false;
            Optional<Approval> approval = approvals().isEmpty()
                    ? Optional.empty()
                    : Optional.of(approvals().get(pick % approvals().size()));
            return switch (act) {
                case REQUEST_ADMIN ->
                    part(Approving.class).request(client.get(), AdminApi.CHANGE, by) instanceof Change.Made;
                case REQUEST_CAST ->
                    part(Approving.class).request(client.get(), "cast.write", by) instanceof Change.Made;
                case GRANT ->
                    approval.isPresent()
                            && gave(
                                    approval.get().scopeName(),
                                    by,
                                    part(Approving.class)
                                                    .grant(
                                                            client.get(),
                                                            approval.get(),
                                                            Optional.empty(),
                                                            by,
                                                            Expected.ANY)
                                            instanceof Change.Made);
                case DECLINE ->
                    approval.isPresent()
                            && part(Approving.class).decline(client.get(), approval.get(), "", by, Expected.ANY)
                                    instanceof Change.Made;
                case WITHDRAW ->
                    approval.isPresent()
                            && part(Approving.class).withdraw(client.get(), approval.get(), "", by, Expected.ANY)
                                    instanceof Change.Made;
                case DROP ->
                    approval.isPresent()
                            && part(Approving.class).drop(client.get(), approval.get(), by) instanceof Change.Made;
                case ADD_SECRET -> clients.addSecret(admit, name, null, null, by) instanceof Change.Made;
                case REPLACE_SECRETS ->
                    clients.replaceSecrets(admit, name, null, null, null, by) instanceof Change.Made;
                case OWN_KEY ->
                    changed(wanted(null, "private_key_jwt", null, null, "https://keys.example/" + clock, null), by);
                case OWN_REDIRECT ->
                    changed(wanted(null, null, List.of("http://127.0.0.1/" + clock), null, null, null), by);
                case WANT_RUN -> changed(wanted(null, null, null, List.of("openid", AdminApi.RUN), null, null), by);
                case OTHER_KIND ->
                    changed(wanted("native", null, List.of("http://127.0.0.1/back"), null, null, null), by);
                case INTROSPECT -> {
                    boolean done = changed(wanted(null, null, null, null, null, true), by);
                    if (done && by.isAdministrator()) mayIntrospect.add(name);
                    yield done;
                }
                case GRANT_OPENID ->
                    gave(AdminApi.RUN, by, clients.grantOpenid(admit, name, true, by) instanceof Change.Made);
                case COPY ->
                    clients.copy(admit, name, name + "-copy-" + clock, by) instanceof Change.Made
                            && copied(name + "-copy-" + clock);
                case SWITCH_OFF -> clients.switchTo(admit, name, false, Expected.ANY, by) instanceof Change.Made;
                case SWITCH_ON -> clients.switchTo(admit, name, true, Expected.ANY, by) instanceof Change.Made;
                case REMOVE -> clients.remove(admit, name, Expected.ANY, name, by) instanceof Change.Made;
                case TRIAL -> tries(client.get(), by);
                case BECOME ->
                    part(PersonRegistration.class)
                                    .change(
                                            admit,
                                            PEOPLE.get("operator").id(),
                                            new PersonWanted(
                                                    null,
                                                    null,
                                                    null,
                                                    by.isAdministrator() ? "operator" : "administrator"),
                                            Expected.ANY,
                                            by)
                            instanceof Change.Made;
                case OWN ->
                    part(NameOwners.class)
                                    .name(
                                            admit,
                                            PEOPLE.get("owner").id(),
                                            pick % 2 == 0 ? Owned.of(cast) : Owned.of(client.get()),
                                            by)
                            instanceof Change.Made;
                case IMPORT_KEY ->
                    !(part(KeyRegistration.class)
                                            .rotate(admit, new KeyWanted(null, null, "1h", "no key at all"), by, null)
                                    instanceof Change.Forbidden)
                            && imports(by);
                case FILL_ROLE ->
                    by.isAdministrator()
                            ? false
                            : part(RoleRegistration.class)
                                                    .change(
                                                            admit,
                                                            cast,
                                                            "reader",
                                                            new RoleWanted(
                                                                    null,
                                                                    null,
                                                                    List.of("cast.read", "cast.write"),
                                                                    null),
                                                            Expected.ANY,
                                                            by)
                                            instanceof Change.Made
                                    && filled(by);
                case OPEN_SCOPE ->
                    by.isAdministrator()
                            ? false
                            : part(ScopeRegistration.class)
                                                    .change(
                                                            admit,
                                                            cast,
                                                            "cast.write",
                                                            new ScopeWanted(
                                                                    null,
                                                                    null,
                                                                    null,
                                                                    null,
                                                                    null,
                                                                    pick % 2 == 0 ? "person" : null,
                                                                    pick % 2 == 0 ? null : false,
                                                                    null,
                                                                    null,
                                                                    null,
                                                                    null),
                                                            Expected.ANY,
                                                            by)
                                            instanceof Change.Made
                                    && opened(by, pick);
                case REGISTER, REGISTER_ADMIN -> false;
            };
        }

        private boolean gave(String scope, Actor by, boolean done) {
            if (!done) return false;
            assertThat(by.isAdministrator() || by.isOwner() && scope.startsWith("cast."))
                    .as("%s gave %s", by.power(), scope)
                    .isTrue();
            granted.put(scope, clock);
            return true;
        }

        private boolean changed(ClientWanted wanted, Actor by) {
            return part(ClientRegistration.class).change(admit, name, wanted, Expected.ANY, by)
                            instanceof Change.Made<Client> made
                    && made.value().version() > 0;
        }

        private static ClientWanted wanted(
                String kind,
                String method,
                List<String> redirects,
                List<String> identity,
                String jwksUri,
                Boolean introspects) {
            return new ClientWanted(
                    null,
                    null,
                    null,
                    kind,
                    method,
                    null,
                    null,
                    null,
                    redirects,
                    null,
                    null,
                    identity,
                    null,
                    jwksUri,
                    null,
                    null,
                    null,
                    null,
                    introspects,
                    null);
        }

        private boolean copied(String copy) {
            Client it = part(Clients.class).named(admit.id(), copy).orElseThrow();
            assertThat(it.people().openidGranted()).as("a copy has no approval").isFalse();
            assertThat(part(Approvals.class).ofClient(it.id()))
                    .noneMatch(one -> one.status() == Approval.Status.GRANTED);
            made(part(ClientRegistration.class).remove(admit, copy, Expected.ANY, copy, Actor.ADMIT));
            return false;
        }

        /** Each change is published with all that is there, so nothing stays. */
        void end() {
            if (client().isPresent())
                made(part(ClientRegistration.class).remove(admit, name, Expected.ANY, name, Actor.ADMIT));
        }

        /** A trial token of a client that can run Admit is an administrator's to have. */
        private boolean tries(Client client, Actor by) {
            TrialTokens.Made it = part(TrialTokens.class).make(admit, client, Map.of("scope", AdminApi.CHANGE), by);
            if (it.outcome() instanceof GrantOutcome.Issued)
                assertThat(by.isAdministrator())
                        .as("a trial token for %s", by.power())
                        .isTrue();
            return false;
        }

        private static boolean imports(Actor by) {
            assertThat(by.isAdministrator()).as("%s imports keys", by.power()).isTrue();
            return false;
        }

        private static boolean filled(Actor by) {
            assertThat(by.isOwner()).as("%s fills a role", by.power()).isTrue();
            made(part(RoleRegistration.class)
                    .change(
                            admit,
                            cast,
                            "reader",
                            new RoleWanted(null, null, List.of("cast.read"), null),
                            Expected.ANY,
                            Actor.ADMIT));
            return true;
        }

        private static boolean opened(Actor by, int pick) {
            assertThat(by.isOwner() && pick % 2 != 0)
                    .as("%s opens a scope to more people", by.power())
                    .isTrue();
            made(part(ScopeRegistration.class)
                    .change(
                            admit,
                            cast,
                            "cast.write",
                            new ScopeWanted(null, null, null, null, null, null, true, null, null, null, null),
                            Expected.ANY,
                            Actor.ADMIT));
            return true;
        }

        /**
         * The one who holds the client, and did so last after an administrator granted it something, has a right that
         * nobody granted them.
         */
        void nobodyHasMoreThanWasGranted() {
            for (String who : WHO) {
                Optional<AdminRole> role = part(People.class)
                        .find(PEOPLE.get(who).id())
                        .orElseThrow()
                        .adminRole();
                assertThat(role.map(Object::toString).orElse("none"))
                        .as("the admin role of the %s", who)
                        .isEqualTo(List.of("owner", "person").contains(who) ? "none" : who);
            }
            Optional<Client> client = client();
            if (client.isEmpty()) return;
            assertThat(client.get().mayIntrospect())
                    .as("may introspect")
                    .isEqualTo(client.get().mayIntrospect() && mayIntrospect.contains(name));
            boolean runs = client.get().people().openidGranted()
                    && client.get().openidScopes().contains(AdminApi.RUN);
            Set<String> given = new HashSet<>();
            if (runs) given.add(AdminApi.RUN);
            approvals().stream()
                    .filter(it -> it.status() == Approval.Status.GRANTED && AdminApi.SCOPES.contains(it.scopeName()))
                    .forEach(it -> given.add(it.scopeName()));
            for (String scope : given) {
                assertThat(granted).as("a person who may granted %s", scope).containsKey(scope);
                holds.forEach((who, since) -> {
                    if (!who.equals("administrator"))
                        assertThat(since)
                                .as("the %s took hold of a client with %s", who, scope)
                                .isLessThan(granted.get(scope));
                });
            }
        }
    }

    @Property(tries = 10_000, shrinking = ShrinkingMode.BOUNDED)
    void nobodyEndsWithARightThatNoAdministratorGranted(
            @ForAll @Size(min = 4, max = 12) List<@IntRange(min = 0, max = 100_000) Integer> picks) {
        World world = new World();
        world.act(WHO.get(picks.getFirst() % 2), Act.REGISTER, 0); // a person who may
        for (int pick : picks) {
            world.act(WHO.get(pick % WHO.size()), Act.values()[pick / WHO.size() % Act.values().length], pick / 1_000);
        }
        world.nobodyHasMoreThanWasGranted();
        world.end();
    }
}
