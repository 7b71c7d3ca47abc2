package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.nimbusds.jose.JOSEObjectType;
import com.nimbusds.jose.JWSAlgorithm;
import com.nimbusds.jose.JWSHeader;
import com.nimbusds.jose.JWSObject;
import com.nimbusds.jose.Payload;
import com.nimbusds.jose.crypto.ECDSASigner;
import com.nimbusds.jose.jwk.Curve;
import com.nimbusds.jose.jwk.ECKey;
import com.nimbusds.jose.jwk.gen.ECKeyGenerator;
import dev.admit.core.decision.Reason;
import java.time.Instant;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.CompletableFuture;
import java.util.function.Consumer;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DynamicTest;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestFactory;
import org.junit.jupiter.api.parallel.ResourceLock;
import tools.jackson.databind.JsonNode;

/**
 * For each reason that the gateway has to refuse: it is provoked through a real socket; status, challenge, body,
 * decision and fix are looked at; and following the fix makes the same request pass. The issuer is one of its own,
 * whose key this test has.
 */
@ResourceLock(Running.DEMO)
class EveryReasonTest {
    private static Running demo;
    private static Operator operator;
    private static ECKey key;
    private static String kid;
    private static String issuer;
    private static String clientId;
    private static JsonNode linked;

    private interface Call {
        Wire.Answer make() throws Exception;
    }

    /** @param follow what the fix says, done; null where it is in the second call itself */
    private record Case(Call refused, Act follow, Call passes) {}

    /** Made when it is sent: one that was made before a revocation would be refused for that. */
    private interface Token {
        String made() throws Exception;
    }

    private interface Act {
        void take() throws Exception;
    }

