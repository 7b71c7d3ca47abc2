package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.HashMap;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/**
 * The catalogue as its readers find it: strangers, people who are signed in, people who are named, owners, and people
 * of a neighbour issuer. APIs come and go here, so this service is no other test's.
 */
class CatalogueTest {
    private static Running demo;
    private static Operator operator;
    private static final Map<String, Visitor> READERS = new HashMap<>();

    @TempDir
    static Path folder;

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo(folder);
        operator = Operator.of(demo);
        READERS.put("stranger", new Visitor(demo));
        for (String name : new String[] {"junia", "tobias", "isolde", "edda", "nell", "ama"}) {
            Visitor visitor = new Visitor(demo);
            Visitor.Seen asked = visitor.get("/harbour/catalogue?sign-in=yes");
            Visitor.Seen after = Visitor.signIn(asked, demo, name);
            assertThat(after.text()).contains(name.equals("ama") ? "code" : "Signed in as");
            READERS.put(name, visitor);
        }
        Visitor factored = new Visitor(demo);
        Visitor.Seen page = Visitor.signIn(factored.get("/harbour/catalogue/manifests?sign-in=yes"), demo, "ama");
        page = page.send(
                "/harbour/second-factor",
                "code",
                TimeCodes.now(Visitor.person(demo, "ama").path("totp_seed").asString()));
        assertThat(page.text()).contains("Cargo manifests", "Signed in as Ama Keld");
        READERS.put("ama-whole", factored);
        Visitor neighbour = new Visitor(demo);
        Visitor.signIn(neighbour.get("/gullwing/catalogue?sign-in=yes"), demo, "perrin");
        READERS.put("perrin", neighbour);
        assertThat(operator.harbour("POST", "/apis", "{\"name\":\"draft-api\",\"title\":\"Not yet\"}")
                        .status())
                .isEqualTo(201);
    }

    @AfterAll
    static void stop() {
        demo.close();
    }

    private static Wire.Answer publish(String api, String body) throws Exception {
        return operator.harbour("PATCH", "/apis/" + api + "/catalogue", body);
    }

    @ParameterizedTest(name = "{0} looks at {1}: {2}")
    @CsvSource(textBlock = """
            stranger,  tides,     200
            stranger,  berths,    404
            stranger,  manifests, 404
            stranger,  draft-api, 404
            junia,     tides,     200
            junia,     berths,    200
            junia,     manifests, 404
            junia,     draft-api, 404
            tobias,    manifests, 404
            perrin,    tides,     200
            perrin,    berths,    404
            perrin,    manifests, 404
            ama,       berths,    404
            ama,       manifests, 404
            ama-whole, berths,    200
            ama-whole, manifests, 200
            ama-whole, draft-api, 404
            isolde,    berths,    200
            isolde,    manifests, 404
            isolde,    draft-api, 404
            edda,      draft-api, 200
            nell,      draft-api, 200
            nell,      manifests, 200
            """)
    void eachReaderFindsWhatIsForThem(String who, String api, int status) throws Exception {
        Visitor by = READERS.get(who);
        for (String more : new String[] {"", "?as=public", "?as=signed-in", "?as=named", "?client=cl_x"}) {
            int seen = by.get("/harbour/catalogue/" + api + more).status();
            if (status == 404) assertThat(seen).as(more).isEqualTo(404);
            else if (!more.startsWith("?as")) assertThat(seen).as(more).isEqualTo(200);
        }
        assertThat(by.get("/harbour/catalogue/" + api + "/openapi.json").status())
                .isEqualTo(status);
        if (status == 404)
            assertThat(by.get("/harbour/catalogue/" + api + "/operation?of=GET+/tides")
                            .status())
                    .isEqualTo(404);
        // What one does not find looks like what is not there.
        if (status == 404)
            assertThat(by.get("/harbour/catalogue/" + api).text())
                    .isEqualTo(by.get("/harbour/catalogue/no-such-api").text());
        boolean listed = by.get("/harbour/catalogue").body().contains("/catalogue/" + api + "\"");
        boolean byRoleAlone = who.equals("edda") || who.equals("nell");
        if (!byRoleAlone) assertThat(listed).isEqualTo(status == 200);
    }

    @Test
    void nothingIsHereByTheApisIdOrInAnotherIssuersCatalogue() throws Exception {
        String id =
                operator.harbour("GET", "/apis/tides", null).json().path("id").asString();
        assertThat(READERS.get("junia").get("/harbour/catalogue/" + id).status())
                .isEqualTo(404);
        assertThat(READERS.get("perrin").get("/gullwing/catalogue/tides").status())
                .isEqualTo(404);
        assertThat(READERS.get("perrin").get("/gullwing/catalogue").text()).contains("No API is published yet");
    }

    @Test
    void anOwnerSeesTheirApiAsEachReaderDoes() throws Exception {
        Visitor isolde = READERS.get("isolde");
        assertThat(publish("berths", "{\"readers\":\"none\"}").status()).isEqualTo(200);
        try {
            assertThat(isolde.get("/harbour/catalogue/berths").text()).contains("not published");
            assertThat(isolde.get("/harbour/catalogue/berths?as=public").status())
                    .isEqualTo(404);
            assertThat(isolde.get("/harbour/catalogue").text()).contains("Ship berths", "not published");
            assertThat(READERS.get("junia").get("/harbour/catalogue/berths").status())
                    .isEqualTo(404);
        } finally {
            publish("berths", "{\"readers\":\"signed-in\"}");
        }
        assertThat(isolde.get("/harbour/catalogue/berths?as=signed-in").text())
                .contains("You see this as a person who is signed in sees it");
        assertThat(isolde.get("/harbour/catalogue/berths?as=public").status()).isEqualTo(404);
        // Of what others own, nobody looks as somebody else.
        assertThat(isolde.get("/harbour/catalogue?as=named").text()).doesNotContain("Cargo manifests");
        assertThat(READERS.get("edda").get("/harbour/catalogue?as=named").text())
                .contains("Cargo manifests");
        assertThat(READERS.get("junia").get("/harbour/catalogue?as=named").text())
                .doesNotContain("Cargo manifests");
    }

    @Test
    void aPersonWhoGetsTheAddressOfANamedOneFindsNothing() throws Exception {
        String address = "sorrel.finch@saltmarsh.example";
        String person = "{\"email\":\"" + address + "\"}";
        assertThat(operator.harbour("POST", "/people", person).status()).isEqualTo(201);
        assertThat(operator.harbour("POST", "/apis", "{\"name\":\"lanterns\"}").status())
                .isEqualTo(201);
        assertThat(publish("lanterns", "{\"readers\":\"named\",\"people\":[\"" + address + "\"]}")
                        .status())
                .isEqualTo(200);
        operator.harbour("DELETE", "/people/" + address + "?confirm=" + address, null);
        assertThat(operator.harbour("POST", "/people", person).status()).isEqualTo(201);
        assertThat(operator.harbour("GET", "/apis/lanterns/catalogue", null)
                        .json()
                        .path("people"))
                .isEmpty();
        operator.harbour("DELETE", "/people/" + address + "?confirm=" + address, null);
        operator.harbour("DELETE", "/apis/lanterns", null);
    }

    @Test
    void examplesHoldTheReadersOwnClient() throws Exception {
        String client = demo.ready()
                .path("clients")
                .path("quayside-board")
                .path("client_id")
                .asString();
        String page = READERS.get("junia").get("/harbour/catalogue/tides").text();
        assertThat(page)
                .contains("as the client " + client, demo.server() + "/harbour/token")
                .contains("quayside-board sends a person here", "client_id=" + client);
        // A client that is somebody else's is not chosen, whatever the address says.
        String others = demo.ready()
                .path("clients")
                .path("tide-buoy-07")
                .path("client_id")
                .asString();
        assertThat(READERS.get("junia")
                        .get("/harbour/catalogue/tides?client=" + others)
                        .body())
                .doesNotContain(others);
        assertThat(READERS.get("stranger").get("/harbour/catalogue/tides").text())
                .contains("as the client CLIENT_ID");
    }

    @Test
    void anOperationSaysWhatItNeedsAndHowItIsCalled() throws Exception {
        Visitor.Seen page = READERS.get("stranger").get("/harbour/catalogue/tides/operation?of=POST%20/tides/readings");
        assertThat(page.status()).isEqualTo(200);
        assertThat(page.text())
                .contains("Needs tides.publish", "Publish a reading", "gauge", "required")
                .contains("-H \"Authorization: Bearer $ACCESS_TOKEN\" -X POST")
                .contains("--data-raw '{ \"gauge\": \"north-quay\", \"metres\": 3.4 }'");
        assertThat(READERS.get("stranger")
                        .get("/harbour/catalogue/tides/operation?of=GET%20/tides/%7BgaugeName%7D")
                        .text())
                .contains("/tides/north-quay");
        assertThat(READERS.get("stranger")
                        .get("/harbour/catalogue/tides/operation?of=DELETE%20/tides")
                        .status())
                .isEqualTo(404);
    }

    /** The line of the page, run as it is. */
    @Test
    void theCallOfAPageWorks() throws Exception {
        String page = READERS.get("stranger")
                .get("/harbour/catalogue/tides/operation?of=GET%20/tides/%7BgaugeName%7D")
                .text();
        String url = page.replaceAll("(?s).*\\$ACCESS_TOKEN\" (http\\S+).*", "$1");
        String token = Wire.token(demo, "tide-buoy-07", "&scope=tides.read");
        assertThat(Wire.call("GET", url, token).status()).isEqualTo(200);
    }

    @ParameterizedTest(name = "searching for {0} finds {1}")
    @CsvSource(delimiter = '|', textBlock = """
            tide            | Tide heights
            newest readings | Tide heights
            POST /tides     | Tide heights
            TIDES.READ      | Tide heights
            every gauge     | Tide heights
            ti              | Tide heights
            nothing-of-it   | Nothing here has
            "               | Nothing here has
            """)
    void aSearchFindsNamesScopesAndOperations(String words, String found) throws Exception {
        assertThat(READERS.get("stranger")
                        .get("/harbour/catalogue?search=" + Wire.encoded(words))
                        .text())
                .contains(found);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "\"\"\"",
                "a OR b",
                "text:tides",
                "*",
                "^tides",
                "NEAR(a b)",
                "'; DROP TABLE api; --",
                "{a b}",
                "%00",
                "(("
            })
    void aSearchIsWordsWhateverItHolds(String words) throws Exception {
        assertThat(READERS.get("stranger")
                        .get("/harbour/catalogue?search=" + Wire.encoded(words))
                        .status())
                .isEqualTo(200);
        assertThat(READERS.get("stranger")
                        .get("/harbour/catalogue?search=" + Wire.encoded(words.repeat(50)))
                        .status())
                .isEqualTo(200);
    }

    @Test
    void whatIsNotListedIsNotTold() throws Exception {
        assertThat(operator.harbour("PATCH", "/apis/tides/scopes/tides.publish", "{\"listed\":false}")
                        .status())
                .isEqualTo(200);
        try {
            Visitor stranger = READERS.get("stranger");
            assertThat(stranger.get("/harbour/catalogue/tides").body()).doesNotContain("tides.publish", "POST");
            assertThat(stranger.get("/harbour/catalogue/tides/openapi.json").body())
                    .contains("/tides/readings")
                    .doesNotContain("tides.publish", "publishReading");
            assertThat(stranger.get("/harbour/catalogue/tides/operation?of=POST%20/tides/readings")
                            .status())
                    .isEqualTo(404);
            assertThat(stranger.get("/harbour/catalogue?search=tides.publish").text())
                    .contains("Nothing here has");
        } finally {
            operator.harbour("PATCH", "/apis/tides/scopes/tides.publish", "{\"listed\":true}");
        }
    }

    @Test
    void whatAnOwnerWritesIsShownAndNeverRun() throws Exception {
        String hostile = "<script>alert(1)</script> [press](javascript:alert(2)) {{issuer}}";
        String body = Running.JSON.writeValueAsString(Map.of(
                "readers",
                "public",
                "description",
                hostile,
                "getting_started",
                hostile,
                "changes",
                java.util.List.of(Map.of("date", "2026-11-30", "text", hostile))));
        operator.harbour("POST", "/apis", "{\"name\":\"hostile\",\"title\":\"<b>Bold</b>\"}");
        assertThat(publish("hostile", body).status()).isEqualTo(200);
        try {
            for (String path : new String[] {"/harbour/catalogue", "/harbour/catalogue/hostile"}) {
                Visitor.Seen page = READERS.get("stranger").get(path);
                assertThat(page.body())
                        .startsWith("<!doctype html>")
                        .doesNotContain("<script", "href=\"javascript", "<b>Bold")
                        .contains("&lt;b&gt;Bold");
                assertThat(page.header("Content-Security-Policy")).startsWith("default-src 'none'");
            }
        } finally {
            operator.harbour("DELETE", "/apis/hostile", null);
        }
        assertThat(READERS.get("stranger")
                        .get("/harbour/catalogue?search=press")
                        .text())
                .contains("Nothing here has");
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource(delimiter = '|', textBlock = """
            {"readers":"all"}                                         | /readers
            {"readers":"named"}                                       | /people
            {"people":["nobody@saltmarsh.example"]}                   | /people/0
            {"changes":[{"date":"yesterday","text":"x"}]}             | /changes/0/date
            {"changes":[{"date":"2026-11-30"}]}                       | /changes/0/text
            {"changes":[null]}                                        | /changes/0/date
            {"description":"a\\u0000b"}                               | /description
            """)
    void whatCannotBeSaidIsAFault(String body, String pointer) throws Exception {
        Wire.Answer answer = publish("draft-api", body);
        assertThat(answer.status()).isEqualTo(422);
        assertThat(answer.body()).contains("\"" + pointer + "\"");
        assertThat(operator.harbour("GET", "/apis/draft-api/catalogue", null)
                        .json()
                        .path("readers")
                        .asString())
                .isEqualTo("none");
    }

    @Test
    void theCommandLinePublishesAndTheSetupFileSaysSo() throws Exception {
        Running.Said made = demo.admit(
                "catalogue",
                "publish",
                "draft-api",
                "--readers",
                "public",
                "--description",
                "Early.",
                "--note",
                "New.");
        assertThat(made.out()).contains("Everybody finds draft-api in the catalogue.");
        assertThat(demo.admit("catalogue", "list", "--as", "public", "--search", "early")
                        .out())
                .contains("draft-api");
        assertThat(demo.admit("catalogue", "show", "draft-api").out()).contains("public", "Early.", "New.");
        String exported = demo.admit("setup", "export", "--api", "draft-api").out();
        assertThat(exported).contains("catalogue:", "readers: public", "description: Early.", "text: New.");
        assertThat(demo.admit("catalogue", "unpublish", "draft-api").out()).contains("no longer in the catalogue");
        assertThat(operator.harbour("GET", "/apis/draft-api/catalogue", null)
                        .json()
                        .path("description")
                        .asString())
                .isEqualTo("Early.");
        Path file = folder.resolve("piece.yaml");
        java.nio.file.Files.writeString(file, exported);
        Running.Said loaded = demo.admit("setup", "load", file.toString(), "--confirm", "harbour");
        assertThat(loaded.out()).contains("catalogue entry of draft-api");
        assertThat(demo.admit("catalogue", "show", "draft-api").out()).contains("public");
        assertThat(publish("draft-api", "{\"readers\":\"none\"}").status()).isEqualTo(200);
    }
}
