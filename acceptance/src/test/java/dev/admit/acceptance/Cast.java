package dev.admit.acceptance;

import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import tools.jackson.databind.JsonNode;

/**
 * Everybody who may try the admin API, at each issuer: a person with each admin role, an owner, a person without
 * anything; and the things that the owner owns. Made once for a demo.
 */
final class Cast {
    static final List<String> ISSUERS = List.of("harbour", "gullwing", "admit");
    static final String API = "cast-api";
    static final String CLIENT = "cast-client";
    static final String PLAN = "cast-plan";
    static final String SCOPE = "cast-api.read";
    private static final String PASSWORD = "four plain words here";
    private static final Map<Running, Cast> MADE = new HashMap<>();

    /**
     * @param name such as {@code operator of harbour}
     * @param role null for a person without one
     */
    record Actor(String name, String issuer, String role, boolean owns, String token) {
        @Override
        public String toString() {
            return name;
        }
    }

    final Map<String, Actor> people = new LinkedHashMap<>();
    private final Map<String, String> routes = new HashMap<>();
    private final Map<String, String> subscriptions = new HashMap<>();
    private final Running demo;
    private final Operator operator;

    private Cast(Running demo) throws Exception {
        this.demo = demo;
        this.operator = Operator.of(demo);
        for (String issuer : ISSUERS) {
            String program = program(issuer);
            for (String role : new String[] {"administrator", "operator", "auditor", "owner", "person"}) {
                String admin = role.equals("owner") || role.equals("person") ? null : role;
                add(issuer, role, admin);
                if (role.equals("owner")) things(issuer);
                people.put(
                        role + " of " + issuer,
                        new Actor(
                                role + " of " + issuer,
                                issuer,
                                admin,
                                role.equals("owner"),
                                token(issuer, program, role)));
            }
        }
    }

    static synchronized Cast of(Running demo) throws Exception {
        if (!MADE.containsKey(demo)) MADE.put(demo, new Cast(demo));
        return MADE.get(demo);
    }

    private static String address(String issuer, String role) {
        return "cast-%s@%s.example".formatted(role, issuer);
    }

    private JsonNode made(String path, String json) throws Exception {
        Wire.Answer answer = operator.post(path, json);
        if (answer.status() > 299) throw new AssertionError(path + " " + json + ": " + answer.body());
        return answer.json();
    }

    /**
     * A native client that may run Admit.
     *
     * @return its id
     */
    private String program(String issuer) throws Exception {
        JsonNode client = made("/issuers/" + issuer + "/clients", """
                {"name":"cast-program","kind":"native","redirect_uris":["http://127.0.0.1/back"],\
                "openid_scopes":["openid","admit:run"]}""");
        made("/issuers/%s/clients/cast-program/openid/grant".formatted(issuer), "{}");
        return client.path("now").path("client_id").asString();
    }

    private void add(String issuer, String role, String admin) throws Exception {
        made(
                "/issuers/" + issuer + "/people",
                "{\"email\":\"%s\",\"profile\":{\"name\":\"%s\"},\"password\":\"%s\"%s}"
                        .formatted(
                                address(issuer, role),
                                role,
                                PASSWORD,
                                admin == null ? "" : ",\"admin_role\":\"" + admin + "\""));
    }

    private void things(String issuer) throws Exception {
        String at = "/issuers/" + issuer;
        made(
                at + "/apis",
                "{\"name\":\"%s\",\"audience\":\"urn:cast:%s\",\"upstream\":\"http://127.0.0.1:9\"}"
                        .formatted(API, issuer));
        made(
                at + "/apis/" + API + "/scopes",
                "{\"name\":\"%s\",\"effect\":\"reads\",\"reach\":\"everyone\",\"for\":\"clients\"}".formatted(SCOPE));
        made(at + "/clients", "{\"name\":\"%s\",\"scopes\":[\"%s\"]}".formatted(CLIENT, SCOPE));
        routes.put(
                issuer,
                made(
                                at + "/routes",
                                "{\"path\":\"/cast-%s/**\",\"methods\":[\"GET\"],\"api\":\"%s\",\"scopes\":[\"%s\"]}"
                                        .formatted(issuer, API, SCOPE))
                        .path("now")
                        .path("id")
                        .asString());
        made(
                at + "/plans",
                "{\"name\":\"%s\",\"operations\":[{\"api\":\"%s\",\"path\":\"/cast/**\"}]}".formatted(PLAN, API));
        subscriptions.put(
                issuer,
                made(at + "/clients/" + CLIENT + "/subscriptions", "{\"plan\":\"%s\"}".formatted(PLAN))
                        .path("now")
                        .path("id")
                        .asString());
        made(at + "/owners", "{\"person\":\"%s\",\"api\":\"%s\"}".formatted(address(issuer, "owner"), API));
        made(at + "/owners", "{\"person\":\"%s\",\"client\":\"%s\"}".formatted(address(issuer, "owner"), CLIENT));
    }

    String subscription(String issuer) {
        return subscriptions.get(issuer);
    }

    String route(String issuer) {
        return routes.get(issuer);
    }

    /** What the owner's client requests of the owner's API, waiting. */
    String approval(String issuer) throws Exception {
        Wire.Answer answer = operator.post(
                "/issuers/" + issuer + "/approvals", "{\"client\":\"%s\",\"scope\":\"%s\"}".formatted(CLIENT, SCOPE));
        return answer.json().path("now").path("id").asString();
    }

    String address(Actor actor) {
        return "cast-" + actor.name().replace(" of ", "@") + ".example";
    }

    private String token(String issuer, String clientId, String role) throws Exception {
        return token(demo, issuer, clientId, address(issuer, role), PASSWORD, "openid admit:run", "")
                .path("access_token")
                .asString();
    }

    /** Signs a person in for a native client, and says yes. */
    static JsonNode token(
            Running demo, String issuer, String clientId, String email, String password, String scope, String more)
            throws Exception {
        Visitor.Pkce pkce = Visitor.Pkce.make();
        Visitor.Seen page = new Visitor(demo)
                .get(("/%s/authorize?response_type=code&client_id=%s&redirect_uri=%s&scope=%s&state=s&"
                                + "code_challenge=%s&code_challenge_method=S256%s")
                        .formatted(
                                issuer,
                                clientId,
                                Wire.encoded("http://127.0.0.1:53123/back"),
                                Wire.encoded(scope),
                                pkce.challenge(),
                                more));
        Visitor.Seen answered = page.send("/%s/sign-in".formatted(issuer), "email", email, "password", password);
        if (answered.body().contains("/" + issuer + "/approve\""))
            answered = answered.send("/" + issuer + "/approve", "answer", "yes");
        Wire.Answer answer = Wire.form(
                demo.server() + "/" + issuer + "/token",
                null,
                "grant_type=authorization_code&code=%s&redirect_uri=%s&code_verifier=%s&client_id=%s"
                        .formatted(
                                Wire.encoded(answered.parameter("code")),
                                Wire.encoded("http://127.0.0.1:53123/back"),
                                pkce.verifier(),
                                clientId));
        if (answer.status() != 200) throw new AssertionError(answered.location() + answered.text() + answer.body());
        return answer.json();
    }
}
