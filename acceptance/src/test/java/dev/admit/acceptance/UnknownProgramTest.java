package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.sun.net.httpserver.HttpServer;
import java.io.BufferedReader;
import java.io.InputStreamReader;
import java.io.OutputStream;
import java.net.InetSocketAddress;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Path;
import java.util.Map;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.JsonNode;

/**
 * A program that brings nothing but the address of an API: it is told where to go (RFC 9728), registers itself (RFC
 * 7591), has a person approve it, and calls. Nothing below is known to it but that address.
 */
class UnknownProgramTest {
    private static final String BACK = "http://127.0.0.1:53123/back";
    private static Running demo;
    private static Operator operator;
    private static HttpServer backend;
    private static final CountDownLatch FIRST_EVENT_READ = new CountDownLatch(1);

    @TempDir
    static Path folder;

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo(folder);
        operator = Operator.of(demo);
        backend = HttpServer.create(new InetSocketAddress("127.0.0.1", 0), 0);
        backend.setExecutor(Executors.newVirtualThreadPerTaskExecutor());
        backend.createContext("/feed/heights", exchange -> {
            try (exchange) {
                exchange.getResponseHeaders().set("Content-Type", "text/event-stream");
                exchange.sendResponseHeaders(200, 0);
                OutputStream events = exchange.getResponseBody();
                events.write("data: 3.4\n\n".getBytes());
                events.flush();
                boolean read = FIRST_EVENT_READ.await(10, TimeUnit.SECONDS);
                events.write(("data: " + (read ? "3.5" : "the first was not passed on") + "\n\n").getBytes());
            } catch (InterruptedException ended) {
                Thread.currentThread().interrupt();
            }
        });
        backend.start();
        made(operator.harbour("POST", "/apis", """
                {"name":"feed","audience":"%s/feed","upstream":"http://127.0.0.1:%d",
                "outside_domains":true}""".formatted(
                        demo.gateway(), backend.getAddress().getPort())));
        for (String scope : new String[] {"feed.read", "feed.write"})
            made(operator.harbour(
                    "POST",
                    "/apis/feed/scopes",
                    "{\"name\":\"%s\",\"effect\":\"reads\",\"reach\":\"everyone\",\"for\":\"both\",\"approver\":\"%s\"}"
                            .formatted(scope, scope.equals("feed.read") ? "person" : "administrator")));
        route("/feed/heights", "feed.read");
        route("/feed/orders", "feed.write");
        made(operator.harbour("PATCH", "/registration", "{\"mode\":\"open\"}"));
    }

    @AfterAll
    static void stop() {
        backend.stop(0);
        demo.close();
    }

    private static void made(Wire.Answer answer) {
        assertThat(answer.status()).as(answer.body()).isBetween(200, 299);
    }

    private static void route(String path, String scope) throws Exception {
        made(operator.harbour(
                "POST",
                "/routes",
                "{\"methods\":[\"GET\"],\"path\":\"%s\",\"api\":\"feed\",\"scopes\":[\"%s\"]}".formatted(path, scope)));
    }

    private static String said(String challenge, String member) {
        Matcher it = Pattern.compile(member + "=\"([^\"]*)\"").matcher(challenge);
        assertThat(it.find()).as(challenge).isTrue();
        return it.group(1);
    }

    /** What the program found out on its way. */
    private record Found(String resource, String scope, JsonNode server, String clientId) {}

    /** From the address of an API to a client of its issuer. */
    private static Found registered(String address) throws Exception {
        Wire.Answer no = Wire.get(address);
        assertThat(no.status()).isEqualTo(401);
        String challenge = no.header("WWW-Authenticate");
        JsonNode resource = Wire.get(said(challenge, "resource_metadata")).json();
        assertThat(address).startsWith(resource.path("resource").asString());
        URI issuer = URI.create(resource.path("authorization_servers").get(0).asString());
        // RFC 8414 §3.1: the well-known part stands between host and path.
        JsonNode server = Wire.get(issuer.resolve("/.well-known/oauth-authorization-server" + issuer.getPath())
                        .toString())
                .json();
        assertThat(server.path("issuer").asString()).isEqualTo(issuer.toString());
        Wire.Answer client = Wire.send(
                "POST",
                server.path("registration_endpoint").asString(),
                Map.of("Content-Type", "application/json"),
                """
                {"client_name":"Height watcher","redirect_uris":["%s"],"token_endpoint_auth_method":"none",
                "grant_types":["authorization_code","refresh_token"]}""".formatted(BACK));
        assertThat(client.status()).as(client.body()).isEqualTo(201);
        return new Found(
                resource.path("resource").asString(),
                said(challenge, "scope"),
                server,
                client.json().path("client_id").asString());
    }

    private static String asking(Found it, Visitor.Pkce pkce) {
        return "%s?response_type=code&client_id=%s&redirect_uri=%s&scope=%s&resource=%s&state=s&code_challenge=%s"
                        .formatted(
                                it.server().path("authorization_endpoint").asString(),
                                it.clientId(),
                                Wire.encoded(BACK),
                                Wire.encoded(it.scope() + " offline_access"),
                                Wire.encoded(it.resource()),
                                pkce.challenge())
                + "&code_challenge_method=S256";
    }

    private static JsonNode tokens(Found it, String form) throws Exception {
        Wire.Answer answer = Wire.form(
                it.server().path("token_endpoint").asString(),
                null,
                form + "&client_id=" + it.clientId() + "&resource=" + Wire.encoded(it.resource()));
        assertThat(answer.status()).as(answer.body()).isEqualTo(200);
        return answer.json();
    }

    @Test
    void itComesToAStreamWithNoStepByHand() throws Exception {
        Found found = registered(demo.gateway() + "/feed/heights");
        assertThat(found.scope()).isEqualTo("feed.read");
        Visitor.Pkce pkce = Visitor.Pkce.make();
        Visitor.Seen page = Visitor.signIn(new Visitor(demo).get(asking(found, pkce)), demo, "tobias");
        assertThat(page.text())
                .contains("Height watcher", "This program registered itself", "Nobody at Saltmarsh Harbour Authority");
        Visitor.Seen back = page.send("/harbour/approve", "answer", "yes");
        assertThat(back.parameter("iss"))
                .isEqualTo(found.server().path("issuer").asString());
        JsonNode tokens = tokens(
                found,
                "grant_type=authorization_code&code=%s&redirect_uri=%s&code_verifier=%s"
                        .formatted(Wire.encoded(back.parameter("code")), Wire.encoded(BACK), pkce.verifier()));
        JsonNode claims = Visitor.claims(tokens.path("access_token").asString());
        assertThat(claims.path("aud").toString()).contains(found.resource());

        HttpResponse<java.io.InputStream> stream = HttpClient.newHttpClient()
                .send(
                        HttpRequest.newBuilder(URI.create(demo.gateway() + "/feed/heights"))
                                .header(
                                        "Authorization",
                                        "Bearer " + tokens.path("access_token").asString())
                                .build(),
                        HttpResponse.BodyHandlers.ofInputStream());
        assertThat(stream.statusCode()).isEqualTo(200);
        try (BufferedReader events = new BufferedReader(new InputStreamReader(stream.body()))) {
            assertThat(events.readLine()).isEqualTo("data: 3.4");
            FIRST_EVENT_READ.countDown();
            events.readLine();
            assertThat(events.readLine()).isEqualTo("data: 3.5");
        }

        JsonNode again = tokens(
                found,
                "grant_type=refresh_token&refresh_token="
                        + Wire.encoded(tokens.path("refresh_token").asString()));
        assertThat(Wire.call(
                                "GET",
                                demo.gateway() + "/feed/heights",
                                again.path("access_token").asString())
                        .status())
                .isEqualTo(200);
    }

    /** It may no more than people approve for themselves, and an administrator finds it among those alike. */
    @Test
    void whatAdministratorsApproveIsNotToBeHad() throws Exception {
        Wire.Answer no = Wire.get(demo.gateway() + "/feed/orders");
        assertThat(said(no.header("WWW-Authenticate"), "scope")).isEqualTo("feed.write");
        Found found = registered(demo.gateway() + "/feed/orders");
        Visitor.Seen page = Visitor.signIn(new Visitor(demo).get(asking(found, Visitor.Pkce.make())), demo, "tobias");
        assertThat(page.location()).isEmpty();
        assertThat(page.text()).doesNotContain("It would be able to");
        assertThat(operator.harbour("GET", "/clients?self_registered=true", null)
                        .body())
                .contains(found.clientId());
    }

    /**
     * Where an issuer is wary, people approve nothing of such a program, and what they approved before ends at once.
     */
    @Test
    void anIssuerMayWantAnAdministratorForAllOfIt() throws Exception {
        Found found = registered(demo.gateway() + "/feed/heights");
        Visitor.Pkce pkce = Visitor.Pkce.make();
        Visitor.Seen back = Visitor.signIn(new Visitor(demo).get(asking(found, pkce)), demo, "junia")
                .send("/harbour/approve", "answer", "yes");
        JsonNode tokens = tokens(
                found,
                "grant_type=authorization_code&code=%s&redirect_uri=%s&code_verifier=%s"
                        .formatted(Wire.encoded(back.parameter("code")), Wire.encoded(BACK), pkce.verifier()));
        String token = tokens.path("access_token").asString();
        FIRST_EVENT_READ.countDown();
        assertThat(Wire.call("GET", demo.gateway() + "/feed/heights", token).status())
                .isEqualTo(200);
        assertThat(demo.admit("registration", "change", "--approver", "nobody").err())
                .contains("person, administrator");
        made(operator.harbour("PATCH", "/registration", "{\"approver\":\"administrator\"}"));
        try {
            assertThat(Wire.call("GET", demo.gateway() + "/feed/heights", token).status())
                    .isEqualTo(401);
            Wire.Answer again = Wire.form(
                    found.server().path("token_endpoint").asString(),
                    null,
                    "grant_type=refresh_token&client_id=" + found.clientId() + "&refresh_token="
                            + Wire.encoded(tokens.path("refresh_token").asString()));
            assertThat(again.json().path("scope").asString())
                    .as("what people still may approve")
                    .isEqualTo("offline_access");
            Visitor.Seen page =
                    Visitor.signIn(new Visitor(demo).get(asking(found, Visitor.Pkce.make())), demo, "tobias");
            assertThat(page.text())
                    .contains("only an administrator can approve")
                    .contains("feed.read");
            assertThat(demo.admit("registration", "show").out())
                    .contains("An administrator approves all that it requests.");
            assertThat(demo.admit("setup", "export").out()).contains("approver: administrator");
        } finally {
            made(operator.harbour("PATCH", "/registration", "{\"approver\":\"person\"}"));
        }
    }

    /** What is not listed is told to no stranger, and an API that is called elsewhere tells of nothing. */
    @Test
    void aStrangerIsToldNoScopeThatIsNotListed() throws Exception {
        made(operator.harbour("POST", "/apis/feed/scopes", """
                        {"name":"feed.hidden","effect":"reads","reach":"everyone","for":"both","listed":false}"""));
        route("/feed/hidden", "feed.hidden");
        String challenge = Wire.get(demo.gateway() + "/feed/hidden").header("WWW-Authenticate");
        assertThat(challenge).contains("resource_metadata=").doesNotContain("scope", "hidden\"");
        assertThat(Wire.get(demo.gateway() + "/tides/north-quay").header("WWW-Authenticate"))
                .isEqualTo("Bearer realm=\"tides\"");
    }
}
