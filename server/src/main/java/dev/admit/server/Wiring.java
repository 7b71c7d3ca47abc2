package dev.admit.server;

import dev.admit.core.accessmap.AccessMap;
import dev.admit.core.approval.AdminClients;
import dev.admit.core.approval.Approvals;
import dev.admit.core.approval.Approving;
import dev.admit.core.approval.PersonalApprovals;
import dev.admit.core.approval.Withdrawal;
import dev.admit.core.audit.Audit;
import dev.admit.core.audit.AuditTrail;
import dev.admit.core.audit.TokenEvents;
import dev.admit.core.authorization.AuthorizationGrants;
import dev.admit.core.authorization.DeviceRequests;
import dev.admit.core.catalogue.Publications;
import dev.admit.core.catalogue.Publish;
import dev.admit.core.change.Republish;
import dev.admit.core.clientauth.AuthenticateClient;
import dev.admit.core.clientauth.ClientKeys;
import dev.admit.core.clientauth.KnownClients;
import dev.admit.core.clientauth.SecretUses;
import dev.admit.core.clientauth.SlowedGuessing;
import dev.admit.core.clientauth.UsedAssertions;
import dev.admit.core.configuration.BrowserOrigins;
import dev.admit.core.configuration.LiveConfiguration;
import dev.admit.core.decision.BatchedJournal;
import dev.admit.core.decision.Decisions;
import dev.admit.core.decision.KeepingRule;
import dev.admit.core.grant.EndGrant;
import dev.admit.core.grant.IssueToken;
import dev.admit.core.grant.TokensForPerson;
import dev.admit.core.issued.ActiveTokens;
import dev.admit.core.issued.IntrospectToken;
import dev.admit.core.issued.RevokeToken;
import dev.admit.core.key.MasterKey;
import dev.admit.core.key.SigningKeys;
import dev.admit.core.openapi.KeepOpenApi;
import dev.admit.core.openapi.OpenApiDocuments;
import dev.admit.core.openapi.ReadOpenApi;
import dev.admit.core.owner.NameOwners;
import dev.admit.core.owner.Owned;
import dev.admit.core.owner.Owner;
import dev.admit.core.owner.Owners;
import dev.admit.core.person.People;
import dev.admit.core.person.ProfileFields;
import dev.admit.core.plan.Plans;
import dev.admit.core.plan.Subscriptions;
import dev.admit.core.plan.SubscriptionsInForce;
import dev.admit.core.registration.ApiRegistration;
import dev.admit.core.registration.ClientRegistration;
import dev.admit.core.registration.IssuerRegistration;
import dev.admit.core.registration.KeyRegistration;
import dev.admit.core.registration.MintingRegistration;
import dev.admit.core.registration.NamedBy;
import dev.admit.core.registration.RoleRegistration;
import dev.admit.core.registration.ScopeRegistration;
import dev.admit.core.registration.TrustRegistration;
import dev.admit.core.registration.UpstreamCredentialRegistration;
import dev.admit.core.registry.Apis;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuers;
import dev.admit.core.registry.Roles;
import dev.admit.core.registry.Scope;
import dev.admit.core.registry.Scopes;
import dev.admit.core.route.RouteRegistration;
import dev.admit.core.route.Routes;
import dev.admit.core.selfregistration.ManageClient;
import dev.admit.core.selfregistration.RegisterClient;
import dev.admit.core.selfregistration.RemoveUnused;
import dev.admit.core.selfregistration.SelfRegistrations;
import dev.admit.core.selfregistration.SetRegistration;
import dev.admit.core.setup.ExportSetup;
import dev.admit.core.setup.LoadSetup;
import dev.admit.core.signin.FieldRegistration;
import dev.admit.core.subscription.PlanRegistration;
import dev.admit.core.subscription.Subscribing;
import dev.admit.core.token.BearerDoor;
import dev.admit.core.token.MintingOrder;
import dev.admit.core.token.OpaqueTokens;
import dev.admit.core.token.RememberedTokens;
import dev.admit.core.token.Revocation;
import dev.admit.core.token.Revocations;
import dev.admit.core.token.StoredRevocations;
import dev.admit.core.token.TokenIds;
import dev.admit.core.tries.Strangers;
import dev.admit.core.tries.Tries;
import dev.admit.core.trust.TrustedIssuers;
import dev.admit.core.trust.TrustedKeys;
import dev.admit.core.upstream.Presenting;
import dev.admit.core.upstream.UpstreamCredentials;
import dev.admit.server.openapi.OpenApiReader;
import dev.admit.server.operations.LiveFeed;
import dev.admit.server.operations.Metrics;
import dev.admit.server.operations.ObservedJournal;
import dev.admit.store.Database;
import dev.admit.store.SqliteApis;
import dev.admit.store.SqliteApprovals;
import dev.admit.store.SqliteAudit;
import dev.admit.store.SqliteCallers;
import dev.admit.store.SqliteClients;
import dev.admit.store.SqliteConfiguration;
import dev.admit.store.SqliteDecisions;
import dev.admit.store.SqliteIssuers;
import dev.admit.store.SqliteKnownClients;
import dev.admit.store.SqliteOpaqueTokens;
import dev.admit.store.SqliteOpenApiDocuments;
import dev.admit.store.SqlitePublications;
import dev.admit.store.SqliteRevocations;
import dev.admit.store.SqliteRoles;
import dev.admit.store.SqliteRoutes;
import dev.admit.store.SqliteScopes;
import dev.admit.store.SqliteSelfRegistrations;
import dev.admit.store.SqliteSigningKeys;
import dev.admit.store.SqliteTries;
import dev.admit.store.SqliteUsedAssertions;
import java.time.Clock;
import java.util.Comparator;
import org.springframework.boot.SpringBootConfiguration;
import org.springframework.boot.autoconfigure.EnableAutoConfiguration;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.ComponentScan;
import org.springframework.context.annotation.Primary;
import org.springframework.scheduling.annotation.EnableScheduling;

