package dev.admit.gateway;

import dev.admit.core.browser.SignInAtGate;
import dev.admit.core.configuration.GuardedRoute;
import dev.admit.core.decision.Endpoint;
import dev.admit.core.decision.Journal;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Recorder;
import dev.admit.core.gate.DescribeResource;
import dev.admit.core.gate.Gate;
import dev.admit.core.gate.GateOutcome;
import dev.admit.core.gate.GateRequest;
import dev.admit.core.route.Route;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.CompletionStage;
import org.eclipse.jetty.http.HttpField;
import org.eclipse.jetty.http.HttpFields;
import org.eclipse.jetty.http.HttpHeader;
import org.eclipse.jetty.io.Content;
import org.eclipse.jetty.server.Handler;
import org.eclipse.jetty.server.Request;
import org.eclipse.jetty.server.Response;
import org.eclipse.jetty.util.Callback;
import tools.jackson.databind.json.JsonMapper;

/** Every request of the gateway: has it decided on, then answers, or forwards. */
final class GateHandler extends Handler.Wrapper {
    private static final JsonMapper JSON = new JsonMapper();
    static final String DECISION_HEADER = "Admit-Decision";
    private static final String PROOF_KEYS = "/_admit/proof-keys";
    private static final Set<String> CREDENTIALS = Set.of("authorization", "cookie", "proxy-authorization", "dpop");

    private final Gate gate;
    private final Journal journal;
    private final Clock clock;
    private final GatewaySettings settings;
    private final Forward forward;
    private final RefusalAnswer refusals;
    private final byte[] proofKeys;
    private final DescribeResource describe;
    private final BrowserDoor browsers;

    GateHandler(
            Gate gate,
            Journal journal,
            Clock clock,
            GatewaySettings settings,
            Forward forward,
            RefusalAnswer refusals,
            String proofKeys,
            DescribeResource describe,
            BrowserDoor browsers) {
        this.gate = gate;
        this.journal = journal;
        this.clock = clock;
        this.settings = settings;
        this.forward = forward;
        this.refusals = refusals;
        this.describe = describe;
        this.browsers = browsers;
        this.proofKeys = proofKeys.getBytes(StandardCharsets.UTF_8);
        setHandler(forward); // so that it lives and stops with this one
    }

    /** Deciding never waits: it reads memory only. */
    @Override
    public InvocationType getInvocationType() {
        return InvocationType.NON_BLOCKING;
    }

    @Override
    public boolean handle(Request request, Response response, Callback callback) {
        String own = request.getHttpURI().getPath();
        if (PROOF_KEYS.equals(own)) return publish(proofKeys, "application/jwk-set+json", request, response, callback);
        if (own != null && own.startsWith(DescribeResource.WELL_KNOWN)) {
            Optional<Map<String, Object>> described =
                    describe.at(authority(request), own.substring(DescribeResource.WELL_KNOWN.length()));
            if (described.isPresent())
                return publish(
                        JSON.writeValueAsBytes(described.get()), "application/json", request, response, callback);
        }
        if (SignInAtGate.BACK.equals(own))
            return inTime(
                    request, response, callback, () -> browsers.finish(request, caller(request), response, callback));
        if (BrowserDoor.SIGN_OUT.equals(own))
            return inTime(
                    request, response, callback, () -> browsers.signOut(request, caller(request), response, callback));
        GateRequest asked = new GateRequest(
                request.getMethod(),
                host(request),
                request.getHttpURI().getPath(),
                request.getHttpURI().getQuery(),
                authorization(request),
                caller(request),
                page(request),
                () -> headers(request),
                () -> bytes(request.getHeaders()),
                request::getLength,
                browsers.of(request));
        decide(asked, request, response, callback);
        return true;
    }

    private void decide(GateRequest asked, Request request, Response response, Callback callback) {
        Recorder decision = new Recorder(Endpoint.GATEWAY, clock.instant());
        response.getHeaders().put(DECISION_HEADER, decision.id());
        switch (gate.decide(asked, decision)) {
            // Once more, with what is known then; a second look is not worth waiting for, so that it comes to an end.
            case GateOutcome.Waits(CompletionStage<?> stage) ->
                stage.whenComplete((known, broken) ->
                        inTime(request, response, callback, () -> decide(asked, request, response, callback)));
            case GateOutcome.SignIn(GuardedRoute route, GateOutcome.Refused refused) -> {
                Optional<String> impossible = browsers.send(route, request, response, callback);
                if (impossible.isPresent()) {
                    decision.done(impossible.get());
                    refuse(refused, decision, request, response, callback);
                } else {
                    journal.write(
                            decision.done("the browser was sent to sign in").decided(), 303);
                }
            }
            case GateOutcome.Refused refused -> {
                asked.page().ifPresent(page -> refused.route().ifPresent(route -> tellPage(page, route, response)));
                refuse(refused, decision, request, response, callback);
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
                try {
                    asked.page().ifPresent(page -> tellPage(page, admitted.route(), response));
                    admit(admitted, decision, request, response, callback);
                } catch (RuntimeException | Error fault) {
                    admitted.over().run(); // or the room that it took would be gone for good
                    throw fault;
                }
            }
        }
    }

    /** On a thread that may wait: for the records, or for what another person found out meanwhile. */
    private static boolean inTime(Request request, Response response, Callback callback, Runnable work) {
        request.getContext().execute(() -> {
            try {
                work.run();
            } catch (Throwable fault) { // an Error too: or nobody would ever answer this request
                Response.writeError(request, response, callback, fault);
            }
        });
        return true;
    }

