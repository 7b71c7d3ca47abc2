package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.api.parallel.ResourceLock;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import tools.jackson.databind.JsonNode;

/** The console over plain HTTP: who gets in, what a cookie is good for, and what comes with bad intent. */
@ResourceLock(Running.DEMO)
class ConsoleDoorTest {
    private static final String API = "/console/_/api";
    private static Running demo;

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo();
    }

    /** Signed in to the console, with what changes have to bring along. */
    private record Session(Visitor visitor, JsonNode who) {
        static Session of(String name) throws Exception {
            Visitor visitor = new Visitor(demo);
            JsonNode person = Visitor.person(demo, name);
            Visitor.Seen page = Visitor.signIn(
                    visitor.get("/console/_/sign-in?issuer=%s&to=/"
                            .formatted(person.path("issuer").asString())),
                    demo,
                    name);
            if (page.status() != 200 || !page.body().contains("id=\"root\""))
                throw new AssertionError(page.location() + page.text());
            return new Session(
                    visitor,
                    Running.JSON.readTree(visitor.get("/console/_/session").body()));
        }

        Visitor.Seen get(String path, String... headers) throws Exception {
            return visitor.get(API + path, headers);
        }

        HttpResponse<String> send(String method, String path, String json, String... headers) throws Exception {
            HttpRequest.Builder request = HttpRequest.newBuilder(URI.create(demo.server() + path))
                    .header("Cookie", "admit_console=" + visitor.cookies.get("admit_console"))
                    .header("Content-Type", "application/json")
                    .method(method, HttpRequest.BodyPublishers.ofString(json));
            for (int i = 0; i < headers.length; i += 2) request.header(headers[i], headers[i + 1]);
            return HttpClient.newHttpClient().send(request.build(), HttpResponse.BodyHandlers.ofString());
        }

        HttpResponse<String> change(String method, String path, String json) throws Exception {
            return send(method, API + path, json, "Admit-Form", who.path("form").asString());
        }
    }

    @Test
    void whoeverIsSignedInSeesWhatTheyMayAndTheBrowserHasNoToken() throws Exception {
        Session corin = Session.of("corin");
        assertThat(corin.who().path("admin_role").asString()).isEqualTo("administrator");
        assertThat(corin.who().path("all").asBoolean()).isFalse();
        assertThat(corin.get("/issuers/harbour/clients?search=tide-buoy").body())
                .contains("tide-buoy-07");
        assertThat(corin.get("/issuers/gullwing/clients").status())
                .as("a neighbour")
                .isEqualTo(403);
        assertThat(corin.visitor().cookies.get("admit_console")).hasSize(43).doesNotContain(".");
        assertThat(corin.visitor().get("/console/_/session").body()).doesNotContain("eyJ");
        assertThat(Session.of("nell")
                        .change("POST", "/issuers/harbour/clients", "{\"name\":\"by-auditor\"}")
                        .statusCode())
                .isEqualTo(403);
        Session isolde = Session.of("isolde");
        assertThat(isolde.who().path("owns").asBoolean()).isTrue();
        assertThat(isolde.get("/issuers/harbour/apis").body())
                .contains("berths")
                .doesNotContain("manifests");
    }

    @Test
    void theCookieIsOutOfReachOfScriptsAndOtherSites() throws Exception {
        assertThat(rawSignIn())
                .contains("admit_console=")
                .contains("Path=/console")
                .contains("HttpOnly")
                .contains("SameSite=Strict");
    }

    /** The answer that sets the cookie, as it is on the wire. */
    private static String rawSignIn() throws Exception {
        HttpClient client = HttpClient.newBuilder()
                .cookieHandler(new java.net.CookieManager())
                .followRedirects(HttpClient.Redirect.NEVER)
                .build();
        HttpResponse<String> at = client.send(
                HttpRequest.newBuilder(URI.create(demo.server() + "/console/_/sign-in?issuer=harbour"))
                        .build(),
                HttpResponse.BodyHandlers.ofString());
        HttpResponse<String> form = client.send(
                HttpRequest.newBuilder(
                                URI.create(at.headers().firstValue("Location").orElseThrow()))
                        .build(),
                HttpResponse.BodyHandlers.ofString());
        StringBuilder body = new StringBuilder();
        for (Matcher it = Pattern.compile("<input\\s+type=\"hidden\"\\s+name=\"([^\"]*)\"\\s+value=\"([^\"]*)\"")
                        .matcher(form.body());
                it.find(); )
            body.append(it.group(1))
                    .append('=')
                    .append(Wire.encoded(it.group(2)))
                    .append('&');
        JsonNode corin = Visitor.person(demo, "corin");
        body.append("email=")
                .append(Wire.encoded(corin.path("login").asString()))
                .append("&password=")
                .append(Wire.encoded(corin.path("password").asString()));
        HttpResponse<String> next = client.send(
                HttpRequest.newBuilder(URI.create(demo.server() + "/harbour/sign-in"))
                        .header("Content-Type", "application/x-www-form-urlencoded")
                        .POST(HttpRequest.BodyPublishers.ofString(body.toString()))
                        .build(),
                HttpResponse.BodyHandlers.ofString());
        for (int i = 0; i < 5; i++) {
            String to = next.headers().firstValue("Location").orElseThrow();
            next = client.send(
                    HttpRequest.newBuilder(URI.create(to.startsWith("/") ? demo.server() + to : to))
                            .build(),
                    HttpResponse.BodyHandlers.ofString());
            String cookies = String.join("\n", next.headers().allValues("Set-Cookie"));
            if (cookies.contains("admit_console="))
                return cookies.lines()
                        .filter(it -> it.startsWith("admit_console="))
                        .findFirst()
                        .orElseThrow();
        }
        throw new AssertionError("no cookie was received");
    }

    @Test
    void withoutASessionNothingIsAnswered() throws Exception {
        Visitor nobody = new Visitor(demo);
        assertThat(nobody.get(API + "/issuers").status()).isEqualTo(401);
        assertThat(nobody.get(API + "/issuers").body()).contains("not-signed-in");
        assertThat(nobody.get(API + "/openapi.json").status()).isEqualTo(401);
        // A stranger finds the issuers that are named to everyone, and neither the neighbour nor the service's own.
        assertThat(nobody.get("/console/_/session").body())
                .isEqualTo("{\"first\":false,\"issuers\":[{\"name\":\"harbour\","
                        + "\"title\":\"Saltmarsh Harbour Authority\"}]}");
        nobody.cookies.put("admit_console", "A".repeat(43));
        assertThat(nobody.get(API + "/issuers").status()).isEqualTo(401);
        // A token in the place of a session is not looked at.
        String operator = Wire.form(
                        demo.ready().path("issuers").path("admit").asString() + "/token",
                        Wire.basic(demo.ready().path("operator")),
                        "grant_type=client_credentials")
                .json()
                .path("access_token")
                .asString();
        assertThat(nobody.get(API + "/issuers", "Authorization", "Bearer " + operator)
                        .status())
                .isEqualTo(401);
    }

    @Test
    void aPagesOwnTokenIsReplacedByThePersons() throws Exception {
        String operator = Wire.form(
                        demo.ready().path("issuers").path("admit").asString() + "/token",
                        Wire.basic(demo.ready().path("operator")),
                        "grant_type=client_credentials")
                .json()
                .path("access_token")
                .asString();
        assertThat(Session.of("corin")
                        .get("/issuers/gullwing", "Authorization", "Bearer " + operator)
                        .status())
                .isEqualTo(403);
    }

    @Test
    void aChangeComesFromTheConsolesOwnPagesAlone() throws Exception {
        Session corin = Session.of("corin");
        String form = corin.who().path("form").asString();
        String other = Session.of("edda").who().path("form").asString();
        String path = API + "/issuers/harbour/clients";
        String json = "{\"name\":\"from-another-site\"}";
        assertThat(corin.send("POST", path, json).statusCode())
                .as("without the session's word")
                .isEqualTo(403);
        assertThat(corin.send("POST", path, json, "Admit-Form", other).statusCode())
                .as("with another's")
                .isEqualTo(403);
        assertThat(corin.send("POST", path, json, "Admit-Form", form, "Sec-Fetch-Site", "cross-site")
                        .statusCode())
                .isEqualTo(403);
        assertThat(corin.send("POST", path, json, "Admit-Form", form, "Sec-Fetch-Site", "same-site")
                        .statusCode())
                .as("another application on this machine")
                .isEqualTo(403);
        assertThat(corin.send("GET", path, "", "Sec-Fetch-Site", "cross-site").statusCode())
                .isEqualTo(403);
        assertThat(corin.send("POST", "/console/_/sign-out", "{}").statusCode()).isEqualTo(403);
        assertThat(corin.send("GET", API + "/issuers/harbour/clients/from-another-site", "", "Admit-Form", form)
                        .statusCode())
                .isEqualTo(404);
        assertThat(corin.send(
                                "POST",
                                path,
                                "{\"name\":\"from-the-console\"}",
                                "Admit-Form",
                                form,
                                "Sec-Fetch-Site",
                                "same-origin")
                        .statusCode())
                .isEqualTo(201);
    }

    @Test
    void signingOutEndsTheSessionAndWhatCameOfIt() throws Exception {
        Session edda = Session.of("edda");
        HttpResponse<String> out = edda.send(
                "POST",
                "/console/_/sign-out",
                "{}",
                "Admit-Form",
                edda.who().path("form").asString());
        assertThat(out.statusCode()).isEqualTo(200);
        assertThat(Running.JSON.readTree(out.body()).path("to").asString())
                .startsWith(demo.server() + "/harbour/end-session");
        assertThat(edda.send("GET", API + "/issuers", "").statusCode()).isEqualTo(401);
    }

    @Test
    void anAdminRoleThatIsTakenAwayIsGoneWithTheNextRequest() throws Exception {
        Operator operator = Operator.of(demo);
        operator.harbour(
                "POST",
                "/people",
                "{\"email\":\"short.role@saltmarsh.example\",\"password\":\"a quiet morning "
                        + "tide\",\"admin_role\":\"operator\",\"profile\":{\"name\":\"Short Rank\"}}");
        Visitor visitor = new Visitor(demo);
        visitor.get("/console/_/sign-in?issuer=harbour")
                .send("/harbour/sign-in", "email", "short.role@saltmarsh.example", "password", "a quiet morning tide");
        assertThat(visitor.get(API + "/issuers/harbour/clients").status()).isEqualTo(200);
        operator.harbour("PATCH", "/people/short.role@saltmarsh.example", "{\"admin_role\":\"\"}");
        assertThat(visitor.get(API + "/issuers/harbour/clients").status()).isIn(401, 403);
        operator.harbour("POST", "/people/short.role@saltmarsh.example/off", "{}");
        assertThat(visitor.get(API + "/issuers/harbour/clients").status()).isGreaterThanOrEqualTo(401);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "//evil.example",
                "/\\evil.example",
                "https://evil.example",
                "/%0d%0aSet-Cookie:%20a=b",
                "javascript:alert(1)"
            })
    void nobodyIsSentElsewhere(String to) throws Exception {
        Visitor visitor = new Visitor(demo);
        Visitor.Seen back =
                Visitor.signIn(visitor.get("/console/_/sign-in?issuer=harbour&to=" + Wire.encoded(to)), demo, "corin");
        assertThat(back.location()).isEmpty();
        assertThat(back.response().uri().toString()).startsWith(demo.server() + "/console/");
    }

    @Test
    void anAnswerCountsOnceInTheBrowserThatAskedAndWithItsStateAlone() throws Exception {
        HttpClient client = HttpClient.newHttpClient();
        String begun = client.send(
                        HttpRequest.newBuilder(URI.create(demo.server() + "/console/_/sign-in?issuer=harbour"))
                                .build(),
                        HttpResponse.BodyHandlers.ofString())
                .headers()
                .firstValue("Location")
                .orElseThrow();
        String state = Visitor.parameters(begun).get("state");
        assertThat(Visitor.parameters(begun))
                .containsEntry("code_challenge_method", "S256")
                .containsEntry("response_type", "code");
        for (String query : List.of(
                "state=%s&code=x&iss=%s/harbour".formatted(state, Wire.encoded(demo.server())),
                "state=made-up&code=x",
                "code=x")) {
            HttpResponse<String> answer = client.send(
                    HttpRequest.newBuilder(URI.create(demo.server() + "/console/_/signed-in?" + query))
                            .build(),
                    HttpResponse.BodyHandlers.ofString());
            assertThat(answer.statusCode()).isEqualTo(303);
            assertThat(answer.headers().firstValue("Location").orElseThrow()).isEqualTo("/console/?problem=lost");
            assertThat(String.join("", answer.headers().allValues("Set-Cookie")))
                    .doesNotContain("admit_console=");
        }
        Visitor nowhere = new Visitor(demo);
        assertThat(nowhere.get("/console/_/sign-in?issuer=nowhere")
                        .response()
                        .uri()
                        .getQuery())
                .contains("problem=issuer");
    }

    @Test
    void theFirstPersonIsForANewServiceAndItsOperatorAlone(@TempDir Path folder) throws Exception {
        String first = "/console/_/first";
        String json = "{\"client_id\":\"%s\",\"client_secret\":\"%s\","
                + "\"email\":\"corin@saltmarsh.example\",\"name\":\"Corin\",\"password\":\"a quiet morning "
                + "tide\"}";
        JsonNode operator = demo.ready().path("operator");
        Wire.Answer notNew = Wire.send(
                "POST",
                demo.server() + first,
                Map.of("Content-Type", "application/json"),
                json.formatted(
                        operator.path("client_id").asString(),
                        operator.path("client_secret").asString()));
        assertThat(notNew.status()).isEqualTo(409);
        try (Running fresh = Running.service(folder, folder.resolve("data"))) {
            JsonNode credential =
                    Running.JSON.readTree(Files.readString(folder.resolve("data/operator-credential.json")));
            assertThat(Wire.get(fresh.server() + "/console/_/session").body()).contains("\"first\":true");
            Wire.Answer wrong = Wire.send(
                    "POST",
                    fresh.server() + first,
                    Map.of("Content-Type", "application/json"),
                    json.formatted(credential.path("client_id").asString(), "not-it"));
            assertThat(wrong.status()).isEqualTo(403);
            Wire.Answer elsewhere = Wire.send(
                    "POST",
                    fresh.server() + first,
                    Map.of("Content-Type", "application/json", "Sec-Fetch-Site", "cross-site"),
                    json.formatted(
                            credential.path("client_id").asString(),
                            credential.path("client_secret").asString()));
            assertThat(elsewhere.status()).isEqualTo(403);
            Wire.Answer weak = Wire.send(
                    "POST",
                    fresh.server() + first,
                    Map.of("Content-Type", "application/json"),
                    json.formatted(
                                    credential.path("client_id").asString(),
                                    credential.path("client_secret").asString())
                            .replace("a quiet morning tide", "password"));
            assertThat(weak.status()).isEqualTo(422);
            assertThat(weak.json().path("faults").get(0).path("pointer").asString())
                    .isEqualTo("/password");
            Wire.Answer made = Wire.send(
                    "POST",
                    fresh.server() + first,
                    Map.of("Content-Type", "application/json"),
                    json.formatted(
                            credential.path("client_id").asString(),
                            credential.path("client_secret").asString()));
            assertThat(made.status()).as(made.body()).isEqualTo(200);
            assertThat(Wire.get(fresh.server() + "/console/_/session").body()).contains("\"first\":false");
            assertThat(Wire.send(
                                    "POST",
                                    fresh.server() + first,
                                    Map.of("Content-Type", "application/json"),
                                    json.formatted(
                                            credential.path("client_id").asString(),
                                            credential.path("client_secret").asString()))
                            .status())
                    .isEqualTo(409);
        }
    }

    @Test
    void filesAreCompressedKeptForLongAndBoundByAPolicy() throws Exception {
        Wire.Answer page = Wire.get(demo.server() + "/console/harbour/clients");
        assertThat(page.header("Content-Security-Policy"))
                .contains("default-src 'none'")
                .contains("script-src 'self';")
                .contains("frame-ancestors 'none'")
                .doesNotContain("unsafe");
        assertThat(page.header("Cache-Control")).isEqualTo("no-store");
        Matcher nonce = Pattern.compile("name=\"nonce\" content=\"([^\"]+)\"").matcher(page.body());
        assertThat(nonce.find()).isTrue();
        assertThat(page.header("Content-Security-Policy")).contains("'nonce-" + nonce.group(1) + "'");
        assertThat(Wire.get(demo.server() + "/console/harbour/clients").body())
                .as("another word each time")
                .doesNotContain(nonce.group(1));
        assertThat(page.body())
                .doesNotContain("<style")
                .doesNotContain("http://")
                .doesNotContain("https://");
        long first = 0;
        Matcher files =
                Pattern.compile("(?:src|href)=\"(/console/_/assets/[^\"]+)\"").matcher(page.body());
        while (files.find()) {
            HttpResponse<byte[]> file = HttpClient.newHttpClient()
                    .send(
                            HttpRequest.newBuilder(URI.create(demo.server() + files.group(1)))
                                    .header("Accept-Encoding", "gzip, br")
                                    .build(),
                            HttpResponse.BodyHandlers.ofByteArray());
            assertThat(file.statusCode()).isEqualTo(200);
            assertThat(file.headers().firstValue("Cache-Control").orElseThrow()).contains("immutable");
            if (files.group(1).endsWith(".js")) {
                assertThat(file.headers().firstValue("Content-Encoding").orElse(""))
                        .isEqualTo("br");
                first += file.body().length;
            }
        }
        assertThat(first).as("script of the first load, compressed").isBetween(10_000L, 250_000L);
        assertThat(Wire.send("POST", demo.server() + "/console/harbour", Map.of(), "x")
                        .status())
                .isEqualTo(405);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "/console/_/assets/../index.html",
                "/console/_/assets/%2e%2e/index.html",
                "/console/_/assets/nothing.js",
                "/console/_/assets/..%2f..%2fapplication.properties",
                "/console/_/assets/index.html",
                "/console/_/assets/"
            })
    void onlyTheConsolesOwnFilesAreServed(String path) throws Exception {
        String answer = Wire.raw(
                demo.port,
                "GET %s HTTP/1.1\r\nHost: 127.0.0.1:%d\r\nConnection: close\r\n\r\n".formatted(path, demo.port));
        assertThat(answer).matches("(?s)HTTP/1.1 (4\\d\\d|200).*");
        assertThat(answer).doesNotContain("spring.").doesNotContain("NONCE");
        if (answer.startsWith("HTTP/1.1 200")) assertThat(answer).contains("id=\"root\"");
    }

    /** What the door reads of an address, the admin API's own door has to read as well. */
    @ParameterizedTest
    @ValueSource(
            strings = {
                "/issuers/harbour/..%2fgullwing/clients",
                "/issuers/harbour/../gullwing/clients",
                "/issuers/harbour/%2e%2e/gullwing/clients",
                "/issuers/harbour/..;/gullwing/clients",
                "/issuers/gullwing;x=y/clients",
                "/issuers/gullwing%2fclients",
                "//issuers/gullwing/clients",
                "/issuers//gullwing/clients",
                "/issuers/%67ullwing/clients",
                "/issuers/harbour;/../gullwing/clients",
                "/../api/issuers/gullwing/clients",
                "/../../../admin/issuers/gullwing/clients",
                ";x=y/issuers/gullwing/clients",
                "/issuers/harbour/../gullwing/clients?a=/issuers/harbour/clients",
                "/issuers/harbour%3f/../../gullwing/clients"
            })
    void noSpellingLeadsToTheNeighbour(String path) throws Exception {
        String request = "GET " + API + "%s HTTP/1.1\r\nHost: 127.0.0.1:" + demo.port + "\r\nCookie: admit_console="
                + Session.of("corin").visitor().cookies.get("admit_console") + "\r\nConnection: close\r\n\r\n";
        assertThat(Wire.raw(demo.port, request.formatted("/issuers/harbour/clients?search=tide")))
                .startsWith("HTTP/1.1 200")
                .contains("tide-buoy-07");
        assertThat(Wire.raw(demo.port, request.formatted(path)))
                .matches("(?s)HTTP/1.1 4\\d\\d .*")
                .doesNotContain("\"items\"");
    }

    @Test
    void whatChangesIsToldToThoseOfTheIssuerAlone() throws Exception {
        Session corin = Session.of("corin");
        HttpResponse<java.io.InputStream> stream = HttpClient.newHttpClient()
                .send(
                        HttpRequest.newBuilder(URI.create(demo.server() + API + "/live"))
                                .header(
                                        "Cookie",
                                        "admit_console="
                                                + corin.visitor().cookies.get("admit_console"))
                                .build(),
                        HttpResponse.BodyHandlers.ofInputStream());
        assertThat(stream.headers().firstValue("Content-Type").orElseThrow()).startsWith("text/event-stream");
        try (java.io.BufferedReader lines =
                new java.io.BufferedReader(new java.io.InputStreamReader(stream.body(), StandardCharsets.UTF_8))) {
            assertThat(lines.readLine()).startsWith("retry:");
            Operator operator = Operator.of(demo);
            operator.post(
                    "/issuers/gullwing/apis",
                    "{\"name\":\"unseen-by-harbour\",\"audience\":\"https://unseen.gullwing.example\"}");
            operator.harbour("POST", "/clients", "{\"name\":\"told-of\"}");
            StringBuilder said = new StringBuilder();
            while (!said.toString().contains("told-of"))
                said.append(lines.readLine()).append('\n');
            assertThat(said.toString())
                    .contains("event: changed")
                    .contains("client.added")
                    .doesNotContain("gullwing")
                    .doesNotContain("unseen");
        }
    }

    @Test
    void aLookIsShownByAPageThatCanDoNothing() throws Exception {
        Visitor.Seen page = Session.of("corin")
                .get("/issuers/harbour/look?accent=%23a6452b&welcome="
                        + Wire.encoded("<script>alert(1)</script> & more") + "&title=Tried");
        assertThat(page.status()).isEqualTo(200);
        assertThat(page.header("Content-Security-Policy"))
                .startsWith("sandbox;")
                .contains("default-src 'none'")
                .contains("form-action 'none'")
                .contains("frame-ancestors 'self'");
        assertThat(page.body())
                .contains("Tried")
                .contains("#a6452b")
                .contains("&lt;script&gt;")
                .doesNotContain("<script>");
        assertThat(Wire.get(demo.server() + "/admin/issuers/harbour/look").status())
                .isEqualTo(401);
    }

    @ParameterizedTest
    @CsvSource({
        "POST, /issuers/harbour/tokens/trial, 403",
        "POST, /issuers/harbour/calls, 403",
        "GET, /issuers/harbour/access-map, 200"
    })
    void anAuditorLooksAndCallsNothing(String method, String path, int status) throws Exception {
        Session nell = Session.of("nell");
        assertThat(
                        method.equals("GET")
                                ? nell.get(path).status()
                                : nell.change(method, path, "{}").statusCode())
                .isEqualTo(status);
    }

    @Test
    void theLockFileNamesNoHost() throws Exception {
        assertThat(Files.readString(Running.projectRoot().resolve("console/package-lock.json")))
                .doesNotContain("http")
                .doesNotContain("resolved");
    }
}
