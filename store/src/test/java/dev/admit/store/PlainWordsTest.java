package dev.admit.store;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.entry;

import dev.admit.core.approval.Approval;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Decision;
import dev.admit.core.decision.Endpoint;
import dev.admit.core.decision.Reason;
import dev.admit.core.minting.ClaimExpression;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.ClientKind;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Minting;
import dev.admit.core.registry.Scope;
import dev.admit.core.route.Route;
import dev.admit.core.route.Transform;
import dev.admit.core.route.Who;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.time.Duration;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** A database of the version before the names changed means the same under the new ones. */
class PlainWordsTest {
    private static final String ROWS = """
            INSERT INTO issuer (id, name, title, url, revision, version, created_at, longest_secret,
              secrets_without_end, development_addresses, people)
              VALUES ('iss_1', 'harbour', 'Harbour', 'http://127.0.0.1:9470/harbour', 4, 2, 1000, 25920000000, 1, 0,
              '{"signUp":true,"secondFactor":false,"sessionIdle":"PT8H","sessionLongest":"PT72H","look":{"logo":null,\
            "accent":null,"welcome":null,"styleSheet":null}}');
            INSERT INTO api (id, issuer_id, name, title, audience, version, created_at, minting)
              VALUES ('api_1', 'iss_1', 'tides', 'Tides', 'urn:tides', 1, 1000,
              '{"lifetime":"PT15M","format":"jwt","claims":[{"name":"o","expression":"client.owner"},{"name":"t",\
            "expression":"client.title"},{"name":"k","expression":"has(client.kind) ? \
            client[\\"kind\\"] + client.kind : ''''"}],\
            "refreshIdle":"PT72H","refreshLongest":"PT720H","exceptions":[{"name":"n",\
            "clients":[],"tags":[],"grantTypes":[],"lifetime":null,"format":null,"refreshIdle":"PT1H",\
            "refreshLongest":null,"without":[]}]}');
            INSERT INTO scope (id, issuer_id, api_id, name, effect, reach, holders, words, words_for_person, approver,
              by_role, life, given_by_default, in_metadata, version, standing)
              VALUES ('sc_1', 'iss_1', 'api_1', 'tides.read', 'reads', 'own', 'both', 'Read the caller''s own tides.',
              'Read your tides.', 'person', 0, 'in-use', 1, 0, 1,
              '{"form":1,"kinds":["service","web"],"tags":["buoy"],"owners":[],"setBy":"operator","setAt":5}'),
              ('sc_2', 'iss_1', 'api_1', 'tides.look', 'reads', 'everyone', 'people', 'Look.', 'It looks for you.',
              'person', 0, 'draft', 0, 1, 1, NULL);
            INSERT INTO client (id, issuer_id, name, title, kind, auth_method, owner, contacts, version, created_at,
              enabled, identity_scopes, people)
              VALUES ('cl_1', 'iss_1', 'buoy', 'Buoy', 'service', 'client_secret_basic', 'Corin Ashby', 'the office', 1,
              1000, 1, '', '{"identityGiven":true,"secondFactor":false,"idTokenAlg":null,"afterSignOut":["http://a"]}');
            INSERT INTO approval (id, issuer_id, client_id, scope_id, scope_name, status, asked_at, asked_by, reason,
              version) VALUES ('ap_1', 'iss_1', 'cl_1', 'sc_1', 'tides.read', 'given', 1000, 'corin', '', 1);
            INSERT INTO route (id, issuer_id, methods, pattern, shape, api_id, scopes, any_of, version, created_at, \
            more)
              VALUES ('rt_1', 'iss_1', '', '/tides/{gauge}', '/tides/*', 'api_1', 'tides.read', 0, 1, 1000,
              '{"who":{"issuers":[],"bearer":"clients","clients":[],"roles":[],"signedInWithin":"PT10M",\
            "strength":"urn:a","when":"method == ''GET''","signIn":null},"shaping":{"path":"/r","setOnRequest":\
            {"X-Id":"{{request_id}}"},"renamedOnRequest":{},"removedOnRequest":[],\
            "setOnAnswer":{"X-R":"r{{revision}}"},\
            "removedOnAnswer":["Via"],"connect":"PT2S","silence":"PT5S","whole":null,"credential":null,"refusals":\
            {"person-may-not":{"contentType":"text/plain","body":"{{came}} {{mend}}"}},"passage":"each-request"},\
            "limits":{"rates":[],"quotas":[{"by":"client","requests":9,"period":"month"}],"atOnce":4,"body":null,\
            "headers":null}}');
            INSERT INTO route (id, issuer_id, methods, pattern, shape, scopes, any_of, answer_status, answer_type,
              answer_body, version, created_at) VALUES ('rt_2', 'iss_1', 'GET', '/up', '/up', '', 0, 200, 'text/plain',
              'up {{request_id}}', 1, 1000);
            INSERT INTO person (id, issuer_id, email, email_verified, profile, roles, running, enabled, version,
              created_at, changed_at) VALUES ('pe_1', 'iss_1', 'corin@x.example', 1, '{}', '', 'administrator', 1, 1,
              1000, 1000);
            INSERT INTO decision (id, at, plane, issuer, client_id, client_name, subject, api, route, revision, method,
              path, scopes, from_address, verdict, reason, answered, micros, checks, done)
              VALUES ('dec_1', 1000, 'admin', 'harbour', 'cl_1', 'buoy', '', 'tides', 'ANY /tides/{gauge}', 4, 'GET',
              '/tides/x', '', '127.0.0.1', 'refused', 'not-their-role', 403, 10,
              '[{"check":"form","passed":true,"expected":"e","came":"the \\"came\\": of it"},{"check":"role",\
            "passed":false,"reason":"not-their-role","expected":"more","came":"less","mend":"Ask."}]', '[]')""";