/** Which part is made of which: the core's use cases on the store's tables. */
@SpringBootConfiguration(proxyBeanMethods = false)
@EnableAutoConfiguration
@EnableScheduling
@ComponentScan
class Wiring {
    private static final int REMEMBERED_TOKENS = 50_000;
    /** A remembered client takes about a kibibyte; a quarter of the heap may hold them. */
    private static final int REMEMBERED_CLIENTS =
            Math.clamp(Runtime.getRuntime().maxMemory() / 4096, 10_000, 1_000_000);

    private static final int ADMITTED_KEPT_A_SECOND = 200;
    private static final int REFUSED_KEPT_A_MINUTE = 300;

    @Bean
    Clock clock() {
        return Clock.systemUTC();
    }

    @Bean(destroyMethod = "") // closed last, by AuthorizationServer, when nothing writes any more
    Database database(AuthorizationServer.Opened opened) {
        return opened.database();
    }

    @Bean
    MasterKey masterKey(AuthorizationServer.Opened opened) {
        return opened.masterKey();
    }

    // The tables.

    @Bean
    Issuers issuers(Database database) {
        return new SqliteIssuers(database);
    }

    @Bean
    Apis apis(Database database) {
        return new SqliteApis(database);
    }

    @Bean
    Scopes scopes(Database database) {
        return new SqliteScopes(database);
    }

    @Bean
    Clients clients(Database database) {
        return new SqliteClients(database);
    }

    @Bean
    Approvals approvals(Database database) {
        return new SqliteApprovals(database);
    }

    @Bean
    Routes routes(Database database) {
        return new SqliteRoutes(database);
    }

    @Bean
    SigningKeys signingKeys(Database database) {
        return new SqliteSigningKeys(database);
    }

    @Bean
    StoredRevocations keptRevocations(Database database) {
        return new SqliteRevocations(database);
    }

    @Bean
    Roles roles(Database database) {
        return new SqliteRoles(database);
    }

    @Bean
    OpaqueTokens opaqueTokens(Database database) {
        return new SqliteOpaqueTokens(database);
    }

    @Bean
    UsedAssertions usedAssertions(Database database) {
        return new SqliteUsedAssertions(database);
    }

    @Bean
    AuditTrail auditTrail(Database database) {
        return new SqliteAudit(database);
    }

    @Bean
    AccessMap.Callers callers(Database database, Clock clock) {
        return new SqliteCallers(database, clock);
    }

    @Bean
    Decisions decisions(Database database) {
        return new SqliteDecisions(database);
    }

    // What is in force, in memory.

    @Bean
    Revocations revocations(StoredRevocations kept) {
        Revocations revocations = new Revocations();
        kept.all().forEach(revocations::add);
        return revocations;
    }

    @Bean
    LiveConfiguration configuration(
            Database database,
            AuthorizationServer.Opened opened,
            Revocations revocations,
            TrustedKeys trusted,
            Presenting presenting,
            KnownClients directory) {
        LiveConfiguration configuration = new LiveConfiguration(
                new SqliteConfiguration(database),
                opened.masterKey(),
                revocations,
                trusted,
                presenting,
                clientId -> directory
                        .find(clientId)
                        .filter(known -> known.client().enabled())
                        .isPresent());
        configuration.republish();
        return configuration;
    }

