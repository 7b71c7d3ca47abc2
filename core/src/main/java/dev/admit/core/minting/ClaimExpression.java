package dev.admit.core.minting;

import com.nimbusds.jose.util.JSONObjectUtils;
import dev.admit.core.expression.Expression;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Client;
import dev.cel.common.types.ListType;
import dev.cel.common.types.MapType;
import dev.cel.common.types.SimpleType;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Pattern;

/**
 * An expression that computes an extra claim, in CEL: it sees the client, the API, the scopes, the grant type and the
 * time, and can reach nothing else, nor run for long.
 */
public final class ClaimExpression {
    private static final int LONGEST_VALUE = 2_000;
    /** Made when the first expression is: most services have none, and the library takes its time. */
    private static final class Claims {
        static final Expression.Reader READER = new Expression.Reader(
                Map.of(
                        "client",
                        MapType.create(SimpleType.STRING, SimpleType.DYN),
                        "api",
                        MapType.create(SimpleType.STRING, SimpleType.DYN),
                        "scopes",
                        ListType.create(SimpleType.STRING),
                        "grant_type",
                        SimpleType.STRING,
                        "person",
                        MapType.create(SimpleType.STRING, SimpleType.DYN),
                        "now",
                        SimpleType.INT),
                null);
    }

    private static final Pattern OF_PERSON = Pattern.compile("\\bperson\\b");

    private final String claim;
    private final Expression program;
    private final boolean ofPerson;

    private ClaimExpression(String claim, Expression program, boolean ofPerson) {
        this.claim = claim;
        this.program = program;
        this.ofPerson = ofPerson;
    }

    /** @throws Expression.Senseless when it is no expression over what there is */
    public static ClaimExpression read(String claim, String expression) throws Expression.Senseless {
        return new ClaimExpression(
                claim,
                Claims.READER.read(expression),
                OF_PERSON.matcher(expression).find());
    }

    public String claim() {
        return claim;
    }

    /** Whether it looks at the person, and so has nothing to say in a token of a client on its own. */
    public boolean isOfPerson() {
        return ofPerson;
    }

    /**
     * @param person id, name, email, roles and profile fields; empty for a client on its own
     * @return a JSON value: text, number, true or false, list or object
     * @throws Expression.Senseless when it comes to nothing that a claim can hold
     */
    public Object on(
            Client client, Api api, List<String> scopes, String grantType, Map<String, Object> person, Instant now)
            throws Expression.Senseless {
        Map<String, Object> seen = Map.of(
                "client",
                Map.of(
                        "id",
                        client.id(),
                        "name",
                        client.name(),
                        "client_name",
                        client.clientName(),
                        "kind",
                        client.kind().toString(),
                        "contacts",
                        client.texts().contacts(),
                        "tags",
                        client.texts().tags()),
                "api",
                Map.of("name", api.name(), "audience", api.audience()),
                "scopes",
                scopes,
                "grant_type",
                grantType,
                "person",
                person,
                "now",
                now.getEpochSecond());
        Object value;
        try {
            value = json(program.on(seen), new int[1]);
        } catch (Expression.Senseless | RuntimeException wrong) {
            throw new Expression.Senseless(
                    "the expression of the claim %s comes to nothing: %s".formatted(claim, wrong.getMessage()));
        }
        if (JSONObjectUtils.toJSONString(Map.of("v", value)).length() > LONGEST_VALUE)
            throw new Expression.Senseless(
                    "the claim %s comes to more than %d characters".formatted(claim, LONGEST_VALUE));
        return value;
    }

    /** @param parts how many were made so far: a list that holds another twice is walked twice */
    private static Object json(Object value, int[] parts) {
        if (++parts[0] > LONGEST_VALUE)
            throw new IllegalArgumentException("it has more than %d parts".formatted(LONGEST_VALUE));
        return switch (value) {
            case String text -> text;
            case Boolean flag -> flag;
            case Long number -> number;
            case Double number when Double.isFinite(number) -> number;
            case com.google.common.primitives.UnsignedLong number -> number.longValue();
            case List<?> many -> {
                List<Object> all = new ArrayList<>();
                many.forEach(one -> all.add(json(one, parts)));
                yield all;
            }
            case Map<?, ?> map -> {
                Map<String, Object> all = new LinkedHashMap<>();
                map.forEach((name, one) -> all.put(String.valueOf(name), json(one, parts)));
                yield all;
            }
            case null, default ->
                throw new IllegalArgumentException("it is no text, number, true or false, list or map of those");
        };
    }
}
