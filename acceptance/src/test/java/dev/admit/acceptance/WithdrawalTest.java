package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.atomic.AtomicBoolean;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.parallel.ResourceLock;
import tools.jackson.databind.JsonNode;

/** What was taken back stops with the next request, though its token has not expired; what is given anew works. */
@ResourceLock(Running.DEMO)
class WithdrawalTest {
    private static Running demo;
    private static Operator operator;

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo();
        operator = Operator.of(demo);
    }

    private static String token(JsonNode client) throws Exception {
        return Wire.form(
                        demo.server() + "/harbour/token",
                        Wire.basic(client),
                        "grant_type=client_credentials&scope=tides.read")
                .json()
                .path("access_token")
                .asString();
    }

    private static Wire.Answer call(String token) throws Exception {
        return Wire.call("GET", demo.gateway() + "/tides/north-quay", token);
    }

    @Test
    void aWithdrawnApprovalStopsTheTokenAndANewOneStartsAfresh() throws Exception {
        JsonNode client = operator.approvedClient("withdrawn-caller", "tides.read");
        String before = token(client);
        assertThat(call(before).status()).isEqualTo(200);
        assertThat(operator.harbour(
                                "POST",
                                "/approvals/" + client.path("approval").asString() + "/withdraw",
                                "{\"reason\":\"season is over\"}")
                        .status())
                .isEqualTo(200);
        Wire.Answer refused = call(before);
        assertThat(refused.status()).isEqualTo(401);
        assertThat(refused.json().path("reason").asString()).isEqualTo("revoked");
        assertThat(Wire.form(
                                demo.server() + "/harbour/token",
                                Wire.basic(client),
                                "grant_type=client_credentials&scope=tides.read")
                        .json()
                        .path("reason")
                        .asString())
                .isEqualTo("scope-not-approved");

        operator.harbour("POST", "/approvals", "{\"client\":\"withdrawn-caller\",\"scope\":\"tides.read\"}");
        operator.harbour("POST", "/approvals/" + client.path("approval").asString() + "/grant", "{}");
        assertThat(call(token(client)).status()).as("within the same second").isEqualTo(200);
        assertThat(call(before).status()).as("giving again revives nothing").isEqualTo(401);
    }

    @Test
    void aRemovedClientStops() throws Exception {
        JsonNode client = operator.approvedClient("removed-caller", "tides.read");
        String token = token(client);
        assertThat(call(token).status()).isEqualTo(200);
        Wire.Answer asked = operator.harbour("DELETE", "/clients/removed-caller", null);
        assertThat(asked.status()).isEqualTo(409);
        assertThat(asked.json().path("confirm").asString()).isEqualTo("removed-caller");
        assertThat(call(token).status()).as("nothing happened yet").isEqualTo(200);
        assertThat(operator.harbour("DELETE", "/clients/removed-caller?confirm=removed-caller", null)
                        .status())
                .isEqualTo(204);
        assertThat(call(token).json().path("reason").asString()).isEqualTo("revoked");
        assertThat(Wire.form(demo.server() + "/harbour/token", Wire.basic(client), "grant_type=client_credentials")
                        .json()
                        .path("error")
                        .asString())
                .isEqualTo("invalid_client");
    }

    @Test
    void aClientThatIsSwitchedOffStopsAndOnAgainRevivesNothing() throws Exception {
        JsonNode client = operator.approvedClient("switched-caller", "tides.read");
        String before = token(client);
        assertThat(call(before).status()).isEqualTo(200);
        assertThat(operator.harbour("POST", "/clients/switched-caller/off", "{}")
                        .json()
                        .path("now")
                        .path("enabled")
                        .asBoolean(true))
                .isFalse();
        assertThat(call(before).json().path("reason").asString()).isEqualTo("revoked");
        Wire.Answer refused =
                Wire.form(demo.server() + "/harbour/token", Wire.basic(client), "grant_type=client_credentials");
        assertThat(refused.json().path("reason").asString()).isEqualTo("client-switched-off");
        assertThat(refused.json().path("fix").asString()).isEqualTo("admit client on switched-caller --issuer harbour");
        assertThat(operator.harbour("POST", "/clients/switched-caller/on", "{}").status())
                .isEqualTo(200);
        assertThat(call(token(client)).status()).isEqualTo(200);
        assertThat(call(before).status()).isEqualTo(401);
    }

    @Test
    void aDroppedAskStops() throws Exception {
        JsonNode client = operator.approvedClient("dropped-caller", "tides.read");
        String token = token(client);
        assertThat(operator.harbour(
                                "DELETE",
                                "/approvals/" + client.path("approval").asString(),
                                null)
                        .status())
                .isEqualTo(204);
        assertThat(call(token).json().path("reason").asString()).isEqualTo("revoked");
    }

    @Test
    void noTokenFetchedDuringAWithdrawalOutlivesIt() throws Exception {
        JsonNode client = operator.approvedClient("racing-caller", "tides.read");
        List<String> fetched = java.util.Collections.synchronizedList(new ArrayList<>());
        AtomicBoolean stop = new AtomicBoolean();
        List<Thread> threads = new ArrayList<>();
        for (int i = 0; i < 4; i++) {
            threads.add(Thread.ofVirtual().start(() -> {
                while (!stop.get()) {
                    try {
                        String token = token(client);
                        if (!token.isEmpty()) fetched.add(token);
                    } catch (Exception fault) {
                        throw new AssertionError(fault);
                    }
                }
            }));
        }
        while (fetched.size() < 20) Thread.sleep(5);
        assertThat(operator.harbour(
                                "POST", "/approvals/" + client.path("approval").asString() + "/withdraw", "{}")
                        .status())
                .isEqualTo(200);
        stop.set(true);
        for (Thread thread : threads) thread.join();
        for (String token : fetched) assertThat(call(token).status()).isEqualTo(401);
    }
}
