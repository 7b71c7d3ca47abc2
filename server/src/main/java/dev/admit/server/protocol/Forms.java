package dev.admit.server.protocol;

import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.configuration.LiveConfiguration;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Endpoint;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Journal;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Recorder;
import dev.admit.core.decision.Refusal;
import dev.admit.core.grant.FormRequest;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.time.Clock;
import java.time.Duration;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.springframework.http.MediaType;
import org.springframework.stereotype.Component;
import tools.jackson.databind.json.JsonMapper;

/**
 * What the endpoints to which clients post forms have in common: how a request comes in, how an answer goes out and is
 * recorded.
 */
@Component
class Forms {
    private static final int LARGEST_BODY = 32 * 1024;
    /** Not the mapper of the admin API: these answers have shapes of their own, which the standards set. */
    private static final JsonMapper JSON = new JsonMapper();

    private final LiveConfiguration configuration;
    private final Journal journal;
    private final Clock clock;

    Forms(LiveConfiguration configuration, Journal journal, Clock clock) {
        this.configuration = configuration;
        this.journal = journal;
        this.clock = clock;
    }

    /**
     * What an endpoint answers.
     *
     * @param challenge whether it is an answer that asks who tried Basic to try it again
     */
    record Answer(int status, Map<String, Object> body, boolean challenge) {
        static Answer of(Map<String, Object> body) {
            return new Answer(200, body, false);
        }

        /** RFC 6749 §5.2. */
        static Answer refused(Refusal refusal, String decisionId) {
            Map<String, Object> body = new LinkedHashMap<>();
            body.put("error", refusal.reason().error());
            body.put("error_description", refusal.description());
            body.put("reason", refusal.reason().toString());
            refusal.fix().command().ifPresent(command -> body.put("fix", command));
            body.put("decision", decisionId);
            return new Answer(
                    refusal.reason().status(), body, refusal.reason().error().equals("invalid_client"));
        }
    }

    /** An endpoint's own part. */
    interface Deciding {
        Answer on(FormRequest request, CompiledIssuer issuer, Recorder decision);
    }

    void handle(String issuer, HttpServletRequest request, HttpServletResponse response, Deciding deciding)
            throws IOException {
        CompiledIssuer found = configuration.get().issuer(issuer).orElseThrow(NoIssuer::new);
        Recorder decision = new Recorder(Endpoint.TOKEN, clock.instant())
                .request(request.getMethod(), request.getRequestURI(), request.getRemoteAddr())
                .issuer(issuer);
        response.setHeader("Admit-Decision", decision.id());
        response.setHeader("Cache-Control", "no-store"); // RFC 6749 §5.1, and on errors too
        response.setHeader("Pragma", "no-cache");
        Optional<FormRequest> form = read(request, decision);
        Answer answer = form.isPresent()
                ? deciding.on(form.get(), found, decision)
                : Answer.refused(decision.refusal().orElseThrow(), decision.id());
        decision.decided();
        holdBack(decision.heldBack());
        // The one who tried the header is told the scheme.
        boolean triedBasic = form.isPresent()
                && form.get().authorization().stream().anyMatch(header -> header.regionMatches(true, 0, "Basic", 0, 5));
        if (answer.challenge() && triedBasic)
            response.setHeader("WWW-Authenticate", "Basic realm=\"" + issuer + "\", charset=\"UTF-8\"");
        send(answer, response);
        journal.write(decision, answer.status());
    }

    private static Optional<FormRequest> read(HttpServletRequest request, Recorder decision) throws IOException {
        if (!request.getMethod().equals("POST")) {
            decision.add(CheckResult.refused(
                    "method",
                    Reason.MALFORMED_REQUEST,
                    "POST",
                    request.getMethod(),
                    Fix.of("Send the parameters by POST, as a form.")));
            return Optional.empty();
        }
        byte[] body = request.getInputStream().readNBytes(LARGEST_BODY + 1);
        if (body.length > LARGEST_BODY) {
            decision.add(CheckResult.refused(
                    "form",
                    Reason.MALFORMED_REQUEST,
                    "at most " + LARGEST_BODY + " bytes",
                    "a larger body",
                    Fix.of("Send the parameters of this request only.")));
            return Optional.empty();
        }
        return Optional.of(new FormRequest(
                request.getMethod(),
                mediaType(request.getContentType()),
                Collections.list(request.getHeaders("Authorization")),
                request.getQueryString() == null ? "" : request.getQueryString(),
                body,
                request.getRemoteAddr(),
                isFromBrowser(request)));
    }

    /**
     * Every browser sends Origin with a POST of a page. Sec-Fetch-Mode alone says nothing: a server-side fetch sends it
     * too.
     */
    private static boolean isFromBrowser(HttpServletRequest request) {
        return request.getHeader("Origin") != null || request.getHeader("Sec-Fetch-Site") != null;
    }

    private static String mediaType(String contentType) {
        if (contentType == null) return "";
        int parameters = contentType.indexOf(';');
        return (parameters < 0 ? contentType : contentType.substring(0, parameters))
                .strip()
                .toLowerCase(Locale.ROOT);
    }

    private static void holdBack(Duration length) {
        if (!length.isPositive()) return;
        try {
            Thread.sleep(length); // a virtual thread: it holds nothing up but the one who guesses
        } catch (InterruptedException stopping) {
            Thread.currentThread().interrupt();
        }
    }

    private static void send(Answer answer, HttpServletResponse response) throws IOException {
        response.setStatus(answer.status());
        if (answer.status() == 429) response.setHeader("Retry-After", "60");
        if (answer.body().isEmpty()) {
            response.setContentLength(0);
            return;
        }
        response.setContentType(MediaType.APPLICATION_JSON_VALUE);
        byte[] json = JSON.writeValueAsBytes(answer.body());
        response.setContentLength(json.length);
        response.getOutputStream().write(json);
    }
}
