package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Map;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.parallel.ResourceLock;
import tools.jackson.databind.JsonNode;

/**
 * Tokens of the coastguard's own issuer at the harbour's gateway: through sockets, the command line and the setup file.
 */
@ResourceLock(Running.DEMO)
class TrustedIssuerTest {
    private static Running demo;
    private static Operator operator;
    private static JsonNode outside;

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo();
        operator = Operator.of(demo);
        outside = demo.ready().path("outside");
    }

    /** @param more parameters of the request, with an ampersand before each */
    private static String theirToken(String more) throws Exception {
        Wire.Answer answer = Wire.form(
                outside.path("issuer").asString() + "/token",
                Wire.basic(outside),
                "grant_type=client_credentials" + more);
        assertThat(answer.status()).as(answer.body()).isEqualTo(200);
        return answer.json().path("access_token").asString();
    }

    private static Wire.Answer call(String path, String token) throws Exception {
        return Wire.call("GET", demo.gateway() + path, token);
    }

    private static final String TIDES = "&audience=https%3A%2F%2Ftides.saltmarsh.example";

    @Test
    void theirTokenPassesWhereARouteNamesThemAndNowhereElse() throws Exception {
        String token = theirToken(TIDES + "&person=lookout-4");
        Wire.Answer yes = call("/tides/north-quay", token);
        assertThat(yes.status()).as(yes.body()).isEqualTo(200);
        JsonNode decision = operator.decision(yes);
        assertThat(decision.path("subject").asString()).isEqualTo("coastguard:lookout-4");
        assertThat(decision.path("client_id").asString()).isEqualTo("coastguard:patrol-boat");

        Wire.Answer no = call("/received", token);
        assertThat(no.status()).isEqualTo(401);
        assertThat(no.json().path("reason").asString()).isEqualTo("wrong-issuer");
        assertThat(call("/tides/north-quay", theirToken(""))
                        .json()
                        .path("reason")
                        .asString())
                .isEqualTo("wrong-audience");
        assertThat(call("/tides/north-quay", theirToken(TIDES + "&scope=sea.warnings"))
                        .json()
                        .path("reason")
                        .asString())
                .isEqualTo("insufficient-scope");
    }

    @Test
    void theBackendLearnsWhoseTokenItWas() throws Exception {
        assertThat(demo.admit(
                                "route",
                                "add",
                                "GET",
                                "/received-from-sea",
                                "--api",
                                "tides",
                                "--scope",
                                "tides.read",
                                "--token-issuer",
                                "coastguard",
                                "--upstream-path",
                                "/received")
                        .exitCode())
                .isZero();
        Wire.Answer answer = Wire.send(
                "GET",
                demo.gateway() + "/received-from-sea",
                Map.of("Authorization", "Bearer " + theirToken(TIDES), "Admit-Token-Issuer", "https://forged.example"),
                null);
        JsonNode headers = answer.json().path("headers");
        assertThat(headers.path("Admit-Token-Issuer")
                        .asString(headers.path("Admit-token-issuer").asString()))
                .isEqualTo(outside.path("issuer").asString());
        assertThat(answer.body())
                .contains("coastguard:patrol-boat")
                .doesNotContain("forged")
                .doesNotContain(theirToken(TIDES).substring(0, 30));
    }

    @Test
    void aNewKeyOfTheirsIsFoundWithoutAnybodyDoingAnything() throws Exception {
        String before = theirToken(TIDES);
        assertThat(call("/tides/north-quay", before).status()).isEqualTo(200);
        Wire.form(outside.path("issuer").asString() + "/new-key", null, "");
        String after = theirToken(TIDES);
        long end = System.nanoTime() + 30_000_000_000L;
        Wire.Answer answer = call("/tides/north-quay", after);
        while (answer.status() != 200
                && System.nanoTime() < end) { // a person may have looked less than ten seconds ago
            assertThat(answer.json().path("reason").asString()).isEqualTo("unknown-key");
            Thread.sleep(500);
            answer = call("/tides/north-quay", after);
        }
        assertThat(answer.status()).isEqualTo(200);
        assertThat(call("/tides/north-quay", before).json().path("reason").asString())
                .as("signed with a key that is theirs no longer")
                .isEqualTo("unknown-key");
    }

    @Test
    void theCommandLineSaysWhatIsTrustedAndLooksStepByStep() throws Exception {
        String url = outside.path("issuer").asString();
        Running.Said added = demo.admit(
                "trusted-issuer",
                "add",
                "lighthouse",
                "--url",
                url.replace("127.0.0.1", "localhost"),
                "--type",
                "watch+jwt",
                "--client-claim",
                "vessel",
                "--scope",
                "sea.heights=tides.read",
                "--client",
                "patrol-boat=tide-buoy-07");
        assertThat(added.exitCode()).as(added.err()).isZero();
        assertThat(added.out())
                .as("its metadata names another issuer")
                .contains("Its keys are not known")
                .contains("no route takes its tokens yet");
        Running.Said look = demo.admit("trusted-issuer", "check", "lighthouse");
        assertThat(look.exitCode()).isEqualTo(1);
        assertThat(look.out())
                .contains("● metadata")
                .contains("⊟ issuer in the metadata")
                .contains("it names '" + url + "'");

        Running.Said changed = demo.admit("trusted-issuer", "change", "lighthouse", "--jwks-uri", url + "/jwks");
        assertThat(changed.out()).contains("Its keys were found: 1.");
        Running.Said shown = demo.admit("trusted-issuer", "show", "lighthouse");
        assertThat(shown.out())
                .contains("sea.heights counts as tides.read")
                .contains("patrol-boat is tide-buoy-07")
                .contains("that of the API behind the route");
        assertThat(demo.admit("trusted-issuer", "list").out())
                .contains("coastguard")
                .contains("lighthouse");
        assertThat(demo.admit("setup", "export").out())
                .contains("trusted_issuers:")
                .contains("patrol-boat: tide-buoy-07");

        assertThat(demo.admit("trusted-issuer", "remove", "coastguard").err())
                .contains("GET /tides/** takes its tokens")
                .contains("they say from whom they take tokens");
        assertThat(demo.admit("trusted-issuer", "remove", "lighthouse").exitCode())
                .isZero();
        assertThat(demo.admit("trusted-issuer", "show", "lighthouse").exitCode())
                .isEqualTo(1);
    }

    @Test
    void aRouteCannotNameAnIssuerThatIsNotTrusted() throws Exception {
        Running.Said no = demo.admit(
                "route",
                "add",
                "GET",
                "/from-nowhere",
                "--api",
                "tides",
                "--scope",
                "tides.read",
                "--token-issuer",
                "nowhere");
        assertThat(no.exitCode()).isEqualTo(1);
        assertThat(no.err()).contains("who/issuers/0").contains("admit trusted-issuer list");
        assertThat(demo.admit("route", "show", "GET", "/tides/**").out())
                .contains("Tokens of harbour and coastguard are taken.");
    }
}
