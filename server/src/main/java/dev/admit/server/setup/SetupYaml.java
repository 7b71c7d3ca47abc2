package dev.admit.server.setup;

import com.fasterxml.jackson.annotation.JsonIgnoreProperties;
import dev.admit.contract.FieldWanted;
import dev.admit.contract.IssuerWanted;
import dev.admit.contract.PlanWanted;
import dev.admit.contract.RoleWanted;
import dev.admit.contract.ScopeWanted;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Fields;
import dev.admit.core.setup.Setup;
import java.lang.reflect.Type;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import tools.jackson.core.JacksonException;
import tools.jackson.core.JsonParser;
import tools.jackson.core.JsonToken;
import tools.jackson.core.TokenStreamLocation;
import tools.jackson.databind.DatabindException;
import tools.jackson.databind.DeserializationFeature;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.PropertyNamingStrategies;
import tools.jackson.databind.exc.MismatchedInputException;
import tools.jackson.databind.exc.PropertyBindingException;
import tools.jackson.databind.node.ObjectNode;
import tools.jackson.dataformat.yaml.YAMLMapper;
import tools.jackson.dataformat.yaml.YAMLWriteFeature;

/** A setup file as YAML: read with the place of whatever is wrong, written for people to read. */
public final class SetupYaml {
    private static final int LONGEST = 2_000_000;
    private static final YAMLMapper YAML = YAMLMapper.builder()
            .propertyNamingStrategy(PropertyNamingStrategies.SNAKE_CASE)
            .enable(DeserializationFeature.FAIL_ON_UNKNOWN_PROPERTIES)
            .enable(tools.jackson.core.StreamReadFeature.STRICT_DUPLICATE_DETECTION)
            .disable(tools.jackson.databind.MapperFeature.ALLOW_COERCION_OF_SCALARS)
            .disable(YAMLWriteFeature.WRITE_DOC_START_MARKER)
            .disable(YAMLWriteFeature.SPLIT_LINES)
            .enable(YAMLWriteFeature.MINIMIZE_QUOTES)
            .enable(YAMLWriteFeature.ALWAYS_QUOTE_NUMBERS_AS_STRINGS) // a version "1.0" stays a text
            .enable(YAMLWriteFeature.INDENT_ARRAYS_WITH_INDICATOR)
            .enable(DeserializationFeature.FAIL_ON_IGNORED_PROPERTIES)
            .addMixIn(ScopeWanted.class, NamedByItsKey.class)
            .addMixIn(RoleWanted.class, NamedByItsKey.class)
            .addMixIn(FieldWanted.class, NamedByItsKey.class)
            .addMixIn(PlanWanted.class, NamedByItsKey.class)
            .addMixIn(IssuerWanted.class, NamedAbove.class)
            .changeDefaultPropertyInclusion(
                    it -> it.withValueInclusion(com.fasterxml.jackson.annotation.JsonInclude.Include.NON_NULL))
            .build();
    /** What may differ between stages: addresses and limits, and nothing that says who may do what. */
    private static final Set<String> OF_A_STAGE = Set.of(
            "upstream",
            "redirect_uris",
            "origins",
            "jwks_uri",
            "url",
            "metadata",
            "token_endpoint",
            "links",
            "contacts",
            "lifetime",
            "key_rotation",
            "secret_lifetime",
            "max_secret_lifetime",
            "domains",
            "audience",
            "from_env",
            "from_file",
            "loopback_redirects",
            "title",
            "description");

    /** What stands under its name in a file has no member for it. */
    @JsonIgnoreProperties("name")
    interface NamedByItsKey {}

    /** The settings of the issuer that the file begins with. */
    @JsonIgnoreProperties({"name", "title", "description"})
    interface NamedAbove {}

    /** The members of a record that a file has elsewhere. */
    static Set<String> elsewhere(Type record) {
        Class<?> mixed =
                record instanceof Class<?> it ? YAML.serializationConfig().findMixInClassFor(it) : null;
        return mixed == null
                ? Set.of()
                : Set.of(mixed.getAnnotation(JsonIgnoreProperties.class).value());
    }

