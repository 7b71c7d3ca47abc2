package dev.admit.server.openapi;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonLocation;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.StreamReadConstraints;
import com.fasterxml.jackson.core.StreamReadFeature;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.dataformat.yaml.YAMLFactory;
import com.fasterxml.jackson.dataformat.yaml.YAMLParser;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Fields;
import dev.admit.core.openapi.OpenApiDocument;
import dev.admit.core.openapi.ReadOpenApi;
import io.swagger.v3.oas.models.OpenAPI;
import io.swagger.v3.oas.models.Operation;
import io.swagger.v3.oas.models.PathItem;
import io.swagger.v3.oas.models.security.OAuthFlow;
import io.swagger.v3.oas.models.security.SecurityRequirement;
import io.swagger.v3.oas.models.security.SecurityScheme;
import io.swagger.v3.parser.core.models.SwaggerParseResult;
import io.swagger.v3.parser.util.OpenAPIDeserializer;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.yaml.snakeyaml.LoaderOptions;

/**
 * The standard library for OpenAPI reads the document; before it does, all that could grow or lead elsewhere is
 * refused: size, depth, aliases of YAML, references out of the document. Nothing is ever fetched.
 */
public final class OpenApiReader implements ReadOpenApi {
    /** In characters. */
    public static final int LARGEST = 2 * 1024 * 1024;

    private static final int DEEPEST = 64;
    private static final int MOST_OPERATIONS = 2_000;
    private static final int MOST_FAULTS = 20;
    private static final Set<String> BY_TOKEN = Set.of("OAUTH2", "OPENIDCONNECT", "HTTP");

    private static final StreamReadConstraints BOUNDS = StreamReadConstraints.builder()
            .maxNestingDepth(DEEPEST)
            .maxDocumentLength(LARGEST)
            .maxNumberLength(100)
            .build();
    private static final ObjectMapper JSON =
            new ObjectMapper(JsonFactory.builder().streamReadConstraints(BOUNDS).build());
    private static final ObjectMapper YAML = new ObjectMapper(YAMLFactory.builder()
            .streamReadConstraints(BOUNDS)
            .loaderOptions(bounded())
            .build());

    static {
        for (ObjectMapper it : List.of(JSON, YAML))
            it.configure(StreamReadFeature.STRICT_DUPLICATE_DETECTION.mappedFeature(), true)
                    .configure(DeserializationFeature.FAIL_ON_TRAILING_TOKENS, true);
    }

    private static LoaderOptions bounded() {
        LoaderOptions options = new LoaderOptions();
        options.setCodePointLimit(LARGEST);
        options.setNestingDepthLimit(DEEPEST);
        options.setAllowDuplicateKeys(false);
        return options;
    }

    @Override
    public Reading read(String text) {
        if (text.isBlank()) return refused("", "an OpenAPI document in JSON or YAML", "nothing", "Give its text.");
        if (text.length() > LARGEST)
            return refused(
                    "",
                    "at most %d MiB".formatted(LARGEST / 1024 / 1024),
                    text.length() / 1024 + " KiB",
                    "Leave examples out, or split the API.");
        JsonNode root;
        try {
            boolean json = text.stripLeading().startsWith("{");
            Optional<Integer> alias = json ? Optional.empty() : alias(text);
            if (alias.isPresent())
                return refused(
                        "",
                        "every part written out",
                        "an alias, in line " + alias.get(),
                        "Write what it stands for, or refer to it with $ref.");
            root = (json ? JSON : YAML).readTree(text);
        } catch (JsonProcessingException unreadable) {
            JsonLocation at = unreadable.getLocation();
            return refused(
                    "",
                    "JSON or YAML, at most %d levels deep, without a name twice".formatted(DEEPEST),
                    Fields.quoted(Objects.requireNonNullElse(unreadable.getOriginalMessage(), "something else"))
                            + (at == null ? "" : " in line " + at.getLineNr()),
                    "Correct it there.");
        }
        List<FieldFault> faults = new ArrayList<>();
        if (!root.isObject())
            return refused(
                    "", "an object", root.getNodeType().toString().toLowerCase(Locale.ROOT), "Begin with openapi:.");
        String version = root.path("openapi").asText("");
        if (!version.matches("3\\.[01]\\.\\d+(-.*)?"))
            faults.add(new FieldFault(
                    "/openapi",
                    "3.0.x or 3.1.x",
                    version.isEmpty() ? "nothing" : Fields.quoted(version),
                    "Convert the document to OpenAPI 3.0 or 3.1."));
        closed(root, "", root, faults);
        return faults.isEmpty() ? described(root) : malformed(faults);
    }

