package dev.admit.gateway;

import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Decision;
import dev.admit.core.decision.Journal;
import dev.admit.core.decision.Mend;
import dev.admit.core.decision.Plane;
import dev.admit.core.decision.Reason;
import dev.admit.core.gate.Gate;
import dev.admit.core.gate.GateOutcome;
import dev.admit.core.configuration.GuardedRoute;
import dev.admit.core.gate.GateRequest;
import dev.admit.core.route.Route;
import java.nio.ByteBuffer;
import java.time.Clock;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.eclipse.jetty.http.HttpField;
import org.eclipse.jetty.http.HttpHeader;
import org.eclipse.jetty.io.Content;
import org.eclipse.jetty.server.Handler;
import org.eclipse.jetty.server.Request;
import org.eclipse.jetty.server.Response;
import org.eclipse.jetty.util.Callback;

/** Every request of the gateway: has it decided on, then answers, or forwards. */
final class GateHandler extends Handler.Wrapper {
    static final String DECISION_HEADER = "Admit-Decision";

    private final Gate gate;
    private final Journal journal;
    private final Clock clock;
    private final GatewaySettings settings;
    private final Forward forward;
    private final RefusalAnswer refusals;

    GateHandler(Gate gate, Journal journal, Clock clock, GatewaySettings settings, Forward forward, RefusalAnswer refusals) {
        this.gate = gate;
        this.journal = journal;
        this.clock = clock;
        this.settings = settings;
        this.forward = forward;
        this.refusals = refusals;
        setHandler(forward); // so that it lives and stops with this one
    }

    /** Deciding never waits: it reads memory only. */
    @Override public InvocationType getInvocationType() {
        return InvocationType.NON_BLOCKING;
    }

    @Override public boolean handle(Request request, Response response, Callback callback) {
        Decision.Builder decision = new Decision.Builder(Plane.GATEWAY, clock.instant());
        response.getHeaders().put(DECISION_HEADER, decision.id());
        GateRequest asked = new GateRequest(request.getMethod(), request.getHttpURI().getPath(), request.getHttpURI().getQuery(),
                authorization(request), caller(request), page(request));
        switch (gate.decide(asked, decision)) {
            case GateOutcome.Refused refused -> {
                asked.page().ifPresent(page -> refused.route().ifPresent(route -> tellPage(page, route, response)));
                refuse(refused, decision, response, callback);
            }
            case GateOutcome.PageMay(GuardedRoute route, String method) -> {
                tellPage(asked.page().orElseThrow(), route, response);
                response.getHeaders().put("Access-Control-Allow-Methods", method);
                response.getHeaders().put("Access-Control-Allow-Headers", "Authorization, Content-Type");
                response.getHeaders().put("Access-Control-Max-Age", "600");
                response.setStatus(204);
                journal.write(decision.decided(), 204);
                response.write(true, null, callback);
            }
            case GateOutcome.Admitted admitted -> {
                asked.page().ifPresent(page -> tellPage(page, admitted.route(), response));
                admit(admitted, decision, request, response, callback);
            }
        }
        return true;
    }

    /** What a browser says of the page that calls; programs say nothing of the kind. */
    private static Optional<GateRequest.FromPage> page(Request request) {
        String origin = request.getHeaders().get(HttpHeader.ORIGIN);
        if (origin == null) return Optional.empty();
        String asked = request.getMethod().equals("OPTIONS") ? request.getHeaders().get("Access-Control-Request-Method") : null;
        return Optional.of(new GateRequest.FromPage(origin, Optional.ofNullable(asked)));
    }

    /** Lets the page read the answer, where it may; no cookie is ever meant. */
    private void tellPage(GateRequest.FromPage page, GuardedRoute route, Response response) {
        if (!route.route().cors()) return;
        response.getHeaders().add(HttpHeader.VARY, "Origin");
        if (!gate.mayCall(page, route)) return;
        response.getHeaders().put("Access-Control-Allow-Origin", page.origin());
        response.getHeaders().put("Access-Control-Expose-Headers", "Admit-Decision, WWW-Authenticate, Retry-After");
    }

    private String caller(Request request) {
        String peer = Request.getRemoteAddr(request);
        if (settings.proxies() == TrustedProxies.NONE) return peer;
        return settings.proxies().caller(peer, String.join(",", request.getHeaders().getValuesList("X-Forwarded-For")));
    }

    private static List<String> authorization(Request request) {
        List<String> all = List.of();
        for (HttpField field : request.getHeaders()) {
            if (field.getHeader() != HttpHeader.AUTHORIZATION) continue;
            String value = field.getValue() == null ? "" : field.getValue();
            all = all.isEmpty() ? List.of(value) : List.of(all.getFirst(), value);
        }
        return all;
    }

    private void admit(GateOutcome.Admitted admitted, Decision.Builder decision, Request request, Response response, Callback callback) {
        if (admitted.route().route().target() instanceof Route.Target.StandingAnswer answer) {
            decision.done("answered by the route itself").decided();
            response.setStatus(answer.status());
            response.getHeaders().put(HttpHeader.CONTENT_TYPE, answer.contentType());
            journal.write(decision, answer.status());
            Content.Sink.write(response, true, answer.body(), callback);
            return;
        }
        if (request.getLength() > settings.mostBodyBytes()) {
            decision.add(CheckResult.refused("body", Reason.BODY_TOO_LARGE, "at most " + settings.mostBodyBytes() + " bytes",
                    request.getLength() + " bytes", Mend.of("Send less, or in parts.")));
            refuse(new GateOutcome.Refused(decision.refusal().orElseThrow(), Optional.of(admitted.route()), Set.of()), decision, response, callback);
            return;
        }
        forward.forward(new Passing(admitted, decision.decided()), request, response, callback);
    }

    private void refuse(GateOutcome.Refused refused, Decision.Builder decision, Response response, Callback callback) {
        int status = refused.refusal().reason().status();
        decision.decided();
        refusals.headers(refused, response.getHeaders());
        response.setStatus(status);
        journal.write(decision, status);
        response.write(true, ByteBuffer.wrap(refusals.body(refused.refusal(), decision.id())), callback);
    }
}
