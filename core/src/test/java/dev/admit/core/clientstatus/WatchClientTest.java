package dev.admit.core.clientstatus;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.argThat;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import dev.admit.core.change.Page;
import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.clientauth.KnownClients;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Decision;
import dev.admit.core.decision.Decisions;
import dev.admit.core.decision.Endpoint;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Recorder;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.ClientAuthMethod;
import dev.admit.core.registry.ClientKind;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.IssuerSettings;
import dev.admit.core.tries.Strangers;
import java.net.URI;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** A client that is watched: from nothing at all to its first call, and what is to be changed on the way. */
class WatchClientTest {
    private static final Instant NOW = Instant.parse("2026-11-23T09:00:00Z");
    private final Issuer issuer = new Issuer(
            "iss_h",
            "harbour",
            "Harbour",
            "",
            URI.create("https://h.example/harbour"),
            IssuerSettings.USUAL,
            0,
            1,
            NOW);
    private final Client client = new Client(
            "cl_night",
            "iss_h",
            "night-audit",
            ClientKind.MACHINE,
            Client.Texts.named("Night audit"),
            Client.Proof.by(ClientAuthMethod.CLIENT_SECRET_BASIC),
            Client.Addresses.NONE,
            Optional.empty(),
            List.of(),
            Client.People.USUAL,
            true,
            1,
            NOW);
    private final List<Decision> all = new ArrayList<>();
    private final Decisions decisions = mock(Decisions.class);
    private final WatchClient watch = new WatchClient(
            decisions,
            new KnownClients(
                    id -> id.equals("cl_night")
                            ? Optional.of(new KnownClient(client, List.of(), List.of()))
                            : Optional.empty(),
                    new Strangers(),
                    10));
    private int made;

    @BeforeEach
    void newestFirst() {
        when(decisions.list(argThat(it -> it != null && it.client().isPresent()), any()))
                .thenAnswer(asked -> new Page<>(
                        all.reversed().stream()
                                .filter(it -> it.about().clientId().equals("cl_night"))
                                .toList(),
                        Optional.empty()));
        when(decisions.list(argThat(it -> it != null && it.client().isEmpty()), any()))
                .thenAnswer(asked -> new Page<>(all.reversed(), Optional.empty()));
    }

    private void received(Endpoint endpoint, String clientId, Reason reason, String fix) {
        Recorder builder = new Recorder(endpoint, NOW.plusSeconds(++made))
                .request("GET", "/manifests/v-204", "127.0.0.1")
                .client(clientId, "")
                .scopes("manifests.inspect");
        if (reason != null) builder.add(CheckResult.refused("check", reason, "one thing", "another", Fix.of(fix)));
        all.add(builder.answered(reason == null ? 200 : reason.status()));
    }

    private WatchClient.Progress progress() {
        return watch.since(issuer, client, NOW, true);
    }

    @Test
    void nothingYet() {
        assertThat(progress().steps())
                .extracting(WatchClient.Step::said)
                .containsExactly(
                        "night-audit has not requested a token yet.",
                        "No call with a token of it has come to the gateway yet.");
        assertThat(progress().next()).isEmpty();
        assertThat(progress().admitted()).isFalse();
    }

    @Test
    void fromTheFirstAttemptToTheFirstCall() {
        received(Endpoint.TOKEN, "", Reason.CLIENT_NOT_AUTHENTICATED, "Look at the id and the secret.");
        assertThat(progress().steps())
                .extracting(WatchClient.Step::said)
                .last()
                .isEqualTo("1 request of an unknown caller came meanwhile, maybe of it: 1 client-not-authenticated.");
        assertThat(progress().next().orElseThrow().sentence()).isEqualTo("Look at the id and the secret.");

        received(Endpoint.TOKEN, "cl_night", Reason.SCOPE_NOT_APPROVED, "An administrator must approve it.");
        assertThat(progress().steps().getFirst())
                .isEqualTo(new WatchClient.Step(
                        false, "It requested a token and was refused: expected one thing; received another."));
        assertThat(progress().next().orElseThrow().sentence())
                .as("of the newest")
                .isEqualTo("An administrator must approve it.");

        received(Endpoint.GATEWAY, "", Reason.NO_ROUTE, "Nothing answers there.");
        assertThat(progress().next().orElseThrow().sentence())
                .as("its own, not what may be anybody's")
                .isEqualTo("An administrator must approve it.");

        received(Endpoint.TOKEN, "cl_night", null, "");
        assertThat(progress().next().orElseThrow().sentence())
                .as("it has a token, and calls come to nothing")
                .isEqualTo("Nothing answers there.");
        assertThat(progress().steps().getFirst())
                .isEqualTo(new WatchClient.Step(true, "It got a token for manifests.inspect."));
        received(Endpoint.GATEWAY, "cl_night", Reason.WRONG_AUDIENCE, "Request a token for the API.");
        assertThat(progress().steps().get(1).said()).startsWith("Its call GET /manifests/v-204 was refused");

        received(Endpoint.GATEWAY, "cl_night", null, "");
        assertThat(progress().admitted()).isTrue();
        assertThat(progress().steps())
                .as("of strangers nothing is said any more")
                .extracting(WatchClient.Step::done)
                .containsExactly(true, true);
        assertThat(progress().next()).isEmpty();
        assertThat(progress().received()).hasSize(6);
    }

    @Test
    void whoWatchesOnlyTheirOwnClientSeesNobodyElse() {
        received(Endpoint.GATEWAY, "", Reason.NO_TOKEN, "Fetch a token.");
        received(Endpoint.GATEWAY, "cl_of_another", Reason.REVOKED, "Fetch a new one.");
        received(Endpoint.GATEWAY, "", Reason.SIGN_IN_NEEDED, "Sign in.");
        received(Endpoint.ADMIN, "", Reason.NO_TOKEN, "Fetch a token.");
        assertThat(progress().received())
                .as("a person at a browser and the admin API are no attempts of a client, nor is what another one did")
                .hasSize(1);
        WatchClient.Progress owners = watch.since(issuer, client, NOW, false);
        assertThat(owners.received()).isEmpty();
        assertThat(owners.steps()).hasSize(2);
    }
}