    /** The line of an alias: what it stands for would be lost, or grow. */
    private static Optional<Integer> alias(String text) throws JsonProcessingException {
        try (YAMLParser parser = (YAMLParser) YAML.createParser(text)) {
            while (parser.nextToken() != null)
                if (parser.isCurrentAlias())
                    return Optional.of(parser.currentTokenLocation().getLineNr());
            return Optional.empty();
        } catch (JsonProcessingException unreadable) {
            throw unreadable;
        } catch (IOException cannot) {
            throw new UncheckedIOException(cannot); // it is read from memory
        }
    }

    private static Reading refused(String at, String expected, String received, String fix) {
        return malformed(List.of(new FieldFault(at, expected, received, fix)));
    }

    private static Reading malformed(List<FieldFault> faults) {
        return new Reading.Malformed(List.copyOf(faults.subList(0, Math.min(MOST_FAULTS, faults.size()))));
    }

    /** A reference is into the document, and to something. */
    private static void closed(JsonNode node, String at, JsonNode root, List<FieldFault> faults) {
        if (node.isArray()) for (int i = 0; i < node.size(); i++) closed(node.get(i), at + "/" + i, root, faults);
        node.properties().forEach(it -> {
            String here = at + "/" + it.getKey().replace("~", "~0").replace("/", "~1");
            JsonNode value = it.getValue();
            boolean refers = Set.of("$ref", "$dynamicRef", "operationRef", "externalValue")
                            .contains(it.getKey())
                    && value.isTextual();
            if (refers && !value.asText().startsWith("#"))
                faults.add(new FieldFault(
                        here,
                        "a reference within the document, beginning with #",
                        Fields.quoted(value.asText()),
                        "Bundle what it refers to into the document. Admit fetches nothing."));
            else closed(value, here, root, faults);
        });
    }

    private static Reading described(JsonNode root) {
        SwaggerParseResult result = new OpenAPIDeserializer().deserialize(root);
        OpenAPI api = result.getOpenAPI();
        List<FieldFault> faults = new ArrayList<>();
        if (api == null || api.getInfo() == null || api.getPaths() == null)
            return refused("", "an OpenAPI document with info and paths", "something else", "Give both.");
        Map<String, SecurityScheme> schemes =
                api.getComponents() == null || api.getComponents().getSecuritySchemes() == null
                        ? Map.of()
                        : api.getComponents().getSecuritySchemes();
        List<OpenApiDocument.Operation> operations = new ArrayList<>();
        api.getPaths().forEach((path, item) -> {
            String at = "/paths/" + path.replace("~", "~0").replace("/", "~1");
            if (item == null) return;
            if (item.get$ref() != null)
                faults.add(new FieldFault(at, "a path with its operations", "a reference", "Write them here."));
            if (!path.startsWith("/") || path.length() > 500)
                faults.add(new FieldFault(
                        at, "a path that begins with /, at most 500 characters", Fields.quoted(path), "Correct it."));
            else
                item.readOperationsMap().forEach((method, it) -> operation(api, schemes, at, path, method, it, faults)
                        .ifPresent(operations::add));
        });
        if (operations.size() > MOST_OPERATIONS)
            faults.add(new FieldFault(
                    "/paths",
                    "at most %d operations".formatted(MOST_OPERATIONS),
                    operations.size() + " operations",
                    "Split the API."));
        if (operations.isEmpty() && faults.isEmpty())
            faults.add(new FieldFault("/paths", "at least one operation", "none", "Describe what can be called."));
        if (!faults.isEmpty()) return malformed(faults);
        return new Reading.Good(new OpenApiDocument(
                plain(api.getInfo().getTitle(), "Untitled"),
                plain(api.getInfo().getVersion(), ""),
                api.getServers() == null
                        ? List.of()
                        : api.getServers().stream()
                                .map(it -> Objects.requireNonNullElse(it.getUrl(), ""))
                                .filter(it -> !it.isBlank() && !it.equals("/"))
                                .toList(),
                List.copyOf(operations),
                texts(schemes),
                root.toString()));
    }

