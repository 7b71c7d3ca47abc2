package dev.admit.server;

import dev.admit.core.audit.Audit;
import dev.admit.core.browser.SignInAtGate;
import dev.admit.core.catalogue.Catalogue;
import dev.admit.core.catalogue.Publications;
import dev.admit.core.clientauth.KnownClients;
import dev.admit.core.configuration.BrowserOrigins;
import dev.admit.core.configuration.LiveConfiguration;
import dev.admit.core.gate.DescribeResource;
import dev.admit.core.gate.Gate;
import dev.admit.core.gate.TryRequest;
import dev.admit.core.grant.IssueToken;
import dev.admit.core.issued.RevokeToken;
import dev.admit.core.limit.Counters;
import dev.admit.core.limit.Quotas;
import dev.admit.core.openapi.AnswerOpenApi;
import dev.admit.core.openapi.OpenApiDocuments;
import dev.admit.core.openapi.ReadOpenApi;
import dev.admit.core.owner.Owners;
import dev.admit.core.plan.SubscriptionsInForce;
import dev.admit.core.plan.Usage;
import dev.admit.core.registration.TrustRegistration;
import dev.admit.core.registration.UpstreamCredentialRegistration;
import dev.admit.core.registry.Apis;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuers;
import dev.admit.core.registry.Scopes;
import dev.admit.core.route.KeepRevision;
import dev.admit.core.route.RestoreRevision;
import dev.admit.core.route.Revisions;
import dev.admit.core.route.RouteRegistration;
import dev.admit.core.route.Routes;
import dev.admit.core.setup.ExportSetup;
import dev.admit.core.setup.ImportOpenApi;
import dev.admit.core.setup.LoadSetup;
import dev.admit.core.token.BearerDoor;
import dev.admit.core.trust.FindKeys;
import dev.admit.core.trust.TrustedIssuers;
import dev.admit.core.trust.TrustedKeys;
import dev.admit.core.upstream.AskForToken;
import dev.admit.core.upstream.Presenting;
import dev.admit.core.upstream.TryCredential;
import dev.admit.core.upstream.UpstreamCredentials;
import dev.admit.gateway.Gateway;
import dev.admit.gateway.GatewaySettings;
import dev.admit.gateway.TrustedProxies;
import dev.admit.server.operations.ObservedJournal;
import dev.admit.store.Database;
import dev.admit.store.SqliteBrowserOrigins;
import dev.admit.store.SqliteQuotas;
import dev.admit.store.SqliteRevisions;
import dev.admit.store.SqliteTrustedIssuers;
import dev.admit.store.SqliteUpstreamCredentials;
import java.time.Clock;
import java.time.Duration;
import java.util.concurrent.Executors;
import java.util.function.UnaryOperator;
import org.springframework.beans.factory.ObjectProvider;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;

/**
 * Which part of the gateway is made of which: its routes, whom they trust, what it presents, and the way of a request.
 */
@Configuration(proxyBeanMethods = false)
class GatewayWiring {
    @Bean
    Revisions revisions(Database database) {
        return new SqliteRevisions(database);
    }

    @Bean
    TrustedIssuers trustedIssuers(Database database) {
        return new SqliteTrustedIssuers(database);
    }

    @Bean
    UpstreamCredentials upstreamCredentials(Database database) {
        return new SqliteUpstreamCredentials(database);
    }

    @Bean
    OutboundHttp outboundHttp() {
        return new OutboundHttp(OutboundHttp.Reach.ANYWHERE);
    }

    @Bean
    Presenting presenting(OutboundHttp fetch, Clock clock) {
        return new Presenting(new AskForToken(fetch, fetch), Executors.newVirtualThreadPerTaskExecutor(), clock);
    }

    @Bean
    TryCredential tryCredential(Presenting presenting, AuthorizationServer.Opened opened, OutboundHttp fetch) {
        return new TryCredential(presenting, opened.masterKey(), fetch);
    }

    @Bean
    TrustedKeys trustedKeys(OutboundHttp fetch, TrustedIssuers trusted, Clock clock) {
        return new TrustedKeys(new FindKeys(fetch), trusted, Executors.newVirtualThreadPerTaskExecutor(), clock);
    }

    @Bean
    KeepRevision keepRevision(Issuers issuers, Revisions revisions, Clock clock) {
        return new KeepRevision(issuers, revisions, clock);
    }

    @Bean
    RestoreRevision restoreRevision(
            Database database,
            Routes routes,
            Revisions revisions,
            KeepRevision keep,
            Issuers issuers,
            Apis apis,
            Scopes scopes,
            TrustedIssuers trusted,
            UpstreamCredentials credentials,
            RouteRegistration registration,
            Audit audit,
            LiveConfiguration live) {
        return new RestoreRevision(
                database,
                routes,
                revisions,
                keep,
                issuers,
                apis,
                scopes,
                trusted,
                credentials,
                registration,
                audit,
                live);
    }

