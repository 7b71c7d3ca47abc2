package dev.admit.acceptance;

import java.util.HashMap;
import java.util.Map;
import tools.jackson.databind.JsonNode;

/** The admin API, called over HTTP with the operator's token. */
final class Operator {
    private final String adminApi;
    private final String token;

    Operator(String adminApi, String token) {
        this.adminApi = adminApi;
        this.token = token;
    }

    static Operator of(Running demo) throws Exception {
        JsonNode ready = demo.ready();
        Wire.Answer answer = Wire.form(
                ready.path("issuers").path("admit").asString() + "/token",
                Wire.basic(ready.path("operator")),
                "grant_type=client_credentials");
        return new Operator(
                ready.path("admin_api").asString(),
                answer.json().path("access_token").asString());
    }

    Wire.Answer send(String method, String path, String ifMatch, String json) throws Exception {
        Map<String, String> headers = new HashMap<>(Map.of("Authorization", "Bearer " + token));
        if (json != null) headers.put("Content-Type", "application/json");
        if (ifMatch != null) headers.put("If-Match", ifMatch);
        return Wire.send(method, adminApi + path, headers, json);
    }

    Wire.Answer get(String path) throws Exception {
        return send("GET", path, null, null);
    }

    Wire.Answer post(String path, String json) throws Exception {
        return send("POST", path, null, json);
    }

    Wire.Answer harbour(String method, String path, String json) throws Exception {
        return send(
                method, "/issuers/harbour" + path, method.equals("PATCH") || method.equals("PUT") ? "*" : null, json);
    }

    /** The decision that an answer points to. */
    JsonNode decision(Wire.Answer answer) throws Exception {
        return decision(answer.header("Admit-Decision"));
    }

    JsonNode decision(String id) throws Exception {
        // An answer may be here a moment before its decision is written down.
        Wire.Answer decision = get("/decisions/" + id);
        for (int again = 0; decision.status() == 404 && again < 200; again++) {
            Thread.sleep(50);
            decision = get("/decisions/" + id);
        }
        return decision.json();
    }

    /** The newest mail to an address, its code shown. */
    String mailTo(String address) throws Exception {
        String id = harbour("GET", "/outbox?to=" + Wire.encoded(address), null)
                .json()
                .path("items")
                .path(0)
                .path("id")
                .asString();
        return harbour("POST", "/outbox/" + id + "/reveal", "{}")
                .json()
                .path("now")
                .path("body")
                .asString();
    }

    /** A client of the harbour with one scope approved, made for one test. */
    JsonNode approvedClient(String name, String scope) throws Exception {
        JsonNode made = harbour("POST", "/clients", "{\"name\":\"%s\",\"scopes\":[\"%s\"]}".formatted(name, scope))
                .json();
        String approval = made.path("now").path("scopes").get(0).path("id").asString();
        Wire.Answer given = harbour("POST", "/approvals/" + approval + "/grant", "{}");
        if (given.status() != 200) throw new AssertionError(given.body());
        return Running.JSON.readTree("{\"client_id\":\"%s\",\"client_secret\":\"%s\",\"approval\":\"%s\"}"
                .formatted(
                        made.path("now").path("client_id").asString(),
                        made.path("secret").path("secret").asString(),
                        approval));
    }
}
