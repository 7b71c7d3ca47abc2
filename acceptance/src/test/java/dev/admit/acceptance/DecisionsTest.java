package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.parallel.ResourceLock;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;

/** Decisions are found, counted and followed by what they are about. */
@ResourceLock(Running.DEMO)
class DecisionsTest {
    private static Running demo;
    private static Operator operator;

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo();
        operator = Operator.of(demo);
        JsonNode client = operator.approvedClient("counted", "tides.read");
        String token = Wire.form(
                        demo.server() + "/harbour/token",
                        Wire.basic(client),
                        "grant_type=client_credentials&scope=tides.read")
                .json()
                .path("access_token")
                .asString();
        for (int i = 0; i < 3; i++) Wire.call("GET", demo.gateway() + "/tides/north-quay", token);
        for (int i = 0; i < 2; i++) Wire.call("POST", demo.gateway() + "/tides/readings", token);
        Wire.call("GET", demo.gateway() + "/berths/n1", token);
        String person = Visitor.tokens(demo, "berth-desk", "isolde", "openid berths.read")
                .path("access_token")
                .asString();
        Wire.call("GET", demo.gateway() + "/berths/n1", person);
    }

    private static List<JsonNode> found(String query) throws Exception {
        Wire.Answer answer = operator.get("/decisions?limit=200&" + query);
        assertThat(answer.status()).as(answer.body()).isEqualTo(200);
        List<JsonNode> all = new ArrayList<>();
        answer.json().path("items").forEach(all::add);
        return all;
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(delimiter = '|', textBlock = """
            client=counted&endpoint=gateway                               | 6
            client=counted&endpoint=gateway&verdict=admitted              | 3
            client=counted&reason=insufficient-scope                   | 2
            client=counted&reason=wrong-audience&api=berths            | 1
            client=counted&endpoint=gateway&route=GET%20/tides/**         | 3
            client=counted&since=1h&endpoint=gateway                      | 6
            client=counted&until=1h                                    | 0
            client=counted&since=2999-01-01T00:00:00Z                  | 0
            person=isolde.marrin@saltmarsh.example&client=counted      | 0""")
    void theyAreFoundByWhatTheyAreAbout(String query, int many) throws Exception {
        assertThat(found(query)).hasSize(many);
    }

    @Test
    void aPersonsAreFoundByTheirAddress() throws Exception {
        assertThat(found("person=isolde.marrin@saltmarsh.example&endpoint=gateway&api=berths"))
                .isNotEmpty()
                .allMatch(it -> it.path("subject").asString().startsWith("pe_"));
    }

    @Test
    void theyAreCountedByAnyOfThese() throws Exception {
        JsonNode byReason = operator.get("/decisions/counts?client=counted&endpoint=gateway&by=reason")
                .json()
                .path("items");
        assertThat(byReason.size()).isEqualTo(3);
        assertThat(byReason.get(0).path("what").asString())
                .as("no reason: admitted")
                .isEmpty();
        assertThat(byReason.get(0).path("decisions").asLong()).isEqualTo(3);
        JsonNode byDay = operator.get("/decisions/counts?client=counted&endpoint=gateway&by=verdict&per=1d")
                .json()
                .path("items");
        assertThat(byDay).allMatch(it -> it.path("from").asString().endsWith("T00:00:00Z"));
        for (String by : List.of("client", "person", "api", "route", "endpoint"))
            assertThat(operator.get("/decisions/counts?client=counted&by=" + by)
                            .json()
                            .path("items"))
                    .isNotEmpty();
    }

    @ParameterizedTest
    @CsvSource({"/decisions/counts?by=moon, /by", "/decisions/counts?per=never, /per", "/decisions?since=lately, /since"
    })
    void whatMakesNoSenseIsTold(String path, String pointer) throws Exception {
        Wire.Answer answer = operator.get(path);
        assertThat(answer.status()).isEqualTo(422);
        assertThat(answer.body()).contains(pointer);
    }

    @Test
    void anOwnerCountsTheirOwnAlone() throws Exception {
        String isolde = Visitor.tokens(demo, "admit-command-line", "isolde", "openid admit:run")
                .path("access_token")
                .asString();
        JsonNode byApi = Wire.send(
                        "GET",
                        demo.ready().path("admin_api").asString() + "/decisions/counts?by=api",
                        Map.of("Authorization", "Bearer " + isolde),
                        null)
                .json()
                .path("items");
        assertThat(byApi.size()).isEqualTo(1);
        assertThat(byApi.get(0).path("what").asString()).isEqualTo("berths");
    }

    @Test
    void theCommandLineCountsAndFollows() throws Exception {
        assertThat(demo.admit("decision", "count", "--client", "counted", "--endpoint", "gateway")
                        .out())
                .contains("insufficient-scope")
                .contains("admitted");
        assertThat(demo.admit("decision", "count", "--client", "counted", "--per", "1d")
                        .out())
                .contains("FROM");
        Thread caller = Thread.ofVirtual().start(() -> {
            try {
                for (int i = 0; i < 40; i++) {
                    Wire.get(demo.gateway() + "/followed-" + i);
                    Thread.sleep(250);
                }
            } catch (Exception ended) {
                Thread.currentThread().interrupt();
            }
        });
        Running.Said followed = demo.admit("decision", "follow", "--reason", "no-route", "--limit", "2");
        caller.interrupt();
        assertThat(followed.exitCode()).as(followed.err()).isZero();
        assertThat(followed.out().lines().filter(it -> it.contains("/followed-")))
                .hasSize(2);
    }
}