    private static Optional<OpenApiDocument.Operation> operation(
            OpenAPI api,
            Map<String, SecurityScheme> schemes,
            String at,
            String path,
            PathItem.HttpMethod method,
            Operation it,
            List<FieldFault> faults) {
        if (method == PathItem.HttpMethod.TRACE) return Optional.empty(); // no gateway passes it on
        List<SecurityRequirement> wanted = it.getSecurity() != null ? it.getSecurity() : api.getSecurity();
        return Optional.of(new OpenApiDocument.Operation(
                method.name(),
                path,
                plain(it.getSummary(), ""),
                security(wanted, schemes, at + "/" + method.name().toLowerCase(Locale.ROOT) + "/security", faults)));
    }

    private static OpenApiDocument.Security security(
            @Nullable List<SecurityRequirement> wanted,
            Map<String, SecurityScheme> schemes,
            String at,
            List<FieldFault> faults) {
        if (wanted == null) return new OpenApiDocument.Security.Unsaid();
        // {} beside others says that a token is welcome and not needed.
        if (wanted.isEmpty() || wanted.stream().anyMatch(Map::isEmpty)) return new OpenApiDocument.Security.Open();
        Set<List<String>> alternatives = new LinkedHashSet<>();
        for (SecurityRequirement one : wanted) {
            Set<String> scopes = new LinkedHashSet<>();
            boolean byToken = false;
            for (Map.Entry<String, List<String>> part : one.entrySet()) {
                SecurityScheme scheme = schemes.get(part.getKey());
                if (scheme == null || scheme.getType() == null) {
                    faults.add(new FieldFault(
                            at,
                            "the name of a security scheme in /components/securitySchemes",
                            Fields.quoted(part.getKey()),
                            "Describe it there."));
                    continue;
                }
                if (!BY_TOKEN.contains(scheme.getType().name())) continue;
                byToken = true;
                // Only flows of OAuth have scopes; a role of another scheme (3.1) is none.
                if (scheme.getType() != SecurityScheme.Type.HTTP) scopes.addAll(part.getValue());
            }
            if (byToken) alternatives.add(List.copyOf(scopes));
        }
        return alternatives.isEmpty()
                ? new OpenApiDocument.Security.Unsaid() // a key or a certificate: another's business
                : new OpenApiDocument.Security.Token(List.copyOf(alternatives));
    }

    private static Map<String, String> texts(Map<String, SecurityScheme> schemes) {
        Map<String, String> texts = new LinkedHashMap<>();
        for (SecurityScheme scheme : schemes.values()) {
            if (scheme.getFlows() == null) continue;
            Stream.of(
                            scheme.getFlows().getAuthorizationCode(),
                            scheme.getFlows().getClientCredentials(),
                            scheme.getFlows().getImplicit(),
                            scheme.getFlows().getPassword())
                    .filter(flow -> flow != null && flow.getScopes() != null)
                    .map(OAuthFlow::getScopes)
                    .forEach(it -> it.forEach((name, text) -> texts.putIfAbsent(name, plain(text, ""))));
        }
        return texts;
    }

    /** On one line, without what would steer a terminal or a page. */
    private static String plain(@Nullable String text, String otherwise) {
        if (text == null || text.isBlank()) return otherwise;
        String line = text.replaceAll("[\\p{Cntrl}\\p{Cf}\\s]+", " ").strip();
        return line.length() > 200 ? line.substring(0, 199) + "…" : line;
    }
}