    private SetupYaml() {}

    /** What came of reading. */
    public sealed interface Reading {
        /** @param places pointer → line and column, of the file and the stage's file together */
        record Good(Setup setup, Map<String, String> places) implements Reading {}

        record Malformed(List<FieldFault> faults) implements Reading {}
    }

    /** @param stage a second file whose values take the place of the first one's; empty for none */
    public static Reading read(String file, Optional<String> stage) {
        Reading first = readOne(file, "the file");
        if (stage.isEmpty() || !(first instanceof Reading.Good good)) return first;
        Reading second = readOne(stage.get(), "the stage's file");
        if (!(second instanceof Reading.Good ofStage)) return second;
        JsonNode base = YAML.readTree(file);
        List<FieldFault> faults = new ArrayList<>();
        Map<String, String> ofStagePlaces = new HashMap<>();
        ofStage.places().forEach((pointer, place) -> ofStagePlaces.put(pointer, place + " of the stage's file"));
        overlay(base, YAML.readTree(stage.get()), "", ofStagePlaces, faults);
        if (!faults.isEmpty()) return new Reading.Malformed(faults);
        Map<String, String> places = new HashMap<>(good.places());
        places.putAll(ofStagePlaces);
        return new Reading.Good(YAML.treeToValue(base, Setup.class), places);
    }

    private static void overlay(
            JsonNode base, JsonNode stage, String at, Map<String, String> places, List<FieldFault> faults) {
        for (Map.Entry<String, JsonNode> member : stage.properties()) {
            String pointer = at + "/" + member.getKey().replace("~", "~0").replace("/", "~1");
            JsonNode there = base.path(member.getKey());
            boolean inside = member.getValue().isObject();
            if (inside && there.isObject()) {
                overlay(there, member.getValue(), pointer, places, faults);
            } else if (!inside && isOfAStage(at, member.getKey()) && base instanceof ObjectNode object) {
                object.set(member.getKey(), member.getValue());
            } else if (!member.getValue().equals(there)) {
                faults.add(fault(
                        pointer,
                        places,
                        inside
                                ? "something that the setup file has too"
                                : "a value that may differ between stages: an address or a limit",
                        Fields.quoted(member.getKey()),
                        inside ? "Check its spelling." : "Put it into the setup file."));
            }
        }
    }

    /**
     * The issuer that an upstream credential is of differs between stages; the issuer that the file is about does not.
     */
    private static boolean isOfAStage(String at, String member) {
        return OF_A_STAGE.contains(member) || member.equals("issuer") && at.startsWith("/upstream_credentials/");
    }

    private static Reading readOne(String text, String which) {
        if (text.length() > LONGEST)
            return new Reading.Malformed(List.of(new FieldFault(
                    "/",
                    "at most %d characters".formatted(LONGEST),
                    text.length() + " characters",
                    "Load it in pieces.")));
        if (text.isBlank())
            return new Reading.Malformed(
                    List.of(new FieldFault("/", "a setup file", "nothing", "Begin with issuer: NAME.")));
        try {
            Setup setup = YAML.readValue(text, Setup.class);
            return new Reading.Good(setup, places(text));
        } catch (PropertyBindingException unknown) {
            return malformed(
                    unknown,
                    text,
                    which,
                    "one of "
                            + String.join(
                                    ", ",
                                    unknown.getKnownPropertyIds().stream()
                                            .map(String::valueOf)
                                            .sorted()
                                            .toList()),
                    "the unknown member " + Fields.quoted(unknown.getPropertyName()),
                    "Check its spelling.");
        } catch (MismatchedInputException wrongType) {
            return malformed(wrongType, text, which, "another type of value", "this one", "Correct its type.");
        } catch (DatabindException other) {
            return malformed(other, text, which, "a setup file", "something else", "Correct it there.");
        } catch (JacksonException notYaml) {
            return malformed(notYaml, "", which, "YAML", "something else", "Correct it there.");
        }
    }

