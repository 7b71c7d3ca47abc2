package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.InetAddress;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.IntStream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;

/**
 * Clients that register themselves (RFC 7591) and manage their registration (RFC 7592), and those who try to get more
 * by it. What an issuer lets register is changed here, so this service is no other test's.
 */
class SelfRegistrationTest {
    private static final String NATIVE =
            "{\"client_name\":\"Chart table\",\"redirect_uris\":[\"http://127.0.0.1/back\"],"
                    + "\"token_endpoint_auth_method\":\"none\"%s}";

    private static Running demo;
    private static Operator operator;
    /** One registration a network is few: each call comes from an address of its own. */
    private static final AtomicInteger ADDRESS = new AtomicInteger(1);

    @TempDir
    static Path folder;

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo(folder);
        operator = Operator.of(demo);
        mode("open");
    }

    @AfterAll
    static void stop() {
        demo.close();
    }

    private static void mode(String mode) throws Exception {
        Wire.Answer answer = operator.harbour("PATCH", "/registration", "{\"mode\":\"" + mode + "\"}");
        assertThat(answer.status()).as(answer.body()).isEqualTo(200);
    }

    private record Reply(int status, HttpResponse<String> response) {
        JsonNode json() {
            return Running.JSON.readTree(response.body());
        }

        String text(String member) {
            return json().path(member).asString();
        }
    }

    private static Reply send(String from, String method, String url, String bearer, String body) throws Exception {
        HttpRequest.Builder request = HttpRequest.newBuilder(URI.create(url))
                .method(
                        method,
                        body == null ? HttpRequest.BodyPublishers.noBody() : HttpRequest.BodyPublishers.ofString(body))
                .header("Content-Type", "application/json");
        if (bearer != null) request.header("Authorization", "Bearer " + bearer);
        try (HttpClient client = HttpClient.newBuilder()
                .localAddress(InetAddress.getByName(from))
                .build()) {
            HttpResponse<String> response = client.send(request.build(), HttpResponse.BodyHandlers.ofString());
            return new Reply(response.statusCode(), response);
        }
    }

    private static Reply register(String bearer, String body) throws Exception {
        int n = ADDRESS.incrementAndGet();
        return send("127.1.%d.%d".formatted(n / 200, n % 200 + 1), "POST", at("/harbour/register"), bearer, body);
    }

    private static String at(String path) {
        return demo.server() + path;
    }

    private static Reply manage(String method, String url, String bearer, String body) throws Exception {
        return send("127.0.0.1", method, url, bearer, body);
    }

    private static JsonNode registered(String more) throws Exception {
        Reply reply = register(null, NATIVE.formatted(more));
        assertThat(reply.status()).as(reply.response().body()).isEqualTo(201);
        return reply.json();
    }

    private static JsonNode client(JsonNode registered) throws Exception {
        return operator.harbour(
                        "GET", "/clients/" + registered.path("client_id").asString(), null)
                .json();
    }

    private static String token(String body) throws Exception {
        Wire.Answer answer = operator.harbour("POST", "/registration/tokens", body);
        assertThat(answer.status()).as(answer.body()).isEqualTo(201);
        return answer.json().path("token").asString();
    }

    private static String bearerOf(JsonNode registered) {
        return registered.path("registration_access_token").asString();
    }

    private static String urlOf(JsonNode registered) {
        return registered.path("registration_client_uri").asString();
    }

    /** From nothing but the issuer's address to a call, and what becomes of it when the program changes its name. */
    @Test
    void aProgramRegistersAPersonApprovesAndItCalls() throws Exception {
        JsonNode metadata =
                Wire.get(at("/harbour/.well-known/openid-configuration")).json();
        assertThat(metadata.path("registration_endpoint").asString()).isEqualTo(at("/harbour/register"));
        JsonNode it = registered(",\"scope\":\"openid tides.read\",\"software_id\":\"chart\","
                + "\"contacts\":[\"watch@saltmarsh.example\"]");
        assertThat(it.path("grant_types").toString()).isEqualTo("[\"authorization_code\",\"refresh_token\"]");
        assertThat(it.path("scope").asString()).isEqualTo("openid tides.read");
        assertThat(it.has("client_secret")).isFalse();
        String id = it.path("client_id").asString();

        Visitor.Pkce pkce = Visitor.Pkce.make();
        Visitor.Seen page = Visitor.signIn(
                new Visitor(demo)
                        .get(Visitor.asking(demo, "pilot-tablet", pkce, "openid tides.read", "client_id", id)
                                .replace("53123%2Fback", "40404%2Fback")),
                demo,
                "junia");
        assertThat(page.text()).contains("This program registered itself", "Nobody at Saltmarsh Harbour Authority");
        assertThat(page.text()).as("whom it names answers for nothing").doesNotContain("watch@saltmarsh.example");
        Visitor.Seen back = page.send("/harbour/approve", "answer", "yes");
        Wire.Answer tokens = Wire.form(
                at("/harbour/token"),
                null,
                "grant_type=authorization_code&client_id=%s&code=%s&redirect_uri=%s&code_verifier=%s"
                        .formatted(
                                id,
                                Wire.encoded(back.parameter("code")),
                                Wire.encoded("http://127.0.0.1:40404/back"),
                                pkce.verifier()));
        assertThat(tokens.status()).as(tokens.body()).isEqualTo(200);
        String access = tokens.json().path("access_token").asString();
        assertThat(Wire.call("GET", demo.gateway() + "/tides/north-quay", access)
                        .status())
                .isEqualTo(200);

        String named = NATIVE.replace("Chart table", "Chart room")
                .formatted(",\"scope\":\"openid tides.read\",\"client_id\":\"" + id + "\"");
        Reply changed = manage("PUT", urlOf(it), bearerOf(it), named);
        assertThat(changed.status()).as(changed.response().body()).isEqualTo(200);
        assertThat(Wire.call("GET", demo.gateway() + "/tides/north-quay", access)
                        .status())
                .as("what the person approved had another name")
                .isEqualTo(401);
        assertThat(operator.harbour("GET", "/clients/" + id, null)
                        .json()
                        .path("client_name")
                        .asString())
                .isEqualTo("Chart room");
    }

    @Test
    void theRegistrationAccessTokenIsOfOneClientAndChangesWithEachUpdate() throws Exception {
        JsonNode one = registered("");
        JsonNode other = registered("");
        assertThat(manage("GET", urlOf(one), bearerOf(one), null).text("client_name"))
                .isEqualTo("Chart table");
        assertThat(manage("GET", urlOf(one), bearerOf(one), null).response().body())
                .doesNotContain("registration_access_token");
        for (String method : new String[] {"GET", "PUT", "DELETE"})
            for (String bearer : new String[] {bearerOf(other), "", "x", null}) {
                Reply refused = manage(method, urlOf(one), bearer, method.equals("PUT") ? NATIVE.formatted("") : null);
                assertThat(refused.status()).as(method + " " + bearer).isEqualTo(401);
                assertThat(refused.response()
                                .headers()
                                .firstValue("WWW-Authenticate")
                                .orElse(""))
                        .contains("invalid_token");
            }
        String nobody = at("/harbour/register/cl_nobody");
        assertThat(manage("GET", nobody, bearerOf(one), null).status()).isEqualTo(401);
        assertThat(manage("GET", urlOf(one).replace("/harbour/", "/gullwing/"), bearerOf(one), null)
                        .status())
                .isEqualTo(401);

        String whole =
                NATIVE.formatted(",\"client_id\":\"" + one.path("client_id").asString() + "\"");
        Reply changed = manage("PUT", urlOf(one), bearerOf(one), whole);
        assertThat(changed.status()).isEqualTo(200);
        assertThat(changed.text("registration_access_token")).isNotEqualTo(bearerOf(one));
        assertThat(manage("GET", urlOf(one), bearerOf(one), null).status()).isEqualTo(401);
        String next = changed.text("registration_access_token");
        String others =
                NATIVE.formatted(",\"client_id\":\"" + other.path("client_id").asString() + "\"");
        assertThat(manage("PUT", urlOf(one), next, others).text("error")).isEqualTo("invalid_client_metadata");
        String confidential = "{\"redirect_uris\":[\"https://app.example/b\"],\"client_id\":\"%s\"}"
                .formatted(one.path("client_id").asString());
        assertThat(manage("PUT", urlOf(one), next, confidential).text("error"))
                .as("it would want a secret")
                .isEqualTo("invalid_client_metadata");
        assertThat(manage("DELETE", urlOf(one), next, null).status()).isEqualTo(204);
        assertThat(manage("GET", urlOf(one), next, null).status()).isEqualTo(401);
        assertThat(operator.harbour("GET", "/clients/" + one.path("client_id").asString(), null)
                        .status())
                .isEqualTo(404);
    }

    @Test
    void ofTwoUpdatesAtOnceOneWins() throws Exception {
        JsonNode it = registered("");
        String whole =
                NATIVE.formatted(",\"client_id\":\"" + it.path("client_id").asString() + "\"");
        List<Integer> statuses = IntStream.range(0, 6)
                .mapToObj(i -> CompletableFuture.supplyAsync(
                        () -> status(() -> manage("PUT", urlOf(it), bearerOf(it), whole))))
                .toList()
                .stream()
                .map(CompletableFuture::join)
                .toList();
        assertThat(statuses).containsOnlyOnce(200);
        assertThat(statuses.stream().filter(status -> status == 401)).hasSize(5);
    }

    private interface Call {
        Reply make() throws Exception;
    }

    private static int status(Call call) {
        try {
            return call.make().status();
        } catch (Exception fault) {
            throw new AssertionError(fault);
        }
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource(delimiter = '|', quoteCharacter = '`', textBlock = """
            nothing | invalid_client_metadata
            [] | invalid_client_metadata
            {"client_name":"a","client_name":"b"} | invalid_client_metadata
            {"redirect_uris":["https://app.example/back#x"]} | invalid_redirect_uri
            {"redirect_uris":["http://app.example/back"]} | invalid_redirect_uri
            {"redirect_uris":["javascript:alert(1)"],"token_endpoint_auth_method":"none"} | invalid_redirect_uri
            {"redirect_uris":["https://*.app.example/back"]} | invalid_redirect_uri
            {"redirect_uris":"https://app.example/back"} | invalid_redirect_uri
            {"client_name":"No address"} | invalid_redirect_uri
            {"redirect_uris":["https://app.example/b"],"grant_types":["implicit"]} | invalid_client_metadata
            {"redirect_uris":["https://app.example/b"],"grant_types":["password"]} | invalid_client_metadata
            {"grant_types":["client_credentials"]} | invalid_client_metadata
            {"redirect_uris":["https://app.example/b"],"response_types":["token"]} | invalid_client_metadata
            {"redirect_uris":["https://app.example/b"],"token_endpoint_auth_method":"tls"} | invalid_client_metadata
            {"redirect_uris":["https://app.example/b"],"jwks_uri":"http://127.0.0.1:1/jwks"} | invalid_client_metadata
            {"redirect_uris":["https://app.example/b"],"token_endpoint_auth_method":"private_key_jwt"} | \
            invalid_client_metadata
            {"redirect_uris":["https://app.example/b"],"scope":"admit:run"} | invalid_client_metadata
            {"redirect_uris":["https://app.example/b"],"scope":"tides.publish"} | invalid_client_metadata
            {"redirect_uris":["https://app.example/b"],"scope":"nothing.here"} | invalid_client_metadata
            {"redirect_uris":["https://app.example/b"],"client_uri":"javascript:alert(1)"} | invalid_client_metadata
            {"redirect_uris":["https://app.example/b"],"software_statement":"a.b.c"} | unapproved_software_statement
            {"redirect_uris":["https://app.example/b"],"client_name":"BERTH  Desk"} | invalid_client_metadata
            {"redirect_uris":["https://app.example/b"],"client_name":"Berth-Desk"} | invalid_client_metadata
            {"redirect_uris":["https://app.example/b"],"client_name":"Berth Dеsk"} | invalid_client_metadata
            {"redirect_uris":["https://app.example/b"],"client_name":"Saltmarsh Harbour Authority"} | \
            invalid_client_metadata
            {"redirect_uris":["https://app.example/b"],"client_name":"Sa1tmarsh Harbour Authority!"} | \
            invalid_client_metadata
            {"redirect_uris":["https://app.example/b"],"client_name":7} | invalid_client_metadata
            {"redirect_uris":["https://app.example/b"],"client_name":"Admit console"} | invalid_client_metadata
            {"redirect_uris":["https://app.example/b"],"client_name":"The АDMIT app"} | invalid_client_metadata
            {"redirect_uris":["https://app.example/b"],"client_name":"Adm1t's console"} | invalid_client_metadata
            """)
    void whatCannotBeRegisteredIsRefusedAsTheStandardNamesIt(String body, String error) throws Exception {
        Reply refused = register(null, body);
        assertThat(refused.status()).as(refused.response().body()).isEqualTo(400);
        assertThat(refused.text("error")).isEqualTo(error);
        assertThat(refused.text("error_description")).isNotEmpty();
        assertThat(refused.response().headers().firstValue("Cache-Control").orElse(""))
                .isEqualTo("no-store");
        assertThat(operator.decision(refused.text("decision")).path("verdict").asString())
                .isEqualTo("refused");
    }

    /** Members of the admin API are nothing to a client, and what is too large is not read. */
    @Test
    void aClientGivesItselfNothing() throws Exception {
        JsonNode it = registered(",\"may_introspect\":true,\"tags\":[\"night\"],\"openid_granted\":true,"
                + "\"kind\":\"machine\",\"name\":\"admit-console\",\"owners\":[\"junia.hale@saltmarsh.example\"],"
                + "\"enabled\":true,\"second_factor\":false,\"scopes\":[\"tides.publish\"],\"client_id\":\"cl_mine\"");
        JsonNode client = client(it);
        assertThat(it.path("client_id").asString()).isNotEqualTo("cl_mine");
        assertThat(client.path("may_introspect").asBoolean()).isFalse();
        assertThat(client.path("openid_granted").asBoolean()).isFalse();
        assertThat(client.path("tags")).isEmpty();
        assertThat(client.path("owners")).isEmpty();
        assertThat(client.path("name").asString()).startsWith("chart-table-");
        assertThat(client.path("kind").asString()).isEqualTo("native");
        assertThat(client.path("scopes").toString())
                .contains("tides.read")
                .doesNotContain("tides.publish", "berths.assign", "\"granted\"");
        assertThat(client.path("self_registration").path("address").asString()).startsWith("127.1.");
        assertThat(client.path("remarks").toString()).contains("nobody has checked");
        assertThat(register(null, NATIVE.formatted(",\"x\":\"" + "x".repeat(40_000) + "\""))
                        .status())
                .isEqualTo(400);
    }

    @Test
    void aConfidentialClientGetsASecretOnce() throws Exception {
        Reply web = register(null, "{\"client_name\":\"Ledger\",\"redirect_uris\":[\"https://ledger.example/back\"]}");
        assertThat(web.status()).isEqualTo(201);
        assertThat(web.text("token_endpoint_auth_method")).isEqualTo("client_secret_basic");
        assertThat(web.text("client_secret")).startsWith("admsec_");
        assertThat(web.json().path("client_secret_expires_at").asLong()).isPositive();
        assertThat(manage("GET", urlOf(web.json()), bearerOf(web.json()), null)
                        .response()
                        .body())
                .doesNotContain(web.text("client_secret"));
        // None of its credentials is taken for another.
        assertThat(manage("GET", urlOf(web.json()), web.text("client_secret"), null)
                        .status())
                .isEqualTo(401);
        assertThat(Wire.call("GET", demo.ready().path("admin_api").asString() + "/issuers", bearerOf(web.json()))
                        .status())
                .isEqualTo(401);
        assertThat(Wire.form(
                                at("/harbour/token"),
                                null,
                                "grant_type=client_credentials&client_id=%s&client_secret=%s"
                                        .formatted(web.text("client_id"), bearerOf(web.json())))
                        .status())
                .isEqualTo(401);
    }

    /** A client says itself of what kind it is: an approval given ahead for a kind would be given to whoever asks. */
    @Test
    void noApprovalGivenAheadFitsWhatRegisteredItself() throws Exception {
        assertThat(operator.harbour(
                                "PATCH",
                                "/apis/tides/scopes/tides.read",
                                "{\"standing_approval\":{\"kinds\":[\"native\"]}}")
                        .status())
                .isEqualTo(200);
        try {
            JsonNode it = registered(",\"scope\":\"tides.read\"");
            assertThat(client(it).path("scopes").get(0).path("status").asString())
                    .isEqualTo("waiting");
            String id = it.path("client_id").asString();
            operator.harbour("POST", "/clients/" + id + "/scopes", "{\"scope\":\"berths.read\"}");
            assertThat(client(it).path("scopes").toString()).doesNotContain("\"granted\"");
        } finally {
            operator.harbour("PATCH", "/apis/tides/scopes/tides.read", "{\"standing_approval\":null}");
        }
    }

    @Test
    void anInitialAccessTokenRegistersSoManyClientsWithinItsLimits() throws Exception {
        mode("with-token");
        try {
            Reply none = register(null, NATIVE.formatted(""));
            assertThat(none.status()).isEqualTo(401);
            assertThat(none.response().headers().firstValue("WWW-Authenticate")).contains("Bearer realm=\"harbour\"");
            String token = token("{\"label\":\"tables\",\"uses\":2,\"limits\":{\"kinds\":[\"native\",\"machine\"],"
                    + "\"scopes\":[\"tides.publish\",\"tides.read\"],\"redirect_domains\":[\"apps.example\"]}}");
            assertThat(register(token, "{\"redirect_uris\":[\"https://apps.example/b\"]}")
                            .text("error"))
                    .isEqualTo("invalid_client_metadata");
            assertThat(register(token, NATIVE.formatted(",\"scope\":\"berths.read\""))
                            .text("error"))
                    .isEqualTo("invalid_client_metadata");
            for (String elsewhere : new String[] {
                "https://elsewhere.example/b", "https://apps.example.evil.example/b", "https://notapps.example/b"
            })
                assertThat(register(token, NATIVE.formatted("").replace("http://127.0.0.1/back", elsewhere))
                                .status())
                        .as(elsewhere)
                        .isEqualTo(400);
            List<Integer> statuses = new ArrayList<>(IntStream.range(0, 6)
                    .mapToObj(i -> CompletableFuture.supplyAsync(() -> status(() ->
                            register(token, "{\"grant_types\":[\"client_credentials\"],\"scope\":\"tides.publish\"}"))))
                    .toList()
                    .stream()
                    .map(CompletableFuture::join)
                    .toList());
            assertThat(statuses.stream().filter(it -> it == 201)).hasSize(2);
            assertThat(statuses.stream().filter(it -> it == 401)).hasSize(4);
            assertThat(operator.harbour("GET", "/registration/tokens", null).body())
                    .contains("\"uses\":0")
                    .doesNotContain(token);
            assertThat(Wire.call("GET", demo.ready().path("admin_api").asString() + "/issuers", token)
                            .status())
                    .isEqualTo(401);
            // Of a machine too, registering approves nothing.
            assertThat(operator.harbour("GET", "/clients?self_registered=true&kind=machine", null)
                            .body())
                    .contains("\"tides.publish\"")
                    .doesNotContain("\"granted\"");
            String gone = token("{\"label\":\"gone\"}");
            assertThat(operator.harbour("DELETE", "/registration/tokens/gone", null)
                            .status())
                    .isEqualTo(204);
            assertThat(register(gone, NATIVE.formatted("")).status()).isEqualTo(401);
            String ofHarbour = token("{\"label\":\"ours\"}");
            operator.send("PATCH", "/issuers/gullwing/registration", "*", "{\"mode\":\"with-token\"}");
            assertThat(send("127.2.0.1", "POST", at("/gullwing/register"), ofHarbour, NATIVE.formatted(""))
                            .status())
                    .isEqualTo(401);
        } finally {
            mode("open");
        }
    }

    /** Approved as one program, it would be another with the same rights. */
    @ParameterizedTest(name = "{0}")
    @CsvSource(delimiter = '|', quoteCharacter = '`', textBlock = """
            another address | "redirect_uris":["https://elsewhere.example/back"],"client_name":"Ledger"
            another name    | "redirect_uris":["https://ledger.example/back"],"client_name":"Log"
            without people  | "redirect_uris":["https://ledger.example/back"],"client_name":"Ledger",\
            "grant_types":["authorization_code","client_credentials"]
            """)
    void whatAnAdministratorApprovedEndsWhenTheClientIsAnother(String what, String metadata) throws Exception {
        String before = "\"redirect_uris\":[\"https://ledger.example/back\"],\"client_name\":\"Ledger\",";
        String rest = "\"scope\":\"openid tides.read\"";
        JsonNode it = register(null, "{" + before + rest + "}").json();
        String id = it.path("client_id").asString();
        String approval = client(it).path("scopes").get(0).path("id").asString();
        assertThat(operator.harbour("POST", "/approvals/" + approval + "/grant", "{}")
                        .status())
                .isEqualTo(200);
        assertThat(operator.harbour("POST", "/clients/" + id + "/openid/grant", "{}")
                        .status())
                .isEqualTo(200);
        assertThat(client(it).path("scopes").get(0).path("status").asString()).isEqualTo("granted");

        // The same again changes nothing of that.
        JsonNode same = manage("PUT", urlOf(it), bearerOf(it), "{\"client_id\":\"" + id + "\"," + before + rest + "}")
                .json();
        assertThat(client(it).path("scopes").get(0).path("status").asString()).isEqualTo("granted");

        Reply changed = manage(
                "PUT", urlOf(it), bearerOf(same), "{\"client_id\":\"" + id + "\"," + metadata + "," + rest + "}");
        assertThat(changed.status()).as(changed.response().body()).isEqualTo(200);
        assertThat(client(it).path("scopes").get(0).path("status").asString()).isEqualTo("waiting");
        assertThat(client(it).path("openid_granted").asBoolean()).isFalse();
    }

    /** RFC 9700 §4.11.2: a stranger chose where that is. */
    @Test
    void nobodyIsSentOnToWhatRegisteredItselfWithoutSeeingWhere() throws Exception {
        JsonNode it = register(
                        null,
                        "{\"client_name\":\"Lure\",\"redirect_uris\":[\"https://lure.example/back\"],"
                                + "\"token_endpoint_auth_method\":\"none\","
                                + "\"post_logout_redirect_uris\":[\"https://lure.example/out\"]}")
                .json();
        String id = it.path("client_id").asString();
        Visitor.Pkce pkce = Visitor.Pkce.make();
        for (String[] more : new String[][] {
            {"prompt", "none"}, {"response_type", "token"}, {"code_challenge", ""}, {"response_mode", "form_post"}
        }) {
            List<String> asked = new ArrayList<>(
                    List.of("client_id", id, "redirect_uri", "https://lure.example/back", more[0], more[1]));
            if (more[1].equals("form_post")) asked.addAll(List.of("prompt", "none"));
            Visitor.Seen page = new Visitor(demo)
                    .get(Visitor.asking(demo, "pilot-tablet", pkce, "openid", asked.toArray(String[]::new)));
            assertThat(page.location()).as(more[0]).isEmpty();
            assertThat(page.status()).isEqualTo(400);
            assertThat(page.text()).contains("Go on to Lure?", "take you to lure.example", "Nobody at");
            assertThat(page.body()).doesNotContain("<script");
        }
        Visitor.Seen out = new Visitor(demo)
                .get("/harbour/end-session?client_id=" + id + "&post_logout_redirect_uri="
                        + Wire.encoded("https://lure.example/out"));
        assertThat(out.location()).isEmpty();
        assertThat(out.text()).contains("You are signed out.", "take you to lure.example");
        Visitor junia = new Visitor(demo);
        Visitor.signIn(junia.get("/harbour/sign-in"), demo, "junia");
        Visitor.Seen own =
                junia.get("/harbour/profile?client_id=" + id + "&back=" + Wire.encoded("https://lure.example/back"));
        assertThat(own.body()).doesNotContain("lure.example");
    }

    @Test
    void anUpdateSaysWhatRfc7592Wants() throws Exception {
        JsonNode web = register(
                        null,
                        "{\"client_name\":\"Keeper\",\"redirect_uris\":[\"https://keeper.example/back\"],"
                                + "\"token_endpoint_auth_method\":\"private_key_jwt\",\"jwks\":"
                                + new com.nimbusds.jose.jwk.JWKSet(new com.nimbusds.jose.jwk.gen.ECKeyGenerator(
                                                        com.nimbusds.jose.jwk.Curve.P_256)
                                                .keyID("k")
                                                .generate()
                                                .toPublicJWK())
                                        .toString()
                                + "}")
                .json();
        String head = "{\"client_id\":\"" + web.path("client_id").asString()
                + "\",\"client_name\":\"Keeper\",\"redirect_uris\":[\"https://keeper.example/back\"]";
        for (String member : new String[] {
            "registration_access_token", "registration_client_uri", "client_secret_expires_at", "client_id_issued_at"
        })
            assertThat(manage("PUT", urlOf(web), bearerOf(web), head + ",\"" + member + "\":\"x\"}")
                            .text("error"))
                    .as(member)
                    .isEqualTo("invalid_client_metadata");
        assertThat(manage("PUT", urlOf(web), bearerOf(web), head + ",\"client_secret\":\"chosen\"}")
                        .text("error"))
                .isEqualTo("invalid_client_metadata");
        Reply secret = manage("PUT", urlOf(web), bearerOf(web), head + "}");
        assertThat(secret.status()).as(secret.response().body()).isEqualTo(200);
        assertThat(secret.text("token_endpoint_auth_method")).isEqualTo("client_secret_basic");
        assertThat(secret.text("client_secret"))
                .as("or it could never come again")
                .startsWith("admsec_");
        String next = secret.text("registration_access_token");
        Reply kept =
                manage("PUT", urlOf(web), next, head + ",\"client_secret\":\"" + secret.text("client_secret") + "\"}");
        assertThat(kept.status()).as(kept.response().body()).isEqualTo(200);
        assertThat(kept.json().has("client_secret")).isFalse();
        // A kind that may not register here is no way round either.
        assertThat(manage(
                                "PUT",
                                urlOf(web),
                                kept.text("registration_access_token"),
                                "{\"client_id\":\"" + web.path("client_id").asString()
                                        + "\",\"grant_types\":[\"client_credentials\"]}")
                        .text("error"))
                .isEqualTo("invalid_client_metadata");
    }

    /** An administrator leaned on it: it does not take itself out from under that. */
    @Test
    void whatARouteNamesDoesNotRemoveItself() throws Exception {
        JsonNode it = registered("");
        Wire.Answer route = operator.harbour(
                "POST",
                "/routes",
                "{\"path\":\"/only-one\",\"api\":\"tides\",\"scopes\":[\"tides.read\"],\"who\":{\"clients\":[\""
                        + it.path("client_id").asString() + "\"]}}");
        assertThat(route.status()).as(route.body()).isEqualTo(201);
        Reply refused = manage("DELETE", urlOf(it), bearerOf(it), null);
        assertThat(refused.status()).isEqualTo(403);
        assertThat(refused.text("error")).isEqualTo("access_denied");
        operator.harbour(
                "DELETE", "/routes/" + route.json().path("now").path("id").asString(), null);
        assertThat(manage("DELETE", urlOf(it), bearerOf(it), null).status()).isEqualTo(204);
    }

    @Test
    void closedIsClosedAndNotToldOf() throws Exception {
        String token = token("{\"label\":\"early\"}");
        mode("closed");
        try {
            for (String bearer : new String[] {null, token}) {
                Reply refused = register(bearer, NATIVE.formatted(""));
                assertThat(refused.status()).isEqualTo(403);
                assertThat(refused.text("error")).isEqualTo("access_denied");
            }
            assertThat(Wire.get(at("/harbour/.well-known/openid-configuration")).body())
                    .doesNotContain("registration_endpoint");
        } finally {
            mode("open");
        }
    }

    @Test
    void oneNetworkRegistersFewInAMinute() throws Exception {
        int refused = 0;
        for (int i = 0; i < 40; i++) {
            Reply reply = send("127.3.0.1", "POST", at("/harbour/register"), null, "[]");
            if (reply.status() == 429) {
                refused++;
                assertThat(reply.response().headers().firstValue("Retry-After")).isPresent();
            }
        }
        assertThat(refused).isGreaterThanOrEqualTo(10);
    }

    @Test
    void theCommandLineAndTheSetupFileSayWhoMayRegister() throws Exception {
        assertThat(demo.admit("registration", "change", "--mode", "open", "--redirect-domain", "apps.example")
                        .out())
                .contains("Every client may register itself.");
        try {
            assertThat(demo.admit("registration", "show").out()).contains("open", "apps.example", "/harbour/register");
            String made = demo.admit("registration", "token", "add", "Tables", "--uses", "3")
                    .out();
            assertThat(made).contains("admsec_", "curl -s -H 'Authorization: Bearer admsec_");
            assertThat(demo.admit("registration", "token", "list").out()).contains("Tables", "3");
            assertThat(demo.admit("registration", "token", "remove", "Tables").exitCode())
                    .isZero();
            JsonNode it = registered("");
            assertThat(demo.admit("client", "list", "--self-registered").out())
                    .contains(it.path("client_id").asString())
                    .doesNotContain("tide-buoy-07");
            assertThat(demo.admit("client", "show", it.path("client_id").asString())
                            .out())
                    .contains("Registered itself", "from 127.1.", "nobody has checked");
            String exported = demo.admit("setup", "export").out();
            assertThat(exported)
                    .contains("registration:", "mode: open", "apps.example")
                    .doesNotContain("chart-table");
            Path file = folder.resolve("harbour.yaml");
            Files.writeString(file, exported.replace("mode: open", "mode: with-token"));
            Running.Said loaded =
                    demo.admit("setup", "load", file.toString(), "--remove-unlisted", "--confirm", "harbour");
            assertThat(loaded.out()).as(loaded.err()).contains("registration at harbour");
            assertThat(demo.admit("registration", "show").out()).contains("with-token");
            assertThat(operator.harbour(
                                    "GET", "/clients/" + it.path("client_id").asString(), null)
                            .status())
                    .isEqualTo(200);
        } finally {
            operator.harbour("PATCH", "/registration", "{\"mode\":\"open\",\"limits\":{\"redirect_domains\":[]}}");
        }
    }

    @ParameterizedTest(name = "{0} {1}: {3}")
    @CsvSource(delimiter = '|', nullValues = "-", textBlock = """
            junia  | GET    | /registration           | 403
            isolde | GET    | /registration           | 403
            nell   | GET    | /registration           | 200
            nell   | PATCH  | /registration           | 403
            edda   | PATCH  | /registration           | 403
            edda   | POST   | /registration/tokens    | 201
            nell   | POST   | /registration/tokens    | 403
            isolde | POST   | /registration/tokens    | 403
            nell   | DELETE | /registration/tokens/x  | 403
            edda   | DELETE | /registration/tokens/x  | 404
            """)
    void onlyAdministratorsOpenRegistration(String who, String method, String path, int status) throws Exception {
        String bearer = Visitor.tokens(demo, "admit-command-line", who, "openid admit:run")
                .path("access_token")
                .asString();
        String body = method.equals("PATCH") ? "{\"mode\":\"open\"}" : "{\"label\":\"made by " + who + "\"}";
        Wire.Answer answer = Wire.send(
                method,
                demo.ready().path("admin_api").asString() + "/issuers/harbour" + path,
                Map.of("Authorization", "Bearer " + bearer, "If-Match", "*", "Content-Type", "application/json"),
                method.equals("GET") || method.equals("DELETE") ? null : body);
        assertThat(answer.status()).as(answer.body()).isEqualTo(status);
    }
}