    @Bean
    KnownClients knownClients(Database database, Strangers strangers) {
        return new KnownClients(new SqliteKnownClients(database), strangers, REMEMBERED_CLIENTS);
    }

    @Bean
    MintingOrder mintingOrder(Clock clock, StoredRevocations kept) {
        // After a clock was set back, new tokens must still come after every cut-off that is in force.
        long latest = kept.all().stream().mapToLong(Revocation::before).max().orElse(0);
        return new MintingOrder(new TokenIds(clock, latest));
    }

    @Bean
    KeepingRule keepingRule() {
        return new KeepingRule(ADMITTED_KEPT_A_SECOND, REFUSED_KEPT_A_MINUTE);
    }

    @Bean
    BatchedJournal journal(Decisions decisions, KeepingRule rule) {
        return new BatchedJournal(decisions, rule);
    }

    @Bean
    Metrics metrics(RememberedTokens tokens, KnownClients clients, KeepingRule rule) {
        return new Metrics(tokens, clients, rule);
    }

    @Bean
    LiveFeed liveFeed(AuditTrail trail, Issuers issuers) {
        return new LiveFeed(trail, issuers);
    }

    @Bean
    @Primary
    ObservedJournal observedJournal(
            BatchedJournal kept, Metrics metrics, LiveFeed feed, AuthorizationServer.Opened opened) {
        return new ObservedJournal(kept, metrics, feed, opened.accessLog());
    }

    // What can be done.

    @Bean
    Audit audit(Database database, AuditTrail trail, AuthorizationServer.Opened opened, Clock clock) {
        return new Audit(database, trail, opened.masterKey(), clock);
    }

    @Bean
    TokenEvents tokenEvents(Audit audit) {
        return new TokenEvents(audit);
    }

    @Bean
    Withdrawal withdrawal(
            Database database,
            MintingOrder order,
            StoredRevocations kept,
            Revocations revocations,
            KnownClients directory,
            BrowserOrigins origins,
            Clock clock) {
        return new Withdrawal(
                database,
                order,
                kept,
                revocations,
                client -> {
                    directory.forget(client);
                    origins.refresh(); // a client that was switched off or removed is no page's any more
                },
                clock);
    }

    @Bean
    AdminClients adminClients(Issuers issuers, Apis apis, Scopes scopes, Approvals approvals, OwnClients own) {
        return new AdminClients(issuers, apis, scopes, approvals, own::isOne);
    }

    @Bean
    Approving approving(
            Database database,
            Scopes scopes,
            Roles roles,
            Approvals approvals,
            PersonalApprovals personal,
            AdminClients adminClients,
            Withdrawal withdrawal,
            Audit audit,
            Owners owners,
            KnownClients directory,
            Clock clock) {
        return new Approving(
                database,
                scopes,
                roles,
                approvals,
                personal,
                adminClients,
                withdrawal,
                audit,
                client -> owners.of(Owned.of(client)).stream()
                        .map(Owner::personId)
                        .toList(),
                directory::forget,
                clock);
    }

    @Bean
    KeyRegistration keyRegistration(
            Database database,
            SigningKeys keys,
            AuthorizationServer.Opened opened,
            Audit audit,
            LiveConfiguration live,
            Clock clock) {
        return new KeyRegistration(database, keys, opened.masterKey(), audit, live, clock);
    }

    @Bean
    IssuerRegistration issuerRegistration(
            Database database,
            Issuers issuers,
            Routes routes,
            KeyRegistration keys,
            AuthorizationServer.Opened opened,
            Audit audit,
            LiveConfiguration live,
            Clock clock) {
        return new IssuerRegistration(
                database, issuers, routes, keys, IssueToken.GRANT_TYPES, audit, live, clock, opened.publicUrl());
    }

    @Bean
    ApiRegistration apiRegistration(
            Database database,
            Issuers issuers,
            Apis apis,
            Clients clients,
            Routes routes,
            Plans plans,
            Scopes scopes,
            Approvals approvals,
            Withdrawal withdrawal,
            Audit audit,
            LiveConfiguration live,
            Clock clock) {
        return new ApiRegistration(
                database, issuers, apis, clients, routes, plans, scopes, approvals, withdrawal, audit, live, clock);
    }

    @Bean
    NamedBy namedBy(Apis apis, Routes routes, TrustedIssuers trusted) {
        return new NamedBy(apis, routes, trusted);
    }

