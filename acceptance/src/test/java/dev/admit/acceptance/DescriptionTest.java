package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.networknt.schema.InputFormat;
import com.networknt.schema.JsonSchemaFactory;
import com.networknt.schema.SpecVersion;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.parallel.ResourceLock;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** The description of the admin API says what the admin API does. From it the console's readers are made. */
@ResourceLock(Running.DEMO)
class DescriptionTest {
    private static Running demo;
    private static Operator operator;
    private static ObjectNode description;

    @BeforeAll
    static void read() throws Exception {
        demo = Running.demo();
        operator = Operator.of(demo);
        description = (ObjectNode) Wire.get(demo.ready().path("admin_api").asString() + "/openapi.json")
                .json();
    }

    @Test
    void theFileThatTheConsoleIsMadeFromIsTheDescription() throws Exception {
        ObjectNode fresh = description;
        String text = Running.JSON.writerWithDefaultPrettyPrinter().writeValueAsString(fresh) + "\n";
        Path file = Running.projectRoot().resolve("docs/openapi.json");
        if ("write".equals(System.getProperty("admit.docs"))) Files.writeString(file, text);
        assertThat(Running.JSON.readTree(Files.readString(file)))
                .as("mvn package -Dtest=DescriptionTest -Dadmit.docs=write makes it anew")
                .isEqualTo(fresh);
    }

    /** {@code docs/api.md} ends with what the description says; its first half is written by hand. */
    @Test
    void theReferenceIsMadeFromTheDescription() throws Exception {
        Path file = Running.projectRoot().resolve("docs/api.md");
        String text = Files.readString(file);
        String head = text.substring(0, text.indexOf(MADE) + MADE.length());
        String fresh = head + reference();
        if ("write".equals(System.getProperty("admit.docs"))) Files.writeString(file, fresh);
        assertThat(Files.readString(file))
                .as("mvn package -Dtest=DescriptionTest -Dadmit.docs=write makes it anew")
                .isEqualTo(fresh);
    }

    private static final String MADE = "<!-- From here on made by DescriptionTest. -->\n";

    private static String reference() {
        StringBuilder text =
                new StringBuilder("\n## Operations\n\n| operation | takes | answers |\n| --- | --- | --- |\n");
        description.path("paths").properties().forEach(path -> path.getValue()
                .properties()
                .forEach(operation -> {
                    JsonNode it = operation.getValue();
                    List<String> takes = new ArrayList<>();
                    it.path("parameters").forEach(one -> {
                        if (one.path("in").asString().equals("query"))
                            takes.add("`" + one.path("name").asString() + "`");
                        if (one.path("name").asString().equals("If-Match")) takes.add("`If-Match`");
                    });
                    JsonNode body = it.at("/requestBody/content/application~1json/schema");
                    if (!body.isMissingNode()) takes.add(type(body));
                    List<String> answers = new ArrayList<>();
                    it.path("responses").properties().forEach(one -> {
                        if (one.getKey().startsWith("2"))
                            answers.add(one.getKey()
                                    + one.getValue().path("content").properties().stream()
                                            .map(media ->
                                                    " " + type(media.getValue().path("schema")))
                                            .collect(java.util.stream.Collectors.joining()));
                    });
                    text.append("| %s `%s` | %s | %s |\n"
                            .formatted(
                                    operation.getKey().toUpperCase(java.util.Locale.ROOT),
                                    path.getKey(),
                                    String.join(", ", takes),
                                    String.join(", ", answers)));
                }));
        text.append("\nEach may also answer with a [Problem](#problem); the description says with which status.\n\n"
                + "## Records\n");
        description.at("/components/schemas").properties().forEach(record -> {
            if (record.getKey().endsWith("Sent") || record.getKey().matches("(Changed|PageView).+")) return;
            text.append("\n### %s\n".formatted(record.getKey()));
            String whole = record.getValue().path("description").asString("");
            if (!whole.isEmpty()) text.append("\n%s\n".formatted(cell(whole)));
            text.append("\n| member | is | holds |\n| --- | --- | --- |\n");
            record.getValue()
                    .path("properties")
                    .properties()
                    .forEach(member -> text.append("| `%s` | %s | %s |\n"
                            .formatted(
                                    member.getKey(),
                                    type(member.getValue()),
                                    cell(member.getValue().path("description").asString("")))));
        });
        return text.toString();
    }

    private static String cell(String text) {
        return text.replaceAll("\\s+", " ")
                .replace("|", "\\|")
                .replace("<", "&lt;")
                .strip();
    }

