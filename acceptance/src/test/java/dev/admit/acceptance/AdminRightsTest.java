package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.InputStream;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.JsonNode;

/**
 * Walks the whole table of the admin API: every endpoint, tried by everybody, at their own issuer, another and the
 * service's.
 */
class AdminRightsTest {
    private static final HttpClient HTTP = HttpClient.newHttpClient();
    private static final List<String> ROLES = List.of("auditor", "operator", "administrator");
    private static Running demo;
    private static Operator operator;
    private static Cast cast;
    private static final List<Endpoint> ENDPOINTS = new ArrayList<>();

    private record Endpoint(String method, String path, String role, String of, String owner) {
        boolean namesIssuer() {
            return path.contains("{issuer}");
        }
    }

    /**
     * A demo of its own: hundreds of refusals for the same reason in a minute are not all kept one by one, and other
     * tests look for theirs.
     */
    @BeforeAll
    static void start(@TempDir Path folder) throws Exception {
        demo = Running.demo(folder);
        operator = Operator.of(demo);
        cast = Cast.of(demo);
        for (JsonNode it : operator.get("/permissions").json().path("items")) {
            ENDPOINTS.add(new Endpoint(
                    it.path("method").asString(),
                    it.path("path").asString(),
                    it.path("admin_role").asString(),
                    it.path("of").asString(),
                    it.path("owner").asString()));
        }
    }

    @AfterAll
    static void stop() {
        demo.close();
    }

    /**
     * As the endpoint declares.
     *
     * @param role of the person, or null
     * @param target the issuer in the address
     */
    private static boolean mayByRole(Endpoint it, String role, String issuer, String target) {
        boolean reaches =
                issuer.equals("admit") || it.of().equals("any") || it.of().equals("issuer") && issuer.equals(target);
        return role != null && reaches && ROLES.indexOf(role) >= ROLES.indexOf(it.role());
    }

    private static boolean mayAsOwner(Endpoint it, String issuer, String target) {
        return !it.owner().equals("nothing") && (!it.namesIssuer() || issuer.equals(target));
    }

    /**
     * The address with names in it: those of things that the owner of the issuer owns; of what nobody owns, of things
     * that are not there.
     */
    private static String address(Endpoint it, String target, boolean real) throws Exception {
        String path = it.path()
                .replace("{issuer}", target)
                .replace("{api}", real ? Cast.API : "none")
                .replace("{client}", real ? Cast.CLIENT : "none")
                .replace("{route}", real ? cast.route(target) : "rt_none")
                .replace("{plan}", real ? Cast.PLAN : "none")
                .replace("{subscription}", real ? cast.subscription(target) : "sub_none");
        if (path.contains("{approval}")) path = path.replace("{approval}", real ? cast.approval(target) : "ap_none");
        return path.replaceAll("\\{number}", "999999").replaceAll("\\{[a-z]+}", "none");
    }

    /**
     * A request that changes nothing where it is let in: its body cannot be read, and what it was made from is long
     * gone.
     */
    private static int status(String method, String path, String token) throws Exception {
        HttpRequest.Builder request = HttpRequest.newBuilder(URI.create(demo.server() + path))
                .header("If-Match", "\"999999\"")
                .header("Content-Type", "application/json");
        if (token != null) request.header("Authorization", "Bearer " + token);
        boolean hasBody = !method.equals("GET") && !method.equals("DELETE");
        HttpResponse<InputStream> answer = HTTP.send(
                request.method(
                                method,
                                hasBody
                                        ? HttpRequest.BodyPublishers.ofString("\"nothing\"")
                                        : HttpRequest.BodyPublishers.noBody())
                        .build(),
                HttpResponse.BodyHandlers.ofInputStream());
        answer.body().close(); // a stream would go on
        return answer.statusCode();
    }

