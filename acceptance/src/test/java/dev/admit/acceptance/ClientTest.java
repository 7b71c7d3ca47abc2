package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.sun.net.httpserver.HttpServer;
import java.net.InetSocketAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.api.parallel.ResourceLock;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;

/** Clients of every kind: registered, found, copied, changed; their secrets and keys. */
@ResourceLock(Running.DEMO)
class ClientTest {
    private static Running demo;
    private static Operator operator;

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo();
        operator = Operator.of(demo);
    }

    private static Wire.Answer register(String members) throws Exception {
        return operator.harbour("POST", "/clients", "{" + members + "}");
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource({
        "machine, client_secret_basic, true",
        "web, client_secret_basic, true",
        "browser, none, false",
        "native, none, false",
        "device, none, false"
    })
    void eachKindProvesItselfAsItCan(String kind, String method, boolean secret) throws Exception {
        JsonNode made = register("\"name\":\"kind-%s\",\"kind\":\"%s\"".formatted(kind, kind))
                .json();
        assertThat(made.path("now").path("token_endpoint_auth_method").asString())
                .isEqualTo(method);
        assertThat(made.path("secret").isObject()).isEqualTo(secret);
        if (!secret)
            assertThat(operator.harbour("POST", "/clients/kind-" + kind + "/secrets", "{}")
                            .status())
                    .isEqualTo(409);
    }

    @ParameterizedTest(name = "{0} {1}: {2}")
    @CsvSource(
            delimiter = '|',
            value = {
                "web     | https://desk.saltmarsh.example/back      | good",
                        "web     | http://127.0.0.1:9495/back              | good",
                        "web     | http://localhost:9495/back              | good",
                "web     | http://desk.saltmarsh.example/back       | bad",
                        "web     | https://desk.saltmarsh.example/back#x    | bad",
                        "web     | javascript:alert(1)                     | bad",
                "web     | data:text/html,x                         | bad",
                        "web     | org.saltmarsh.pilot:/back               | bad",
                        "web     | https://u:p@desk.saltmarsh.example/b     | bad",
                "web     | https://*.saltmarsh.example/back         | bad",
                        "web     | /back                                   | bad",
                        "web     | https:///back                           | bad",
                "web     | https://desk.saltmarsh.example/a b       | bad",
                        "native  | org.saltmarsh.pilot:/back               | good",
                        "native  | http://127.0.0.1/back                   | good",
                "native  | http://[::1]/back                        | good",
                        "native  | pilot:/back                             | good",
                        "native  | http://10.0.0.1/back                    | bad",
                "native  | javascript.x:alert(1)                    | good",
                        "browser | http://127.0.0.1:9496/back              | good",
                        "browser | ftp://board.saltmarsh.example/          | bad",
                "machine | https://desk.saltmarsh.example/back      | bad",
                        "device  | https://desk.saltmarsh.example/back     | bad"
            })
    void redirectAddressesAreCheckedByKind(String kind, String address, String verdict) throws Exception {
        Wire.Answer answer = register("\"name\":\"r%s\",\"kind\":\"%s\",\"redirect_uris\":[\"%s\"]"
                .formatted(Integer.toHexString((kind + address).hashCode()), kind, address));
        assertThat(answer.status()).as(answer.body()).isEqualTo(verdict.equals("good") ? 201 : 422);
        if (verdict.equals("bad"))
            assertThat(answer.json().path("faults").get(0).path("pointer").asString())
                    .startsWith("/redirect_uris");
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(
            nullValues = "-",
            value = {
                "https://board.saltmarsh.example, https://board.saltmarsh.example",
                "https://Board.Saltmarsh.example/, https://board.saltmarsh.example",
                "http://127.0.0.1:9496, http://127.0.0.1:9496",
                "http://board.saltmarsh.example, -",
                "https://board.saltmarsh.example/page, -",
                "*, -",
                "null, -",
                "https://u@b.example, -"
            })
    void originsAreCheckedAndKeptAsOrigins(String origin, String kept) throws Exception {
        Wire.Answer answer = register("\"name\":\"o%s\",\"kind\":\"browser\",\"origins\":[\"%s\"]"
                .formatted(Integer.toHexString(origin.hashCode()), origin));
        if (kept == null)
            assertThat(answer.json().path("faults").get(0).path("pointer").asString())
                    .isEqualTo("/origins/0");
        else
            assertThat(answer.json().path("now").path("origins").get(0).asString())
                    .isEqualTo(kept);
    }

    @Test
    void pastedSpacesAreTakenOffAndToldSo() throws Exception {
        JsonNode made = register("\"name\":\" pasted \",\"kind\":\"web\",\"redirect_uris\":[\" "
                        + "https://desk.saltmarsh.example/back\\n\"]")
                .json();
        assertThat(made.path("now").path("redirect_uris").get(0).asString())
                .isEqualTo("https://desk.saltmarsh.example/back");
        assertThat(made.path("notes").toString())
                .contains("redirect_uris/0 were taken off")
                .contains("name were taken off");
    }

    @Test
    void developmentAddressesCanBeSwitchedOffForAnIssuer() throws Exception {
        operator.post("/issuers", "{\"name\":\"strict-addresses\",\"loopback_redirects\":false}");
        String web = "{\"name\":\"desk\",\"kind\":\"web\",\"redirect_uris\":[\"http://127.0.0.1:9495/back\"]}";
        assertThat(operator.post("/issuers/strict-addresses/clients", web).status())
                .isEqualTo(422);
        assertThat(operator.post("/issuers/strict-addresses/clients", web.replace("web", "native"))
                        .status())
                .isEqualTo(201);
    }

    @ParameterizedTest(name = "{0} at {1}")
    @CsvSource(
            delimiter = '|',
            value = {
                "\"kind\":\"robot\" | /kind",
                "\"kind\":\"browser\",\"token_endpoint_auth_method\":\"client_secret_basic\" | "
                        + "/token_endpoint_auth_method",
                "\"token_endpoint_auth_method\":\"none\" | /token_endpoint_auth_method",
                "\"token_endpoint_auth_method\":\"private_key_jwt\" | /jwks",
                "\"token_endpoint_auth_method\":\"private_key_jwt\",\"jwks\":{\"keys\":[]} | /jwks",
                "\"jwks\":{\"keys\":[{\"kty\":\"oct\",\"k\":\"AAAA\"}]} | /jwks",
                "\"jwks\":{\"keyz\":1} | /jwks",
                "\"jwks_uri\":\"nope\" | /jwks_uri",
                "\"client_name\":7 | /client_name",
                "\"client_name\":\"a\\u0000b\" | /client_name",
                "\"client_name\":\"two\\r\\nlines\" | /client_name",
                "\"contacts\":[\"\\u202egnirotS\"] | /contacts/0",
                "\"description\":\"\\ud800\" | /description",
                "\"tags\":[\"Not a tag\"] | /tags/0",
                "\"tags\":\"x\" | /tags",
                "\"links\":[\"javascript:x\"] | /links/0",
                "\"contacts\":[\"\"] | /contacts/0",
                "\"grant_types\":[\"password\"] | /grant_types/0",
                "\"kind\":\"browser\",\"grant_types\":[\"client_credentials\"] | /grant_types/0",
                "\"openid_scopes\":[\"openid\"] | /openid_scopes/0",
                "\"kind\":\"web\",\"openid_scopes\":[\"admin\"] | /openid_scopes/0",
                "\"secret_lifetime\":\"never\" | /secret_lifetime",
                "\"secret_lifetime\":\"400d\" | /secret_lifetime",
                "\"kind\":\"browser\",\"secret_lifetime\":\"9d\" | /secret_lifetime",
                "\"scopes\":[\"tides.nope\"] | /scopes/0",
                "\"scopes\":[\"berths.book\"] | /scopes/0",
                "\"kind\":\"web\",\"scopes\":[\"tides.publish\"] | /scopes/0",
                "\"token_endpoint_auth_signing_alg\":\"HS256\" | /token_endpoint_auth_signing_alg",
                "\"colour\":\"red\" | /colour"
            })
    void eachFieldIsCheckedAndNamed(String members, String pointer) throws Exception {
        Wire.Answer answer = register("\"name\":\"never-made\"," + members);
        assertThat(answer.status()).as(answer.body()).isEqualTo(422);
        assertThat(answer.json().path("faults").get(0).path("pointer").asString())
                .isEqualTo(pointer);
        assertThat(operator.harbour("GET", "/clients/never-made", null).status())
                .as("nothing half-made")
                .isEqualTo(404);
    }

    @Test
    void aPrivateKeyInTheRegistrationIsRefusedAndNotQuoted() throws Exception {
        Wire.Answer answer = register("\"name\":\"leaky\",\"jwks\":{\"keys\":[%s]}"
                .formatted(new com.nimbusds.jose.jwk.gen.ECKeyGenerator(com.nimbusds.jose.jwk.Curve.P_256)
                        .generate()
                        .toJSONString()));
        assertThat(answer.status()).isEqualTo(422);
        assertThat(answer.body()).contains("public keys").doesNotContain("\"d\"");
    }

    private static List<String> names(String query) throws Exception {
        List<String> names = new ArrayList<>();
        operator.harbour("GET", "/clients?limit=200" + query, null)
                .json()
                .path("items")
                .forEach(item -> names.add(item.path("name").asString()));
        return names;
    }

    @Test
    void clientsAreFoundByAnyOfTheirTextsFilteredSortedAndPaged() throws Exception {
        register("\"name\":\"found-a\",\"description\":\"Counts gulls\",\"contacts\":[\"Edda "
                + "Lorne\",\"edda@saltmarsh.example\"],"
                + "\"links\":[\"https://wiki.saltmarsh.example/gulls\"],\"tags\":[\"ornithology\"]");
        register("\"name\":\"found-b\",\"kind\":\"device\",\"contacts\":[\"Edda "
                + "Lorne\"],\"tags\":[\"ornithology\",\"north\"]");
        for (String text : List.of("found-a", "COUNTS gulls", "edda@saltmarsh", "wiki.saltmarsh.example/gulls"))
            assertThat(names("&search=" + Wire.encoded(text))).as(text).containsExactly("found-a");
        assertThat(names("&search=ornith")).containsExactly("found-a", "found-b");
        assertThat(names("&tag=ornithology&kind=device")).containsExactly("found-b");
        assertThat(names("&tag=ornitholog")).isEmpty();
        assertThat(names("&contact=Edda%20Lorne&sort=-created")).containsExactly("found-b", "found-a");
        assertThat(names("&enabled=false&tag=ornithology")).isEmpty();
        assertThat(operator.harbour("GET", "/clients?sort=colour", null)
                        .json()
                        .path("faults")
                        .get(0)
                        .path("pointer")
                        .asString())
                .isEqualTo("/sort");
        JsonNode first = operator.harbour("GET", "/clients?tag=ornithology&sort=-created&limit=1", null)
                .json();
        JsonNode second = operator.harbour(
                        "GET",
                        "/clients?tag=ornithology&sort=-created&limit=1&after="
                                + first.path("next").asString(),
                        null)
                .json();
        assertThat(second.path("items").get(0).path("name").asString()).isEqualTo("found-a");
        assertThat(second.path("next").isNull()).isTrue();
        assertThat(demo.admit("client", "list", "--tag", "ornithology", "--newest")
                        .out())
                .containsSubsequence("found-b", "found-a");
    }

    @Test
    void aCopyHasAllButTheSecretsAndTheApprovals() throws Exception {
        JsonNode original = operator.approvedClient("copied", "tides.read");
        operator.harbour("PATCH", "/clients/copied", "{\"tags\":[\"buoy\"],\"contacts\":[\"Corin Ashby\"]}");
        Running.Said said = demo.admit("client", "copy", "copied", "copied-too");
        assertThat(said.out())
                .contains("shown now and never again")
                .contains("admit approval grant copied-too tides.read");
        JsonNode copy = operator.harbour("GET", "/clients/copied-too", null).json();
        assertThat(copy.path("client_id").asString())
                .isNotEqualTo(original.path("client_id").asString());
        assertThat(copy.path("contacts").path(0).asString()).isEqualTo("Corin Ashby");
        assertThat(copy.path("tags").get(0).asString()).isEqualTo("buoy");
        assertThat(copy.path("scopes").get(0).path("status").asString()).isEqualTo("waiting");
        assertThat(copy.path("secrets").size()).isEqualTo(1);
    }

    @Test
    void aClientSaysInSentencesWhatItMayDoLacksAndWhatToLookAt() throws Exception {
        operator.approvedClient("sentenced", "tides.read");
        operator.harbour("POST", "/approvals", "{\"client\":\"sentenced\",\"scope\":\"manifests.inspect\"}");
        JsonNode client = operator.harbour("GET", "/clients/sentenced", null).json();
        assertThat(client.path("may").get(0).asString())
                .startsWith("Tide heights: See the tide heights")
                .contains("(tides.read)");
        assertThat(client.path("missing").toString())
                .contains("It requests manifests.inspect: an administrator must approve");
        assertThat(client.path("remarks").toString()).contains("Nobody answers for it");
        register("\"name\":\"board\",\"kind\":\"browser\",\"scopes\":[\"tides.read\"]");
        JsonNode board = operator.harbour("GET", "/clients/board", null).json();
        assertThat(board.path("missing").toString()).contains("no redirect URI").doesNotContain("administrator");
        assertThat(board.path("may").get(0).asString()).contains("for each person who approves");
        assertThat(demo.admit("client", "show", "sentenced").out())
                .contains("● may  Tide heights")
                .contains("◐ waiting  manifests.inspect")
                .contains("Nobody answers for it");
    }

    @Test
    void personalAndMachinePermissionsInOneClientArePointedOut() throws Exception {
        JsonNode made = register("\"name\":\"two-faced\",\"kind\":\"web\",\"contacts\":[\"Edda "
                        + "Lorne\"],\"redirect_uris\":[\"https://desk.saltmarsh.example/back\"],"
                        + "\"grant_types\":[\"client_credentials\"],\"scopes\":[\"tides.read\",\"berths.assign\"]")
                .json();
        for (JsonNode ask : made.path("now").path("scopes"))
            operator.harbour("POST", "/approvals/" + ask.path("id").asString() + "/grant", "{}");
        assertThat(operator.harbour("GET", "/clients/two-faced", null)
                        .json()
                        .path("remarks")
                        .toString())
                .contains("on a person's behalf and others on its own");
        JsonNode client = Running.JSON.readTree("{\"client_id\":\"%s\",\"client_secret\":\"%s\"}"
                .formatted(
                        made.path("now").path("client_id").asString(),
                        made.path("secret").path("secret").asString()));
        assertThat(Wire.form(
                                demo.server() + "/harbour/token",
                                Wire.basic(client),
                                "grant_type=client_credentials&scope=tides.read")
                        .status())
                .isEqualTo(200);
        assertThat(Wire.form(
                                demo.server() + "/harbour/token",
                                Wire.basic(client),
                                "grant_type=client_credentials&scope=berths.assign")
                        .json()
                        .path("reason")
                        .asString())
                .isEqualTo("scope-for-people");
    }

    @Test
    void aClientIsEditedAsTextInAnEditor(@TempDir Path folder) throws Exception {
        register("\"name\":\"edited\",\"contacts\":[\"Corin Ashby\"]");
        Running.Said said = demo.admit(
                "", java.util.Map.of("EDITOR", "sed -i 's/Corin Ashby/Edda Lorne/'"), "client", "edit", "edited");
        assertThat(said.out()).as(said.err()).contains("Edda Lorne").contains("It is live.");
        assertThat(operator.harbour("GET", "/clients/edited", null)
                        .json()
                        .path("contacts")
                        .path(0)
                        .asString())
                .isEqualTo("Edda Lorne");
        assertThat(demo.admit("", java.util.Map.of("EDITOR", "true"), "client", "edit", "edited")
                        .out())
                .contains("Nothing was changed.");
        Running.Said wrong = demo.admit(
                "", java.util.Map.of("EDITOR", "sed -i 's/contacts:/contcats:/'"), "client", "edit", "edited");
        assertThat(wrong.exitCode()).isEqualTo(1);
        assertThat(wrong.err().replaceAll("\\s+", " ")).contains("the unknown member 'contcats' at line");
        assertThat(demo.admit("", java.util.Map.of("EDITOR", "false"), "client", "edit", "edited")
                        .err())
                .contains("nothing was changed");
    }

    @Test
    void aClientAsksForARoleWithAllItsScopes() throws Exception {
        assertThat(operator.harbour(
                                "POST",
                                "/apis/berths/roles",
                                "{\"name\":\"quay-hand\",\"title\":\"Quay "
                                        + "hand\",\"scopes\":[\"berths.read\",\"berths.book\"]}")
                        .status())
                .isEqualTo(201);
        assertThat(operator.harbour(
                                "POST", "/apis/berths/roles", "{\"name\":\"quay-hand\",\"scopes\":[\"berths.read\"]}")
                        .status())
                .isEqualTo(409);
        assertThat(operator.harbour("POST", "/apis/berths/roles", "{\"name\":\"other\",\"scopes\":[\"tides.read\"]}")
                        .json()
                        .path("faults")
                        .get(0)
                        .path("pointer")
                        .asString())
                .isEqualTo("/scopes/0");
        assertThat(operator.harbour("POST", "/apis/berths/roles", "{\"name\":\"other\",\"scopes\":[]}")
                        .json()
                        .path("faults")
                        .get(0)
                        .path("pointer")
                        .asString())
                .isEqualTo("/scopes");
        register("\"name\":\"roled\",\"kind\":\"web\",\"scopes\":[\"quay-hand\"]");
        assertThat(operator.harbour("GET", "/clients/roled", null)
                        .json()
                        .path("scopes")
                        .size())
                .isEqualTo(2);
        register("\"name\":\"roled-later\",\"kind\":\"web\"");
        Running.Said said = demo.admit("approval", "request", "roled-later", "harbour-master");
        assertThat(said.out())
                .as(said.err())
                .contains("requests berths.read and berths.book and berths.assign, by the role harbour-master");
        assertThat(demo.admit("approval", "request", "roled-later", "nobody").err())
                .contains("scope: expected the name of a scope of this issuer");
        assertThat(operator.harbour("DELETE", "/apis/berths/scopes/berths.book?confirm=berths.book", null)
                        .body())
                .contains("rule");
        assertThat(demo.admit("role", "list", "berths").out())
                .contains("quay-hand")
                .contains("berths.read berths.book");
        assertThat(demo.admit("role", "change", "berths", "quay-hand", "--scope", "berths.read")
                        .out())
                .contains("stands for berths.read.");
        assertThat(demo.admit("role", "remove", "berths", "quay-hand").exitCode())
                .isZero();
        assertThat(operator.harbour("GET", "/clients/roled", null)
                        .json()
                        .path("scopes")
                        .size())
                .as("what was asked by it stays")
                .isEqualTo(2);
    }

    // Secrets.

    @Test
    void aSecretIsReplacedWithAnOverlap() throws Exception {
        JsonNode client = operator.approvedClient("replaced", "tides.read");
        Running.Said said = demo.admit("secret", "replace", "replaced", "--overlap", "2s", "--json");
        JsonNode fresh = Running.JSON.readTree("{\"client_id\":\"%s\",\"client_secret\":\"%s\"}"
                .formatted(
                        client.path("client_id").asString(),
                        said.json().path("secret").path("secret").asString()));
        String endpoint = demo.server() + "/harbour/token";
        assertThat(Wire.form(endpoint, Wire.basic(fresh), "grant_type=client_credentials&scope=tides.read")
                        .status())
                .isEqualTo(200);
        assertThat(Wire.form(endpoint, Wire.basic(client), "grant_type=client_credentials&scope=tides.read")
                        .status())
                .as("both work in the overlap")
                .isIn(200, 401);
        Thread.sleep(2100);
        assertThat(Wire.form(endpoint, Wire.basic(client), "grant_type=client_credentials&scope=tides.read")
                        .json()
                        .path("reason")
                        .asString())
                .isEqualTo("secret-expired");
        assertThat(Wire.form(endpoint, Wire.basic(fresh), "grant_type=client_credentials&scope=tides.read")
                        .status())
                .isEqualTo(200);
        Thread.sleep(700); // beyond the batch in which last uses are written
        JsonNode secrets =
                operator.harbour("GET", "/clients/replaced", null).json().path("secrets");
        assertThat(secrets.get(1).path("used_at").isNull())
                .as("its last use is noted")
                .isFalse();
        assertThat(demo.admit("secret", "list", "replaced").out().lines().skip(1))
                .noneMatch(line -> line.endsWith("never"));
    }

    @Test
    void aSecretWithoutEndIsMadeOnlyWhereTheIssuerAllowsItAndIsMarked() throws Exception {
        operator.post(
                "/issuers",
                "{\"name\":\"endless\",\"non_expiring_secrets\":true,\"secret_lifetime\":\"10d\",\"max_secret_lifeti"
                        + "me\""
                        + ":\"20d\"}");
        JsonNode made = operator.post("/issuers/endless/clients", "{\"name\":\"old\",\"secret_lifetime\":\"never\"}")
                .json();
        assertThat(made.path("secret").path("expires_at").isNull()).isTrue();
        assertThat(made.path("now").path("remarks").toString()).contains("never expires");
        assertThat(operator.post("/issuers/endless/clients", "{\"name\":\"b\",\"secret_lifetime\":\"21d\"}")
                        .status())
                .isEqualTo(422);
        JsonNode usual =
                operator.post("/issuers/endless/clients", "{\"name\":\"c\"}").json();
        assertThat(usual.path("secret").path("expires_at").asString())
                .isBetween(
                        java.time.Instant.now().plusSeconds(9 * 86_400).toString(),
                        java.time.Instant.now().plusSeconds(11 * 86_400).toString());
    }

    @Test
    void theReadyLinesOfASecretWork(@TempDir Path folder) throws Exception {
        JsonNode made =
                register("\"name\":\"ready-lines\",\"scopes\":[\"tides.read\"]").json();
        operator.harbour(
                "POST",
                "/approvals/"
                        + made.path("now").path("scopes").get(0).path("id").asString() + "/grant",
                "{}");
        JsonNode secret = made.path("secret");
        assertThat(Wire.form(
                                demo.server() + "/harbour/token",
                                secret.path("authorization").asString(),
                                "grant_type=client_credentials")
                        .status())
                .isEqualTo(200);
        assertThat(run(folder, secret, "sh", "-c", secret.path("curl").asString()))
                .contains("access_token");
        Files.writeString(
                folder.resolve("fetch.mjs"),
                secret.path("code").path("javascript").asString());
        assertThat(run(folder, secret, "node", "fetch.mjs")).contains("access_token");
        Files.writeString(folder.resolve("Fetch.java"), """
                import java.net.*; import java.net.http.*; import java.util.*; import static \
                java.nio.charset.StandardCharsets.UTF_8;
                class Fetch { public static void main(String[] args) throws Exception { %s } }""".formatted(
                        secret.path("code").path("java").asString()));
        assertThat(run(folder, secret, Running.java(), "Fetch.java")).contains("access_token");
        Files.writeString(
                folder.resolve("fetch.py"), secret.path("code").path("python").asString());
        assertThat(run(folder, secret, "/usr/bin/python3", "fetch.py")).contains("access_token");
    }

    private static String run(Path folder, JsonNode secret, String... command) throws Exception {
        ProcessBuilder builder =
                new ProcessBuilder(command).directory(folder.toFile()).redirectErrorStream(true);
        builder.environment().putAll(Running.env(secret));
        Process process = builder.start();
        String out = new String(process.getInputStream().readAllBytes());
        process.waitFor();
        return out;
    }

    @Test
    void theCommandLineShowsASecretAsItIsWanted() throws Exception {
        assertThat(demo.admit("client", "add", "as-env", "--env").out().lines().map(line -> line.replaceAll("=.*", "")))
                .containsExactly("ISSUER", "TOKEN_ENDPOINT", "CLIENT_ID", "CLIENT_SECRET", "SCOPE");
        assertThat(demo.admit("secret", "replace", "as-env", "--code", "python").out())
                .contains("CLIENT_SECRET=admsec_")
                .contains("requests.post(");
        assertThat(demo.admit("secret", "add", "as-env", "--code", "cobol").out())
                .contains("Secret")
                .contains("there is java, javascript, python");
        assertThat(demo.admit("issuer", "add", "never-ending", "--non-expiring-secrets", "true")
                        .exitCode())
                .isZero();
        assertThat(demo.admit("client", "add", "old", "--issuer", "never-ending", "--secret-lifetime", "never")
                        .out())
                .contains("This secret never expires");
        assertThat(demo.admit("client", "list", "--enabled", "false").exitCode())
                .isZero();
    }

    @Test
    void whoeverWaitsIsToldForWhom() throws Exception {
        register("\"name\":\"waits-for-people\",\"kind\":\"browser\",\"scopes\":[\"tides.read\",\"berths.assign\"]");
        JsonNode requested = operator.harbour("GET", "/clients/waits-for-people", null)
                .json()
                .path("scopes");
        for (JsonNode ask : requested)
            assertThat(ask.path("waits_for").asString())
                    .isEqualTo(
                            ask.path("scope").asString().equals("tides.read")
                                    ? "each person"
                                    : "isolde.marrin@saltmarsh.example or an administrator");
        assertThat(demo.admit("approval", "list", "--status", "waiting").out())
                .contains("waits for each person")
                .contains("waits for an administrator");
    }

    // Keys.

    @Test
    void aClientProvesItselfWithAKeyThatTheCommandLineMadeAndUses(@TempDir Path folder) throws Exception {
        Path key = folder.resolve("customs.pem");
        Running.Said added =
                demo.admit("client", "add", "signing-caller", "--make-key", key.toString(), "--scope", "tides.read");
        assertThat(added.exitCode()).as(added.err()).isZero();
        assertThat(added.out()).doesNotContain("Secret");
        assertThat(java.nio.file.attribute.PosixFilePermissions.toString(Files.getPosixFilePermissions(key)))
                .isEqualTo("rw-------");
        assertThat(demo.admit("approval", "grant", "signing-caller", "tides.read")
                        .exitCode())
                .isZero();
        assertThat(demo.admit("call", "GET", "/tides/north-quay", "--as", "signing-caller", "--key", key.toString())
                        .out())
                .contains("admitted");
        assertThat(demo.admit("client", "add", "signing-caller-2", "--make-key", key.toString())
                        .err())
                .contains("is there already");
        assertThat(key).as("a key that is there is never taken away").exists();
        Path another = folder.resolve("another.pem");
        assertThat(demo.admit("client", "add", "signing-caller", "--make-key", another.toString())
                        .err())
                .contains("a name no client of this issuer has");
        assertThat(another).as("nothing is left of what was refused").doesNotExist();
    }

    @Test
    void keysFromAnAddressAreFetchedOnceAndAnewWhenAnUnknownIdComes() throws Exception {
        var one = new com.nimbusds.jose.jwk.gen.ECKeyGenerator(com.nimbusds.jose.jwk.Curve.P_256)
                .keyID("one")
                .generate();
        AtomicInteger fetched = new AtomicInteger();
        HttpServer theirs = HttpServer.create(new InetSocketAddress("127.0.0.1", 0), 0);
        theirs.createContext("/keys", exchange -> {
            fetched.incrementAndGet();
            byte[] body = new com.nimbusds.jose.jwk.JWKSet(one.toPublicJWK())
                    .toString()
                    .getBytes();
            exchange.sendResponseHeaders(200, body.length);
            exchange.getResponseBody().write(body);
            exchange.close();
        });
        theirs.createContext("/elsewhere", exchange -> {
            exchange.getResponseHeaders().add("Location", "/keys");
            exchange.sendResponseHeaders(302, -1);
            exchange.close();
        });
        theirs.start();
        try {
            String base = "http://127.0.0.1:" + theirs.getAddress().getPort();
            String id = keyed("by-address", base + "/keys");
            assertThat(proven(id, one, "one")).isEqualTo(200);
            assertThat(proven(id, one, "one")).isEqualTo(200);
            assertThat(proven(id, one, "another")).isEqualTo(401);
            assertThat(proven(id, one, "another")).isEqualTo(401);
            assertThat(fetched.get())
                    .as("an unknown id has them fetched anew at most once a minute")
                    .isEqualTo(1);
            assertThat(proven(keyed("by-redirect", base + "/elsewhere"), one, "one"))
                    .as("no redirects")
                    .isEqualTo(401);
        } finally {
            theirs.stop(0);
        }
    }

    private static String keyed(String name, String address) throws Exception {
        JsonNode made = register(
                        "\"name\":\"%s\",\"jwks_uri\":\"%s\",\"scopes\":[\"tides.read\"]".formatted(name, address))
                .json();
        operator.harbour(
                "POST",
                "/approvals/"
                        + made.path("now").path("scopes").get(0).path("id").asString() + "/grant",
                "{}");
        return made.path("now").path("client_id").asString();
    }

    private static int proven(String clientId, com.nimbusds.jose.jwk.ECKey key, String kid) throws Exception {
        var claims = new com.nimbusds.jwt.JWTClaimsSet.Builder()
                .issuer(clientId)
                .subject(clientId)
                .audience(demo.server() + "/harbour")
                .jwtID(java.util.UUID.randomUUID().toString())
                .expirationTime(new java.util.Date(System.currentTimeMillis() + 60_000))
                .build();
        var jwt = new com.nimbusds.jwt.SignedJWT(
                new com.nimbusds.jose.JWSHeader.Builder(com.nimbusds.jose.JWSAlgorithm.ES256)
                        .keyID(kid)
                        .build(),
                claims);
        jwt.sign(new com.nimbusds.jose.crypto.ECDSASigner(key));
        return Wire.form(
                        demo.server() + "/harbour/token",
                        null,
                        "grant_type=client_credentials&client_assertion_type="
                                + Wire.encoded("urn:ietf:params:oauth:client-assertion-type:jwt-bearer")
                                + "&client_assertion=" + jwt.serialize())
                .status();
    }
}
