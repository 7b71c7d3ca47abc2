package dev.admit.server.protocol;

import dev.admit.core.authorize.IdentityScopes;
import dev.admit.core.authorize.UserInfo;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.configuration.LiveConfiguration;
import dev.admit.core.decision.Endpoint;
import dev.admit.core.decision.Journal;
import dev.admit.core.decision.Recorder;
import dev.admit.core.decision.Refusal;
import dev.admit.gateway.RefusalAnswer;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.time.Clock;
import java.util.Collections;
import java.util.Map;
import java.util.Optional;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestMethod;
import org.springframework.web.bind.annotation.RestController;
import tools.jackson.databind.json.JsonMapper;

/** The userinfo endpoint (OpenID Connect Core §5.3), by GET and POST, with the token in the header. */
@RestController
class UserInfoEndpoint {
    private static final JsonMapper JSON = new JsonMapper();
    private final LiveConfiguration configuration;
    private final UserInfo userInfo;
    private final Journal journal;
    private final Clock clock;
    private final RefusalAnswer answers = new RefusalAnswer();

    UserInfoEndpoint(LiveConfiguration configuration, UserInfo userInfo, Journal journal, Clock clock) {
        this.configuration = configuration;
        this.userInfo = userInfo;
        this.journal = journal;
        this.clock = clock;
    }

    @RequestMapping(
            path = "/{issuer}/userinfo",
            method = {RequestMethod.GET, RequestMethod.POST})
    void tell(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response)
            throws IOException {
        CompiledIssuer found = configuration.get().issuer(issuer).orElseThrow(NoIssuer::new);
        Recorder decision = new Recorder(Endpoint.TOKEN, clock.instant())
                .request(request.getMethod(), request.getRequestURI(), request.getRemoteAddr())
                .issuer(issuer);
        response.setHeader("Cache-Control", "no-store");
        response.setHeader("Pragma", "no-cache");
        response.setHeader("Admit-Decision", decision.id());
        Optional<Map<String, Object>> claims = userInfo.of(
                Collections.list(request.getHeaders("Authorization")), request.getQueryString(), found, decision);
        decision.decided();
        int status = claims.isPresent()
                ? 200
                : decision.refusal().orElseThrow().reason().status();
        response.setStatus(status);
        byte[] body;
        if (claims.isPresent()) {
            response.setContentType("application/json");
            body = JSON.writeValueAsBytes(claims.get());
        } else {
            Refusal refusal = decision.refusal().orElseThrow();
            response.setContentType("application/problem+json");
            response.setHeader("WWW-Authenticate", RefusalAnswer.challenge(refusal, issuer, IdentityScopes.OPENID));
            body = answers.body(refusal, decision.id());
        }
        response.setContentLength(body.length);
        response.getOutputStream().write(body);
        journal.write(decision, status);
    }
}