    @Test
    void everyEndpointLetsInWhomItDeclaresAndNobodyElse() throws Exception {
        List<String> wrong = new ArrayList<>();
        int walked = 0;
        for (Endpoint it : ENDPOINTS) {
            for (String target : it.namesIssuer() ? Cast.ISSUERS : List.of("admit")) {
                for (Cast.Actor actor : cast.people.values()) {
                    if (actor.issuer().equals("gullwing") && !actor.name().startsWith("administrator"))
                        continue; // as those of the harbour
                    boolean may = mayByRole(it, actor.role(), actor.issuer(), target)
                            || actor.owns() && mayAsOwner(it, actor.issuer(), target);
                    String path = address(it, target, actor.owns());
                    int status = status(it.method(), path, actor.token());
                    walked++;
                    if (may == (status == 401 || status == 403))
                        wrong.add("%s, %s %s: %d".formatted(actor, it.method(), path, status));
                }
            }
        }
        assertThat(wrong).isEmpty();
        assertThat(ENDPOINTS.size()).isGreaterThan(90);
        assertThat(walked).isGreaterThan(2_500);
    }

    @Test
    void ownersMayNotUseWhatOthersOwn() throws Exception {
        Cast.Actor owner = cast.people.get("owner of harbour");
        String ofOthers = Operator.of(demo)
                .harbour("GET", "/subscriptions?client=tide-buoy-07", null)
                .json()
                .path("items")
                .get(0)
                .path("id")
                .asString();
        List<String> wrong = new ArrayList<>();
        for (Endpoint it : ENDPOINTS) {
            if (Set.of("nothing", "anything").contains(it.owner())) continue;
            String path = it.path()
                    .replace("{issuer}", "harbour")
                    .replace("{api}", "tides")
                    .replace("{client}", "tide-buoy-07")
                    .replace("{route}", "rt_none")
                    .replace("{approval}", "ap_none")
                    .replace("{plan}", "open-water")
                    .replace("{subscription}", ofOthers)
                    .replaceAll("\\{[a-z]+}", "none");
            int status = status(it.method(), path, owner.token());
            if (status != 403) wrong.add("%s %s: %d".formatted(it.method(), path, status));
        }
        assertThat(wrong).isEmpty();
    }

    @Test
    void aClientIsLetInByItsScope() throws Exception {
        String endpoint = demo.ready().path("issuers").path("admit").asString() + "/token";
        String reads = Wire.form(
                        endpoint,
                        Wire.basic(demo.ready().path("operator")),
                        "grant_type=client_credentials&scope=admin.read")
                .json()
                .path("access_token")
                .asString();
        String changes = Wire.form(
                        endpoint,
                        Wire.basic(demo.ready().path("operator")),
                        "grant_type=client_credentials&scope=admin.change")
                .json()
                .path("access_token")
                .asString();
        List<String> wrong = new ArrayList<>();
        for (Endpoint it : ENDPOINTS) {
            for (String target : it.namesIssuer() ? Cast.ISSUERS : List.of("admit")) {
                String path = address(it, target, false);
                int read = status(it.method(), path, reads);
                int change = status(it.method(), path, changes);
                int stranger = status(it.method(), path, null);
                if (it.role().equals("auditor") == (read == 401 || read == 403))
                    wrong.add("admin.read, %s %s: %d".formatted(it.method(), path, read));
                if (change == 401 || change == 403)
                    wrong.add("admin.change, %s %s: %d".formatted(it.method(), path, change));
                if (stranger != 401) wrong.add("a stranger, %s %s: %d".formatted(it.method(), path, stranger));
            }
        }
        assertThat(wrong).isEmpty();
    }