    @Bean
    ScopeRegistration scopeRegistration(
            Database database,
            Apis apis,
            Scopes scopes,
            Roles roles,
            Routes routes,
            Approvals approvals,
            People people,
            Clients clients,
            NamedBy namedBy,
            Withdrawal withdrawal,
            Audit audit,
            LiveConfiguration live,
            Clock clock) {
        return new ScopeRegistration(
                database,
                apis,
                scopes,
                roles,
                routes,
                approvals,
                people,
                clients,
                namedBy,
                withdrawal,
                audit,
                live,
                clock);
    }

    @Bean
    ClientRegistration clientRegistration(
            Database database,
            Clients clients,
            Approvals approvals,
            Approving approving,
            AdminClients adminClients,
            NamedBy namedBy,
            Withdrawal withdrawal,
            Audit audit,
            KnownClients directory,
            BrowserOrigins origins,
            SubscriptionsInForce subscriptions,
            Clock clock) {
        return new ClientRegistration(
                database,
                clients,
                approvals,
                approving,
                adminClients,
                namedBy,
                withdrawal,
                audit,
                IssueToken.GRANT_TYPES,
                client -> {
                    directory.forget(client);
                    origins.refresh();
                },
                client -> subscriptions.longestSecret(client, clock.instant()),
                clock);
    }

    @Bean
    RoleRegistration roleRegistration(
            Database database,
            Roles roles,
            Scopes scopes,
            NamedBy namedBy,
            Withdrawal withdrawal,
            Audit audit,
            LiveConfiguration live) {
        return new RoleRegistration(database, roles, scopes, namedBy, withdrawal, audit, live);
    }

    @Bean
    MintingRegistration mintingRegistration(Database database, Apis apis, Audit audit, LiveConfiguration live) {
        return new MintingRegistration(database, apis, audit, live);
    }

    @Bean
    LoadSetup.Records records(
            Issuers issuers,
            Apis apis,
            Scopes scopes,
            Roles roles,
            Routes routes,
            Clients clients,
            Approvals approvals,
            ProfileFields fields,
            People people,
            Owners owners,
            TrustedIssuers trusted,
            UpstreamCredentials credentials,
            OpenApiDocuments documents,
            Publications publications,
            SelfRegistrations registrations,
            Plans plans,
            Subscriptions subscriptions) {
        return new LoadSetup.Records(
                issuers,
                apis,
                scopes,
                roles,
                routes,
                clients,
                approvals,
                fields,
                people,
                owners,
                trusted,
                credentials,
                documents,
                publications,
                registrations,
                plans,
                subscriptions);
    }

    @Bean
    OpenApiDocuments openApiDocuments(Database database) {
        return new SqliteOpenApiDocuments(database);
    }

    @Bean
    ReadOpenApi readOpenApi() {
        return new OpenApiReader();
    }

    @Bean
    KeepOpenApi keepOpenApi(
            Database database, OpenApiDocuments documents, ReadOpenApi reads, Audit audit, Clock clock) {
        return new KeepOpenApi(database, documents, reads, audit, clock);
    }

    @Bean
    SelfRegistrations selfRegistrations(Database database) {
        return new SqliteSelfRegistrations(database);
    }

    @Bean
    SetRegistration setRegistration(
            Database database,
            SelfRegistrations registrations,
            Clients clients,
            Withdrawal withdrawal,
            Scopes scopes,
            Audit audit,
            LiveConfiguration live,
            Clock clock) {
        return new SetRegistration(
                database, registrations, clients, withdrawal, scopes, IssueToken.GRANT_TYPES, audit, live, clock);
    }

    /** As the issuer's metadata has them, and those that are not listed, for limits that name them. */
    @Bean
    RegisterClient.Requestable requestableScopes(LiveConfiguration live) {
        return (issuer, now) -> live.get().issuer(issuer.name()).stream()
                .flatMap(it -> it.scopesByName().values().stream())
                .filter(it -> it.isGrantedAt(now))
                .sorted(Comparator.comparing(Scope::name))
                .toList();
    }

    @Bean
    RegisterClient registerClient(
            Database database,
            SelfRegistrations registrations,
            ClientRegistration registration,
            Approving approving,
            Clients clients,
            RegisterClient.Requestable requestable,
            Strangers strangers,
            Clock clock) {
        return new RegisterClient(
                database, registrations, registration, approving, clients, requestable, strangers, clock);
    }

    @Bean
    ManageClient manageClient(
            SelfRegistrations registrations,
            ClientRegistration registration,
            Approving approving,
            Approvals approvals,
            PersonalApprovals personal,
            Clients clients,
            RegisterClient.Requestable requestable,
            Withdrawal withdrawal) {
        return new ManageClient(
                registrations, registration, approving, approvals, personal, clients, requestable, withdrawal);
    }

