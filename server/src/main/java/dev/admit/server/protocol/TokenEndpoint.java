package dev.admit.server.protocol;

import dev.admit.core.configuration.IssuerInForce;
import dev.admit.core.configuration.LiveConfiguration;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Decision;
import dev.admit.core.decision.Journal;
import dev.admit.core.decision.Mend;
import dev.admit.core.decision.Plane;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Refusal;
import dev.admit.core.grant.GrantOutcome;
import dev.admit.core.grant.IssueToken;
import dev.admit.core.grant.TokenRequest;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.time.Clock;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.springframework.http.MediaType;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;
import tools.jackson.databind.json.JsonMapper;

/** The token endpoint (RFC 6749 §3.2): puts the request to {@link IssueToken} and its outcome on the wire. */
@RestController
class TokenEndpoint {
    private static final int LARGEST_BODY = 32 * 1024;
    /** Not the mapper of the admin API: this answer has a shape of its own, which RFC 6749 §5 sets. */
    private static final JsonMapper JSON = new JsonMapper();

    private final LiveConfiguration configuration;
    private final IssueToken issueToken;
    private final Journal journal;
    private final Clock clock;

    TokenEndpoint(LiveConfiguration configuration, IssueToken issueToken, Journal journal, Clock clock) {
        this.configuration = configuration;
        this.issueToken = issueToken;
        this.journal = journal;
        this.clock = clock;
    }

    @RequestMapping("/{issuer}/token")
    void token(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response) throws IOException {
        IssuerInForce found = configuration.get().issuer(issuer).orElseThrow(NoIssuer::new);
        Decision.Builder decision = new Decision.Builder(Plane.TOKEN, clock.instant())
                .request(request.getMethod(), request.getRequestURI(), request.getRemoteAddr()).issuer(issuer);
        response.setHeader("Admit-Decision", decision.id());
        response.setHeader("Cache-Control", "no-store"); // RFC 6749 §5.1, and on errors too
        response.setContentType(MediaType.APPLICATION_JSON_VALUE);
        GrantOutcome outcome = decide(request, found, decision);
        decision.decided();
        int status = answer(outcome, decision, response);
        journal.write(decision, status);
    }

    private GrantOutcome decide(HttpServletRequest request, IssuerInForce issuer, Decision.Builder decision) throws IOException {
        if (!request.getMethod().equals("POST")) {
            return refused(decision, CheckResult.refused("method", Reason.MALFORMED_REQUEST, "POST", request.getMethod(),
                    Mend.of("Send the parameters by POST, as a form.")));
        }
        byte[] body = request.getInputStream().readNBytes(LARGEST_BODY + 1);
        if (body.length > LARGEST_BODY) {
            return refused(decision, CheckResult.refused("form", Reason.MALFORMED_REQUEST, "at most " + LARGEST_BODY + " bytes", "a larger body",
                    Mend.of("Send the parameters of this grant only.")));
        }
        return issueToken.issue(new TokenRequest(request.getMethod(), mediaType(request.getContentType()), authorization(request),
                request.getQueryString() == null ? "" : request.getQueryString(), body, request.getRemoteAddr(), isFromBrowser(request)), issuer, decision);
    }

    private static GrantOutcome refused(Decision.Builder decision, CheckResult result) {
        decision.add(result);
        return new GrantOutcome.Refused(decision.refusal().orElseThrow(), false);
    }

    /** Every browser sends Origin with a POST of a page. Sec-Fetch-Mode alone says nothing: a server-side fetch sends it too. */
    private static boolean isFromBrowser(HttpServletRequest request) {
        return request.getHeader("Origin") != null || request.getHeader("Sec-Fetch-Site") != null;
    }

    private static List<String> authorization(HttpServletRequest request) {
        return Collections.list(request.getHeaders("Authorization"));
    }

    private static String mediaType(String contentType) {
        if (contentType == null) return "";
        int parameters = contentType.indexOf(';');
        return (parameters < 0 ? contentType : contentType.substring(0, parameters)).strip().toLowerCase(Locale.ROOT);
    }

    private static int answer(GrantOutcome outcome, Decision.Builder decision, HttpServletResponse response) throws IOException {
        Map<String, Object> body = new LinkedHashMap<>();
        int status = switch (outcome) {
            case GrantOutcome.Issued issued -> {
                body.put("access_token", issued.accessToken());
                body.put("token_type", "Bearer");
                body.put("expires_in", issued.lifetime());
                body.put("scope", issued.scope());
                yield 200;
            }
            case GrantOutcome.Refused(Refusal refusal, boolean basicChallenge) -> {
                body.put("error", refusal.reason().error());
                body.put("error_description", refusal.description());
                body.put("reason", refusal.reason().toString());
                refusal.mend().command().ifPresent(command -> body.put("mend", command));
                body.put("decision", decision.id());
                // RFC 6749 §5.2: a client that tried the header is told the scheme.
                if (refusal.reason().error().equals("invalid_client") && basicChallenge) {
                    response.setHeader("WWW-Authenticate", "Basic realm=\"token endpoint\", charset=\"UTF-8\"");
                }
                yield refusal.reason().status();
            }
        };
        response.setStatus(status);
        byte[] json = JSON.writeValueAsBytes(body);
        response.setContentLength(json.length);
        response.getOutputStream().write(json);
        return status;
    }
}
