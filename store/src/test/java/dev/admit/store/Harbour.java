package dev.admit.store;

import dev.admit.contract.ApiWanted;
import dev.admit.contract.ClientWanted;
import dev.admit.contract.IssuerWanted;
import dev.admit.contract.RouteWanted;
import dev.admit.contract.ScopeWanted;
import dev.admit.core.approval.AdminClients;
import dev.admit.core.approval.Approval;
import dev.admit.core.approval.Approving;
import dev.admit.core.approval.Withdrawal;
import dev.admit.core.audit.Audit;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.clientauth.KnownClients;
import dev.admit.core.configuration.LiveConfiguration;
import dev.admit.core.key.MasterKey;
import dev.admit.core.registration.ApiRegistration;
import dev.admit.core.registration.ClientRegistration;
import dev.admit.core.registration.IssuerRegistration;
import dev.admit.core.registration.KeyRegistration;
import dev.admit.core.registration.NamedBy;
import dev.admit.core.registration.ScopeRegistration;
import dev.admit.core.registration.TrustRegistration;
import dev.admit.core.registration.UpstreamCredentialRegistration;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Scope;
import dev.admit.core.route.RouteRegistration;
import dev.admit.core.token.MintingOrder;
import dev.admit.core.token.Revocations;
import dev.admit.core.token.TokenIds;
import dev.admit.core.tries.Strangers;
import dev.admit.core.trust.FindKeys;
import dev.admit.core.trust.TrustedKeys;
import dev.admit.core.upstream.AskForToken;
import dev.admit.core.upstream.Presenting;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicInteger;

/** The use cases of the core on a real SQLite file, with an issuer and an API to begin with. */
final class Harbour implements AutoCloseable {
    static final Actor CORIN = new Actor("corin", "Corin Ashby", "127.0.0.1", Actor.Power.ADMINISTRATOR);

    final Database database;
    static final MasterKey MASTER_KEY = new MasterKey(MasterKey.generate());
    final Revocations revocations = new Revocations();
    final LiveConfiguration configuration;
    final KnownClients directory;
    final SqliteApprovals approvals;
    final Audit audit;
    final MintingOrder order;
    final Approving approving;
    final Withdrawal withdrawal;
    final NamedBy namedBy;
    final KeyRegistration keys;
    final IssuerRegistration issuers;
    final ApiRegistration apis;
    final ScopeRegistration scopes;
    final ClientRegistration clients;
    final RouteRegistration routes;
    final TrustRegistration trust;
    final SqliteTrustedIssuers trusted;
    final SqliteUpstreamCredentials credentials;
    final UpstreamCredentialRegistration upstreamCredentials;
    /** What is elsewhere: an address → the document there; what is not named cannot be reached. */
    final Map<URI, String> elsewhere = new ConcurrentHashMap<>();

    /** What plans say of a client's secrets. */
    java.util.function.Function<String, java.util.Optional<java.time.Duration>> longestSecret =
            client -> java.util.Optional.empty();

    final AtomicInteger looks = new AtomicInteger();
    final Issuer issuer;
    final Api tides;

    /** An empty database, migrated once for all tests and copied. */
    private static final byte[] MIGRATED = migrated();

    private static byte[] migrated() {
        try {
            Path folder = Files.createTempDirectory("admit-migrated");
            Path file = folder.resolve("admit.db");
            Database.open(file).close();
            byte[] all = Files.readAllBytes(file);
            Files.delete(file);
            Files.delete(folder);
            return all;
        } catch (IOException cannot) {
            throw new UncheckedIOException(cannot);
        }
    }

    static Database fresh(Path file) {
        try {
            if (Files.notExists(file)) Files.write(file, MIGRATED);
        } catch (IOException cannot) {
            throw new UncheckedIOException(cannot);
        }
        return Database.open(file);
    }

    Harbour(Path folder) {
        this(folder, Clock.systemUTC());
    }

