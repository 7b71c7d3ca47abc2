package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.BufferedReader;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.api.parallel.ResourceLock;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/**
 * Administrators, operators and auditors come to the admin API by Admit's own protocol, and to their own issuer alone.
 */
@ResourceLock(Running.DEMO)
class AdminRoleTest {
    private static Running demo;
    private static final Map<String, String> TOKENS = new HashMap<>();

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo();
        for (String name : new String[] {"corin", "edda", "nell", "tobias"})
            TOKENS.put(
                    name,
                    Visitor.tokens(demo, "admit-command-line", name, "openid admit:run")
                            .path("access_token")
                            .asString());
    }

    private static Wire.Answer send(String who, String method, String path, String body) throws Exception {
        Map<String, String> headers =
                new HashMap<>(Map.of("Authorization", "Bearer " + TOKENS.get(who), "If-Match", "*"));
        if (body != null) headers.put("Content-Type", "application/json");
        return Wire.send(method, demo.ready().path("admin_api").asString() + path, headers, body);
    }

    @ParameterizedTest(name = "{0} {1} {2}: {4}")
    @CsvSource(delimiter = '|', nullValues = "-", textBlock = """
            corin | GET    | /issuers/harbour/clients            | -                      | 200
            edda  | GET    | /issuers/harbour/clients            | -                      | 200
            nell  | GET    | /issuers/harbour/clients            | -                      | 200
            nell  | GET    | /issuers/harbour/audit              | -                      | 200
            tobias | GET    | /issuers/harbour/clients            | -                      | 403
            nell  | POST   | /issuers/harbour/apis               | {"name":"by-nell"}     | 403
            edda  | POST   | /issuers/harbour/clients            | {"name":"by-edda"}     | 201
            edda  | PATCH  | /issuers/harbour/people/nell.draper@saltmarsh.example | {"admin_role":"administrator"} | \
            403
            edda  | POST   | /issuers/harbour/people             | \
            {"email":"x@y.example","admin_role":"administrator"} \
            | 403
            edda  | POST   | /issuers/harbour/people/corin.ashby@saltmarsh.example/reset-factor | {} | 403
            edda  | POST   | /issuers/harbour/clients/berth-desk/openid/withdraw | {}   | 403
            edda  | POST   | /issuers/harbour/approvals/ap_x/grant | {}                    | 403
            corin | POST   | /issuers/harbour/approvals/ap_x/grant | {}                    | 404
            corin | PATCH  | /issuers/harbour/people/nell.draper@saltmarsh.example | {"profile":{"locale":"en"}} | 200
            corin | GET    | /issuers/gullwing/clients           | -                      | 403
            corin | GET    | /issuers/admit/clients              | -                      | 403
            corin | POST   | /issuers                            | {"name":"mine"}        | 403
            corin | DELETE | /issuers/harbour                    | -                      | 403
            corin | POST   | /service/backup                     | {}                     | 403
            corin | GET    | /service/check                      | -                      | 403
            corin | GET    | /issuers/harbour/..%2fgullwing/clients | -                   | 400
            corin | GET    | /issuers/harbour/../gullwing/clients | -                     | 404
            nell  | GET    | /issuers/gullwing;harbour/clients   | -                      | 403""")
    void eachMayDoWhatTheirRankSays(String who, String method, String path, String body, int status) throws Exception {
        assertThat(send(who, method, path, body).status()).isEqualTo(status);
    }

    @Test
    void theySeeTheirOwnIssuerAndItsDecisionsAlone() throws Exception {
        assertThat(send("nell", "GET", "/issuers", null).json().path("items").size())
                .isEqualTo(1);
        Wire.form(
                demo.ready().path("issuers").path("gullwing").asString() + "/token",
                null,
                "grant_type=client_credentials&client_id=cl_x&client_secret=y");
        String decisions = send("nell", "GET", "/decisions?issuer=gullwing&limit=200", null)
                .body();
        assertThat(decisions).contains("\"issuer\":\"harbour\"").doesNotContain("\"issuer\":\"gullwing\"");
    }

    @Test
    void anAdminRoleThatIsTakenAwayIsGoneAtOnceAndAClientsTokenHasNone() throws Exception {
        Operator operator = Operator.of(demo);
        operator.harbour(
                "POST",
                "/people",
                "{\"email\":\"short.term@saltmarsh.example\","
                        + "\"profile\":{\"name\":\"Short\"},\"admin_role\":\"auditor\",\"password\":\"four plain words "
                        + "here\"}");
        Visitor.Pkce pkce = Visitor.Pkce.make();
        Visitor.Seen back = Visitor.approve(new Visitor(demo)
                .get(Visitor.asking(demo, "admit-command-line", pkce, "openid admit:run"))
                .send(
                        "/harbour/sign-in",
                        "email",
                        "short.term@saltmarsh.example",
                        "password",
                        "four plain words here"));
        String token = Visitor.exchange(demo, "admit-command-line", back.parameter("code"), pkce, "")
                .json()
                .path("access_token")
                .asString();
        String url = demo.ready().path("admin_api").asString() + "/issuers/harbour/apis";
        assertThat(Wire.call("GET", url, token).status()).isEqualTo(200);
        operator.harbour("PATCH", "/people/short.term@saltmarsh.example", "{\"admin_role\":\"none\"}");
        assertThat(Wire.call("GET", url, token).status()).isIn(401, 403);
        assertThat(Wire.call(
                                "GET",
                                url,
                                Visitor.tokens(demo, "berth-desk", "corin", "openid berths.read")
                                        .path("access_token")
                                        .asString())
                        .status())
                .as("signed in as an administrator, but not to run Admit")
                .isIn(401, 403);
    }

    @Test
    void whatTheyDoIsInTheAuditUnderTheirName() throws Exception {
        send("edda", "POST", "/issuers/harbour/clients", "{\"name\":\"named-in-audit\"}");
        assertThat(send("nell", "GET", "/issuers/harbour/audit?on=named-in-audit", null)
                        .body())
                .contains("edda.lorne@saltmarsh.example");
    }

    private static Process signingIn(Path home, String... more) throws Exception {
        java.util.List<String> words = new java.util.ArrayList<>(java.util.List.of(
                "sign-in",
                "--at",
                demo.ready().path("issuers").path("harbour").asString(),
                "--client-id",
                demo.ready()
                        .path("clients")
                        .path("admit-command-line")
                        .path("client_id")
                        .asString()));
        words.addAll(java.util.List.of(more));
        return demo.commandLine(home, words).start();
    }

    private static String line(Process process, String pattern) throws Exception {
        BufferedReader err = process.errorReader();
        for (String line = err.readLine(); line != null; line = err.readLine()) {
            Matcher it = Pattern.compile(pattern).matcher(line);
            if (it.find()) return it.group(1);
        }
        throw new AssertionError("the command said nothing of " + pattern);
    }

    @Test
    void theCommandLineSignsAPersonInByABrowserOnThisMachine(@TempDir Path home) throws Exception {
        Process command = signingIn(home);
        String address = line(command, "(http://\\S+/authorize\\?\\S+)");
        Visitor.Seen back = Visitor.approve(Visitor.signIn(new Visitor(demo).get(address), demo, "nell"));
        assertThat(Wire.get(back.location()).body()).contains("go back to the command line");
        assertThat(command.waitFor())
                .as(new String(command.getErrorStream().readAllBytes()))
                .isZero();
        Process list =
                demo.commandLine(home, java.util.List.of("client", "list")).start();
        assertThat(new String(list.getInputStream().readAllBytes())).contains("tide-buoy-07");
        Process again = demo.commandLine(home, java.util.List.of("client", "off", "old-crane"))
                .start();
        assertThat(new String(again.getErrorStream().readAllBytes()).replaceAll("\\s+", " "))
                .as("an auditor reads; and each command refreshes")
                .contains("an operator");
    }

    @Test
    void theCommandLineSignsAPersonInByADevice(@TempDir Path home) throws Exception {
        Process command = signingIn(home, "--device");
        String address = line(command, "or open  (http://\\S+)");
        Visitor edda = new Visitor(demo);
        Visitor.signIn(edda.get("/harbour/sign-in"), demo, "edda");
        edda.get(address).send("/harbour/device/answer", "answer", "yes");
        assertThat(command.waitFor())
                .as(new String(command.getErrorStream().readAllBytes()))
                .isZero();
    }
}
