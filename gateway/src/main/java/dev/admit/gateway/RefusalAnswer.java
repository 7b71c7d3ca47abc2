package dev.admit.gateway;

import com.github.benmanes.caffeine.cache.Caffeine;
import com.github.benmanes.caffeine.cache.LoadingCache;
import dev.admit.core.configuration.GuardedRoute;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Refusal;
import dev.admit.core.gate.GateOutcome;
import dev.admit.core.registry.Api;
import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Stream;
import org.eclipse.jetty.http.HttpField;
import org.eclipse.jetty.http.HttpFields;
import org.eclipse.jetty.http.HttpHeader;
import org.eclipse.jetty.http.PreEncodedHttpField;
import tools.jackson.core.JsonGenerator;
import tools.jackson.core.ObjectWriteContext;
import tools.jackson.core.json.JsonFactory;

/** How a refusal reads on the wire: the challenge of RFC 6750 §3 and the problem details of RFC 9457. */
public final class RefusalAnswer {
    private static final JsonFactory JSON = new JsonFactory();
    private static final HttpField PROBLEM =
            new PreEncodedHttpField(HttpHeader.CONTENT_TYPE, "application/problem+json");
    private static final HttpField NOT_STORED = new PreEncodedHttpField(HttpHeader.CACHE_CONTROL, "no-store");
    private static final int MOST_REMEMBERED = 500;
    private final LoadingCache<Refusal, byte[]> beginnings =
            Caffeine.newBuilder().maximumSize(MOST_REMEMBERED).build(RefusalAnswer::beginning);

    void headers(GateOutcome.Refused refused, HttpFields.Mutable headers) {
        headers.put(PROBLEM);
        headers.put(NOT_STORED);
        if (!refused.allowed().isEmpty()) headers.put(HttpHeader.ALLOW, String.join(", ", refused.allowed()));
        Shape.rate(refused.count(), headers);
        if (refused.refusal().reason() == Reason.TOO_MANY_CONCURRENT) headers.put(HttpHeader.RETRY_AFTER, "1");
        refused.route()
                .filter(route -> owesChallenge(refused.refusal().reason()))
                .ifPresent(route -> headers.put(
                        HttpHeader.WWW_AUTHENTICATE,
                        challenge(refused.refusal(), route.api().map(Api::name).orElse(""), route.needed())
                                + (refused.refusal().reason().error().equals("insufficient_user_authentication")
                                        ? route.prepared().stepUp()
                                        : "")));
    }

    /**
     * Sets the headers of a refusal.
     *
     * @param request the headers of the request.
     * @return the body: as the route words it, a page for a browser, or problem details
     */
    byte[] write(GateOutcome.Refused refused, String decisionId, HttpFields request, HttpFields.Mutable headers) {
        headers(refused, headers);
        Optional<GuardedRoute.OwnText> own = refused.route()
                .flatMap(route ->
                        own(route.prepared().refusals(), refused.refusal().reason()));
        if (own.isEmpty())
            return RefusalPage.isWanted(request)
                    ? RefusalPage.write(refused.refusal(), decisionId, headers)
                    : body(refused.refusal(), decisionId);
        headers.put(HttpHeader.CONTENT_TYPE, own.get().contentType());
        Refusal refusal = refused.refusal();
        return own.get()
                .body()
                .on(Map.of(
                        "status",
                        String.valueOf(refusal.reason().status()),
                        "reason",
                        refusal.reason().toString(),
                        "sentence",
                        refusal.sentence(),
                        "expected",
                        refusal.expected(),
                        "received",
                        refusal.received(),
                        "fix",
                        refusal.fix().sentence(),
                        "decision",
                        decisionId,
                        "needed",
                        refused.route().get().needed(),
                        "route",
                        refused.route().get().label()))
                .getBytes(StandardCharsets.UTF_8);
    }

    private static Optional<GuardedRoute.OwnText> own(Map<String, GuardedRoute.OwnText> texts, Reason reason) {
        if (texts.isEmpty()) return Optional.empty();
        return Stream.of(reason.toString(), String.valueOf(reason.status()), "any")
                .map(texts::get)
                .filter(Objects::nonNull)
                .findFirst();
    }

    private static boolean owesChallenge(Reason reason) {
        return reason.status() == 401
                || reason.error().equals("insufficient_scope")
                || reason.error().equals("invalid_request");
    }

    /**
     * The value of WWW-Authenticate.
     *
     * @param needed the scopes of which too little came, space-separated
     */
    public static String challenge(Refusal refusal, String realm, String needed) {
        StringBuilder challenge =
                new StringBuilder("Bearer realm=\"").append(realm).append('"');
        // RFC 6750 §3.1: a request without any authentication information is told no error code.
        if (!refusal.reason().error().isEmpty()) {
            challenge
                    .append(", error=\"")
                    .append(refusal.reason().error())
                    .append("\", error_description=\"")
                    .append(refusal.description())
                    .append('"');
        }
        if (refusal.reason() == Reason.INSUFFICIENT_SCOPE)
            challenge.append(", scope=\"").append(needed).append('"');
        return challenge.toString();
    }

    /**
     * The problem details of a refusal, in UTF-8. Most refusals are alike but for the decision, so all else is written
     * once.
     */
    public byte[] body(Refusal refusal, String decisionId) {
        byte[] beginning = beginnings.get(refusal);
        byte[] end = (",\"decision\":\"" + decisionId + "\"}").getBytes(StandardCharsets.UTF_8);
        byte[] body = Arrays.copyOf(beginning, beginning.length + end.length);
        System.arraycopy(end, 0, body, beginning.length, end.length);
        return body;
    }

    /** Everything up to the last member, without the closing brace. */
    private static byte[] beginning(Refusal refusal) {
        ByteArrayOutputStream out = new ByteArrayOutputStream(512);
        try (JsonGenerator to = JSON.createGenerator(ObjectWriteContext.empty(), out)) {
            Reason reason = refusal.reason();
            to.writeStartObject();
            to.writeStringProperty("type", "urn:admit:refusal:" + reason);
            to.writeStringProperty("title", title(reason));
            to.writeNumberProperty("status", reason.status());
            to.writeStringProperty("detail", refusal.sentence());
            to.writeStringProperty("reason", reason.toString());
            to.writeStringProperty("expected", refusal.expected());
            to.writeStringProperty("received", refusal.received());
            writeFix(to, refusal.fix());
            to.writeEndObject();
        }
        return Arrays.copyOf(out.toByteArray(), out.size() - 1);
    }

    private static void writeFix(JsonGenerator to, Fix fix) {
        to.writeObjectPropertyStart("fix");
        to.writeStringProperty("sentence", fix.sentence());
        if (fix.command().isPresent())
            to.writeStringProperty("command", fix.command().get());
        if (fix.who().isPresent()) to.writeStringProperty("who", fix.who().get());
        to.writeEndObject();
    }

    private static String title(Reason reason) {
        String word = reason.toString().replace('-', ' ');
        return "Refused: " + word.substring(0, 1).toLowerCase(Locale.ROOT) + word.substring(1);
    }
}
