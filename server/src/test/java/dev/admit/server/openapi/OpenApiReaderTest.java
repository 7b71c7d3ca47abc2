package dev.admit.server.openapi;

import static org.assertj.core.api.Assertions.assertThat;

import dev.admit.core.change.FieldFault;
import dev.admit.core.openapi.OpenApiDocument;
import dev.admit.core.openapi.OpenApiDocument.Security;
import dev.admit.core.openapi.ReadOpenApi;
import java.util.List;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** What is read of an OpenAPI document, and what of one is refused before anything is done with it. */
class OpenApiReaderTest {
    private static final String HEAD = """
            openapi: %s
            info: {title: Locks, version: "2"}
            servers: [{url: "https://locks.saltmarsh.example/v2/"}]
            components:
              securitySchemes:
                harbour:
                  type: oauth2
                  flows:
                    clientCredentials:
                      tokenUrl: https://x.example
                      scopes: {locks.work: "Works\\n the  locks."}
                people: {type: openIdConnect, openIdConnectUrl: https://x.example}
                token: {type: http, scheme: bearer}
                key: {type: apiKey, in: header, name: X-Key}
            """;
    private final OpenApiReader reader = new OpenApiReader();

    private OpenApiDocument good(String text) {
        return switch (reader.read(text)) {
            case ReadOpenApi.Reading.Good(OpenApiDocument document) -> document;
            case ReadOpenApi.Reading.Malformed(List<FieldFault> faults) -> throw new AssertionError(faults.toString());
        };
    }

    private FieldFault fault(String text) {
        return switch (reader.read(text)) {
            case ReadOpenApi.Reading.Good good -> throw new AssertionError("it was read");
            case ReadOpenApi.Reading.Malformed(List<FieldFault> faults) -> faults.getFirst();
        };
    }

    private static String with(String paths) {
        return HEAD.formatted("3.1.0") + paths;
    }

    @ParameterizedTest
    @ValueSource(strings = {"3.0.3", "3.1.0"})
    void bothVersionsAreRead(String version) {
        OpenApiDocument read = good(HEAD.formatted(version) + """
                paths:
                  /locks/{lockId}:
                    get:
                      summary: See a lock
                      security: [{harbour: [locks.read]}]
                      responses: {"200": {description: ok}}
                    trace: {responses: {"200": {description: never}}}
                """);
        assertThat(read.title()).isEqualTo("Locks");
        assertThat(read.version()).isEqualTo("2");
        assertThat(read.servers()).containsExactly("https://locks.saltmarsh.example/v2/");
        assertThat(read.scopes()).containsEntry("locks.work", "Works the locks.");
        assertThat(read.operations())
                .containsExactly(new OpenApiDocument.Operation(
                        "GET", "/locks/{lockId}", "See a lock", new Security.Token(List.of(List.of("locks.read")))));
        assertThat(good(read.whole()).operations())
                .as("what is kept reads the same")
                .isEqualTo(read.operations());
    }

    @ParameterizedTest(name = "security: {0}")
    @CsvSource(delimiter = '|', textBlock = """
            []                                         | open
            [{}]                                       | open
            [{harbour: [a]}, {}]                       | open
            [{harbour: [a, b]}]                        | [[a, b]]
            [{harbour: [a]}, {people: [b]}]            | [[a], [b]]
            [{harbour: [a], people: [b]}]              | [[a, b]]
            [{token: [admin]}]                         | [[]]
            [{key: []}]                                | unsaid
            [{harbour: [a]}, {key: []}]                | [[a]]
            """)
    void whatAnOperationAsksFor(String security, String read) {
        OpenApiDocument document = good(with("""
                security: [{harbour: [whole]}]
                paths:
                  /locks: {get: {security: %s, responses: {"200": {description: ok}}}}
                """.formatted(security)));
        assertThat(
                        switch (document.operations().getFirst().security()) {
                            case Security.Open open -> "open";
                            case Security.Unsaid unsaid -> "unsaid";
                            case Security.Token token -> token.alternatives().toString();
                        })
                .isEqualTo(read);
    }

