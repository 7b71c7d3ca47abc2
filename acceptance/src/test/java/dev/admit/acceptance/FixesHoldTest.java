package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DynamicTest;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestFactory;
import org.junit.jupiter.api.parallel.ResourceLock;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import tools.jackson.databind.JsonNode;

/**
 * Each line that a refusal proposes is run in a shell as it is printed: the same request passes then, and nothing else
 * of the issuer is another than before.
 */
@ResourceLock(Running.DEMO)
class FixesHoldTest {
    private static final String ISSUER = "repairs";
    private static Running demo;
    private static Operator operator;

    /**
     * One refusal.
     *
     * @param request what is sent, before and after.
     * @param passes whether an answer is the one that was wanted.
     * @param mayGo what of the setup file the line may replace
     */
    private record Case(String name, Callable<Wire.Answer> request, String mayGo) {}

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo();
        operator = Operator.of(demo);
        made(operator.post("/issuers", "{\"name\":\"%s\"}".formatted(ISSUER)));
        made(post("/apis", "{\"name\":\"hulls\",\"audience\":\"https://hulls.saltmarsh.example\"}"));
        for (String scope : List.of("hulls.read", "hulls.paint", "hulls.late")) {
            made(post(
                    "/apis/hulls/scopes",
                    ("{\"name\":\"%s\",\"effect\":\"reads\",\"reach\":\"everyone\",\"for\":\"both\",\"approver\""
                                    + ":\"administrator\",\"status\":\"%s\"}")
                            .formatted(scope, scope.endsWith("late") ? "draft" : "in-use")));
        }
    }

    private static Wire.Answer post(String path, String json) throws Exception {
        return operator.post("/issuers/" + ISSUER + path, json);
    }

    private static JsonNode made(Wire.Answer answer) {
        assertThat(answer.status()).as(answer.body()).isBetween(200, 299);
        return answer.json();
    }

    /** A client with its credential. */
    private static JsonNode client(String name, String more) throws Exception {
        JsonNode it = made(post("/clients", "{\"name\":\"%s\"%s}".formatted(name, more)));
        return Running.JSON.readTree("{\"client_id\":\"%s\",\"client_secret\":\"%s\"}"
                .formatted(
                        it.path("now").path("client_id").asString(),
                        it.path("secret").path("secret").asString()));
    }

    private static JsonNode granted(String name, String more, String... scopes) throws Exception {
        JsonNode it = client(name, more);
        made(post(
                "/approvals/grant",
                "{\"client\":\"%s\",\"scopes\":[\"%s\"]}".formatted(name, String.join("\",\"", scopes))));
        return it;
    }

    private static Callable<Wire.Answer> token(JsonNode client, String form) {
        return () -> Wire.form(demo.server() + "/" + ISSUER + "/token", Wire.basic(client), form);
    }

    private static String fetched(JsonNode client, String scope) throws Exception {
        return made(token(client, "grant_type=client_credentials&scope=" + scope)
                        .call())
                .path("access_token")
                .asString();
    }

    private static void route(String path, String more) throws Exception {
        made(post(
                "/routes",
                ("{\"methods\":[\"GET\"],\"path\":\"%s\",\"api\":\"hulls\",\"scopes\":[\"hulls.read\"],\"fixed_respo"
                                + "nse\":{\""
                                + "body\":\"in\"}%s}")
                        .formatted(path, more)));
    }

    private static List<Case> cases() throws Exception {
        List<Case> cases = new ArrayList<>();
        String own = "grant_type=client_credentials&scope=";
        cases.add(new Case("a scope that was not requested", token(client("hull-a", ""), own + "hulls.read"), "-"));
        cases.add(new Case(
                "a scope that waits",
                token(client("hull-b", ",\"scopes\":[\"hulls.read\"]"), own + "hulls.read"),
                "hulls.read: waiting"));
        JsonNode withdrawn = granted("hull-c", "", "hulls.read");
        String approval = operator.get("/issuers/" + ISSUER + "/approvals?client=hull-c")
                .json()
                .path("items")
                .get(0)
                .path("id")
                .asString();
        made(post("/approvals/" + approval + "/withdraw", "{}"));
        cases.add(new Case("a scope that was withdrawn", token(withdrawn, own + "hulls.read"), "hulls.read: waiting"));
        JsonNode off = granted("hull-d", "", "hulls.read");
        made(post("/clients/hull-d/off", "{}"));
        cases.add(new Case(
                "a scope that is a draft",
                token(granted("hull-e", "", "hulls.late"), own + "hulls.late"),
                "status: draft"));
        JsonNode web = granted(
                "hull-f",
                ",\"kind\":\"web\",\"redirect_uris\":[\"https://hulls.saltmarsh.example/back\"]",
                "hulls.read");
        cases.add(new Case("a grant type that the client may not use", token(web, own + "hulls.read"), "-"));
        JsonNode named = granted("hull-g", "", "hulls.read");
        granted("hull-h", "", "hulls.read");
        route("/hulls/named", ",\"who\":{\"clients\":[\"hull-h\"]},\"limits\":{\"rates\":[\"900 per 1m by client\"]}");
        cases.add(new Case(
                "a client that the route does not name",
                () -> Wire.call("GET", demo.gateway() + "/hulls/named", fetched(named, "hulls.read")),
                "-"));
        JsonNode outside = demo.ready().path("outside");
        made(post(
                "/trusted-issuers",
                ("{\"name\":\"coastguard\",\"url\":\"%s\",\"types\":[\"watch+jwt\"],"
                                + "\"scope_claim\":\"watch_may\",\"client_claim\":\"vessel\","
                                + "\"audience\":\"https://hulls.saltmarsh.example\","
                                + "\"scopes\":{\"sea.other\":\"hulls.paint\"}}")
                        .formatted(outside.path("issuer").asString())));
        route("/hulls/outside", ",\"who\":{\"issuers\":[\"coastguard\"]}");
        cases.add(new Case(
                "a scope of a trusted issuer that counts as none",
                () -> Wire.call(
                        "GET",
                        demo.gateway() + "/hulls/outside",
                        Wire.form(
                                        outside.path("issuer").asString() + "/token",
                                        Wire.basic(outside),
                                        "grant_type=client_credentials&audience=https%3A%2F%2Fhulls.saltmarsh.example")
                                .json()
                                .path("access_token")
                                .asString()),
                "-"));
        JsonNode device = client("hull-i", ",\"kind\":\"native\",\"redirect_uris\":[\"http://127.0.0.1/back\"]");
        cases.add(new Case("a native client that asks as a device", () -> begun(device, "openid"), "-"));
        cases.add(new Case(
                "a redirect URI that is not registered",
                () -> authorize(web, "https://hulls.saltmarsh.example/other", "openid"),
                "-"));
        cases.add(new Case(
                "an OpenID scope that is not registered",
                () -> authorize(web, "https://hulls.saltmarsh.example/back", "openid phone"),
                "-"));
        cases.add(new Case(
                "a scope that a web application did not request",
                () -> authorize(web, "https://hulls.saltmarsh.example/back", "openid hulls.paint"),
                "-"));
        for (String kind : List.of("browser", "native")) {
            JsonNode it = granted(
                    "hull-" + kind,
                    ",\"kind\":\"%s\",\"redirect_uris\":[\"https://hulls.saltmarsh.example/%1$s\"]".formatted(kind),
                    "hulls.read");
            String back = "https://hulls.saltmarsh.example/" + kind;
            cases.add(new Case(
                    "a redirect URI that a %s client has not registered".formatted(kind),
                    () -> authorize(it, back + "/other", "openid"),
                    "-"));
            cases.add(new Case(
                    "an OpenID scope that a %s client has not registered".formatted(kind),
                    () -> authorize(it, back, "openid phone"),
                    "-"));
            cases.add(new Case(
                    "a scope that a %s client did not request".formatted(kind),
                    () -> authorize(it, back, "openid hulls.paint"),
                    "-"));
        }
        JsonNode typing = granted("hull-device", ",\"kind\":\"device\"", "hulls.read");
        cases.add(
                new Case("an OpenID scope that a device has not registered", () -> begun(typing, "openid phone"), "-"));
        cases.add(new Case("a scope that a device did not request", () -> begun(typing, "hulls.paint"), "-"));
        cases.add(new Case("a client that is switched off", token(off, own + "hulls.read"), "enabled: false"));
        return cases;
    }

    private static Wire.Answer begun(JsonNode device, String scope) throws Exception {
        return Wire.form(
                demo.server() + "/" + ISSUER + "/device_authorization",
                null,
                "client_id=" + device.path("client_id").asString() + "&scope=" + Wire.encoded(scope));
    }

    /** The sign-in page counts as passed: the request was taken. */
    private static Wire.Answer authorize(JsonNode client, String redirect, String scope) throws Exception {
        String query = ("?response_type=code&client_id=%s&redirect_uri=%s&scope=%s&state=s&code_challenge=%s&"
                        + "code_challenge_method=S256")
                .formatted(
                        client.path("client_id").asString(),
                        Wire.encoded(redirect),
                        Wire.encoded(scope),
                        "a".repeat(43));
        Wire.Answer answer = Wire.get(demo.server() + "/" + ISSUER + "/authorize" + query);
        return answer;
    }

    @TestFactory
    Stream<DynamicTest> eachLineWorksAsItIsPrintedAndChangesNothingElse() throws Exception {
        return cases().stream().map(it -> DynamicTest.dynamicTest(it.name(), () -> check(it)));
    }

    /** What its page says that a client lacks is done line by line, until nothing is missing. */
    @ParameterizedTest
    @ValueSource(strings = {"machine", "web", "browser", "native", "device"})
    void theLinesOfAClientsPageLeaveNothingMissing(String kind) throws Exception {
        String name = "hull-lacks-" + kind;
        boolean returns = !List.of("machine", "device").contains(kind);
        String redirects = returns ? ",\"redirect_uris\":[\"https://hulls.saltmarsh.example/lacks\"]" : "";
        String requested = ",\"scopes\":[\"hulls.read\",\"hulls.paint\"]";
        String client = "{\"name\":\"%s\",\"kind\":\"%s\"%s%s}".formatted(name, kind, redirects, requested);
        JsonNode made = made(post("/clients", client));
        JsonNode secret = made.path("now").path("secrets").path(0).path("id");
        String at = "/issuers/" + ISSUER + "/clients/" + name;
        if (!secret.isMissingNode()) {
            String only = at + "/secrets/" + secret.asString() + "?confirm=" + name;
            assertThat(operator.send("DELETE", only, "*", null).status()).isEqualTo(204);
        }
        String declined = made.path("now").path("scopes").path(0).path("id").asString();
        made(post("/approvals/" + declined + "/decline", "{}"));
        made(post("/clients/" + name + "/off", "{}"));
        List<String> done = new ArrayList<>();
        for (JsonNode missing = lacking(at); !missing.isEmpty(); missing = lacking(at)) {
            String sentence = missing.get(0).asString();
            String line = sentence.substring(sentence.indexOf("admit "));
            assertThat(done).as("done before: " + line).doesNotContain(line);
            assertThat(line).contains("--issuer " + ISSUER);
            Running.Said said = demo.admit(words(line));
            assertThat(said.exitCode())
                    .as("%s: %s%s", line, said.out(), said.err())
                    .isZero();
            done.add(line);
        }
        assertThat(done)
                .as("on, a secret where it has one, asked again, two approvals")
                .hasSize(secret.isMissingNode() ? 4 : 5);
    }

    private static JsonNode lacking(String client) throws Exception {
        return operator.get(client).json().path("missing");
    }

    @Test
    void aPersonWhoIsSwitchedOffIsSwitchedOnByTheLine() throws Exception {
        String email = "hull.painter@saltmarsh.example";
        String password = "sluice-gate-mist-anchor";
        made(post("/people", "{\"email\":\"%s\",\"password\":\"%s\"}".formatted(email, password)));
        made(post("/people/" + email + "/off", "{}"));
        String place = "/" + ISSUER + "/sign-in";
        Visitor.Seen refused = new Visitor(demo).get(place).send(place, "email", email, "password", password);
        assertThat(refused.text()).contains("cannot sign in here at present");
        String line = fixOfNewest("&reason=person-switched-off").path("command").asString();
        assertThat(line).isEqualTo("admit person on " + email + " --issuer " + ISSUER);
        assertThat(demo.admit(words(line)).exitCode()).isZero();
        assertThat(new Visitor(demo)
                        .get(place)
                        .send(place, "email", email, "password", password)
                        .text())
                .doesNotContain("cannot sign in");
        assertThat(operator.get("/issuers/" + ISSUER + "/people/" + email)
                        .json()
                        .path("enabled")
                        .asBoolean())
                .isTrue();
    }

    private static boolean passed(Wire.Answer answer) {
        boolean page = answer.status() == 303 && answer.header("Location").contains("/sign-in");
        return answer.status() == 200 || page;
    }

    private void check(Case it) throws Exception {
        String before = exported();
        Wire.Answer refused = it.request().call();
        assertThat(passed(refused))
                .as("%d %s", refused.status(), refused.body())
                .isFalse();
        JsonNode fix = fixOf(refused);
        String line = fix.path("command").asString("");
        assertThat(line)
                .as(fix.toString())
                .startsWith("admit ")
                .contains("--issuer " + ISSUER)
                .doesNotMatch(".*\\b[A-Z]{4,}\\b.*");
        Running.Said said = demo.admit(words(line));
        assertThat(said.exitCode()).as("%s: %s%s", line, said.out(), said.err()).isZero();
        Wire.Answer after = it.request().call();
        assertThat(passed(after))
                .as("after %s: %d %s", line, after.status(), after.body())
                .isTrue();
        List<String> gone = new ArrayList<>(lines(before));
        lines(exported()).forEach(gone::remove);
        assertThat(gone).as("what %s took away", line).allMatch(text -> text.contains(it.mayGo()));
    }

    /** Of the answer's decision, or of the newest one where a page answers. */
    private static JsonNode fixOf(Wire.Answer refused) throws Exception {
        String id = refused.header("Admit-Decision");
        if (id.isEmpty() && refused.header("Content-Type").contains("json"))
            id = refused.json().path("decision").asString("");
        if (!id.isEmpty()) {
            for (int again = 0; again < 20; again++) {
                Wire.Answer decision = operator.get("/decisions/" + id);
                if (decision.status() == 200) return decision.json().path("fix");
                Thread.sleep(50);
            }
        }
        return fixOfNewest("");
    }

    /**
     * Of what a page refused last.
     *
     * @param more narrows it, such as {@code &reason=…}; a decision is written a moment late
     */
    private static JsonNode fixOfNewest(String more) throws Exception {
        String query = "/decisions?issuer=" + ISSUER + "&endpoint=sign-in&verdict=refused&limit=1" + more;
        JsonNode newest = operator.get(query).json().path("items");
        for (int again = 0; newest.isEmpty() && again < 20; again++) {
            Thread.sleep(50);
            newest = operator.get(query).json().path("items");
        }
        return operator.get("/decisions/" + newest.get(0).path("id").asString())
                .json()
                .path("fix");
    }

    /** As a shell splits the line. */
    private static String[] words(String line) throws Exception {
        Process shell = new ProcessBuilder("bash", "-c", "admit() { printf '%s\\0' \"$@\"; }\n" + line).start();
        byte[] words = shell.getInputStream().readAllBytes();
        assertThat(shell.waitFor()).isZero();
        return Arrays.stream(new String(words, StandardCharsets.UTF_8).split("\0"))
                .toArray(String[]::new);
    }

    private static String exported() throws Exception {
        return operator.get("/issuers/" + ISSUER + "/setup").body();
    }

    private static List<String> lines(String setup) {
        return Pattern.compile("\n")
                .splitAsStream(setup)
                .filter(it -> !it.startsWith("#"))
                .toList();
    }
}