    /** In a few words. */
    private static String type(JsonNode schema) {
        if (schema.has("$ref")) {
            String name = schema.path("$ref").asString().replaceFirst(".*/", "").replaceFirst("Sent$", "");
            String item = name.replaceFirst("^(PageView|Changed)(List)?", "");
            if (name.startsWith("PageView")) return "a page of " + link(item);
            if (name.startsWith("Changed"))
                return item.equals("String") ? "`now`, `notes`" : "`now`: " + link(item) + ", `notes`";
            return link(name);
        }
        if (schema.has("anyOf")) return type(schema.path("anyOf").path(0)) + " or null";
        boolean maybe = schema.path("type").isArray();
        String is = maybe
                ? schema.path("type").path(0).asString()
                : schema.path("type").asString("anything");
        if (schema.has("enum")) {
            List<String> words = new ArrayList<>();
            schema.path("enum").forEach(it -> words.add(it.isNull() ? "null" : "`" + it.asString() + "`"));
            return String.join(", ", words);
        }
        String said =
                switch (is) {
                    case "array" -> "list of " + type(schema.path("items"));
                    case "object" ->
                        schema.has("additionalProperties")
                                ? "map to " + type(schema.path("additionalProperties"))
                                : "object";
                    case "string" -> schema.path("format").asString("").equals("date-time") ? "time" : "text";
                    case "boolean" -> "true or false";
                    case "integer" -> "number";
                    default -> is;
                };
        return maybe ? said + " or null" : said;
    }

    private static String link(String record) {
        return "[%s](#%s)".formatted(record, record.toLowerCase(java.util.Locale.ROOT));
    }

    @Test
    void everyOperationSaysWhatItMayRefuse() {
        description.path("paths").properties().forEach(path -> path.getValue()
                .properties()
                .forEach(operation -> {
                    JsonNode answers = operation.getValue().path("responses");
                    assertThat(answers.propertyNames())
                            .as(operation.getKey() + " " + path.getKey())
                            .contains("401", "403");
                    operation.getValue().path("parameters").forEach(it -> assertThat(
                                    it.path("name").asString())
                            .as(operation.getKey() + " " + path.getKey() + " takes only what a caller says")
                            .isNotIn("actor", "power", "asked"));
                }));
        assertThat(description.at("/components/schemas/Problem/properties").propertyNames())
                .contains("fix", "faults", "would_break", "confirm", "decision", "reason");
        for (String record : description.path("components").path("schemas").propertyNames())
            assertThat(description
                            .at("/components/schemas/" + record + "/properties")
                            .size())
                    .as(record + " has members")
                    .isPositive();
    }

    /** One thing of each kind stands for all of its kind. */
    @Test
    void everyAnswerHasTheMembersThatTheDescriptionNames() throws Exception {
        Map<String, String> known = new LinkedHashMap<>(Map.of(
                "issuer", "harbour",
                "api", "tides",
                "scope", "tides.read",
                "client", "tide-buoy-07",
                "trusted", first("/issuers/harbour/trusted-issuers", "name"),
                "route", first("/issuers/harbour/routes", "id"),
                "person", first("/issuers/harbour/people", "id"),
                "number", first("/issuers/harbour/revisions", "number"),
                "id", first("/decisions", "id")));
        known.put("approval", first("/issuers/harbour/approvals", "id"));
        known.put("credential", first("/issuers/harbour/upstream-credentials", "name"));
        TreeSet<String> looked = new TreeSet<>();
        List<String> wrong = new ArrayList<>();
        for (var path : description.path("paths").properties()) {
            JsonNode schema = path.getValue().path("get").at("/responses/200/content/application~1json/schema");
            if (schema.isMissingNode() || path.getKey().endsWith("/table")) continue;
            String address = path.getKey().replaceFirst("^/admin", "");
            for (var one : known.entrySet()) address = address.replace("{" + one.getKey() + "}", one.getValue());
            if (address.contains("{")) continue;
            Wire.Answer answer = operator.get(address);
            if (answer.status() != 200 || !answer.header("Content-Type").startsWith("application/json")) continue;
            looked.add(path.getKey());
            validator(schema).validate(answer.body(), InputFormat.JSON).forEach(it -> wrong.add(path.getKey() + it));
        }
        assertThat(wrong).isEmpty();
        assertThat(looked).hasSizeGreaterThan(35);
    }

    private static String first(String list, String member) throws Exception {
        JsonNode one = operator.get(list).json().path("items").path(0).path(member);
        assertThat(one.isMissingNode()).as(list).isFalse();
        return one.asString();
    }

    /** A member that nobody named is wrong as well. */
    private static com.networknt.schema.JsonSchema validator(JsonNode schema) {
        ObjectNode whole = Running.JSON.createObjectNode();
        whole.setAll((ObjectNode) schema);
        ObjectNode records = ((ObjectNode) description.at("/components/schemas")).deepCopy();
        records.forEach(it -> {
            if (it instanceof ObjectNode record && record.has("properties")) record.put("additionalProperties", false);
        });
        whole.putObject("components").set("schemas", records);
        return JsonSchemaFactory.getInstance(SpecVersion.VersionFlag.V202012).getSchema(whole.toString());
    }
}
