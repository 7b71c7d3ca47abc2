package dev.admit.core.approval;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.ArgumentMatchers.anyString;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import dev.admit.core.access.AdminApi;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Apis;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.ClientAuthMethod;
import dev.admit.core.registry.ClientKind;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Issuers;
import dev.admit.core.registry.Minting;
import dev.admit.core.registry.Scope;
import dev.admit.core.registry.Scopes;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** Who may touch a client that runs Admit, or could from now on. */
class AdminClientsTest {
    private static final Instant NOW = Instant.parse("2026-03-01T08:00:00Z");
    private static final String ADMIN_SCOPE = "admit.administer";

    private final Issuers issuers = mock();
    private final Apis apis = mock();
    private final Scopes scopes = mock();
    private final Approvals approvals = mock();
    private final AdminClients adminClients =
            new AdminClients(issuers, apis, scopes, approvals, id -> id.equals("admit-console"));

    @BeforeEach
    void keep() {
        Issuer service = mock();
        when(service.id()).thenReturn("iss_admit");
        Api admin =
                new Api("api_admin", "iss_admit", "admin", "Admin", "urn:a", Optional.empty(), Minting.USUAL, 1, NOW);
        when(issuers.named(AdminApi.ISSUER)).thenReturn(Optional.of(service));
        when(apis.named(anyString(), anyString())).thenReturn(Optional.empty());
        when(apis.named("iss_admit", AdminApi.NAME)).thenReturn(Optional.of(admin));
        when(scopes.named(anyString(), anyString())).thenReturn(Optional.empty());
        when(scopes.named("iss_admit", ADMIN_SCOPE)).thenReturn(Optional.of(scope(ADMIN_SCOPE, "api_admin")));
        when(scopes.named("iss_admit", "tides.read")).thenReturn(Optional.of(scope("tides.read", "api_tides")));
        when(scopes.named("iss_harbour", ADMIN_SCOPE)).thenReturn(Optional.of(scope(ADMIN_SCOPE, "api_admin")));
    }

    private static Scope scope(String name, String api) {
        return new Scope(
                "sc_" + name,
                "iss_admit",
                api,
                name,
                Scope.Effect.CHANGES,
                Scope.Reach.EVERYONE,
                Scope.For.CLIENTS,
                "",
                Scope.Approver.ADMINISTRATOR,
                false,
                Scope.Status.IN_USE,
                Optional.empty(),
                true,
                Optional.empty(),
                1);
    }

    private static Client client(String id, String issuer, String... openidScopes) {
        return new Client(
                id,
                issuer,
                id,
                ClientKind.NATIVE,
                Client.Texts.named(id),
                Client.Proof.by(ClientAuthMethod.NONE),
                Client.Addresses.NONE,
                Optional.empty(),
                List.of(openidScopes),
                Client.People.USUAL,
                true,
                1,
                NOW);
    }

    private void requests(String clientId, String scopeName) {
        Approval approval = mock();
        when(approval.scopeName()).thenReturn(scopeName);
        when(approvals.ofClient(clientId)).thenReturn(List.of(approval));
    }

    private static Actor as(Actor.Power power) {
        return new Actor("someone", "Someone", "127.0.0.1", power);
    }

    private String verdict(Client client, List<String> requested, Actor.Power power) {
        Optional<Change<Client>> refusal = adminClients.refusal(client, requested, "change this client", as(power));
        return refusal.map(it -> it.getClass().getSimpleName()).orElse("may");
    }

    @ParameterizedTest
    @EnumSource(names = {"THEMSELVES", "OWNER", "AUDITOR", "OPERATOR"})
    void whoIsNoAdministratorTouchesNoClientThatRunsAdmit(Actor.Power power) {
        requests("cl_runs", ADMIN_SCOPE);
        assertThat(verdict(client("cl_runs", "iss_admit"), List.of(), power)).isEqualTo("Forbidden");
        assertThat(verdict(client("cl_person", "iss_harbour", AdminApi.RUN), List.of(), power))
                .as("it asks people to run Admit for them")
                .isEqualTo("Forbidden");
    }

    @ParameterizedTest
    @EnumSource(names = {"THEMSELVES", "OWNER", "AUDITOR", "OPERATOR"})
    void whoIsNoAdministratorRequestsNothingThatRunsAdmit(Actor.Power power) {
        assertThat(verdict(client("cl_1", "iss_admit"), List.of("tides.read", ADMIN_SCOPE), power))
                .isEqualTo("Forbidden");
        assertThat(verdict(client("cl_1", "iss_harbour"), List.of(AdminApi.RUN), power))
                .isEqualTo("Forbidden");
    }

    @Test
    void anOtherClientAndAScopeOfTheSameNameElsewhereAreNobodysSecret() {
        requests("cl_1", "tides.read");
        assertThat(verdict(client("cl_1", "iss_admit"), List.of("tides.read"), Actor.Power.OPERATOR))
                .isEqualTo("may");
        assertThat(verdict(client("cl_1", "iss_harbour"), List.of(ADMIN_SCOPE), Actor.Power.OPERATOR))
                .as("another issuer's scope, by chance of that name")
                .isEqualTo("may");
    }

    @Test
    void anAdministratorMayAndAdmitsOwnClientIsAdmitsAlone() {
        requests("cl_runs", ADMIN_SCOPE);
        assertThat(verdict(client("cl_runs", "iss_admit"), List.of(ADMIN_SCOPE), Actor.Power.ADMINISTRATOR))
                .isEqualTo("may");
        Client console = client("admit-console", "iss_harbour");
        assertThat(verdict(console, List.of(), Actor.Power.ADMINISTRATOR)).isEqualTo("Refused");
        assertThat(verdict(console, List.of(), Actor.Power.ADMIT)).isEqualTo("may");
        assertThat(adminClients.isOwn(console)).isTrue();
        assertThat(adminClients.isOwn(client("cl_runs", "iss_admit"))).isFalse();
    }

    @Test
    void beforeTheServiceHasItsIssuerNothingRunsIt() {
        when(issuers.named(AdminApi.ISSUER)).thenReturn(Optional.empty());
        assertThat(adminClients.runsAdmit("iss_admit", ADMIN_SCOPE)).isFalse();
    }
}