    @Bean
    RouteRegistration routeRegistration(
            Database database,
            KeepRevision keep,
            Issuers issuers,
            Apis apis,
            Scopes scopes,
            Clients clients,
            TrustedIssuers trusted,
            UpstreamCredentials credentials,
            Routes routes,
            GatewayAt gatewayAt,
            Audit audit,
            LiveConfiguration live,
            Clock clock) {
        return new RouteRegistration(
                database,
                keep,
                issuers,
                apis,
                scopes,
                clients,
                trusted,
                credentials,
                routes,
                gatewayAt,
                audit,
                live,
                clock);
    }

    /** How callers reach the gateway: a host, empty for the one that all share, → the URL there. */
    interface GatewayAt extends UnaryOperator<String> {}

    @Bean
    GatewayAt gatewayAt(ObjectProvider<Gateway> gateway, AuthorizationServer.Opened opened) {
        String shared = opened.publicUrl().getHost();
        // A host of a route is called as people call it: by https, whatever stands before the gateway.
        return host -> host.isEmpty() ? gateway.getObject().url(shared) : "https://" + host;
    }

    @Bean
    ImportOpenApi importOpenApi(
            ReadOpenApi reads, OutboundHttp outbound, LoadSetup load, ExportSetup export, LoadSetup.Records records) {
        return new ImportOpenApi(reads, outbound, load, export, records);
    }

    @Bean
    AnswerOpenApi answerOpenApi(
            OpenApiDocuments documents,
            ReadOpenApi reads,
            Routes routes,
            Scopes scopes,
            GatewayAt gatewayAt,
            LiveConfiguration live) {
        return new AnswerOpenApi(
                documents, reads, routes, scopes, gatewayAt, () -> live.get().serial());
    }

    @Bean
    Catalogue catalogue(
            Publications publications,
            Apis apis,
            Scopes scopes,
            OpenApiDocuments documents,
            AnswerOpenApi answers,
            Owners owners,
            LiveConfiguration live,
            Clock clock) {
        return new Catalogue(
                publications,
                apis,
                scopes,
                documents,
                answers,
                owners,
                () -> live.get().serial(),
                clock);
    }

    @Bean
    UpstreamCredentialRegistration upstreamCredentialRegistration(
            Database database,
            UpstreamCredentials credentials,
            Routes routes,
            AuthorizationServer.Opened opened,
            Audit audit,
            LiveConfiguration live,
            Clock clock) {
        return new UpstreamCredentialRegistration(
                database, credentials, routes, opened.masterKey(), audit, live, clock);
    }

    @Bean
    TrustRegistration trustRegistration(
            Database database,
            TrustedIssuers trusted,
            Clients clients,
            Routes routes,
            TrustedKeys keys,
            Audit audit,
            LiveConfiguration live,
            Clock clock) {
        return new TrustRegistration(database, trusted, clients, routes, keys, audit, live, clock);
    }

    @Bean
    Counters counters() {
        return new Counters();
    }

    @Bean
    Quotas quotas(Database database) {
        return new Quotas(new SqliteQuotas(database));
    }

    @Bean
    SignInAtGate.Issuers signInFromWithin(
            KnownClients directory, IssueToken issue, RevokeToken revoke, ObservedJournal journal, Clock clock) {
        return new SignInFromWithin(issue, revoke, directory, journal, clock);
    }

    @Bean
    SignInAtGate signInAtGate(AuthorizationServer.Opened opened, KnownClients directory, SignInAtGate.Issuers issuers) {
        return new SignInAtGate(opened.masterKey(), directory, issuers, Executors.newVirtualThreadPerTaskExecutor());
    }

    @Bean
    Gate gate(
            LiveConfiguration configuration,
            BearerDoor door,
            BrowserOrigins origins,
            SignInAtGate signIn,
            Counters counters,
            Quotas quotas,
            SubscriptionsInForce subscriptions,
            Usage usage,
            AuthorizationServer.Opened opened) {
        return new Gate(
                configuration,
                door,
                origins,
                signIn,
                counters,
                quotas,
                subscriptions,
                usage,
                opened.settings().mostBody());
    }

    @Bean
    TryRequest tryRequest(
            LiveConfiguration configuration,
            BearerDoor door,
            BrowserOrigins origins,
            SignInAtGate signIn,
            SubscriptionsInForce subscriptions,
            KnownClients directory,
            Clock clock) {
        return new TryRequest(configuration, door, origins, signIn, subscriptions, directory, clock);
    }

    @Bean(destroyMethod = "") // stopped by AuthorizationServer, before anything it leans on
    Gateway gateway(
            AuthorizationServer.Opened opened,
            LiveConfiguration configuration,
            SignInAtGate signIn,
            Gate gate,
            ObservedJournal journal,
            Clock clock) {
        Settings settings = opened.settings();
        return new Gateway(
                new GatewaySettings(
                        settings.host(),
                        settings.gatewayPort(),
                        settings.mostBody(),
                        Duration.ofSeconds(5),
                        settings.upstreamIdle(),
                        TrustedProxies.of(settings.trustedProxies()),
                        opened.tls().map(TlsFiles::factory)),
                gate,
                journal,
                new DescribeResource(configuration),
                signIn,
                configuration,
                clock);
    }

    @Bean
    BrowserOrigins browserOrigins(Database database) {
        return new BrowserOrigins(new SqliteBrowserOrigins(database));
    }
}
