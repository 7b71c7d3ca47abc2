package dev.admit.core.catalogue;

import static org.assertj.core.api.Assertions.assertThat;

import com.nimbusds.jose.util.JSONObjectUtils;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** An OpenAPI document as people read it. */
class ReadDocumentationTest {
    private static Documentation read(String paths, String schemas) throws Exception {
        return ReadDocumentation.of(JSONObjectUtils.parse("""
                {"openapi": "3.1.0", "info": {"title": "Berths", "version": "2", "description": "Where ships lie."},
                 "servers": [{"url": "http://gateway.example"}],
                 "tags": [{"name": "Ships", "description": "What lies there."}],
                 "paths": %s, "components": {"schemas": %s}}""".formatted(paths, schemas)));
    }

    private static Documentation.Operation one(String operation, String schemas) throws Exception {
        return read("{\"/berths\": {\"post\": %s}}".formatted(operation), schemas)
                .operation("POST /berths")
                .orElseThrow();
    }

    private static Documentation.Content body(String schema, String schemas) throws Exception {
        return one(
                        "{\"requestBody\": {\"content\": {\"application/json\": {\"schema\": %s}}}}".formatted(schema),
                        schemas)
                .body()
                .orElseThrow();
    }

    @Test
    void operationsStandByTheirFirstTagInTheOrderOfTheDocument() throws Exception {
        Documentation it = read("""
                {"/a": {"get": {"summary": "First"}},
                 "/b": {"get": {"tags": ["Ships", "Other"]}, "put": {"tags": ["Ships"], "deprecated": true},
                        "x-note": {}, "parameters": [{"name": "depth", "in": "query"}]}}""", "{}");
        assertThat(it.groups()).extracting(Documentation.Group::name).containsExactly("Ships", "");
        assertThat(it.groups().getFirst().description()).isEqualTo("What lies there.");
        assertThat(it.groups().getFirst().operations())
                .extracting(Documentation.Operation::label)
                .containsExactly("GET /b", "PUT /b");
        assertThat(it.operation("PUT /b").orElseThrow().deprecated()).isTrue();
        assertThat(it.operation("PUT /b").orElseThrow().parameters())
                .extracting(Documentation.Parameter::name)
                .containsExactly("depth");
        assertThat(it.operation("GET /nowhere")).isEmpty();
        assertThat(it.count()).isEqualTo(3);
        assertThat(it.server()).isEqualTo("http://gateway.example");
    }

    @Test
    void twoSchemesThatSayTheSameAreOneNeed() throws Exception {
        Documentation.Operation it = one("""
                {"security": [{"oauth2": ["berths.read"]}, {"openIdConnect": ["berths.read"]},
                              {"oauth2": ["berths.book"]}]}""", "{}");
        assertThat(it.alternatives()).containsExactly(List.of("berths.read"), List.of("berths.book"));
        assertThat(it.open()).isFalse();
        assertThat(one("{\"security\": []}", "{}").open()).isTrue();
    }

    @ParameterizedTest(name = "{0}: {1}, such as {2}")
    @CsvSource(delimiter = '|', textBlock = """
            {"type":"string"}                                  | text                     | "text"
            {"type":"string","format":"date"}                  | text (date)              | "2026-11-30"
            {"type":["string","null"],"default":"north"}       | text                     | "north"
            {"type":"integer"}                                 | whole number             | 1
            {"type":"number","example":3.4}                    | number                   | 3.4
            {"type":"boolean"}                                 | true or false            | true
            {"enum":["North","South"]}                         | one of: North, South     | "North"
            {"type":"array","items":{"type":"integer"}}        | list of: whole number    | [ 1 ]
            {"const":"ferry"}                                  | ''                       | "ferry"
            {"oneOf":[{"type":"integer"},{"type":"string"}]}   | ''                       | 1
            {"$ref":"#/components/schemas/Named"}              | text (uuid)              | \
            "0b2f4c1e-7d0a-4f7e-9c55-2f1f3f0f9f10"
            {"$ref":"https://elsewhere.example/schema.json"}   | ''                       | ''
            {"$ref":"#/components/schemas/Circle"}             | ''                       | ''
            """)
    void aTypeHasAWordAndAnExample(String schema, String type, String example) throws Exception {
        String schemas = """
                {"Named": {"type": "string", "format": "uuid"}, "Circle": {"$ref": "#/components/schemas/Circle"}}""";
        Documentation.Content it = body("{\"type\":\"object\",\"properties\":{\"m\":%s}}".formatted(schema), schemas);
        assertThat(it.members()).hasSize(1);
        assertThat(it.members().getFirst().type()).isEqualTo(type);
        String told = it.example().replaceAll("\\s+", " ");
        assertThat(told).isEqualTo(example.isEmpty() ? "{}" : "{ \"m\": " + example + " }");
    }

    @Test
    void membersWithinMembersHaveAPath() throws Exception {
        Documentation.Content it = body("""
                {"type": "array", "items": {"type": "object", "required": ["ship"], "properties": {
                  "ship": {"allOf": [{"properties": {"name": {"type": "string"}}, "required": ["name"]},
                                     {"properties": {"length": {"type": "number"}}}]}}}}""", "{}");
        assertThat(it.members())
                .extracting(Documentation.Member::name)
                .containsExactly("ship", "ship.name", "ship.length");
        assertThat(it.members()).extracting(Documentation.Member::required).containsExactly(true, true, false);
    }

    /** Each level names the next twice: without a bound, more members than a machine has memory for. */
    @Test
    void aSchemaThatRefersToItselfEnds() throws Exception {
        Documentation.Content it = body("{\"$ref\": \"#/components/schemas/Tree\"}", """
                {"Tree": {"type": "object", "properties": {
                   "left": {"$ref": "#/components/schemas/Tree"}, "right": {"$ref": "#/components/schemas/Tree"},
                   "more": {"type": "array", "items": {"$ref": "#/components/schemas/Tree"}}}}}""");
        assertThat(it.members()).hasSizeLessThanOrEqualTo(60);
        assertThat(it.example().length()).isLessThanOrEqualTo(8_001);
    }

    @Test
    void whatTheDocumentGivesAsExampleStands() throws Exception {
        Documentation.Operation it = one("""
                {"requestBody": {"required": true, "content": {
                   "text/plain": {"example": "no"},
                   "application/json": {"schema": {"type": "object"},
                                        "examples": {"first": {"value": {"ship": "Tern"}}}}}},
                 "responses": {"201": {"description": "Booked.", "content": {"text/csv": {"example": "a,b"}}},
                               "default": {"description": "Refused."}}}""", "{}");
        assertThat(it.bodyRequired()).isTrue();
        assertThat(it.body().orElseThrow().mediaType()).isEqualTo("application/json");
        assertThat(it.body().orElseThrow().example()).contains("\"ship\": \"Tern\"");
        assertThat(it.responses()).extracting(Documentation.Response::status).containsExactly("201", "default");
        assertThat(it.responses().getFirst().content().orElseThrow().example()).isEqualTo("a,b");
    }
}
