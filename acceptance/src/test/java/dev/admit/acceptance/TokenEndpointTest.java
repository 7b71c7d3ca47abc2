package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.nimbusds.jose.JWSObject;
import com.nimbusds.jose.crypto.ECDSAVerifier;
import com.nimbusds.jose.jwk.JWKSet;
import java.util.Map;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.parallel.ResourceLock;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import tools.jackson.databind.JsonNode;

/** The token endpoint, the metadata and the keys, as the wire has them. */
@ResourceLock(Running.DEMO)
class TokenEndpointTest {
    private static Running demo;
    private static String endpoint;
    private static JsonNode buoy;

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo();
        endpoint = demo.server() + "/harbour/token";
        buoy = demo.ready().path("clients").path("tide-buoy-07");
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "/.well-known/oauth-authorization-server/harbour",
                "/harbour/.well-known/oauth-authorization-server",
                "/harbour/.well-known/openid-configuration",
                "/.well-known/openid-configuration/harbour"
            })
    void metadataAnswersAtEachOfItsAddresses(String path) throws Exception {
        Wire.Answer answer = Wire.get(demo.server() + path);
        JsonNode metadata = answer.json();
        assertThat(answer.status()).isEqualTo(200);
        assertThat(metadata.path("issuer").asString()).isEqualTo(demo.server() + "/harbour");
        assertThat(metadata.path("token_endpoint").asString()).isEqualTo(endpoint);
        assertThat(metadata.path("grant_types_supported").toString())
                .isEqualTo("[\"authorization_code\","
                        + "\"client_credentials\",\"refresh_token\",\"urn:ietf:params:oauth:grant-type:device_code\"]");
        assertThat(metadata.path("request_uri_parameter_supported").asBoolean(true))
                .isFalse();
        assertThat(metadata.has("registration_endpoint"))
                .as("what is not on is not listed")
                .isFalse();
        metadata.properties().forEach(member -> assertThat(
                        member.getValue().isArray() && member.getValue().isEmpty())
                .as(member.getKey())
                .isFalse());
    }

    @Test
    void anIssuerThatIsNotHereIsNotFound() throws Exception {
        for (String path : new String[] {
            "/nowhere/token",
            "/nowhere/jwks",
            "/nowhere/.well-known/openid-configuration",
            "/.well-known/oauth-authorization-server/nowhere"
        }) {
            Wire.Answer answer = Wire.get(demo.server() + path);
            assertThat(answer.status()).as(path).isEqualTo(404);
            assertThat(answer.header("Content-Type")).as(path).startsWith("application/problem+json");
        }
    }

    @Test
    void aTokenVerifiesWithThePublishedKeysAndTheyArePublicOnly() throws Exception {
        String jwks = Wire.get(demo.server() + "/harbour/jwks").body();
        assertThat(jwks).doesNotContain("\"d\"");
        JWSObject token = JWSObject.parse(Wire.token(demo, "tide-buoy-07", ""));
        var key = JWKSet.parse(jwks).getKeyByKeyId(token.getHeader().getKeyID());
        assertThat(token.verify(new ECDSAVerifier(key.toECKey()))).isTrue();
        assertThat(token.getPayload().toJSONObject())
                .containsEntry("iss", demo.server() + "/harbour")
                .containsEntry("aud", "https://tides.saltmarsh.example");
    }

    @Test
    void theAnswerIsNeverStored() throws Exception {
        Wire.Answer issued = Wire.form(endpoint, Wire.basic(buoy), "grant_type=client_credentials");
        assertThat(issued.header("Cache-Control")).isEqualTo("no-store");
        assertThat(issued.json().path("token_type").asString()).isEqualTo("Bearer");
        assertThat(issued.json().path("scope").asString()).isEqualTo("tides.read");
        assertThat(issued.json().path("expires_in").asInt()).isEqualTo(900);
        Wire.Answer refused = Wire.form(endpoint, Wire.basic(buoy), "grant_type=nope");
        assertThat(refused.header("Cache-Control")).isEqualTo("no-store");
        assertThat(refused.status()).isEqualTo(400);
    }

    @Test
    void credentialsInTheFormWorkForAClientRegisteredSo() throws Exception {
        Operator operator = Operator.of(demo);
        JsonNode made = operator.harbour(
                        "POST",
                        "/clients",
                        "{\"name\":\"form-caller\",\"token_endpoint_auth_method\":\"client_secret_post\",\"scopes\":"
                                + "[\"tides.read\"]}")
                .json();
        operator.harbour(
                "POST",
                "/approvals/"
                        + made.path("now").path("scopes").get(0).path("id").asString() + "/grant",
                "{}");
        String form = "grant_type=client_credentials&client_id=%s&client_secret=%s"
                .formatted(
                        made.path("now").path("client_id").asString(),
                        made.path("secret").path("secret").asString());
        assertThat(Wire.form(endpoint, null, form).status()).isEqualTo(200);
        Wire.Answer wrong = Wire.form(endpoint, null, form + "x");
        assertThat(wrong.status()).isEqualTo(401);
        assertThat(wrong.header("WWW-Authenticate"))
                .as("the one who did not try the header is not asked for it")
                .isEmpty();
        assertThat(made.path("secret").path("curl").asString())
                .startsWith("curl -s -d client_id=")
                .doesNotContain("\n");
    }

    @ParameterizedTest(name = "{0}: {2}")
    @CsvSource(delimiter = '|', textBlock = """
            wrong secret      | grant_type=client_credentials                        | 401 invalid_client
            repeated          | grant_type=client_credentials&scope=a&scope=a        | 400 invalid_request
            not UTF-8         | grant_type=client_credentials&scope=%C3%28           | 400 invalid_request
            no grant          | scope=tides.read                                     | 400 invalid_request
            password grant    | grant_type=password&username=a&password=b            | 400 unsupported_grant_type
            unknown scope     | grant_type=client_credentials&scope=tides.nope       | 400 invalid_scope
            unknown resource  | grant_type=client_credentials&resource=urn:nope      | 400 invalid_target""")
    void eachRefusalHasItsCode(String what, String form, String expected) throws Exception {
        String authorization = what.equals("wrong secret")
                ? Wire.basic(Running.JSON.readTree("{\"client_id\":\"%s\",\"client_secret\":\"x\"}"
                        .formatted(buoy.path("client_id").asString())))
                : Wire.basic(buoy);
        Wire.Answer answer = Wire.form(endpoint, authorization, form);
        assertThat(answer.status() + " " + answer.json().path("error").asString())
                .isEqualTo(expected);
        assertThat(answer.json().path("error_description").asString()).isNotBlank();
        assertThat(answer.header("WWW-Authenticate").startsWith("Basic")).isEqualTo(answer.status() == 401);
        assertThat(answer.header("Admit-Decision")).startsWith("dec_");
    }

    @Test
    void oversizedQueriesAndOtherShapesAreRefused() throws Exception {
        assertThat(Wire.form(endpoint, Wire.basic(buoy), "grant_type=client_credentials&scope=" + "a".repeat(40_000))
                        .json()
                        .path("reason")
                        .asString())
                .isEqualTo("malformed-request");
        assertThat(Wire.form(endpoint + "?grant_type=client_credentials", Wire.basic(buoy), "")
                        .json()
                        .path("reason")
                        .asString())
                .isEqualTo("parameter-in-query");
        Wire.Answer json = Wire.send(
                "POST",
                endpoint,
                Map.of("Content-Type", "application/json", "Authorization", Wire.basic(buoy)),
                "{\"grant_type\":\"client_credentials\"}");
        assertThat(json.json().path("error").asString()).isEqualTo("invalid_request");
        Wire.Answer got = Wire.send("GET", endpoint, Map.of("Authorization", Wire.basic(buoy)), null);
        assertThat(got.status()).isEqualTo(400);
        assertThat(got.header("Cache-Control")).isEqualTo("no-store");
    }

    @ParameterizedTest
    @CsvSource({"Origin, https://app.saltmarsh.example", "Origin, null", "Sec-Fetch-Site, cross-site"})
    void aSecretFromABrowserIsRefusedWithTheFix(String header, String value) throws Exception {
        Wire.Answer refused = Wire.send(
                "POST",
                endpoint,
                Map.of(
                        "Content-Type",
                        "application/x-www-form-urlencoded",
                        "Authorization",
                        Wire.basic(buoy),
                        header,
                        value),
                "grant_type=client_credentials");
        assertThat(refused.status()).isEqualTo(400);
        assertThat(refused.json().path("error").asString()).isEqualTo("invalid_request");
        assertThat(refused.json().path("reason").asString()).isEqualTo("secret-from-browser");
        assertThat(refused.json().path("error_description").asString())
                .contains("on a server")
                .contains("replace this secret");
        assertThat(refused.header("Access-Control-Allow-Origin")).isEmpty();
    }

    @Test
    void aTokenRequestLeavesADecisionWithoutSecrets() throws Exception {
        Operator operator = Operator.of(demo);
        Wire.Answer refused = Wire.form(
                endpoint,
                Wire.basic(demo.ready().path("clients").path("night-audit")),
                "grant_type=client_credentials&scope=manifests.inspect");
        JsonNode decision = operator.decision(refused);
        assertThat(decision.path("endpoint").asString()).isEqualTo("token");
        assertThat(decision.path("verdict").asString()).isEqualTo("refused");
        assertThat(decision.path("client").asString()).isEqualTo("night-audit");
        assertThat(decision.path("fix").path("command").asString())
                .isEqualTo("admit approval grant night-audit manifests.inspect --issuer harbour");
        assertThat(decision.toString())
                .doesNotContain(demo.ready()
                        .path("clients")
                        .path("night-audit")
                        .path("client_secret")
                        .asString());
    }

    @Test
    void healthAndReadinessAnswer() throws Exception {
        assertThat(Wire.get(demo.server() + "/health").json().path("status").asString())
                .isEqualTo("UP");
        assertThat(Wire.get(demo.server() + "/health/liveness").status()).isEqualTo(200);
        assertThat(Wire.get(demo.server() + "/health/readiness")
                        .json()
                        .path("status")
                        .asString())
                .isEqualTo("UP");
    }
}