    @Test
    void aTokenOfANeighbourThatLooksLikeOneOfTheAdminApiIsRefused() throws Exception {
        Wire.Answer taken = operator.post(
                "/issuers/gullwing/apis", "{\"name\":\"admin\",\"audience\":\"%s/admin\"}".formatted(demo.server()));
        assertThat(taken.status())
                .as("the audience of the admin API is taken at every issuer")
                .isEqualTo(409);
        operator.post("/issuers/gullwing/apis", "{\"name\":\"admin\",\"audience\":\"urn:cast:admin\"}");
        operator.post(
                "/issuers/gullwing/apis/admin/scopes",
                "{\"name\":\"admin.change\",\"effect\":\"changes\",\"reach\":\"everyone\",\"for\":\"clients\"}");
        JsonNode made = operator.post(
                        "/issuers/gullwing/clients", "{\"name\":\"look-alike\",\"scopes\":[\"admin.change\"]}")
                .json();
        operator.post(
                "/issuers/gullwing/approvals/"
                        + made.path("now").path("scopes").get(0).path("id").asString() + "/grant",
                "{}");
        JsonNode credential = Running.JSON.readTree("{\"client_id\":\"%s\",\"client_secret\":\"%s\"}"
                .formatted(
                        made.path("now").path("client_id").asString(),
                        made.path("secret").path("secret").asString()));
        Wire.Answer fetched = Wire.form(
                demo.server() + "/gullwing/token",
                Wire.basic(credential),
                "grant_type=client_credentials&scope=admin.change");
        assertThat(fetched.status()).as(fetched.body()).isEqualTo(200);
        String token = fetched.json().path("access_token").asString();
        assertThat(status("GET", "/admin/issuers", token)).isEqualTo(401);
        assertThat(status("GET", "/admin/issuers/gullwing/clients", token)).isEqualTo(401);
    }

    @Test
    void thereIsNothingBelowAdminThatAStrangerMayAsk() throws Exception {
        for (String path : List.of(
                "/admin",
                "/admin/",
                "/admin/none",
                "/admin/issuers/",
                "/admin/%69ssuers",
                "/admin/live/",
                "/admin//issuers",
                "/ADMIN/issuers")) {
            for (String method : List.of("GET", "HEAD", "OPTIONS", "POST")) {
                int status = status(method, path, null);
                assertThat(status).as(method + " " + path).isIn(400, 401, 404, 405);
            }
        }
        assertThat(status("GET", "/admin/openapi.json", null))
                .as("its description holds nothing that is not in the source")
                .isEqualTo(200);
    }

    /**
     * {@code docs/security.md} has the table as it is declared. Run with {@code -Dadmit.docs=write} to write it anew.
     */
    @Test
    void theTableInTheDocumentsIsAsDeclared() throws Exception {
        Path file = Running.projectRoot().resolve("docs/security.md");
        String text = Files.readString(file);
        String begin = "<!-- the table of endpoints, made from their declarations -->\n";
        String end = "<!-- the end of the table -->";
        String fresh =
                text.substring(0, text.indexOf(begin) + begin.length()) + table() + text.substring(text.indexOf(end));
        if ("write".equals(System.getProperty("admit.docs"))) Files.writeString(file, fresh);
        else
            assertThat(text)
                    .as("mvn test -pl acceptance -am -Dtest=AdminRightsTest -Dadmit.docs=write")
                    .isEqualTo(fresh);
    }

    private static String table() {
        StringBuilder table = new StringBuilder(
                "| endpoint | administrator | operator | auditor | owner | no role | `admin.read` | `admin.change` "
                        + "|\n| --- | --- | --- | --- | --- | --- | --- | --- |\n");
        for (Endpoint it : ENDPOINTS) {
            table.append("| `")
                    .append(it.method())
                    .append(' ')
                    .append(it.path())
                    .append('`');
            for (String role : List.of("administrator", "operator", "auditor"))
                table.append(" | ").append(cell(it, role));
            table.append(" | ")
                    .append(it.owner().equals("nothing") ? "no" : it.owner().replace('-', ' '))
                    .append(" | no | ")
                    .append(it.role().equals("auditor") ? "yes" : "no")
                    .append(" | yes |\n");
        }
        return table.toString();
    }

    private static String cell(Endpoint it, String role) {
        Map<String, Boolean> at = new LinkedHashMap<>();
        at.put("own", mayByRole(it, role, "harbour", "harbour"));
        at.put("service", mayByRole(it, role, "admit", "harbour"));
        if (!at.get("service")) return "no";
        return at.get("own") ? "own" : "service";
    }
}