    @Test
    void whatTheWholeDocumentAsksForGoesForWhatSaysNothing() {
        String paths = "paths: {/locks: {get: {responses: {'200': {description: ok}}}}}";
        assertThat(good(with("security: [{harbour: [whole]}]\n" + paths))
                        .operations()
                        .getFirst()
                        .security())
                .isEqualTo(new Security.Token(List.of(List.of("whole"))));
        assertThat(good(with(paths)).operations().getFirst().security()).isEqualTo(new Security.Unsaid());
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "file:///etc/passwd",
                "http://169.254.169.254/latest",
                "other.yaml#/components",
                "//elsewhere.example/x",
                ""
            })
    void noReferenceLeadsOutOfTheDocument(String reference) {
        FieldFault fault = fault(with("""
                paths:
                  /locks:
                    get:
                      responses: {"200": {description: ok, content: {a/b: {schema: {$ref: "%s"}}}}}
                """.formatted(reference)));
        assertThat(fault.pointer()).isEqualTo("/paths/~1locks/get/responses/200/content/a~1b/schema/$ref");
        assertThat(fault.fix()).contains("Admit fetches nothing");
    }

    @Test
    void aReferenceToItselfIsReadAndNotFollowed() {
        assertThat(good(with("""
                  schemas: {Lock: {properties: {above: {$ref: "#/components/schemas/Lock"}}}}
                paths:
                  /locks:
                    get:
                      responses:
                        "200": {description: ok, content: {a/b: {schema: {$ref: "#/components/schemas/Lock"}}}}
                """)).operations()).hasSize(1);
        assertThat(fault(with("""
                paths:
                  /locks: {$ref: "#/paths/~1locks"}
                """)).expected()).contains("a path with its operations");
    }

    @Test
    void whatGrowsIsRefused() {
        assertThat(fault("[".repeat(100_000)).expected()).contains("64 levels");
        assertThat(fault("{\"a\":" + "[".repeat(70) + "]".repeat(70) + "}").expected())
                .contains("64 levels");
        assertThat(fault("a: " + "[".repeat(5_000)).expected()).contains("64 levels");
        assertThat(fault("x".repeat(OpenApiReader.LARGEST + 1)).expected()).isEqualTo("at most 2 MiB");
        String bomb = "a0: &a0 [x, x]\n"
                + IntStream.range(1, 40)
                        .mapToObj(i -> "a%d: &a%d [*a%d, *a%d]\n".formatted(i, i, i - 1, i - 1))
                        .collect(Collectors.joining());
        assertThat(fault(bomb).received()).isEqualTo("an alias, in line 2");
        String many = IntStream.range(0, 2_001)
                .mapToObj(i -> "  /p%d: {get: {responses: {'200': {description: ok}}}}\n".formatted(i))
                .collect(Collectors.joining());
        assertThat(fault(with("paths:\n" + many)).expected()).isEqualTo("at most 2000 operations");
    }

    @ParameterizedTest(name = "{1}")
    @CsvSource(delimiter = '|', quoteCharacter = '"', nullValues = "-", textBlock = """
            -                                                           | an OpenAPI document
            just words                                                  | an object
            swagger: '2.0'                                              | 3.0.x or 3.1.x
            {"openapi":"3.0.1","openapi":"3.0.2"}                       | without a name twice
            {"openapi":"3.0.1"}{}                                       | JSON or YAML
            openapi: 3.0.1                                              | info and paths
            {"openapi":"3.0.1","info":{"title":"x","version":"1"},"paths":{}} | at least one operation
            """)
    void whatIsNoneSaysWhatWasExpected(String text, String expected) {
        assertThat(fault(text == null ? " " : text).expected()).contains(expected);
    }

    /** What an alias stands for would be another text than the one that is looked at. */
    @Test
    void noAliasOfYamlIsRead() {
        FieldFault fault = fault(with("""
                paths:
                  /locks: &all {get: {responses: {"200": {description: ok}}}}
                  /gates: *all
                """));
        assertThat(fault.received()).startsWith("an alias, in line ");
    }

    @Test
    void aSchemeThatIsNotThereIsAFault() {
        assertThat(fault(with("""
                paths:
                  /locks: {get: {security: [{nobody: []}], responses: {"200": {description: ok}}}}
                """)).pointer()).isEqualTo("/paths/~1locks/get/security");
    }

    @Test
    void noTextOfItSteersATerminalOrAPage() {
        OpenApiDocument read = good("""
                {"openapi":"3.0.1","info":{"title":"Lo\\u001b[31mcks\\u202e <script>","version":"%s"},
                "paths":{"/locks":{"get":{"responses":{"200":{"description":"ok"}}}}}}""".formatted("9".repeat(500)));
        assertThat(read.title()).isEqualTo("Lo [31mcks <script>"); // escaped where a page shows it
        assertThat(read.version()).hasSize(200).endsWith("…");
    }
}
