package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;

/**
 * Plans and subscriptions, on every surface: a developer subscribes their client on a page and calls, an owner
 * approves, an operator changes plans; and everyone who may not tries. Plans come and go here, so this service is no
 * other test's.
 */
class PlansTest {
    private static Running demo;
    private static Operator operator;
    private static final Map<String, String> TOKENS = new HashMap<>();
    private static final Map<String, Visitor> VISITORS = new HashMap<>();

    @TempDir
    static Path folder;

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo(folder);
        operator = Operator.of(demo);
        for (String name : List.of("corin", "edda", "nell", "isolde", "junia", "tobias"))
            TOKENS.put(
                    name,
                    Visitor.tokens(demo, "admit-command-line", name, "openid admit:run")
                            .path("access_token")
                            .asString());
        for (String name : List.of("junia", "isolde", "tobias")) {
            Visitor visitor = new Visitor(demo);
            Visitor.signIn(visitor.get("/harbour/catalogue?sign-in=yes"), demo, name);
            VISITORS.put(name, visitor);
        }
        Visitor neighbour = new Visitor(demo);
        Visitor.signIn(neighbour.get("/gullwing/catalogue?sign-in=yes"), demo, "perrin");
        VISITORS.put("perrin", neighbour);
        VISITORS.put("stranger", new Visitor(demo));
    }

    @AfterAll
    static void stop() {
        demo.close();
    }

    private static Wire.Answer as(String who, String method, String path, String body) throws Exception {
        Map<String, String> headers =
                new HashMap<>(Map.of("Authorization", "Bearer " + TOKENS.get(who), "If-Match", "*"));
        if (body != null) headers.put("Content-Type", "application/json");
        return Wire.send(method, demo.ready().path("admin_api").asString() + "/issuers/harbour" + path, headers, body);
    }

    private static JsonNode made(Wire.Answer answer) {
        assertThat(answer.status()).as(answer.body()).isBetween(200, 299);
        return answer.json().path("now");
    }

    private static JsonNode plan(String name, String approval, String rate) throws Exception {
        return made(operator.harbour("POST", "/plans", """
                {"name":"%s","approval":"%s","rates":["%s"],"operations":
                [{"api":"tides","methods":["GET"],"path":"/boards/**"}]}""".formatted(name, approval, rate)));
    }

    /** @return the id of a subscription */
    private static String subscription(String client, String plan) throws Exception {
        return made(operator.harbour(
                        "POST", "/clients/" + client + "/subscriptions", "{\"plan\":\"%s\"}".formatted(plan)))
                .path("id")
                .asString();
    }

    private static Wire.Answer board(JsonNode client) throws Exception {
        String token = Wire.form(
                        demo.ready().path("issuers").path("harbour").asString() + "/token",
                        Wire.basic(client),
                        "grant_type=client_credentials&scope=tides.read")
                .json()
                .path("access_token")
                .asString();
        return Wire.call("GET", demo.gateway() + "/boards/", token);
    }

    /** Each act, by everyone who may and everyone who may not. */
    @ParameterizedTest(name = "{0} {1} {2}: {4}")
    @CsvSource(delimiter = '|', nullValues = "-", textBlock = """
            junia  | GET    | /plans                                 | -                                     | 200
            junia  | GET    | /plans/open-water                      | -                                     | 403
            junia  | POST   | /plans                                 | {"name":"mine",\
            "operations":[{"api":"tides","path":"/x"}]} | 403
            junia  | PATCH  | /plans/open-water                      | {"title":"Mine"}                      | 403
            junia  | DELETE | /plans/open-water?confirm=open-water   | -                                     | 403
            isolde | GET    | /plans/trade                           | -                                     | 200
            isolde | GET    | /plans/open-water                      | -                                     | 403
            isolde | PATCH  | /plans/trade?confirm=trade             | {"title":"Mine"}                      | 403
            isolde | DELETE | /plans/trade?confirm=trade             | -                                     | 403
            isolde | POST   | /plans                                 | {"name":"both","operations":[{"api":"berths",\
            "path":"/berths/**"},{"api":"tides","path":"/tides/**"}]}                                          | 403
            isolde | POST   | /plans/preview                         | {"name":"b2","operations":[{"api":"berths",\
            "path":"/berths/**"}]}                                                                             | 200
            nell   | GET    | /plans/open-water                      | -                                     | 200
            nell   | POST   | /plans                                 | {"name":"x"}                          | 403
            nell   | PATCH  | /plans/open-water                      | {"title":"Mine"}                      | 403
            nell   | POST   | /clients/quayside-board/subscriptions  | {"plan":"open-water"}                 | 403
            tobias | GET    | /plans                                 | -                                     | 403
            tobias | GET    | /subscriptions                         | -                                     | 403
            junia  | POST   | /clients/berth-desk/subscriptions      | {"plan":"open-water"}                 | 403
            isolde | POST   | /clients/berth-desk/subscriptions      | {"plan":"open-water"}                 | 403
            edda   | POST   | /plans                                 | {"name":"open-water"}                 | 409
            edda   | POST   | /plans                                 | {"name":"x"}                          | 422
            edda   | POST   | /clients/berth-desk/subscriptions      | {"plan":"none"}                       | 404
            edda   | POST   | /clients/berth-desk/subscriptions      | {"plan":"trade"}                      | 409""")
    void eachMayDoWhatIsTheirs(String who, String method, String path, String body, int status) throws Exception {
        Wire.Answer answer = as(who, method, path, body);
        assertThat(answer.status()).as(answer.body()).isEqualTo(status);
    }

    @ParameterizedTest(name = "{0} may {1}: {2}")
    @CsvSource(textBlock = """
            junia,  show,         200
            junia,  usage,        200
            junia,  approve,      403
            junia,  decline,      403
            junia,  pause,        403
            junia,  resume,       403
            isolde, show,         403
            isolde, usage,        403
            isolde, approve,      403
            isolde, pause,        403
            isolde, end,          403
            isolde, move,         403
            isolde, accept-terms, 403
            tobias, show,         403
            tobias, end,          403
            nell,   show,         200
            nell,   approve,      403
            nell,   end,          403
            nell,   move,         403
            """)
    void aSubscriptionIsForThoseWhomItConcerns(String who, String act, int status) throws Exception {
        String plan = "of-" + who + "-" + act;
        plan(plan, "owner", "60 per 1m by client");
        String id = subscription("quayside-board", plan);
        String at = "/subscriptions/" + id + (act.equals("show") ? "" : "/" + act);
        boolean reads = act.equals("show") || act.equals("usage");
        Wire.Answer answer = as(
                who,
                reads ? "GET" : "POST",
                at,
                reads ? null : "{\"plan\":\"%s\",\"reason\":\"No.\",\"accept_terms\":1}".formatted(plan));
        assertThat(answer.status()).as(answer.body()).isEqualTo(status);
        if (status == 403)
            assertThat(operator.harbour("GET", "/subscriptions/" + id, null)
                            .json()
                            .path("status")
                            .asString())
                    .isEqualTo("waiting");
        made(operator.harbour("POST", "/subscriptions/" + id + "/end", "{}"));
    }

    /** An issuer's plans and subscriptions are nowhere at a neighbour's. */
    @Test
    void nothingOfItIsAtANeighbourIssuer() throws Exception {
        String id = operator.harbour("GET", "/subscriptions?client=tide-buoy-07", null)
                .json()
                .path("items")
                .get(0)
                .path("id")
                .asString();
        assertThat(operator.get("/issuers/gullwing/subscriptions/" + id).status())
                .isEqualTo(404);
        assertThat(operator.get("/issuers/gullwing/plans/trade").status()).isEqualTo(404);
        assertThat(operator.send("POST", "/issuers/gullwing/subscriptions/" + id + "/pause", null, "{\"reason\":\"x\"}")
                        .status())
                .isEqualTo(404);
        assertThat(operator.get("/issuers/gullwing/plans").json().path("items")).isEmpty();
        assertThat(VISITORS.get("perrin").get("/gullwing/plans/open-water").status())
                .isEqualTo(404);
        assertThat(VISITORS.get("perrin").get("/harbour/subscriptions").text())
                .contains("Sign in")
                .doesNotContain("Subscriptions of your clients");
    }

    /** A developer finds the plan, subscribes, calls, and runs into the limit; the decision says which. */
    @Test
    void fromThePageOfAPlanToTheLimit() throws Exception {
        plan("small", "automatic", "2 per 1h by client");
        JsonNode client = operator.approvedClient("small-board", "tides.read");
        made(operator.harbour(
                "POST", "/owners", "{\"person\":\"junia.hale@saltmarsh.example\",\"client\":\"small-board\"}"));
        Wire.Answer before = board(client);
        assertThat(before.status()).isEqualTo(403);
        assertThat(before.json().path("reason").asString()).isEqualTo("no-subscription");
        assertThat(operator.decision(before).path("fix").path("command").asString())
                .isEqualTo("admit subscription add small-board PLAN --issuer harbour");

        Visitor junia = VISITORS.get("junia");
        assertThat(junia.get("/harbour/catalogue/tides").text()).contains("Plans", "2 per 1h by client");
        Visitor.Seen page = junia.get("/harbour/plans/small");
        assertThat(page.text()).contains("At most 2 per 1h by client", "A subscription gives no scope", "small-board");
        Visitor.Seen after = page.send(
                "/harbour/plans/small", "client", client.path("client_id").asString());
        assertThat(after.text()).contains("Subscriptions of your clients");
        assertThat(junia.get("/harbour/subscriptions").text())
                .contains("small-board", "Calls that small covers pass", "Nothing came by it");

        assertThat(board(client).status()).isEqualTo(200);
        assertThat(board(client).status()).isEqualTo(200);
        Wire.Answer over = board(client);
        assertThat(over.status()).isEqualTo(429);
        assertThat(Long.parseLong(over.header("Retry-After"))).isBetween(1L, 3600L);
        JsonNode decision = operator.decision(over);
        assertThat(decision.path("checks").valueStream().map(it -> it.path("check")
                        .asString()))
                .contains("scope", "subscription", "rate");
        assertThat(junia.get("/harbour/subscriptions").body())
                .contains("2 calls admitted and 1 over a limit in the last 30 days");

        Visitor.Seen list = junia.get("/harbour/subscriptions");
        String id = operator.harbour("GET", "/subscriptions?client=small-board", null)
                .json()
                .path("items")
                .get(0)
                .path("id")
                .asString();
        assertThat(list.send("/harbour/subscriptions", "subscription", id, "act", "end")
                        .text())
                .contains("Subscriptions of your clients");
        assertThat(board(client).status()).isEqualTo(403);
        assertThat(junia.get("/harbour/subscriptions").text()).contains("It ended");
    }

    /** The document and the page of an operation say that it wants a subscription, and which plans cover it. */
    @Test
    void theCatalogueSaysWhatWantsASubscription() throws Exception {
        String id = "";
        for (JsonNode it :
                operator.harbour("GET", "/routes?limit=200", null).json().path("items"))
            if (it.path("path").asString().equals("/tides/**"))
                id = it.path("id").asString();
        Visitor stranger = VISITORS.get("stranger");
        String page = "/harbour/catalogue/tides/operation?of=GET%20/tides/%7BgaugeName%7D";
        assertThat(stranger.get(page).text())
                .contains("Plans that cover it", "Open water")
                .doesNotContain("with a subscription");
        made(operator.harbour("PATCH", "/routes/" + id, "{\"who\":{\"subscription\":true}}"));
        try {
            assertThat(stranger.get(page).text()).contains("Needs tides.read with a subscription to a plan");
            assertThat(stranger.get("/harbour/catalogue/tides/openapi.json").body())
                    .contains("\"x-needs-subscription\":true");
        } finally {
            operator.harbour("PATCH", "/routes/" + id + "?confirm=%2Ftides%2F**", "{\"who\":{\"subscription\":null}}");
        }
        assertThat(stranger.get("/harbour/catalogue/tides/openapi.json").body()).doesNotContain("x-needs");
    }

    /** On the pages, too: whoever is not signed in, or owns another client, changes nothing. */
    @Test
    void aFormForSomebodyElsesClientDoesNothing() throws Exception {
        String desk = operator.harbour("GET", "/clients/berth-desk", null)
                .json()
                .path("client_id")
                .asString();
        Visitor.Seen page = VISITORS.get("junia").get("/harbour/plans/open-water");
        assertThat(page.send("/harbour/plans/open-water", "client", desk).status())
                .isEqualTo(422);
        String waiting = operator.harbour("GET", "/subscriptions?client=berth-desk", null)
                .json()
                .path("items")
                .get(0)
                .path("id")
                .asString();
        for (String act : List.of("end", "move", "accept"))
            assertThat(page.send(
                                    "/harbour/subscriptions",
                                    "subscription",
                                    waiting,
                                    "act",
                                    act,
                                    "plan",
                                    "open-water",
                                    "accept",
                                    "1")
                            .status())
                    .isEqualTo(422);
        assertThat(operator.harbour("GET", "/subscriptions/" + waiting, null)
                        .json()
                        .path("status")
                        .asString())
                .isEqualTo("waiting");
        // Without the token of the form, and from nowhere.
        assertThat(VISITORS.get("junia")
                        .post("/harbour/plans/open-water", "client=" + desk)
                        .status())
                .isEqualTo(403);
        assertThat(VISITORS.get("stranger").get("/harbour/plans/trade").status())
                .isEqualTo(404);
        assertThat(VISITORS.get("stranger").get("/harbour/plans/trade").text())
                .isEqualTo(VISITORS.get("stranger").get("/harbour/plans/none").text());
        assertThat(VISITORS.get("stranger").get("/harbour/plans/open-water").status())
                .isEqualTo(200);
        assertThat(VISITORS.get("tobias").get("/harbour/subscriptions").text()).contains("You own no client yet");
    }

    /** A request waits for an owner of one of the APIs, who is told by mail; terms are kept with their version. */
    @Test
    void anOwnerApprovesWhatWaits() throws Exception {
        JsonNode client = operator.approvedClient("trading-board", "tides.read");
        made(operator.harbour(
                "POST", "/owners", "{\"person\":\"junia.hale@saltmarsh.example\",\"client\":\"trading-board\"}"));
        assertThat(as("junia", "POST", "/clients/trading-board/subscriptions", "{\"plan\":\"trade\"}")
                        .body())
                .contains("accept_terms");
        Visitor.Seen page = VISITORS.get("junia").get("/harbour/plans/trade");
        assertThat(page.text()).contains("They do not take the place of a pilot");
        assertThat(page.send(
                                "/harbour/plans/trade",
                                "client",
                                client.path("client_id").asString())
                        .text())
                .contains("Read the terms and accept them");
        page.send("/harbour/plans/trade", "client", client.path("client_id").asString(), "accept", "1");
        JsonNode waiting = as("isolde", "GET", "/subscriptions?status=waiting&client=trading-board", null)
                .json()
                .path("items")
                .get(0);
        assertThat(waiting.path("terms_accepted").asLong()).isEqualTo(1);
        assertThat(waiting.path("accepted_by").asString()).isEqualTo("junia.hale@saltmarsh.example");
        assertThat(operator.harbour("GET", "/outbox?to=isolde.marrin%40saltmarsh.example", null)
                        .body())
                .contains("trading-board requests the plan trade");
        assertThat(board(client).json().path("reason").asString()).isEqualTo("subscription-waiting");
        String at = "/subscriptions/" + waiting.path("id").asString();
        assertThat(as("isolde", "POST", at + "/approve", "{\"plan\":\"open-water\"}")
                        .status())
                .isEqualTo(422);
        made(as("isolde", "POST", at + "/approve", "{\"plan\":\"trade\"}"));
        assertThat(board(client).status()).isEqualTo(200);
        made(as("isolde", "POST", at + "/pause", "{\"reason\":\"The berths are closed.\"}"));
        assertThat(board(client).json().path("reason").asString()).isEqualTo("subscription-paused");
        assertThat(operator.harbour("GET", "/outbox?to=junia.hale%40saltmarsh.example", null)
                        .body())
                .contains("the subscription of trading-board to trade");
        assertThat(operator.harbour("GET", "/audit?limit=50", null).body())
                .contains("subscription.requested", "subscription.approved", "subscription.paused");
    }

    /** Programs with the settings of one's own client, as a page and as a zip that runs; of no other client. */
    @Test
    void theOwnerOfAClientGetsProgramsThatRun() throws Exception {
        JsonNode client = operator.approvedClient("starting-board", "tides.read");
        made(operator.harbour(
                "POST", "/owners", "{\"person\":\"junia.hale@saltmarsh.example\",\"client\":\"starting-board\"}"));
        String id = client.path("client_id").asString();
        Visitor junia = VISITORS.get("junia");
        assertThat(junia.get("/harbour/catalogue/tides?client=" + id).body())
                .contains("/harbour/programs/" + id, "The same as programs");
        assertThat(junia.get("/harbour/programs/" + id).text())
                .contains("connect.py", "CLIENT_ID=" + id, "CLIENT_SECRET=")
                .doesNotContain(client.path("client_secret").asString());
        for (String who : List.of("isolde", "tobias", "perrin", "stranger"))
            for (String more : List.of("", "/starter.zip"))
                assertThat(VISITORS.get(who)
                                .get("/harbour/programs/" + id + more)
                                .status())
                        .as(who)
                        .isEqualTo(404);
        assertThat(junia.get("/gullwing/programs/" + id).status()).isEqualTo(404);

        Path project = Files.createDirectory(folder.resolve("starter"));
        HttpResponse<Path> zip = HttpClient.newHttpClient()
                .send(
                        HttpRequest.newBuilder(URI.create(demo.server() + "/harbour/programs/" + id + "/starter.zip"))
                                .header("Cookie", cookies(junia))
                                .build(),
                        HttpResponse.BodyHandlers.ofFile(project.resolve("starter.zip")));
        assertThat(zip.headers().firstValue("Content-Disposition").orElse(""))
                .isEqualTo("attachment; filename=\"starting-board.zip\"");
        assertThat(ran(project, "/usr/bin/python3", "-m", "zipfile", "-e", "starter.zip", "."))
                .isEmpty();
        Path inside = project.resolve("starting-board");
        Path env = inside.resolve(".env");
        String secret = client.path("client_secret").asString();
        Files.writeString(env, Files.readString(env).replace("CLIENT_SECRET=\n", "CLIENT_SECRET=" + secret + "\n"));
        assertThat(Files.readString(inside.resolve("README.txt"))).contains("set -a; . ./.env; set +a", id);
        assertThat(Running.JSON
                        .readTree(ran(inside, "sh", "-c", "set -a; . ./.env; set +a; /usr/bin/python3 connect.py"))
                        .path("scope")
                        .asString())
                .isEqualTo("tides.read");
    }

    private static String cookies(Visitor of) {
        return String.join(
                "; ",
                of.cookies.entrySet().stream()
                        .map(it -> it.getKey() + "=" + it.getValue())
                        .toList());
    }

    private static String ran(Path in, String... command) throws Exception {
        Process process = new ProcessBuilder(command)
                .directory(in.toFile())
                .redirectErrorStream(true)
                .start();
        String out = new String(process.getInputStream().readAllBytes());
        assertThat(process.waitFor()).as(out).isZero();
        return out.strip();
    }

    private static String cli(String... words) throws Exception {
        Running.Said said = demo.admit(words);
        assertThat(said.exitCode()).as(said.err()).isZero();
        return said.out();
    }

    @Test
    void theCommandLineDoesAllOfIt() throws Exception {
        cli("plan", "add", "by-hand", "--operation", "tides GET /boards/**", "--rate", "5 per 1h by client");
        assertThat(demo.admit("plan", "add", "wrong", "--operation", "tides").err())
                .contains("such as 'tides GET /tides/**'");
        assertThat(cli("plan", "list")).contains("by-hand", "5 per 1h by client", "owner");
        cli("subscription", "add", "night-audit", "by-hand");
        assertThat(cli("subscription", "list", "--status", "waiting", "--plan", "by-hand"))
                .contains("night-audit");
        assertThat(cli("subscription", "approve", "night-audit", "by-hand")).contains("Calls that by-hand covers pass");
        assertThat(cli("subscription", "pause", "night-audit", "by-hand", "--reason", "Too many"))
                .contains("paused");
        cli("subscription", "resume", "night-audit", "by-hand");
        Running.Said unasked = demo.admit("plan", "change", "by-hand", "--rate", "3 per 1h by client");
        assertThat(unasked.exitCode()).isEqualTo(1);
        assertThat(unasked.err()).contains("night-audit has it at once", "--confirm by-hand");
        assertThat(cli(
                        "plan",
                        "change",
                        "by-hand",
                        "--rate",
                        "3 per 1h by client",
                        "--keep-until",
                        "10d",
                        "--confirm",
                        "by-hand"))
                .contains("At most 3 per 1h by client");
        assertThat(cli("plan", "show", "by-hand"))
                .contains("1 client keeps it as it was", "At most 5 per 1h by client");
        assertThat(cli("subscription", "move", "night-audit", "by-hand", "trade", "--accept-terms", "1"))
                .contains("It moves to trade once that is approved");
        assertThat(cli("subscription", "decline", "night-audit", "trade", "--reason", "Not yet."))
                .contains("night-audit to by-hand");
        assertThat(cli("subscription", "show", "night-audit", "by-hand")).contains("Nothing came by it");
        assertThat(cli("subscription", "end", "night-audit", "by-hand")).contains("It ended");
        cli("plan", "remove", "by-hand");
        assertThat(cli("plan", "list")).doesNotContain("by-hand");
    }

    @Test
    void aSetupFileHoldsPlansAndSubscriptions() throws Exception {
        plan("filed", "owner", "60 per 1m by client");
        subscription("old-crane", "filed");
        String exported = cli("setup", "export");
        assertThat(exported).contains("\nplans:\n", "filed:", "60 per 1m by client", "filed: waiting");
        Path file = folder.resolve("plans.yaml");
        Files.writeString(file, exported);
        assertThat(cli("setup", "compare", file.toString())).contains("Nothing");
        Files.writeString(file, exported.replace("filed: waiting", "filed: active"));
        assertThat(cli("setup", "load", file.toString(), "--confirm", "harbour"))
                .contains("subscription of old-crane to filed");
        assertThat(cli("subscription", "show", "old-crane", "filed")).contains("active");
        Files.writeString(file, exported.replace("filed: waiting", "filed: often"));
        assertThat(demo.admit("setup", "load", file.toString(), "--confirm", "harbour")
                        .err())
                .contains("waiting, active or paused");
        Files.writeString(file, exported.replaceAll("(?m)^ +subscriptions:\\R +filed: waiting\\R", ""));
        assertThat(cli("setup", "load", file.toString(), "--remove-unlisted", "--confirm", "harbour"))
                .contains("subscription of old-crane to filed");
        assertThat(cli("subscription", "show", "old-crane", "filed")).contains("ended");
    }
}
