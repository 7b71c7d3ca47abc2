package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.parallel.ResourceLock;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import tools.jackson.databind.JsonNode;

/**
 * How tokens are made per API, what can be asked about them, and how they end before their time; JWT and opaque alike.
 */
@ResourceLock(Running.DEMO)
class IssuedTokenTest {
    private static Running demo;
    private static Operator operator;

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo();
        operator = Operator.of(demo);
    }

    /** An API of its own in the harbour, with a scope, a route and an approved client. */
    private record Place(String name, JsonNode client) {
        static Place made(String name, String minting) throws Exception {
            operator.harbour("POST", "/apis", "{\"name\":\"%s\",\"audience\":\"urn:%s\"}".formatted(name, name));
            operator.harbour(
                    "POST",
                    "/apis/%s/scopes".formatted(name),
                    "{\"name\":\"%s.read\",\"effect\":\"reads\",\"reach\":\"everyone\",\"for\":\"clients\"}"
                            .formatted(name));
            operator.harbour(
                    "POST",
                    "/routes",
                    ("{\"methods\":[\"GET\"],"
                                    + "\"path\":\"/%s\",\"api\":\"%s\",\"scopes\":[\"%s.read\"],\"fixed_response\":"
                                    + "{\"body\""
                                    + ":\"in\"}}")
                            .formatted(name, name, name));
            Wire.Answer changed = operator.harbour("PATCH", "/apis/%s/minting".formatted(name), minting);
            assertThat(changed.status()).as(changed.body()).isEqualTo(200);
            return new Place(name, operator.approvedClient(name + "-caller", name + ".read"));
        }

        JsonNode fetch() throws Exception {
            Wire.Answer answer = Wire.form(
                    demo.server() + "/harbour/token",
                    Wire.basic(client),
                    "grant_type=client_credentials&scope=" + name + ".read");
            assertThat(answer.status()).as(answer.body()).isEqualTo(200);
            return answer.json();
        }

        String token() throws Exception {
            return fetch().path("access_token").asString();
        }

        Wire.Answer call(String token) throws Exception {
            return Wire.call("GET", demo.gateway() + "/" + name, token);
        }

        JsonNode apiCredential() throws Exception {
            JsonNode made =
                    operator.harbour("POST", "/apis/" + name + "/secrets", "{}").json();
            return Running.JSON.readTree("{\"client_id\":\"%s\",\"client_secret\":\"%s\"}"
                    .formatted(
                            made.path("now").path("id").asString(),
                            made.path("secret").path("secret").asString()));
        }
    }

    private static Wire.Answer introspect(JsonNode as, String token) throws Exception {
        return Wire.form(demo.server() + "/harbour/introspect", Wire.basic(as), "token=" + token);
    }

    private static Wire.Answer revoke(JsonNode as, String token) throws Exception {
        return Wire.form(demo.server() + "/harbour/revoke", Wire.basic(as), "token=" + token);
    }

    @ParameterizedTest
    @ValueSource(strings = {"jwt", "opaque"})
    void bothFormatsPassIntrospectAndRevokeAlike(String format) throws Exception {
        Place place = Place.made(
                "both-" + format,
                ("{\"format\":\"%s\",\"lifetime\":\"7m\",\"claims\":[{\"name\":\"berth\",\"expression\":\"client.name"
                                + " + '/' + string(scopes.size())\"}]}")
                        .formatted(format));
        JsonNode fetched = place.fetch();
        assertThat(fetched.path("expires_in").asInt()).isEqualTo(420);
        String token = fetched.path("access_token").asString();
        assertThat(token.contains(".")).isEqualTo(format.equals("jwt"));
        assertThat(place.call(token).status()).isEqualTo(200);
        assertThat(place.call(token).status()).as("remembered").isEqualTo(200);
        JsonNode api = place.apiCredential();
        JsonNode told = introspect(api, token).json();
        assertThat(told.path("active").asBoolean(false)).isTrue();
        assertThat(told.path("aud").asString()).isEqualTo("urn:both-" + format);
        assertThat(told.path("scope").asString()).isEqualTo("both-" + format + ".read");
        assertThat(told.path("client_id").asString())
                .isEqualTo(place.client().path("client_id").asString());
        assertThat(told.path("berth").asString()).isEqualTo("both-" + format + "-caller/1");
        assertThat(told.path("exp").asLong() - told.path("iat").asLong()).isEqualTo(420);
        assertThat(introspect(place.client(), token).json().path("active").asBoolean(false))
                .as("its own client may ask")
                .isTrue();

        JsonNode other = operator.approvedClient("bystander-" + format, "tides.read");
        assertThat(introspect(other, token).body())
                .as("another client learns nothing")
                .isEqualTo("{\"active\":false}");
        assertThat(revoke(other, token).json().path("reason").asString()).isEqualTo("token-of-another-client");
        assertThat(place.call(token).status()).isEqualTo(200);

        assertThat(revoke(place.client(), token).status()).isEqualTo(200);
        Wire.Answer refused = place.call(token);
        assertThat(refused.status()).isEqualTo(401);
        assertThat(refused.json().path("reason").asString()).isEqualTo("revoked");
        assertThat(introspect(api, token).body()).isEqualTo("{\"active\":false}");
        assertThat(revoke(place.client(), token).status())
                .as("twice is as good as once")
                .isEqualTo(200);
        assertThat(revoke(place.client(), "nonsense").status()).isEqualTo(200);
        assertThat(place.call(place.token()).status()).as("others live on").isEqualTo(200);
    }

    @Test
    void anApiSeesTokensForItselfOnlyAndNeedsItsCredential() throws Exception {
        Place one = Place.made("seeing", "{}");
        Place two = Place.made("unseen", "{}");
        JsonNode api = one.apiCredential();
        assertThat(introspect(api, two.token()).body()).isEqualTo("{\"active\":false}");
        Wire.Answer wrong = introspect(
                Running.JSON.readTree("{\"client_id\":\"%s\",\"client_secret\":\"wrong\"}"
                        .formatted(api.path("client_id").asString())),
                one.token());
        assertThat(wrong.status()).isEqualTo(401);
        assertThat(wrong.header("WWW-Authenticate")).startsWith("Basic");
        assertThat(wrong.header("Cache-Control")).isEqualTo("no-store");
        assertThat(Wire.form(demo.server() + "/harbour/introspect", null, "token=x")
                        .status())
                .isEqualTo(401);
        assertThat(Wire.form(demo.server() + "/harbour/introspect", Wire.basic(api), "")
                        .json()
                        .path("error")
                        .asString())
                .isEqualTo("invalid_request");
        assertThat(Wire.form(demo.server() + "/gullwing/introspect", Wire.basic(api), "token=" + one.token())
                        .status())
                .as("another issuer")
                .isEqualTo(401);
        String secret = operator.harbour("GET", "/apis/seeing", null)
                .json()
                .path("secrets")
                .get(0)
                .path("id")
                .asString();
        assertThat(demo.admit("api", "secret", "remove", "seeing", secret).exitCode())
                .isZero();
        assertThat(introspect(api, one.token()).status()).isEqualTo(401);
    }

    @ParameterizedTest
    @ValueSource(strings = {"jwt", "opaque"})
    void anOperatorEndsTokensByTokenClientApiAndApproval(String format) throws Exception {
        Place place = Place.made("ended-" + format, "{\"format\":\"" + format + "\"}");
        String approval = place.client().path("approval").asString();
        for (String which : new String[] {
            "\"client\":\"ended-%s-caller\"".formatted(format),
            "\"api\":\"ended-%s\"".formatted(format),
            "\"approval\":\"%s\"".formatted(approval)
        }) {
            String token = place.token();
            assertThat(place.call(token).status()).isEqualTo(200);
            assertThat(operator.harbour("POST", "/tokens/revoke", "{" + which + "}")
                            .status())
                    .as(which)
                    .isEqualTo(200);
            assertThat(place.call(token).json().path("reason").asString())
                    .as(which)
                    .isEqualTo("revoked");
        }
        String one = place.token();
        String other = place.token();
        String id = operator.harbour("GET", "/tokens?client=ended-" + format + "-caller", null)
                .json()
                .path("items")
                .get(1)
                .path("token_id")
                .asString();
        assertThat(demo.admit("token", "revoke", "--token", id).exitCode()).isZero();
        assertThat(place.call(one).status()).isEqualTo(401);
        assertThat(place.call(other).status()).isEqualTo(200);
        JsonNode active = operator.harbour("GET", "/tokens/active", null).json();
        for (JsonNode count : active.path("counts"))
            if (count.path("api").asString().equals("ended-" + format))
                assertThat(count.path("tokens").asInt()).isEqualTo(1);
        assertThat(operator.harbour("GET", "/tokens?active=true&api=ended-" + format, null)
                        .json()
                        .path("items")
                        .get(1)
                        .path("ended")
                        .asString())
                .isEqualTo("revoked");
        assertThat(operator.harbour("POST", "/tokens/revoke", "{}").status()).isEqualTo(422);
        assertThat(operator.harbour("POST", "/tokens/revoke", "{\"token\":\"" + one + "\"}")
                        .json()
                        .path("faults")
                        .get(0)
                        .path("pointer")
                        .asString())
                .isEqualTo("/token");
        assertThat(demo.admit("token", "list", "--api", "ended-" + format).out())
                .contains("⊟ revoked");
        assertThat(demo.admit("token", "active").out()).contains("may still be active");
    }

    @Test
    void aRevokedTokenStaysRevokedAfterARestart(@org.junit.jupiter.api.io.TempDir java.nio.file.Path folder)
            throws Exception {
        java.nio.file.Path data = folder.resolve("data");
        String opaque;
        String jwt;
        int port;
        int gatewayPort;
        try (Running first = Running.demo(folder, "--data", data.toString())) {
            port = first.port;
            gatewayPort = first.gatewayPort;
            Operator its = Operator.of(first);
            its.send("PATCH", "/issuers/harbour/apis/tides/minting", "*", "{\"format\":\"opaque\"}");
            opaque = Wire.token(first, "tide-buoy-07", "&scope=tides.read");
            jwt = Wire.token(first, "old-crane", "&scope=berths.read");
            assertThat(Wire.call("GET", first.gateway() + "/tides/north-quay", opaque)
                            .status())
                    .isEqualTo(200);
            Wire.form(
                    first.server() + "/harbour/revoke",
                    Wire.basic(first.ready().path("clients").path("old-crane")),
                    "token=" + jwt);
        }
        try (Running second = Running.demo(folder, port, gatewayPort, "--data", data.toString())) {
            assertThat(Wire.call("GET", second.gateway() + "/tides/north-quay", opaque)
                            .status())
                    .as("an opaque token outlives a restart")
                    .isEqualTo(200);
            assertThat(Wire.call("GET", second.gateway() + "/berths/north", jwt)
                            .json()
                            .path("reason")
                            .asString())
                    .isEqualTo("revoked");
        }
    }

    @Test
    void anUnknownOpaqueTokenIsRefused() throws Exception {
        assertThat(Wire.call("GET", demo.gateway() + "/tides/north-quay", "admat_" + "A".repeat(43))
                        .json()
                        .path("reason")
                        .asString())
                .isEqualTo("unknown-token");
        assertThat(Wire.call("GET", demo.gateway() + "/tides/north-quay", "admat_short")
                        .json()
                        .path("reason")
                        .asString())
                .isEqualTo("malformed-token");
    }

    @Test
    void aScopeThatClosesEndsTheTokensThatLeanOnItAndNewOnes() throws Exception {
        Place place = Place.made("closing", "{}");
        String token = place.token();
        assertThat(place.call(token).status()).isEqualTo(200);
        String soon = Instant.now().plusMillis(1500).toString();
        assertThat(operator.harbour(
                                "PATCH",
                                "/apis/closing/scopes/closing.read",
                                "{\"status\":\"closing\",\"closes_on\":\"" + soon + "\"}")
                        .status())
                .isEqualTo(200);
        assertThat(place.call(token).status()).as("not yet").isEqualTo(200);
        Thread.sleep(1600);
        assertThat(place.call(token).json().path("reason").asString()).isEqualTo("scope-closed");
        assertThat(Wire.form(
                                demo.server() + "/harbour/token",
                                Wire.basic(place.client()),
                                "grant_type=client_credentials&scope=closing.read")
                        .json()
                        .path("reason")
                        .asString())
                .isEqualTo("scope-not-in-use");
    }

    @Test
    void exceptionsTightenAndThePreviewSaysWhy() throws Exception {
        Place place = Place.made(
                "tight", "{\"lifetime\":\"10m\",\"claims\":[{\"name\":\"who\",\"expression\":\"client.name\"}]}");
        operator.harbour("PATCH", "/clients/tight-caller", "{\"tags\":[\"night-shift\"]}");
        Running.Said said = demo.admit(
                "api",
                "minting",
                "tight",
                "--exception",
                "name=night,tags=night-shift,lifetime=2m,without=who",
                "--exception",
                "name=long,clients=tight-caller,lifetime=9h");
        assertThat(said.out())
                .contains("The exception long changes no lifetime")
                .contains("night: for tags night-shift: at most 2m, without who");
        assertThat(place.fetch().path("expires_in").asInt()).isEqualTo(120);
        Running.Said preview = demo.admit("client", "minting", "tight-caller");
        assertThat(preview.out())
                .contains("Lifetime 2m, from the exception night.")
                .contains("Without the claim who, by the exception night.")
                .contains("aud = urn:tight")
                .doesNotContain("who =");
    }

    @ParameterizedTest(name = "{0} at {1}")
    @CsvSource(
            delimiter = '|',
            value = {
                "\"lifetime\":\"25h\" | /lifetime",
                "\"format\":\"xml\" | /format",
                "\"claims\":[{\"name\":\"sub\",\"expression\":\"'x'\"}] | /claims/0/name",
                "\"claims\":[{\"name\":\"a b\",\"expression\":\"'x'\"}] | /claims/0/name",
                "\"claims\":[{\"name\":\"a\",\"expression\":\"client.\"}] | /claims/0/expression",
                "\"claims\":[{\"name\":\"a\",\"expression\":\"nobody.name\"}] | /claims/0/expression",
                "\"claims\":[{\"name\":\"a\",\"expression\":\"1 + 'x'\"}] | /claims/0/expression",
                "\"claims\":[{\"name\":\"a\",\"expression\":\"'x'\"},{\"name\":\"a\",\"expression\":\"'y'\"}] | "
                        + "/claims/1/name",
                "\"exceptions\":[{\"name\":\"e\",\"lifetime\":\"2m\"}] | /exceptions/0",
                "\"exceptions\":[{\"name\":\"e\",\"tags\":[\"x\"],\"without\":[\"nope\"]}] | /exceptions/0/without/0",
                "\"exceptions\":[null] | /exceptions/0",
                "\"claims\":[null] | /claims/0/name"
            })
    void aSenselessMintingIsRefusedAtItsField(String members, String pointer) throws Exception {
        Wire.Answer answer = operator.harbour("PATCH", "/apis/berths/minting", "{" + members + "}");
        assertThat(answer.status()).as(answer.body()).isEqualTo(422);
        assertThat(answer.json().path("faults").get(0).path("pointer").asString())
                .isEqualTo(pointer);
    }

    @Test
    void theMintingOfTheAdminApiStaysAsItIs() throws Exception {
        Wire.Answer answer = operator.send(
                "PATCH",
                "/issuers/admit/apis/admin/minting",
                "*",
                "{\"claims\":[{\"name\":\"tag\",\"expression\":\"client.tags[0]\"}]}");
        assertThat(answer.json().path("reason").asString()).isEqualTo("lockout");
    }

    @Test
    void anOperatorDoesNotChangeHowItGetsItsOwnTokens() throws Exception {
        Wire.Answer answer = operator.send(
                "PATCH",
                "/issuers/admit/clients/operator",
                "*",
                "{\"token_endpoint_auth_method\":\"client_secret_post\"}");
        assertThat(answer.json().path("reason").asString()).isEqualTo("lockout");
        assertThat(operator.send("PATCH", "/issuers/admit/clients/operator", "*", "{\"contacts\":[\"Corin Ashby\"]}")
                        .status())
                .isEqualTo(200);
    }

    @Test
    void metadataNamesTheseEndpoints() throws Exception {
        JsonNode metadata = Wire.get(demo.server() + "/harbour/.well-known/oauth-authorization-server")
                .json();
        assertThat(metadata.path("introspection_endpoint").asString()).isEqualTo(demo.server() + "/harbour/introspect");
        assertThat(metadata.path("revocation_endpoint").asString()).isEqualTo(demo.server() + "/harbour/revoke");
        assertThat(metadata.path("token_endpoint_auth_methods_supported").toString())
                .contains("private_key_jwt", "none");
    }

    @Test
    void aGuesserIsAnsweredSlowerAndOthersAreNot() throws Exception {
        JsonNode client = operator.approvedClient("guessed-at", "tides.read");
        JsonNode guess = Running.JSON.readTree("{\"client_id\":\"%s\",\"client_secret\":\"wrong\"}"
                .formatted(client.path("client_id").asString()));
        for (int i = 0; i < 8; i++)
            Wire.form(demo.server() + "/harbour/token", Wire.basic(guess), "grant_type=client_credentials");
        long before = System.nanoTime();
        assertThat(Wire.form(demo.server() + "/harbour/token", Wire.basic(guess), "grant_type=client_credentials")
                        .status())
                .isEqualTo(401);
        long guessed = System.nanoTime() - before;
        before = System.nanoTime();
        assertThat(Wire.form(demo.server() + "/harbour/token", Wire.basic(client), "grant_type=client_credentials")
                        .status())
                .isEqualTo(200);
        assertThat(System.nanoTime() - before)
                .as("the right secret is not held up")
                .isLessThan(guessed);
        assertThat(guessed).isGreaterThan(500_000_000L);
    }
}