    @TempDir
    Path folder;

    private Database database;

    @BeforeEach
    void open() throws Exception {
        Path file = folder.resolve("a.db");
        org.flywaydb.core.Flyway.configure()
                .dataSource("jdbc:sqlite:" + file, "", "")
                .locations("classpath:db/migration")
                .target("22")
                .load()
                .migrate();
        try (Connection connection = DriverManager.getConnection("jdbc:sqlite:" + file);
                var statement = connection.createStatement()) {
            for (String insert : ROWS.split(";\n")) statement.execute(insert);
        }
        database = Database.open(file);
    }

    @AfterEach
    void close() {
        database.close();
    }

    @Test
    void issuersAndApisKeepTheirSettings() {
        Issuer issuer = new SqliteIssuers(database).named("harbour").orElseThrow();
        assertThat(issuer.settings().maxSecretLifetime()).isEqualTo(Duration.ofDays(300));
        assertThat(issuer.settings().nonExpiringSecrets()).isTrue();
        assertThat(issuer.settings().loopbackRedirects()).isFalse();
        assertThat(issuer.settings().people().maxSessionAge()).isEqualTo(Duration.ofDays(3));
        assertThat(issuer.settings().people().sessionIdleTimeout()).isEqualTo(Duration.ofHours(8));
        Api api = new SqliteApis(database).named("iss_1", "tides").orElseThrow();
        assertThat(api.defaultScopes()).containsExactly("tides.read");
        assertThat(api.minting().refreshIdleTimeout()).isEqualTo(Duration.ofDays(3));
        assertThat(api.minting().maxRefreshAge()).isEqualTo(Duration.ofDays(30));
        assertThat(api.minting().exceptions().getFirst().refreshIdleTimeout()).hasValue(Duration.ofHours(1));
    }

    /** What an API reads in its tokens, and may decide by, is what it was: also the kind that has another name now. */
    @Test
    void extraClaimsHaveTheValueThatTheyHad() throws Exception {
        Api api = new SqliteApis(database).named("iss_1", "tides").orElseThrow();
        Client client = new SqliteClients(database).named("iss_1", "buoy").orElseThrow();
        Map<String, Object> values = new LinkedHashMap<>();
        for (Minting.ExtraClaim claim : api.minting().claims())
            values.put(
                    claim.name(),
                    ClaimExpression.read(claim.name(), claim.expression())
                            .on(client, api, List.of(), "client_credentials", Map.of(), Instant.EPOCH));
        assertThat(values).containsExactly(entry("o", "Corin Ashby"), entry("t", "Buoy"), entry("k", "serviceservice"));
    }

