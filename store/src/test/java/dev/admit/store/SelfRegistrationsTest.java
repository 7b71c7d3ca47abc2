package dev.admit.store;

import static dev.admit.store.Harbour.CORIN;
import static dev.admit.store.Harbour.made;
import static org.assertj.core.api.Assertions.assertThat;

import dev.admit.contract.ClientWanted;
import dev.admit.core.change.Change;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.NewSecret;
import dev.admit.core.selfregistration.InitialAccessToken;
import dev.admit.core.selfregistration.Limits;
import dev.admit.core.selfregistration.RemoveUnused;
import dev.admit.core.selfregistration.SelfRegistration;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;

/** What is kept of clients that registered themselves, and for how long. */
class SelfRegistrationsTest {
    private static final Instant NOW = Instant.parse("2026-11-30T08:00:00Z");

    @TempDir
    Path folder;

    private Harbour harbour;
    private SqliteSelfRegistrations registrations;
    private RemoveUnused unused;

    @BeforeEach
    void open() {
        harbour = new Harbour(folder);
        registrations = new SqliteSelfRegistrations(harbour.database);
        unused = new RemoveUnused(
                registrations,
                harbour.clients,
                new SqliteIssuers(harbour.database),
                new SqliteClients(harbour.database));
    }

    @AfterEach
    void close() {
        harbour.close();
    }

    private Client registered(String name, Instant at) {
        Client client = made(harbour.clients.registerItself(
                        harbour.issuer, ClientWanted.machine(name, name, List.of()), CORIN))
                .client();
        registrations.insert(new SelfRegistration(
                client.id(),
                harbour.issuer.id(),
                "",
                Limits.USUAL,
                Map.of(),
                NewSecret.make().hash(),
                at,
                "192.0.2.7"));
        return client;
    }

    private Optional<Client> found(Client client) {
        return new SqliteClients(harbour.database).named(harbour.issuer.id(), client.id());
    }

    @Test
    void whatWasNeverUsedGoesAfterThirtyDays() {
        Client old = registered("old-one", NOW.minus(Duration.ofDays(31)));
        Client fresh = registered("fresh-one", NOW.minus(Duration.ofDays(29)));
        Client used = registered("used-one", NOW.minus(Duration.ofDays(31)));
        SqliteClients clients = new SqliteClients(harbour.database);
        clients.used(Map.of(clients.secretsOf(used.id()).getFirst().id(), NOW));
        Client byHand = made(harbour.clients.register(
                        harbour.issuer, ClientWanted.machine("by-hand", null, List.of()), CORIN))
                .client();
        assertThat(registrations.unused(harbour.issuer.id())).isEqualTo(2);
        assertThat(unused.before(NOW)).isEqualTo(1);
        assertThat(found(old)).isEmpty();
        assertThat(registrations.of(old.id())).isEmpty();
        assertThat(List.of(found(fresh), found(used), found(byHand))).allMatch(Optional::isPresent);
        assertThat(unused.before(NOW)).isZero();
    }

    @Test
    void aTokenIsUsedAsOftenAsItMayBeAndNoLongerThanItLives() {
        InitialAccessToken token = new InitialAccessToken(
                "iat_1",
                harbour.issuer.id(),
                "tables",
                NewSecret.make().hash(),
                2,
                Limits.USUAL,
                NOW.plusSeconds(60),
                "Corin",
                NOW);
        registrations.insert(token);
        assertThat(registrations.use("iat_1", NOW)).isTrue();
        assertThat(registrations.use("iat_1", NOW.plusSeconds(61))).isFalse();
        assertThat(registrations.use("iat_1", NOW)).isTrue();
        assertThat(registrations.use("iat_1", NOW)).isFalse();
        assertThat(registrations
                        .token(harbour.issuer.id(), token.hash())
                        .orElseThrow()
                        .uses())
                .isZero();
        assertThat(registrations.token("iss_other", token.hash())).isEmpty();
    }

    /** Whether a name looks like that of a client that a person registered, and not of one that registered itself. */
    @Test
    void onlyNamesThatPeopleGaveAreTaken() {
        SqliteClients clients = new SqliteClients(harbour.database);
        registered("chart-table", NOW);
        made(harbour.clients.register(harbour.issuer, ClientWanted.machine("desk", "Berth desk", List.of()), CORIN));
        assertThat(clients.looksTaken(harbour.issuer.id(), "Chart table")).isFalse();
        assertThat(clients.looksTaken(harbour.issuer.id(), "BERTH  dеsk")).isTrue();
        assertThat(clients.looksTaken("iss_other", "Berth desk")).isFalse();
    }

    /** The order of minting is held once: a change within a change that revokes would wait for itself for ever. */
    @Test
    @Timeout(20)
    void whatRevokesWithinWhatRevokesIsPartOfIt() {
        Client client = registered("nested-one", NOW);
        Change<Client> change = harbour.withdrawal.revoking(outer -> {
            outer.client(client.id());
            return harbour.withdrawal.revoking(inner -> {
                inner.client(client.id());
                return Change.made(client);
            });
        });
        assertThat(change).isInstanceOf(Change.Made.class);
    }
}
