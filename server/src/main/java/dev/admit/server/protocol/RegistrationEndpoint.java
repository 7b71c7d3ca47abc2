package dev.admit.server.protocol;

import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.configuration.LiveConfiguration;
import dev.admit.core.decision.Endpoint;
import dev.admit.core.decision.Journal;
import dev.admit.core.decision.Recorder;
import dev.admit.core.decision.Refusal;
import dev.admit.core.selfregistration.ManageClient;
import dev.admit.core.selfregistration.RegisterClient;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestMethod;
import org.springframework.web.bind.annotation.RestController;
import tools.jackson.databind.json.JsonMapper;

/** Where clients register themselves (RFC 7591 §3) and manage their registration (RFC 7592 §2). */
@RestController
class RegistrationEndpoint {
    private static final int LARGEST_BODY = 32 * 1024;
    private static final JsonMapper JSON = new JsonMapper();

    private final LiveConfiguration configuration;
    private final RegisterClient register;
    private final ManageClient manage;
    private final Journal journal;
    private final Clock clock;

    RegistrationEndpoint(
            LiveConfiguration configuration,
            RegisterClient register,
            ManageClient manage,
            Journal journal,
            Clock clock) {
        this.configuration = configuration;
        this.register = register;
        this.manage = manage;
        this.journal = journal;
        this.clock = clock;
    }

    /** What is to be answered. */
    private record Reply(int status, Map<String, Object> body) {
        static Reply refused(Refusal why, Recorder decision) {
            Map<String, Object> body = new LinkedHashMap<>();
            if (!why.reason().error().isEmpty()) body.put("error", why.reason().error());
            body.put("error_description", why.description());
            body.put("reason", why.reason().toString());
            body.put("decision", decision.id());
            return new Reply(why.reason().status(), body);
        }
    }

    private interface Deciding {
        Reply on(CompiledIssuer issuer, RegisterClient.Asked asked, Recorder decision);
    }

    @PostMapping("/{issuer}/register")
    void register(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response)
            throws IOException {
        handle(issuer, request, response, (found, asked, decision) -> switch (register.register(
                found.issuer(), asked, decision)) {
            case RegisterClient.Outcome.Registered(Map<String, Object> body) -> new Reply(201, body);
            case RegisterClient.Outcome.Refused(Refusal why) -> Reply.refused(why, decision);
        });
    }

    @RequestMapping(
            path = "/{issuer}/register/{client}",
            method = {RequestMethod.GET, RequestMethod.PUT, RequestMethod.DELETE})
    void manage(
            @PathVariable String issuer,
            @PathVariable String client,
            HttpServletRequest request,
            HttpServletResponse response)
            throws IOException {
        handle(
                issuer,
                request,
                response,
                (found, asked, decision) -> answer(
                        switch (request.getMethod()) {
                            case "PUT" -> manage.change(found.issuer(), client, asked, decision);
                            case "DELETE" -> manage.remove(found.issuer(), client, asked, decision);
                            default -> manage.read(found.issuer(), client, asked, decision);
                        },
                        decision));
    }

    private static Reply answer(ManageClient.Outcome outcome, Recorder decision) {
        return switch (outcome) {
            case ManageClient.Outcome.Told(Map<String, Object> body) -> new Reply(200, body);
            case ManageClient.Outcome.Removed removed -> new Reply(204, Map.of());
            case ManageClient.Outcome.Refused(Refusal why) -> Reply.refused(why, decision);
        };
    }

    private void handle(String issuerName, HttpServletRequest request, HttpServletResponse response, Deciding deciding)
            throws IOException {
        CompiledIssuer issuer = configuration.get().issuer(issuerName).orElseThrow(NoIssuer::new);
        Recorder decision = new Recorder(Endpoint.TOKEN, clock.instant())
                .request(request.getMethod(), request.getRequestURI(), request.getRemoteAddr())
                .issuer(issuerName);
        response.setHeader("Admit-Decision", decision.id());
        response.setHeader("Cache-Control", "no-store"); // RFC 7591 §3.2.1
        response.setHeader("Pragma", "no-cache");
        byte[] body = request.getInputStream().readNBytes(LARGEST_BODY + 1);
        // A larger one is no JSON by then, and told as that.
        String text = new String(body, StandardCharsets.UTF_8);
        Reply reply =
                deciding.on(issuer, new RegisterClient.Asked(bearer(request), text, request.getRemoteAddr()), decision);
        decision.decided();
        send(reply, issuerName, response);
        journal.write(decision, reply.status());
    }

    /** RFC 6750 §2.1, and one alone. */
    private static Optional<String> bearer(HttpServletRequest request) {
        List<String> headers = Collections.list(request.getHeaders("Authorization"));
        if (headers.isEmpty()) return Optional.empty();
        String header = headers.getFirst();
        boolean one = headers.size() == 1 && header.regionMatches(true, 0, "Bearer ", 0, 7);
        return Optional.of(one ? header.substring(7).strip() : "");
    }

    private static void send(Reply reply, String issuer, HttpServletResponse response) throws IOException {
        response.setStatus(reply.status());
        if (reply.status() == 429) response.setHeader("Retry-After", "60");
        if (reply.status() == 401)
            response.setHeader(
                    "WWW-Authenticate",
                    "Bearer realm=\"" + issuer + "\""
                            + (reply.body().containsKey("error") ? ", error=\"invalid_token\"" : ""));
        if (reply.body().isEmpty()) return;
        byte[] json = JSON.writeValueAsBytes(reply.body());
        response.setContentType("application/json");
        response.setContentLength(json.length);
        response.getOutputStream().write(json);
    }
}