    private static final Map<Reason, Case> CASES = new LinkedHashMap<>();
    /** Where else they are provoked and fixed: by a person's sign-in, by a page, by a browser. */
    private static final Map<Reason, String> ELSEWHERE = Map.ofEntries(
            Map.entry(Reason.ROLE_MISSING, "RouteRulesTest"),
            Map.entry(Reason.SIGN_IN_TOO_OLD, "SignInCheckTest"),
            Map.entry(Reason.SIGN_IN_NOT_STRONG_ENOUGH, "RouteRulesTest"),
            Map.entry(Reason.PERSON_WANTED, "RouteRulesTest"),
            Map.entry(Reason.SIGN_IN_NEEDED, "GatewaySignInTest"),
            Map.entry(Reason.FROM_ANOTHER_SITE, "GatewaySignInTest"),
            Map.entry(Reason.ORIGIN_NOT_REGISTERED, "InABrowserTest"),
            Map.entry(Reason.TOO_MANY_CONCURRENT, "RouteRulesTest"),
            Map.entry(Reason.TOO_MANY_UNKNOWN_TOKENS, "GuessingTest"),
            Map.entry(Reason.TOO_OLD, "TrustTest"));
    /** Of the admin API alone. */
    private static final Set<Reason> ADMIN = EnumSet.of(
            Reason.TRIAL_TOKEN,
            Reason.TOKEN_OF_A_PERSON,
            Reason.TRIAL_OF_ADMIN_CLIENT,
            Reason.ADMIN_ROLE_TOO_LOW,
            Reason.OTHER_ISSUER,
            Reason.NOT_OWNER);

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo();
        operator = Operator.of(demo);
        made(operator.post("/issuers", "{\"name\":\"pilotage\",\"title\":\"Pilotage\"}"));
        issuer = demo.server() + "/pilotage";
        key = new ECKeyGenerator(Curve.P_256).generate();
        made(operator.post(
                "/issuers/pilotage/keys?confirm=pilotage",
                "{\"after\":\"0s\",\"import\":%s}".formatted(Running.JSON.writeValueAsString(key.toJSONString()))));
        kid = Wire.get(issuer + "/jwks")
                .json()
                .path("keys")
                .valueStream()
                .filter(it -> it.path("x").asString().equals(key.getX().toString()))
                .findFirst()
                .orElseThrow()
                .path("kid")
                .asString();
        made(post("/apis", "{\"name\":\"pilots\",\"audience\":\"https://pilots.saltmarsh.example\"}"));
        for (String scope : List.of("pilots.read", "pilots.late"))
            made(post(
                    "/apis/pilots/scopes",
                    "{\"name\":\"%s\",\"effect\":\"reads\",\"reach\":\"everyone\",\"for\":\"both\"}".formatted(scope)));
        linked = made(post("/clients", "{\"name\":\"launch\",\"scopes\":[\"pilots.read\"]}"));
        clientId = linked.path("now").path("client_id").asString();
        made(post(
                "/approvals/"
                        + linked.path("now").path("scopes").get(0).path("id").asString() + "/grant",
                "{}"));
        route("good", "");
        cases();
    }

    private static Wire.Answer post(String path, String json) throws Exception {
        return operator.post("/issuers/pilotage" + path, json);
    }

    private static JsonNode made(Wire.Answer answer) {
        assertThat(answer.status()).as(answer.body()).isBetween(200, 299);
        return answer.json();
    }

    /**
     * @param more members of the route.
     * @return its id
     */
    private static String route(String name, String more) throws Exception {
        return made(post("/routes", routeJson(name, more)))
                .path("now")
                .path("id")
                .asString();
    }

    private static String routeJson(String name, String more) {
        return ("{\"methods\":[\"GET\",\"POST\"],"
                        + "\"path\":\"/reasons/%s\",\"api\":\"pilots\",\"scopes\":[\"pilots.read\"],\"fixed_respons"
                        + "e\":{\"bo"
                        + "dy\":\"passed\"}%s}")
                .formatted(name, more.isEmpty() ? "" : "," + more);
    }

    private static void change(String id, String name, String more) throws Exception {
        made(operator.send(
                "PUT", "/issuers/pilotage/routes/" + id + "?confirm=/reasons/" + name, "*", routeJson(name, more)));
    }

    private static Map<String, Object> claims() {
        long now = Instant.now().getEpochSecond();
        Map<String, Object> claims = new HashMap<>(Map.of(
                "iss",
                issuer,
                "sub",
                clientId,
                "client_id",
                clientId,
                "aud",
                "https://pilots.saltmarsh.example",
                "scope",
                "pilots.read",
                "iat",
                now,
                "exp",
                now + 600));
        claims.put("jti", jti());
        return claims;
    }

    /** A UUIDv7 of now (RFC 9562 §5.7). */
    private static String jti() {
        return new java.util.UUID(
                        System.currentTimeMillis() << 16 | 0x7000 | 0xfff,
                        0x8000_0000_0000_0000L | System.nanoTime() >>> 2)
                .toString();
    }

    private static String signed(Consumer<Map<String, Object>> claims, Consumer<JWSHeader.Builder> header)
            throws Exception {
        Map<String, Object> all = claims();
        claims.accept(all);
        JWSHeader.Builder builder =
                new JWSHeader.Builder(JWSAlgorithm.ES256).keyID(kid).type(new JOSEObjectType("at+jwt"));
        header.accept(builder);
        JWSObject token = new JWSObject(builder.build(), new Payload(all));
        token.sign(new ECDSASigner(key));
        return token.serialize();
    }

    private static String good() throws Exception {
        return signed(it -> {}, it -> {});
    }

    private static Wire.Answer call(String name, String token) throws Exception {
        return Wire.call("GET", demo.gateway() + "/reasons/" + name, token);
    }

    private static Wire.Answer with(Map<String, String> headers) throws Exception {
        return Wire.send("GET", demo.gateway() + "/reasons/good", headers, null);
    }

    /** A token that is wrong; its fix is another token. */
    private static void token(Reason reason, Consumer<Map<String, Object>> claims, Consumer<JWSHeader.Builder> header) {
        CASES.put(reason, new Case(() -> call("good", signed(claims, header)), null, () -> call("good", good())));
    }

    private static void cases() throws Exception {
        CASES.put(Reason.NO_TOKEN, new Case(() -> with(Map.of()), null, () -> call("good", good())));
        CASES.put(
                Reason.MALFORMED_AUTHORIZATION,
                new Case(
                        () -> with(Map.of("Authorization", "Bearer \"" + good() + "\"")),
                        null,
                        () -> call("good", good())));
        CASES.put(Reason.TWO_TOKENS, new Case(() -> both(good()), null, () -> call("good", good())));
        CASES.put(
                Reason.TOKEN_IN_QUERY,
                new Case(
                        () -> Wire.get(demo.gateway() + "/reasons/good?access_token=" + good()),
                        null,
                        () -> call("good", good())));
        CASES.put(
                Reason.MALFORMED_TOKEN,
                new Case(() -> call("good", good().replaceFirst("\\..*", "")), null, () -> call("good", good())));
        CASES.put(
                Reason.BAD_SIGNATURE,
                new Case(
                        () -> call(
                                "good",
                                good().replaceFirst("\\.[^.]+$", "") + good().replaceFirst(".*(\\.[^.]+)$", "$1")),
                        null,
                        () -> call("good", good())));
        CASES.put(
                Reason.UNKNOWN_TOKEN,
                new Case(() -> call("good", "admat_" + "A".repeat(43)), null, () -> call("good", good())));
        token(Reason.WRONG_TYPE, it -> {}, it -> it.type(JOSEObjectType.JWT));
        token(Reason.UNKNOWN_CRITICAL_HEADER, it -> {}, it -> it.criticalParams(Set.of("tide"))
                .customParam("tide", "high"));
        token(Reason.UNKNOWN_KEY, it -> {}, it -> it.keyID("key_of_nobody"));
        token(Reason.WRONG_ISSUER, it -> it.put("iss", "https://elsewhere.example"), it -> {});
        token(Reason.WRONG_AUDIENCE, it -> it.put("aud", "https://tides.saltmarsh.example"), it -> {});
        token(Reason.EXPIRED, it -> it.put("exp", Instant.now().getEpochSecond() - 31), it -> {});
        token(Reason.NOT_YET_VALID, it -> it.put("nbf", Instant.now().getEpochSecond() + 60), it -> {});
        token(Reason.INSUFFICIENT_SCOPE, it -> it.put("scope", "pilots.late"), it -> {});
        CASES.put(Reason.WRONG_ALGORITHM, new Case(() -> call("good", unsigned()), null, () -> call("good", good())));
        String early = good();
        CASES.put(Reason.REVOKED, new Case(() -> call("good", early), null, () -> call("good", good())));

        String scope = "/apis/pilots/scopes/pilots.late";
        CASES.put(
                Reason.SCOPE_CLOSED,
                new Case(
                        () -> call("good", signed(it -> it.put("scope", "pilots.read pilots.late"), it -> {})),
                        () -> made(operator.send("PATCH", "/issuers/pilotage" + scope, "*", "{\"status\":\"in-use\"}")),
                        () -> call("good", signed(it -> it.put("scope", "pilots.read pilots.late"), it -> {}))));

        byRoute(
                Reason.CLIENT_WANTED,
                "kind",
                "\"who\":{\"for\":\"clients\"}",
                "",
                () -> signed(it -> it.put("sub", "pe_somebody"), it -> {}));
        made(post("/clients", "{\"name\":\"other-launch\"}"));
        byRoute(
                Reason.CLIENT_NOT_NAMED,
                "named",
                "\"who\":{\"clients\":[\"other-launch\"]}",
                "\"who\":{\"clients\":[\"other-launch\",\"launch\"]}",
                EveryReasonTest::good);
        byRoute(
                Reason.CONDITION_NOT_MET,
                "condition",
                "\"who\":{\"condition\":\"method == 'POST'\"}",
                "\"who\":{\"condition\":\"method == 'GET'\"}",
                EveryReasonTest::good);
        subscriptions();
        String rated = route("rated", "\"limits\":{\"rates\":[\"1 per 1h by client\"]}");
        CASES.put(
                Reason.RATE_EXCEEDED,
                new Case(
                        () -> second("rated", good()),
                        () -> change(rated, "rated", "\"limits\":{\"rates\":[\"100 per 1h by client\"]}"),
                        () -> call("rated", good())));
        String quota = route("quota", "\"limits\":{\"quotas\":[\"1 per month by client\"]}");
        CASES.put(
                Reason.QUOTA_EXCEEDED,
                new Case(
                        () -> second("quota", good()),
                        () -> change(quota, "quota", "\"limits\":{\"quotas\":[\"100 per month by client\"]}"),
                        () -> call("quota", good())));
        String small = route("small", "\"limits\":{\"body\":3}");
        CASES.put(
                Reason.BODY_TOO_LARGE,
                new Case(
                        () -> sent("small", "a long body"),
                        () -> change(small, "small", ""),
                        () -> sent("small", "a long body")));
        String narrow = route("narrow", "\"limits\":{\"headers\":300}");
        CASES.put(
                Reason.HEADERS_TOO_LARGE,
                new Case(
                        () -> call("narrow", good()),
                        () -> change(narrow, "narrow", "\"limits\":{\"headers\":9000}"),
                        () -> call("narrow", good())));

        CASES.put(
                Reason.NO_ROUTE,
                new Case(() -> call("missing", good()), () -> route("missing", ""), () -> call("missing", good())));
        CASES.put(
                Reason.METHOD_NOT_ALLOWED,
                new Case(
                        () -> Wire.call("DELETE", demo.gateway() + "/reasons/good", good()),
                        null,
                        () -> call("good", good())));
        CASES.put(
                Reason.UNSAFE_PATH,
                new Case(
                        () -> Wire.call("GET", demo.gateway() + "/reasons/%2e%2e/good", good()),
                        null,
                        () -> call("good", good())));
        CASES.put(Reason.MALFORMED_HTTP, new Case(EveryReasonTest::twoLengths, null, () -> call("good", good())));

        JsonNode outside = demo.ready().path("outside");
        made(post(
                "/trusted-issuers",
                ("{\"name\":\"coastguard\","
                                + "\"url\":\"%s\",\"types\":[\"watch+jwt\"],\"scope_claim\":\"watch_may\","
                                + "\"client_claim\":\"vessel\",\"scopes\":{\"sea.heights\":\"pilots.read\"},\"clients\""
                                + ":{\"patrol-boat\":\"other-launch\"}}")
                        .formatted(outside.path("issuer").asString())));
        route("outside", "\"who\":{\"issuers\":[\"coastguard\"]}");
        CASES.put(
                Reason.LINKED_CLIENT_OFF,
                new Case(
                        () -> call("outside", theirs(outside)),
                        () -> made(post("/clients/other-launch/on", "{}")),
                        () -> call("outside", theirs(outside))));
    }

    private static String theirs(JsonNode outside) throws Exception {
        Thread.sleep(1_100); // a token of the second of the switch counts as before it
        return Wire.form(
                        outside.path("issuer").asString() + "/token",
                        Wire.basic(outside),
                        "grant_type=client_credentials&audience=https%3A%2F%2Fpilots.saltmarsh.example")
                .json()
                .path("access_token")
                .asString();
    }

    /** A route that wants a subscription, and how it comes about, waits and is paused. */
    private static void subscriptions() throws Exception {
        for (String name : List.of("none", "waiting", "paused")) {
            route("subscribed-" + name, "\"who\":{\"subscription\":true}");
            made(post(
                    "/plans",
                    ("{\"name\":\"%1$s\",\"approval\":\"%2$s\",\"operations\":"
                                    + "[{\"api\":\"pilots\",\"path\":\"/reasons/subscribed-%1$s\"}]}")
                            .formatted(name, name.equals("waiting") ? "owner" : "automatic")));
        }
        String waiting = subscribe("waiting");
        String paused = subscribe("paused");
        made(post("/subscriptions/" + paused + "/pause", "{\"reason\":\"Too many calls.\"}"));
        subscribed(Reason.NO_SUBSCRIPTION, "none", () -> subscribe("none"));
        subscribed(
                Reason.SUBSCRIPTION_WAITING,
                "waiting",
                () -> made(post("/subscriptions/" + waiting + "/approve", "{\"plan\":\"waiting\"}")));
        subscribed(
                Reason.SUBSCRIPTION_PAUSED,
                "paused",
                () -> made(operator.send("POST", "/issuers/pilotage/subscriptions/" + paused + "/resume", null, "{}")));
    }

    private static void subscribed(Reason reason, String name, Act follow) {
        String path = "subscribed-" + name;
        CASES.put(reason, new Case(() -> call(path, good()), follow, () -> call(path, good())));
    }

    /** @return the id of the subscription */
    private static String subscribe(String plan) throws Exception {
        return made(post("/clients/launch/subscriptions", "{\"plan\":\"%s\"}".formatted(plan)))
                .path("now")
                .path("id")
                .asString();
    }

    /** A route that refuses; its fix is another rule. */
    private static void byRoute(Reason reason, String name, String refusing, String passing, Token token)
            throws Exception {
        String id = route(name, refusing);
        CASES.put(
                reason,
                new Case(
                        () -> call(name, token.made()),
                        () -> change(id, name, passing),
                        () -> call(name, token.made())));
    }

    private static Wire.Answer second(String name, String token) throws Exception {
        assertThat(call(name, token).status()).isEqualTo(200);
        return call(name, token);
    }

    private static Wire.Answer sent(String name, String body) throws Exception {
        return Wire.send(
                "POST",
                demo.gateway() + "/reasons/" + name,
                Map.of("Authorization", "Bearer " + good(), "Content-Type", "text/plain"),
                body);
    }

    private static String unsigned() {
        return java.util.Base64.getUrlEncoder()
                        .withoutPadding()
                        .encodeToString("{\"alg\":\"none\",\"typ\":\"at+jwt\"}".getBytes())
                + "." + java.util.Base64.getUrlEncoder().withoutPadding().encodeToString("{}".getBytes()) + ".";
    }

    private static Wire.Answer both(String token) throws Exception {
        var request = java.net.http.HttpRequest.newBuilder(java.net.URI.create(demo.gateway() + "/reasons/good"))
                .header("Authorization", "Bearer " + token)
                .header("Authorization", "Bearer " + token)
                .build();
        var response = java.net.http.HttpClient.newHttpClient()
                .send(request, java.net.http.HttpResponse.BodyHandlers.ofString());
        return new Wire.Answer(response.statusCode(), response);
    }

    /** Two lengths that differ (RFC 9112 §6.3): how one request is made to look like two. */
    private static Wire.Answer twoLengths() throws Exception {
        String raw = Wire.raw(
                demo.gatewayPort,
                "POST /reasons/good HTTP/1.1\r\nHost: x\r\nContent-Length: 3\r\nContent-Length: 30\r\n\r\nabc");
        CompletableFuture<Wire.Answer> told = new CompletableFuture<>();
        try (java.net.ServerSocket relay = new java.net.ServerSocket(0, 1, java.net.InetAddress.getLoopbackAddress())) {
            Thread.ofVirtual().start(() -> {
                try (java.net.Socket socket = relay.accept()) {
                    socket.getInputStream().readNBytes(1);
                    socket.getOutputStream().write(raw.getBytes());
                } catch (java.io.IOException broken) {
                    told.completeExceptionally(broken);
                }
            });
            return Wire.get("http://127.0.0.1:" + relay.getLocalPort() + "/");
        }
    }

    @TestFactory
    Stream<DynamicTest> eachIsProvokedToldAndFixed() {
        return CASES.entrySet().stream()
                .map(it -> DynamicTest.dynamicTest(it.getKey().toString(), () -> check(it.getKey(), it.getValue())));
    }

    private void check(Reason reason, Case it) throws Exception {
        if (reason == Reason.REVOKED) made(post("/tokens/revoke", "{\"client\":\"launch\"}"));
        if (reason == Reason.SCOPE_CLOSED)
            made(operator.send(
                    "PATCH", "/issuers/pilotage/apis/pilots/scopes/pilots.late", "*", "{\"status\":\"draft\"}"));
        if (reason == Reason.LINKED_CLIENT_OFF) made(post("/clients/other-launch/off", "{}"));
        Wire.Answer no = it.refused().make();
        assertThat(no.status()).as(no.body()).isEqualTo(reason.status());
        assertThat(no.json().path("reason").asString()).isEqualTo(reason.toString());
        assertThat(no.json().path("expected").asString()).isNotEmpty();
        assertThat(no.json().path("fix").path("sentence").asString()).isNotEmpty();
        assertThat(no.header("Cache-Control")).isEqualTo("no-store");
        boolean challenged = reason.status() == 401 || reason.error().equals("insufficient_scope");
        if (challenged) assertThat(no.header("WWW-Authenticate")).startsWith("Bearer realm=\"pilots\"");
        if (challenged && !reason.error().isEmpty())
            assertThat(no.header("WWW-Authenticate")).contains("error=\"" + reason.error() + "\"");
        JsonNode decision = operator.decision(no);
        assertThat(decision.path("verdict").asString()).isEqualTo("refused");
        assertThat(decision.path("reason").asString()).isEqualTo(reason.toString());
        assertThat(decision.path("fix").path("sentence").asString())
                .isEqualTo(no.json().path("fix").path("sentence").asString());
        assertThat(decision.path("checks")
                        .valueStream()
                        .filter(check -> check.path("outcome").asString().equals("refused")))
                .hasSize(1);

        if (it.follow() != null) it.follow().take();
        Wire.Answer yes = it.passes().make();
        assertThat(yes.status()).as(yes.body()).isEqualTo(200);
        assertThat(operator.decision(yes).path("verdict").asString()).isEqualTo("admitted");
    }

    @Test
    void noReasonIsForgotten() {
        Set<Reason> ofGateway = EnumSet.range(Reason.NO_TOKEN, Reason.MALFORMED_HTTP);
        ofGateway.removeAll(ADMIN);
        ofGateway.removeAll(CASES.keySet());
        assertThat(ofGateway).as("reasons that are provoked nowhere").isEqualTo(ELSEWHERE.keySet());
    }
}