    @Bean
    RemoveUnused removeUnused(
            SelfRegistrations registrations, ClientRegistration registration, Issuers issuers, Clients clients) {
        return new RemoveUnused(registrations, registration, issuers, clients);
    }

    @Bean
    Publications publications(Database database) {
        return new SqlitePublications(database);
    }

    @Bean
    Publish publish(Database database, Publications publications, People people, Audit audit, Clock clock) {
        return new Publish(database, publications, people, audit, clock);
    }

    @Bean
    LoadSetup loadSetup(
            LoadSetup.Records records,
            IssuerRegistration issuers,
            ApiRegistration apis,
            ScopeRegistration scopes,
            RoleRegistration roles,
            MintingRegistration mintings,
            RouteRegistration routes,
            ClientRegistration clients,
            Approving approving,
            FieldRegistration fields,
            NameOwners owners,
            TrustRegistration trust,
            UpstreamCredentialRegistration credentials,
            KeepOpenApi documents,
            Publish publish,
            SetRegistration registration,
            PlanRegistration plans,
            Subscribing subscribing,
            SubscriptionsInForce inForce,
            Withdrawal withdrawal,
            LiveConfiguration live,
            KnownClients directory,
            BrowserOrigins origins,
            TrustedKeys trusted,
            Clock clock) {
        return new LoadSetup(
                new LoadSetup.UseCases(
                        issuers,
                        apis,
                        scopes,
                        roles,
                        mintings,
                        routes,
                        clients,
                        approving,
                        fields,
                        owners,
                        trust,
                        credentials,
                        documents,
                        publish,
                        registration,
                        plans,
                        subscribing),
                records,
                withdrawal,
                Republish.Held.both(live, inForce),
                () -> {
                    directory.forgetAll();
                    origins.refresh();
                    trusted.lookForOld();
                },
                clock);
    }

    @Bean
    ExportSetup exportSetup(LoadSetup.Records records, Clock clock) {
        return new ExportSetup(records, clock);
    }

    @Bean
    Strangers strangers() {
        return new Strangers();
    }

    @Bean
    Tries.Stored keptTries(Database database) {
        return new SqliteTries(database);
    }

    @Bean
    Tries tries(Tries.Stored kept) {
        return new Tries(kept);
    }

    @Bean
    SlowedGuessing slowedGuessing() {
        return new SlowedGuessing();
    }

    @Bean
    SecretUses secretUses(Clients clients) {
        return new SecretUses(clients);
    }

    @Bean
    AuthenticateClient authenticateClient(
            KnownClients directory,
            UsedAssertions used,
            SecretUses uses,
            SlowedGuessing guessing,
            AuthorizationServer.Opened opened) {
        return new AuthenticateClient(
                directory,
                new ClientKeys(new OutboundHttp(
                        opened.settings().demo()
                                ? OutboundHttp.Reach.OUTSIDE_AND_LOOPBACK
                                : OutboundHttp.Reach.OUTSIDE)),
                used,
                uses,
                guessing);
    }

    @Bean
    IssueToken issueToken(
            AuthenticateClient authenticate,
            MintingOrder order,
            OpaqueTokens opaque,
            TokenEvents events,
            EndGrant endGrant,
            TokensForPerson forPerson,
            DeviceRequests devices) {
        return new IssueToken(authenticate, order, opaque, events, endGrant, forPerson, devices);
    }

    @Bean
    RememberedTokens rememberedTokens(OpaqueTokens opaque, Strangers strangers) {
        return new RememberedTokens(REMEMBERED_TOKENS, opaque, strangers);
    }

    @Bean
    IntrospectToken introspectToken(AuthenticateClient authenticate, SlowedGuessing guessing, RememberedTokens tokens) {
        return new IntrospectToken(authenticate, guessing, tokens);
    }

    @Bean
    RevokeToken revokeToken(
            AuthenticateClient authenticate,
            RememberedTokens tokens,
            Withdrawal withdrawal,
            Audit audit,
            AuthorizationGrants grants,
            EndGrant endGrant) {
        return new RevokeToken(authenticate, tokens, withdrawal, audit, grants, endGrant);
    }

    @Bean
    ActiveTokens activeTokens(AuditTrail trail, Revocations revocations) {
        return new ActiveTokens(trail, revocations);
    }

    @Bean
    BearerDoor bearerDoor(RememberedTokens tokens) {
        return new BearerDoor(tokens);
    }
}
