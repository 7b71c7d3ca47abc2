package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.parallel.ResourceLock;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;

/**
 * People who answer for an API or a client see, change and approve what is theirs; an administrator keeps the last
 * word.
 */
@ResourceLock(Running.DEMO)
class OwnersTest {
    private static final String ISOLDE = "isolde.marrin@saltmarsh.example";
    private static Running demo;
    private static Operator operator;
    private static final Map<String, String> TOKENS = new HashMap<>();

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo();
        operator = Operator.of(demo);
        for (String name : new String[] {"corin", "edda", "isolde", "junia", "tobias"})
            TOKENS.put(
                    name,
                    Visitor.tokens(demo, "admit-command-line", name, "openid admit:run")
                            .path("access_token")
                            .asString());
    }

    private static Wire.Answer as(String who, String method, String path, String body) throws Exception {
        Map<String, String> headers =
                new HashMap<>(Map.of("Authorization", "Bearer " + TOKENS.get(who), "If-Match", "*"));
        if (body != null) headers.put("Content-Type", "application/json");
        return Wire.send(
                method,
                demo.ready().path("admin_api").asString()
                        + (path.startsWith("/decisions")
                                ? path
                                : "/issuers" + (path.isEmpty() ? "" : "/harbour" + path)),
                headers,
                body);
    }

    @ParameterizedTest(name = "{0} {1} {2}: {4}")
    @CsvSource(delimiter = '|', nullValues = "-", textBlock = """
            isolde | GET    | /apis/berths                        | -                            | 200
            isolde | GET    | /apis/berths/scopes/berths.read     | -                            | 200
            isolde | GET    | /apis/berths/minting                | -                            | 200
            isolde | GET    | /apis/berths/checking               | -                            | 200
            isolde | GET    | /apis/tides                         | -                            | 403
            isolde | GET    | /apis/tides/scopes                  | -                            | 403
            isolde | GET    | /clients/quayside-board             | -                            | 403
            isolde | GET    | /people                             | -                            | 403
            isolde | GET    | /audit                              | -                            | 403
            isolde | GET    | /keys                               | -                            | 403
            isolde | GET    | /setup                              | -                            | 403
            isolde | GET    | /owners                             | -                            | 403
            isolde | GET    | /tokens                             | -                            | 403
            isolde | GET    | /outbox                              | -                            | 403
            isolde | PATCH  | /apis/berths                        | {"title":"Ship berths"}      | 200
            isolde | PATCH  | /apis/berths/scopes/berths.read     | {"by_role":false}              | 200
            isolde | PATCH  | /apis/tides                         | {"title":"Mine now"}         | 403
            isolde | PATCH  | /apis/tides/scopes/tides.read       | {"approver":"person"}        | 403
            isolde | POST   | /apis/tides/secrets                 | {"label":"x"}                | 403
            isolde | POST   | /apis                               | {"name":"another"}           | 403
            isolde | DELETE | /apis/berths?confirm=berths         | -                            | 403
            isolde | POST   | /routes                             | {"path":"/x","open":true}    | 403
            isolde | POST   | /routes/preview                     | {"path":"/x","open":true}    | 403
            isolde | GET    | /apis/berths/openapi                | -                            | 200
            isolde | POST   | /apis/berths/openapi/check          | {"document":"x"}             | 422
            isolde | GET    | /apis/tides/openapi                 | -                            | 403
            isolde | POST   | /apis/tides/openapi/check           | {}                           | 403
            isolde | POST   | /apis/berths/openapi/import         | {"document":"x"}             | 403
            junia  | GET    | /apis/tides/openapi                 | -                            | 403
            isolde | GET    | /apis/berths/catalogue              | -                            | 200
            isolde | PATCH  | /apis/berths/catalogue              | {"readers":"signed-in"}      | 200
            isolde | GET    | /apis/tides/catalogue               | -                            | 403
            isolde | PATCH  | /apis/tides/catalogue               | {"readers":"none"}           | 403
            isolde | GET    | /catalogue                          | -                            | 200
            junia  | GET    | /catalogue?as=named                 | -                            | 200
            junia  | GET    | /catalogue?as=none                  | -                            | 422
            junia  | PATCH  | /apis/tides/catalogue               | {"readers":"named"}          | 403
            tobias | GET    | /catalogue                          | -                            | 403
            tobias | PATCH  | /apis/tides/catalogue               | {"readers":"none"}           | 403
            tobias | GET    | /apis/berths/openapi                | -                            | 403
            edda   | POST   | /apis/berths/openapi/import         | {"document":"x"}             | 422
            isolde | POST   | /apis/preview                       | {"name":"another"}           | 403
            isolde | POST   | /clients/preview                    | {"name":"another"}           | 403
            isolde | POST   | /apis/berths/scopes/preview         | \
            {"name":"berths.see","effect":"reads","reach":"own","for":"both"} | 200
            isolde | POST   | /apis/tides/scopes/preview          | \
            {"name":"tides.see","effect":"reads","reach":"own","for":"both"} | 403
            isolde | POST   | /owners                             | \
            {"person":"isolde.marrin@saltmarsh.example","api":"tides"} | 403
            isolde | POST   | /owners/hand-over                   | \
            {"from":"junia.hale@saltmarsh.example","to":"isolde.marrin@saltmarsh.example"} | 403
            isolde | PATCH  | /people/isolde.marrin@saltmarsh.example | {"admin_role":"administrator"} | 403
            isolde | POST   | /apis/berths/../tides/secrets       | {"label":"x"}                | 404
            isolde | GET    | /apis/berths%2f..%2ftides           | -                            | 400
            isolde | GET    | /apis/berths;x=1/../tides           | -                            | 404
            isolde | GET    | /apis//tides                        | -                            | 400
            edda   | POST   | /owners                             | \
            {"person":"edda.lorne@saltmarsh.example","api":"berths"} | 403
            junia  | GET    | /clients/quayside-board             | -                            | 200
            junia  | PATCH  | /clients/quayside-board             | {"client_name":"Quayside board"}   | 200
            junia  | GET    | /clients/berth-desk                 | -                            | 403
            junia  | POST   | /clients/berth-desk/secrets         | {"label":"x"}                | 403
            junia  | POST   | /clients                            | {"name":"mine"}              | 403
            junia  | POST   | /clients/quayside-board/copy        | {"name":"a-copy"}            | 403
            junia  | POST   | /clients/quayside-board/openid/grant | {}                         | 403
            junia  | POST   | /approvals                          | {"client":"quayside-board","scope":"berths.read"} \
            | 201
            junia  | POST   | /approvals                          | {"client":"night-audit","scope":"berths.read"} | 403
            junia  | POST   | /approvals                          | {"client":"there-is-none","scope":"berths.read"} \
            | 403
            junia  | POST   | /approvals/roles                    | {"client":"night-audit","role":"pilot"} | 403
            tobias | GET    | /apis                               | -                            | 403""")
    void eachMayDoWhatIsTheirs(String who, String method, String path, String body, int status) throws Exception {
        Wire.Answer answer = as(who, method, path, body);
        assertThat(answer.status()).as(answer.body()).isEqualTo(status);
    }

    @Test
    void listsHoldTheirsAlone() throws Exception {
        assertThat(names(as("isolde", "GET", "/apis", null), "name")).containsExactly("berths");
        assertThat(names(as("isolde", "GET", "/clients", null), "name")).isEmpty();
        assertThat(names(as("junia", "GET", "/clients", null), "name")).containsExactly("quayside-board");
        assertThat(names(as("junia", "GET", "/apis", null), "name")).isEmpty();
        assertThat(names(as("isolde", "GET", "/routes", null), "api"))
                .isNotEmpty()
                .containsOnly("berths");
        assertThat(names(as("isolde", "GET", "/approvals", null), "scope"))
                .isNotEmpty()
                .allMatch(it -> it.startsWith("berths."));
        assertThat(names(as("junia", "GET", "/approvals", null), "client"))
                .isNotEmpty()
                .containsOnly("quayside-board");
        assertThat(names(as("junia", "GET", "/approvals?client=night-audit", null), "client"))
                .isEmpty();
        assertThat(names(as("isolde", "GET", "", null), "name")).containsExactly("harbour");
    }

    @Test
    void decisionsAreThoseOfTheirs() throws Exception {
        JsonNode buoy = demo.ready().path("clients").path("tide-buoy-07");
        Wire.form(
                demo.ready().path("issuers").path("harbour").asString() + "/token",
                Wire.basic(buoy),
                "grant_type=client_credentials&scope=tides.read");
        Wire.call("GET", demo.ready().path("gateway").asString() + "/berths", null);
        JsonNode theirs =
                as("isolde", "GET", "/decisions?limit=200", null).json().path("items");
        assertThat(theirs).isNotEmpty().allMatch(it -> it.path("api").asString().equals("berths"));
        String ofTides = operator.get("/decisions?client=tide-buoy-07&limit=1")
                .json()
                .path("items")
                .get(0)
                .path("id")
                .asString();
        assertThat(as("isolde", "GET", "/decisions/" + ofTides, null).status()).isEqualTo(404);
        assertThat(as("isolde", "GET", "/decisions/" + theirs.get(0).path("id").asString(), null)
                        .status())
                .isEqualTo(200);
    }

    private static List<String> names(Wire.Answer answer, String member) {
        List<String> names = new ArrayList<>();
        answer.json().path("items").forEach(it -> names.add(it.path(member).asString()));
        return names;
    }

    private static Wire.Answer made(String path, String body) throws Exception {
        Wire.Answer made = operator.harbour("POST", path, body);
        assertThat(made.status()).as(made.body()).isEqualTo(201);
        return made;
    }

    /** @return the id of a request that waits */
    private static String asking(String client, String scope) throws Exception {
        return made("/clients", "{\"name\":\"%s\",\"scopes\":[\"%s\"]}".formatted(client, scope))
                .json()
                .path("now")
                .path("scopes")
                .get(0)
                .path("id")
                .asString();
    }

    @Test
    void theyAnswerWhatIsAskedOfTheirApiAndOfNoOther() throws Exception {
        String berths = asking("asks-berths", "berths.read");
        String tides = asking("asks-tides", "tides.read");
        assertThat(operator.harbour("GET", "/approvals/" + berths, null)
                        .json()
                        .path("waits_for")
                        .asString())
                .contains(ISOLDE)
                .contains("or an administrator");
        assertThat(as("isolde", "POST", "/approvals/" + tides + "/grant", "{}").status())
                .isEqualTo(403);
        assertThat(as("junia", "POST", "/approvals/" + berths + "/grant", "{}").status())
                .isEqualTo(403);
        assertThat(as("isolde", "DELETE", "/approvals/" + berths, null).status())
                .as("whose client it is takes the ask off")
                .isEqualTo(403);
        assertThat(as("isolde", "POST", "/approvals/" + berths + "/grant", "{}")
                        .json()
                        .path("now")
                        .path("decided_by")
                        .asString())
                .isEqualTo(ISOLDE);
    }

    @Test
    void anAdministratorKeepsTheLastWord() throws Exception {
        String ask = asking("last-word", "berths.read");
        assertThat(as("isolde", "POST", "/approvals/" + ask + "/grant", "{}").status())
                .isEqualTo(200);
        assertThat(as("corin", "POST", "/approvals/" + ask + "/withdraw", "{\"reason\":\"not this one\"}")
                        .status())
                .isEqualTo(200);
        operator.harbour("POST", "/approvals", "{\"client\":\"last-word\",\"scope\":\"berths.read\"}");
        Wire.Answer again = as("isolde", "POST", "/approvals/" + ask + "/grant", "{}");
        assertThat(again.status()).isEqualTo(409);
        assertThat(again.body()).contains("keeps the last word");
        assertThat(as("isolde", "DELETE", "/apis/berths/scopes/berths.read?confirm=berths.read", null)
                        .status())
                .as("nor by making the scope anew")
                .isEqualTo(409);
        assertThat(as("corin", "POST", "/approvals/" + ask + "/grant", "{}").status())
                .isEqualTo(200);
        assertThat(as("isolde", "POST", "/approvals/" + ask + "/withdraw", "{}").status())
                .isEqualTo(200);
        assertThat(as("isolde", "POST", "/approvals/" + ask + "/grant", "{}").status())
                .as("it is not waiting, and given anew all the same")
                .isEqualTo(200);
    }

    @Test
    void thatPeopleApproveAScopeThemselvesIsForAnAdministratorToAllow() throws Exception {
        assertThat(as("isolde", "PATCH", "/apis/berths/scopes/berths.assign", "{\"approver\":\"person\"}")
                        .status())
                .isEqualTo(409);
        assertThat(as("isolde", "PATCH", "/apis/berths/scopes/berths.book", "{\"approver\":\"administrator\"}")
                        .status())
                .isEqualTo(200);
        assertThat(as("isolde", "PATCH", "/apis/berths/scopes/berths.book", "{\"approver\":\"person\"}")
                        .status())
                .isEqualTo(409);
        assertThat(as("corin", "PATCH", "/apis/berths/scopes/berths.book", "{\"approver\":\"person\"}")
                        .status())
                .isEqualTo(200);
    }

    /** With an owner of their own: an address hears few letters in an hour, and the other tests write to Isolde. */
    @Test
    void theyAreMailedWhatIsAskedOfTheirApi() throws Exception {
        String told = person("told");
        made("/apis", "{\"name\":\"fenders\",\"upstream\":\"http://127.0.0.1:9\"}");
        made(
                "/apis/fenders/scopes",
                "{\"name\":\"fenders.read\",\"consequence\":\"Read the list of fenders.\",\"effect\":\"reads\","
                        + "\"reach\":\"everyone\",\"for\":\"both\",\"approver\":\"administrator\"}");
        made("/owners", "{\"person\":\"%s\",\"api\":\"fenders\"}".formatted(told));
        asking("tells-them", "fenders.read");
        asking("tells-nobody", "tides.read");
        List<String> subjects = names(operator.get("/issuers/harbour/outbox?to=" + told), "subject");
        assertThat(subjects)
                .anyMatch(it -> it.contains("tells-them requests fenders.read"))
                .noneMatch(it -> it.contains("tells-nobody"));
    }

    @Test
    void whatALeaverAnsweredForIsHandedOver() throws Exception {
        String leaver = person("leaver");
        String heir = person("heir");
        operator.harbour("POST", "/apis", "{\"name\":\"lamps\",\"upstream\":\"http://127.0.0.1:9\"}");
        operator.harbour("POST", "/clients", "{\"name\":\"lamp-keeper\"}");
        for (String thing : List.of("\"api\":\"lamps\"", "\"client\":\"lamp-keeper\"")) {
            assertThat(operator.harbour("POST", "/owners", "{\"person\":\"%s\",%s}".formatted(leaver, thing))
                            .status())
                    .isEqualTo(201);
        }
        assertThat(operator.harbour(
                                "POST", "/owners/hand-over", "{\"from\":\"%s\",\"to\":\"%s\"}".formatted(leaver, heir))
                        .json()
                        .path("now")
                        .size())
                .isEqualTo(2);
        assertThat(names(operator.harbour("GET", "/owners?person=" + heir, null), "name"))
                .containsExactly("lamps", "lamp-keeper");
        assertThat(names(operator.harbour("GET", "/owners?person=" + leaver, null), "name"))
                .isEmpty();
        assertThat(operator.harbour("GET", "/apis/lamps", null)
                        .json()
                        .path("owners")
                        .toString())
                .contains(heir);
        assertThat(operator.harbour("POST", "/people/" + heir + "/off", "{}")
                        .json()
                        .path("notes")
                        .toString())
                .contains("They answer for the API lamps and the client lamp-keeper", "Hand it over");
        assertThat(operator.harbour("DELETE", "/people/" + heir, null)
                        .json()
                        .path("would_break")
                        .toString())
                .contains("what they answer for: the API lamps");
        assertThat(operator.harbour("GET", "/audit?on=lamps", null).body()).contains("owner.named", "owner.released");
        assertThat(operator.harbour("DELETE", "/people/" + heir + "?confirm=" + heir, null)
                        .status())
                .isEqualTo(204);
        assertThat(operator.harbour("GET", "/apis/lamps", null).json().path("owners"))
                .as("gone with the person")
                .isEmpty();
    }

    private static String person(String name) throws Exception {
        String address = name + "@saltmarsh.example";
        assertThat(operator.harbour(
                                "POST",
                                "/people",
                                ("{\"email\":\"%s\",\"profile\":{\"name\":\"%s\"},\"password\":\"four plain words "
                                                + "here\"}")
                                        .formatted(address, name))
                        .status())
                .isEqualTo(201);
        return address;
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(delimiter = '|', textBlock = """
            {"person":"nobody@saltmarsh.example","api":"tides"}          | 422 | /person
            {"api":"tides"}                                              | 422 | /person
            {"person":"tobias.wren@saltmarsh.example"}                   | 422 | an API or a client
            {"person":"tobias.wren@saltmarsh.example","api":"tides","client":"berth-desk"} | 422 | both
            {"person":"tobias.wren@saltmarsh.example","api":"none"}      | 404 | API
            {"person":"perrin.voss@gullwing.example","api":"tides"}      | 422 | /person""")
    void whoCannotAnswerIsSaid(String body, int status, String says) throws Exception {
        Wire.Answer answer = operator.harbour("POST", "/owners", body);
        assertThat(answer.status()).as(answer.body()).isEqualTo(status);
        assertThat(answer.body()).contains(says);
    }

    @Test
    void theAdminApiItselfHasNoOwner() throws Exception {
        operator.post(
                "/issuers/admit/people",
                "{\"email\":\"x@admit.example\",\"profile\":{\"name\":\"X\"},\"password\":\"four plain words here\"}");
        assertThat(operator.post("/issuers/admit/owners", "{\"person\":\"x@admit.example\",\"api\":\"admin\"}")
                        .status())
                .isEqualTo(409);
    }

    @Test
    void aClientRunsAdmitOnlyAfterAnAdministratorSaidSoAndAsItWasThen() throws Exception {
        assertThat(as("junia", "PATCH", "/clients/quayside-board", "{\"openid_scopes\":[\"openid\",\"admit:run\"]}")
                        .status())
                .as("its owner")
                .isEqualTo(403);
        assertThat(as("corin", "PATCH", "/clients/quayside-board", "{\"openid_scopes\":[\"openid\",\"admit:run\"]}")
                        .status())
                .isEqualTo(200);
        assertThat(as("junia", "PATCH", "/clients/quayside-board", "{\"client_name\":\"Mine\"}")
                        .status())
                .as("nor anything else of a client that can run Admit")
                .isEqualTo(403);
        Visitor.Pkce pkce = Visitor.Pkce.make();
        Visitor.Seen page = new Visitor(demo).get(Visitor.asking(demo, "quayside-board", pkce, "openid admit:run"));
        Visitor.Seen approve = Visitor.signIn(page, demo, "corin");
        assertThat(approve.text()).contains("Run Admit here for you").contains("waits");
        Visitor.Seen back = approve.send("/harbour/approve", "answer", "yes");
        JsonNode tokens = Visitor.exchange(demo, "quayside-board", back.parameter("code"), pkce, "")
                .json();
        assertThat(tokens.path("scope").asString()).doesNotContain("admit:run");
        assertThat(as("corin", "PATCH", "/clients/quayside-board", "{\"openid_scopes\":[\"openid\"]}")
                        .status())
                .isEqualTo(200);
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource(delimiter = '|', textBlock = """
            {"openid_scopes":["openid","admit:run","email"]} | false
            {"redirect_uris":["http://127.0.0.1/elsewhere"]}   | false
            {"grant_types":["authorization_code"]}             | false
            {"kind":"browser","redirect_uris":["http://127.0.0.1/back"]} | false
            {"origins":["http://127.0.0.1:9"],"kind":"browser"}| false
            {"openid_scopes":["openid"]}                     | true
            {"client_name":"Another"}                          | true""")
    void whatRunsAdmitIsApprovedAgainWhenItIsNotWhatWasApproved(String change, boolean stays) throws Exception {
        String name = "runner-" + Integer.toHexString(change.hashCode());
        operator.harbour(
                "POST",
                "/clients",
                ("{\"name\":\"%s\",\"kind\":\"native\","
                                + "\"redirect_uris\":[\"http://127.0.0.1/back\"],\"openid_scopes\":[\"openid\",\"a"
                                + "dmit:run\"]}")
                        .formatted(name));
        assertThat(operator.harbour("GET", "/clients/" + name, null)
                        .json()
                        .path("missing")
                        .toString())
                .contains("admit approval openid");
        operator.harbour("POST", "/clients/" + name + "/openid/grant", "{}");
        assertThat(operator.harbour("PATCH", "/clients/" + name, change)
                        .json()
                        .path("now")
                        .path("openid_granted")
                        .asBoolean())
                .isEqualTo(stays);
    }

    @Test
    void ownersTravelInTheSetupFile() throws Exception {
        operator.harbour("POST", "/apis", "{\"name\":\"slips\",\"upstream\":\"http://127.0.0.1:9\"}");
        String file = "issuer: harbour\napis:\n  slips:\n    owners: [%s]\n".formatted(person("slip-keeper"));
        String loaded = Running.JSON.writeValueAsString(Map.of("file", file));
        assertThat(operator.post("/setup/load", loaded).body()).contains("owners of the API slips");
        assertThat(operator.get("/issuers/harbour/setup?api=slips").body()).contains("slip-keeper@saltmarsh.example");
        assertThat(operator.post("/setup/load", loaded).json().path("steps"))
                .as("again, nothing differs")
                .isEmpty();
        Wire.Answer unknown = operator.post(
                "/setup/load",
                Running.JSON.writeValueAsString(Map.of("file", file.replace("slip-keeper", "nobody.here"))));
        assertThat(unknown.body()).contains("/apis/slips/owners/0").contains("nobody.here");
    }

    @Test
    void theCommandLineNamesThemAndHandsOver() throws Exception {
        assertThat(demo.admit("owner", "add", "ama.keld@saltmarsh.example", "--api", "manifests")
                        .out())
                .contains("ama.keld@saltmarsh.example answers for the API manifests");
        assertThat(demo.admit("owner", "list", "--api", "manifests").out()).contains("ama.keld@saltmarsh.example");
        assertThat(demo.admit("api", "show", "manifests").out()).contains("Owners", "ama.keld@saltmarsh.example");
        assertThat(demo.admit("owner", "hand-over", "ama.keld@saltmarsh.example", "corin.ashby@saltmarsh.example")
                        .out())
                .contains("corin.ashby@saltmarsh.example now answers for the API manifests");
        assertThat(demo.admit("owner", "remove", "corin.ashby@saltmarsh.example", "--api", "manifests")
                        .out())
                .contains("corin.ashby@saltmarsh.example no longer answers");
        assertThat(demo.admit("approval", "list", "--client", "night-audit").out())
                .contains("manifests.inspect")
                .doesNotContain("quayside-board");
        assertThat(demo.admit("owner", "add", "ama.keld@saltmarsh.example").exitCode())
                .as("of what is not said")
                .isEqualTo(2);
    }

    /** Of what others own, the catalogue of the admin API tells an owner what any person finds. */
    @Test
    void theCatalogueTellsAnOwnerNothingOfWhatIsNamed() throws Exception {
        assertThat(as("isolde", "GET", "/catalogue", null).body())
                .contains("\"berths\"")
                .doesNotContain("\"tides\"", "\"manifests\"");
        assertThat(as("isolde", "GET", "/catalogue?as=signed-in", null).body())
                .contains("\"berths\"", "\"tides\"")
                .doesNotContain("\"manifests\"");
        assertThat(as("isolde", "GET", "/catalogue?as=named", null).body()).doesNotContain("\"manifests\"");
        assertThat(as("edda", "GET", "/catalogue", null).body()).contains("\"manifests\"");
    }
}