    @Test
    void scopesSayTheSameInOneSentence() {
        Scope scope = new SqliteScopes(database).named("iss_1", "tides.read").orElseThrow();
        assertThat(scope.consequence()).isEqualTo("Read {whose} tides.");
        assertThat(scope.consequenceForPerson()).isEqualTo("Read your tides.");
        assertThat(scope.consequenceForAdministrator()).isEqualTo("Read the caller's own tides.");
        assertThat(scope.forWhom()).isEqualTo(Scope.For.BOTH);
        assertThat(scope.status()).isEqualTo(Scope.Status.IN_USE);
        assertThat(scope.listed()).isFalse();
        assertThat(scope.standing().orElseThrow().kinds()).containsExactly(ClientKind.MACHINE, ClientKind.WEB);
        assertThat(new SqliteScopes(database)
                        .named("iss_1", "tides.look")
                        .orElseThrow()
                        .consequence())
                .isEqualTo("Look.");
    }

    @ParameterizedTest(name = "{0} + {1} = {2}")
    @CsvSource(delimiter = '|', textBlock = """
            Book for one's own ships; it blocks. | Book for your ships; it blocks. | Book for {whose} ships; it blocks.
            Book for everyone's ships.           | Book for your ships.            | Book for {whose} ships.
            May see all.                         | It may see your things.         | May see all.
            Book ships.                          | Book your ships.                | Book ships.""")
    void twoSentencesBecomeOneWhereTheyDifferInWhose(String administrators, String persons, String together) {
        assertThat(V0024__PlainWordsInJson.together(administrators, persons)).isEqualTo(together);
    }

    @Test
    void clientsApprovalsAndPeopleStandAsBefore() {
        Client client = new SqliteClients(database).named("iss_1", "buoy").orElseThrow();
        assertThat(client.kind()).isEqualTo(ClientKind.MACHINE);
        assertThat(client.clientName()).isEqualTo("Buoy");
        assertThat(client.texts().contacts()).containsExactly("Corin Ashby", "the office");
        assertThat(client.people().openidGranted()).isTrue();
        assertThat(client.people().postLogoutRedirectUris()).containsExactly("http://a");
        Approval approval = new SqliteApprovals(database).ofClient("cl_1").getFirst();
        assertThat(approval.status()).isEqualTo(Approval.Status.GRANTED);
        assertThat(approval.requestedBy()).isEqualTo("corin");
        assertThat(new SqlitePeople(database).find("pe_1").orElseThrow().adminRole())
                .isPresent();
    }

    @Test
    void routesCheckAndDoTheSame() {
        Route route = new SqliteRoutes(database).find("iss_1", "rt_1").orElseThrow();
        Who who = ((Route.Guard.Token) route.guard()).who();
        assertThat(route.label()).isEqualTo("/tides/{gauge}");
        assertThat(who.forWhom()).isEqualTo(Who.For.CLIENTS);
        assertThat(who.maxAge()).hasValue(Duration.ofMinutes(10));
        assertThat(who.acr()).hasValue("urn:a");
        assertThat(who.condition()).hasValue("method == 'GET'");
        assertThat(route.transform().setOnRequest()).containsEntry("X-Id", "{{decision}}");
        assertThat(route.transform().setOnResponse()).containsEntry("X-R", "r");
        assertThat(route.transform().removedOnResponse()).containsExactly("Via");
        assertThat(route.transform().proof()).isEqualTo(Transform.Proof.EACH_REQUEST);
        assertThat(route.transform().refusals().get("person-lacks-role").body()).isEqualTo("{{received}} {{fix}}");
        assertThat(route.timeouts().connect()).hasValue(Duration.ofSeconds(2));
        assertThat(route.timeouts().idle()).hasValue(Duration.ofSeconds(5));
        assertThat(route.timeouts().total()).isEmpty();
        assertThat(route.limits().concurrent()).hasValue(4);
        assertThat(route.limits().quotas().getFirst()).hasToString("9 per month by client");
        assertThat(((Route.Target.FixedResponse) new SqliteRoutes(database)
                                .find("iss_1", "rt_2")
                                .orElseThrow()
                                .target())
                        .body())
                .isEqualTo("up {{decision}}");
    }

    @Test
    void decisionsAreFoundByTheirNewReason() {
        Decision decision = new SqliteDecisions(database).find("dec_1").orElseThrow();
        assertThat(decision.endpoint()).isEqualTo(Endpoint.ADMIN);
        assertThat(decision.about().route()).isEqualTo("/tides/{gauge}");
        assertThat(decision.refusal().orElseThrow().reason()).isEqualTo(Reason.ADMIN_ROLE_TOO_LOW);
        assertThat(decision.refusal().orElseThrow().fix().sentence()).isEqualTo("Ask.");
        assertThat(decision.checks().getFirst()).isEqualTo(CheckResult.passed("form", "e", "the \"came\": of it"));
    }
}
