package dev.admit.core.route;

import dev.admit.core.decision.Action;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.expression.Expression;
import dev.admit.core.token.VerifiedToken;
import dev.cel.common.types.MapType;
import dev.cel.common.types.SimpleType;
import java.time.Instant;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * A route's condition in CEL: over the token's claims, the path's parameters, the method, the headers and the time.
 * What it cannot compute refuses.
 */
public final class RequestCondition {
    private static final class Conditions {
        static final Expression.Reader READER = new Expression.Reader(
                Map.of(
                        "claims",
                        MapType.create(SimpleType.STRING, SimpleType.DYN),
                        "path",
                        MapType.create(SimpleType.STRING, SimpleType.STRING),
                        "method",
                        SimpleType.STRING,
                        "headers",
                        MapType.create(SimpleType.STRING, SimpleType.STRING),
                        "now",
                        SimpleType.INT),
                SimpleType.BOOL);
    }

    /**
     * What came of it.
     *
     * @param inside for the decision alone: callers are not told how a condition reads
     */
    public record Met(CheckResult result, String inside) {}

    private final String text;
    private final @Nullable Expression expression; // null for one that lets nobody pass
    private final String route;

    private RequestCondition(String text, @Nullable Expression expression, String route) {
        this.text = text;
        this.expression = expression;
        this.route = route;
    }

    /**
     * @param route its label, for the fix.
     * @throws Expression.Senseless when it is no condition over what there is
     */
    public static RequestCondition read(String text, String route) throws Expression.Senseless {
        return new RequestCondition(text, Conditions.READER.read(text), route);
    }

    /** One that lets nobody pass: what was read once cannot be read any more. */
    public static RequestCondition never(String text, String route) {
        return new RequestCondition(text, null, route);
    }

    /**
     * @param path parameter → segment
     * @param headers by lower-case name; none that carries a credential
     */
    public Met on(
            VerifiedToken token, Map<String, String> path, String method, Map<String, String> headers, Instant now) {
        String received;
        try {
            if (expression == null) throw new Expression.Senseless("the condition cannot be read");
            if (Boolean.TRUE.equals(expression.on(Map.of(
                    "claims",
                    token.claims(),
                    "path",
                    path,
                    "method",
                    method,
                    "headers",
                    headers,
                    "now",
                    now.getEpochSecond())))) {
                return new Met(CheckResult.passed("condition", text, "true"), "");
            }
            received = "it is false";
        } catch (Expression.Senseless wrong) {
            received = "it cannot be computed: " + wrong.getMessage();
        }
        return new Met(
                CheckResult.refused(
                        "condition",
                        Reason.CONDITION_NOT_MET,
                        "the condition of the route",
                        "a request for which it is not met",
                        Fix.of("See the condition on the route, and call as it wants.", Action.onRoute("show", route))),
                "the condition %s: %s".formatted(text, received));
    }
}