    /**
     * What the gateway itself publishes: the keys by which a backend checks gateway proofs (RFC 7517 §5), metadata (RFC
     * 9728 §3). No request of anybody's, so no decision.
     */
    private static boolean publish(
            byte[] document, String type, Request request, Response response, Callback callback) {
        boolean reads = request.getMethod().equals("GET") || request.getMethod().equals("HEAD");
        response.setStatus(reads ? 200 : 405);
        response.getHeaders().put(HttpHeader.CONTENT_TYPE, type);
        response.getHeaders().put(HttpHeader.CACHE_CONTROL, "max-age=300");
        if (!reads) response.getHeaders().put(HttpHeader.ALLOW, "GET, HEAD");
        response.write(true, reads ? ByteBuffer.wrap(document) : null, callback);
        return true;
    }

    /** What a browser says of the page that calls; programs say nothing of the kind. */
    private static Optional<GateRequest.FromPage> page(Request request) {
        String origin = request.getHeaders().get(HttpHeader.ORIGIN);
        if (origin == null) return Optional.empty();
        String asked = request.getMethod().equals("OPTIONS")
                ? request.getHeaders().get("Access-Control-Request-Method")
                : null;
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

    /** By the request line or the Host header; an empty text for none, which no route names. */
    private static String host(Request request) {
        String host = request.getHttpURI().getHost();
        return host == null ? "" : host.toLowerCase(Locale.ROOT);
    }

    /** Host and port, as the client wrote them. */
    private static String authority(Request request) {
        String authority = request.getHttpURI().getAuthority();
        return authority == null ? "" : authority;
    }

    private String caller(Request request) {
        String peer = Request.getRemoteAddr(request);
        if (settings.proxies() == TrustedProxies.NONE) return peer;
        return settings.proxies()
                .caller(peer, String.join(",", request.getHeaders().getValuesList("X-Forwarded-For")));
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

    private static int bytes(HttpFields headers) {
        int bytes = 0;
        for (HttpField field : headers)
            bytes += field.getName().length()
                    + (field.getValue() == null ? 0 : field.getValue().length());
        return bytes;
    }

    /** For conditions: whatever may be a credential stays out. */
    private static Map<String, String> headers(Request request) {
        Map<String, String> headers = new HashMap<>();
        for (HttpField field : request.getHeaders()) {
            String name = field.getLowerCaseName();
            if (!CREDENTIALS.contains(name))
                headers.merge(
                        name, field.getValue() == null ? "" : field.getValue(), (one, other) -> one + ", " + other);
        }
        return headers;
    }

    private void admit(
            GateOutcome.Admitted admitted, Recorder decision, Request request, Response response, Callback callback) {
        Shape.rate(admitted.count(), response.getHeaders());
        admitted.session()
                .ifPresent(it -> browsers.renew(
                        admitted.route(), admitted.token().orElseThrow().clientId(), it, request, response));
        Callback counted =
                admitted.over() == GateOutcome.Admitted.NOTHING ? callback : Callback.from(callback, admitted.over());
        if (admitted.route().route().target() instanceof Route.Target.FixedResponse answer) {
            decision.done("answered by the route itself").decided();
            response.setStatus(answer.status());
            response.getHeaders().put(HttpHeader.CONTENT_TYPE, answer.contentType());
            Shape.answer(admitted, response.getHeaders());
            journal.write(decision, answer.status());
            Content.Sink.write(
                    response,
                    true,
                    admitted.route().prepared().answer().orElseThrow().on(admitted.values()),
                    counted);
            return;
        }
        forward.forward(new Passing(admitted, decision.decided()), request, response, counted);
    }

    /** RFC 9728 §5.1; a request without a token is told as well what to ask for (RFC 6750 §3). */
    private static void pointToMetadata(GateOutcome.Refused refused, Request request, Response response) {
        String challenge = response.getHeaders().get(HttpHeader.WWW_AUTHENTICATE);
        if (challenge == null) return;
        refused.route()
                .flatMap(GuardedRoute::api)
                .flatMap(api -> DescribeResource.metadataOf(
                        api, authority(request), request.getHttpURI().getPath()))
                .ifPresent(at -> response.getHeaders()
                        .put(
                                HttpHeader.WWW_AUTHENTICATE,
                                challenge + scope(refused) + ", resource_metadata=\"" + at + "\""));
    }

    private static String scope(GateOutcome.Refused refused) {
        return refused.refusal().reason() == Reason.NO_TOKEN
                ? refused.route()
                        .flatMap(GuardedRoute::neededOpenly)
                        .map(it -> ", scope=\"" + it + "\"")
                        .orElse("")
                : "";
    }

    private void refuse(
            GateOutcome.Refused refused, Recorder decision, Request request, Response response, Callback callback) {
        int status = refused.refusal().reason().status();
        decision.decided();
        byte[] body = refusals.write(refused, decision.id(), request.getHeaders(), response.getHeaders());
        if (status == 401) pointToMetadata(refused, request, response);
        boolean policed = response.getHeaders().contains("Content-Security-Policy");
        if (!policed && refused.route().filter(it -> it.prepared().sandboxed()).isPresent())
            Shape.sandbox(response.getHeaders()); // a route's own words may be a page
        response.setStatus(status);
        journal.write(decision, status);
        response.write(true, ByteBuffer.wrap(body), callback);
    }
}