    Harbour(Path folder, Clock clock) {
        database = fresh(folder.resolve("admit.db"));
        trusted = new SqliteTrustedIssuers(database);
        TrustedKeys trustedKeys = new TrustedKeys(new FindKeys(this::fetch), trusted, Runnable::run, clock);
        credentials = new SqliteUpstreamCredentials(database);
        Presenting presenting = new Presenting(
                new AskForToken(
                        this::fetch, (address, authorization, form) -> new AskForToken.Answer(200, fetch(address))),
                Runnable::run,
                clock);
        configuration = new LiveConfiguration(
                new SqliteConfiguration(database), MASTER_KEY, revocations, trustedKeys, presenting, id -> directory()
                        .find(id)
                        .filter(known -> known.client().enabled())
                        .isPresent());
        directory = new KnownClients(new SqliteKnownClients(database), new Strangers(), 100);
        approvals = new SqliteApprovals(database);
        order = new MintingOrder(new TokenIds(clock, 0));
        audit = new Audit(database, new SqliteAudit(database), MASTER_KEY, clock);
        SqliteIssuers keptIssuers = new SqliteIssuers(database);
        SqliteApis keptApis = new SqliteApis(database);
        SqliteScopes keptScopes = new SqliteScopes(database);
        SqliteRoutes keptRoutes = new SqliteRoutes(database);
        withdrawal =
                new Withdrawal(database, order, new SqliteRevocations(database), revocations, directory::forget, clock);
        AdminClients adminClients = new AdminClients(
                new SqliteIssuers(database), new SqliteApis(database), keptScopes, approvals, id -> false);
        approving = new Approving(
                database,
                keptScopes,
                new SqliteRoles(database),
                approvals,
                new SqlitePersonalApprovals(database),
                adminClients,
                withdrawal,
                audit,
                client -> new SqliteOwners(database)
                        .of(dev.admit.core.owner.Owned.of(client)).stream()
                                .map(dev.admit.core.owner.Owner::personId)
                                .toList(),
                directory::forget,
                clock);
        keys = new KeyRegistration(database, new SqliteSigningKeys(database), MASTER_KEY, audit, configuration, clock);
        issuers = new IssuerRegistration(
                database,
                keptIssuers,
                new SqliteRoutes(database),
                keys,
                java.util.Set.of("client_credentials"),
                audit,
                configuration,
                clock,
                URI.create("http://127.0.0.1:9470"));
        apis = new ApiRegistration(
                database,
                keptIssuers,
                keptApis,
                new SqliteClients(database),
                keptRoutes,
                new SqlitePlans(database),
                keptScopes,
                approvals,
                withdrawal,
                audit,
                configuration,
                clock);
        namedBy = new NamedBy(keptApis, keptRoutes, trusted);
        scopes = new ScopeRegistration(
                database,
                keptApis,
                keptScopes,
                new SqliteRoles(database),
                keptRoutes,
                approvals,
                new SqlitePeople(database),
                new SqliteClients(database),
                namedBy,
                withdrawal,
                audit,
                configuration,
                clock);
        clients = new ClientRegistration(
                database,
                new SqliteClients(database),
                approvals,
                approving,
                adminClients,
                namedBy,
                withdrawal,
                audit,
                java.util.Set.of("client_credentials"),
                directory::forget,
                client -> longestSecret.apply(client),
                clock);
        routes = new RouteRegistration(
                database,
                new dev.admit.core.route.KeepRevision(keptIssuers, new SqliteRevisions(database), clock),
                keptIssuers,
                keptApis,
                keptScopes,
                new SqliteClients(database),
                trusted,
                credentials,
                keptRoutes,
                host -> "http://localhost:9471",
                audit,
                configuration,
                clock);
        upstreamCredentials = new UpstreamCredentialRegistration(
                database, credentials, keptRoutes, MASTER_KEY, audit, configuration, clock);
        trust = new TrustRegistration(
                database, trusted, new SqliteClients(database), keptRoutes, trustedKeys, audit, configuration, clock);
        issuer = keptIssuers
                .named("harbour")
                .orElseGet(
                        () -> made(issuers.create(new IssuerWanted("harbour", "Saltmarsh Harbour Authority"), CORIN)));
        tides = keptApis.named(issuer.id(), "tides")
                .orElseGet(() -> made(apis.register(issuer, api("tides", null), CORIN)));
    }

    private KnownClients directory() {
        return directory;
    }

    private String fetch(URI address) throws FindKeys.NotFetched {
        looks.incrementAndGet();
        if (!elsewhere.containsKey(address)) throw new FindKeys.NotFetched("no connection");
        return elsewhere.get(address);
    }

    static ApiWanted api(String name, String audience) {
        return new ApiWanted(name, null, audience, "http://127.0.0.1:9481");
    }

    static ScopeWanted scope(String name, String effect, String reach, String forWhom) {
        return new ScopeWanted(name, effect, reach, forWhom, null, null, null, null, null, null, null);
    }

    static RouteWanted route(String method, String path, String... scopes) {
        return new RouteWanted(
                method.equals("any") ? null : List.of(method),
                path,
                "tides",
                List.of(scopes),
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

    Scope readScope() {
        return made(scopes.add(issuer, tides, scope("tides.read", "reads", "everyone", "clients"), CORIN));
    }

    ClientRegistration.Registered client(String name, String... scopes) {
        return made(clients.register(issuer, wantedClient(name, scopes), CORIN));
    }

    static ClientWanted wantedClient(String name, String... scopes) {
        return ClientWanted.machine(name, null, List.of(scopes));
    }

    Approval given(ClientRegistration.Registered client) {
        return made(approving.grant(
                client.client(),
                client.requested().getFirst(),
                java.util.Optional.empty(),
                CORIN,
                dev.admit.core.change.Expected.ANY));
    }

    static <T> T made(Change<T> change) {
        if (change instanceof Change.Made<T> made) return made.value();
        throw new AssertionError("came to " + change);
    }

    @Override
    public void close() {
        database.close();
    }
}