    private static Reading malformed(
            JacksonException fault, String text, String which, String expected, String received, String fix) {
        StringBuilder pointer = new StringBuilder();
        for (JacksonException.Reference part : fault.getPath())
            pointer.append('/')
                    .append(part.getPropertyName() != null ? part.getPropertyName() : String.valueOf(part.getIndex()));
        // The library tells of a member when it is done with the object around it; where the member stands is known
        // better here.
        String known = placesOfWhatCanBeRead(text).get(pointer.toString());
        if (known != null)
            return new Reading.Malformed(List.of(
                    new FieldFault(pointer.toString(), expected, received + " at " + known + " of " + which, fix)));
        TokenStreamLocation at = fault.getLocation();
        String place =
                at == null ? "" : " at line %d, column %d of %s".formatted(at.getLineNr(), at.getColumnNr(), which);
        return new Reading.Malformed(
                List.of(new FieldFault(pointer.isEmpty() ? "/" : pointer.toString(), expected, received + place, fix)));
    }

    /** The same fault with the place in the file, or of the nearest thing around it that has one. */
    public static FieldFault placed(FieldFault fault, Map<String, String> places) {
        return fault(fault.pointer(), places, fault.expected(), fault.received(), fault.fix());
    }

    private static FieldFault fault(
            String pointer, Map<String, String> places, String expected, String received, String fix) {
        for (String at = pointer; !at.isEmpty(); at = at.substring(0, Math.max(0, at.lastIndexOf('/')))) {
            if (places.containsKey(at))
                return new FieldFault(pointer, expected, received + " at " + places.get(at), fix);
        }
        return new FieldFault(pointer, expected, received, fix);
    }

    /** A file that is wrong may be one that cannot be read to its end either. */
    private static Map<String, String> placesOfWhatCanBeRead(String text) {
        try {
            return places(text);
        } catch (JacksonException notToItsEnd) {
            return Map.of();
        }
    }

    private static Map<String, String> places(String text) {
        Map<String, String> places = new HashMap<>();
        Deque<String> path = new ArrayDeque<>();
        Deque<Integer> indexes = new ArrayDeque<>();
        try (JsonParser parser = YAML.createParser(text)) {
            String name = "";
            for (JsonToken token = parser.nextToken(); token != null; token = parser.nextToken()) {
                if (token == JsonToken.PROPERTY_NAME) {
                    name = parser.currentName().replace("~", "~0").replace("/", "~1");
                    places.put(
                            String.join("", path.reversed()) + "/" + name,
                            "line %d, column %d"
                                    .formatted(
                                            parser.currentTokenLocation().getLineNr(),
                                            parser.currentTokenLocation().getColumnNr()));
                    continue;
                }
                boolean inArray = !indexes.isEmpty() && indexes.peek() >= 0;
                if (token == JsonToken.END_OBJECT || token == JsonToken.END_ARRAY) {
                    indexes.pop();
                    if (!path.isEmpty()) path.pop();
                    continue;
                }
                String here = inArray ? "/" + indexes.peek() : name.isEmpty() ? "" : "/" + name;
                if (inArray) {
                    places.put(
                            String.join("", path.reversed()) + here,
                            "line %d, column %d"
                                    .formatted(
                                            parser.currentTokenLocation().getLineNr(),
                                            parser.currentTokenLocation().getColumnNr()));
                    indexes.push(indexes.pop() + 1);
                }
                if (token == JsonToken.START_OBJECT || token == JsonToken.START_ARRAY) {
                    path.push(indexes.isEmpty() ? "" : here);
                    indexes.push(token == JsonToken.START_ARRAY ? 0 : -1);
                }
            }
        }
        return places;
    }

    /** @param heading a comment for the top */
    public static String write(Setup setup, String heading) {
        return "# " + heading + "\n"
                + YAML.writeValueAsString(setup)
                        .replaceAll(
                                "(?m)^(apis|routes|clients|settings|profile_fields|trusted_issuers"
                                        + "|upstream_credentials|registration|plans):",
                                "\n$1:");
    }
}
