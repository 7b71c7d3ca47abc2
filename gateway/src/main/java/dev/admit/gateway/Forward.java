package dev.admit.gateway;

import dev.admit.core.browser.ReservedCookies;
import dev.admit.core.configuration.GuardedRoute;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Journal;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Recorder;
import dev.admit.core.gate.GateOutcome;
import dev.admit.core.gate.GatewayProofs;
import dev.admit.core.route.HeaderName;
import dev.admit.core.route.Timeouts;
import dev.admit.core.upstream.Presenting;
import java.io.IOException;
import java.net.URI;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.CompletionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import org.eclipse.jetty.client.HttpClient;
import org.eclipse.jetty.client.Result;
import org.eclipse.jetty.client.transport.HttpClientTransportOverHTTP;
import org.eclipse.jetty.http.HttpField;
import org.eclipse.jetty.http.HttpFields;
import org.eclipse.jetty.http.HttpHeader;
import org.eclipse.jetty.http.HttpURI;
import org.eclipse.jetty.proxy.ProxyHandler;
import org.eclipse.jetty.server.Request;
import org.eclipse.jetty.server.Response;
import org.eclipse.jetty.util.Callback;
import org.eclipse.jetty.util.thread.Scheduler;
import org.jspecify.annotations.Nullable;

/** Sends an admitted request to its upstream on Jetty's proxy, and says in the answer when that does not work. */
final class Forward extends ProxyHandler {
    private static final int MOST_CONNECTIONS = 256;

    private final GatewaySettings settings;
    private final Journal journal;
    private final RefusalAnswer refusals;
    private final GatewayProofs proofs;

    Forward(GatewaySettings settings, Journal journal, RefusalAnswer refusals, GatewayProofs proofs) {
        this.settings = settings;
        this.journal = journal;
        this.refusals = refusals;
        this.proofs = proofs;
        setUseServerThreadPool(true);
    }

    @Override
    protected HttpClient newHttpClient() {
        HttpClientTransportOverHTTP transport = new HttpClientTransportOverHTTP();
        transport.setHeaderCacheCaseSensitive(true); // as towards callers: an ETag that differs in case is another one
        return new HttpClient(transport);
    }

    @Override
    protected void configureHttpClient(HttpClient client) {
        super.configureHttpClient(client);
        client.setUserAgentField(null);
        client.setConnectTimeout(settings.upstreamConnect().toMillis());
        client.setIdleTimeout(settings.upstreamIdle().toMillis());
        client.setMaxConnectionsPerDestination(MOST_CONNECTIONS);
        client.setMaxRequestsQueuedPerDestination(4 * MOST_CONNECTIONS);
    }

    void forward(Passing passing, Request request, Response response, Callback callback) {
        GuardedRoute route = passing.admitted().route();
        if (route.upstream().isEmpty() || !route.mayPresent()) {
            fault(
                    passing.decision(),
                    502,
                    route.upstream().isEmpty()
                            ? "The route has no upstream any more."
                            : "What the gateway presents is not for this upstream.",
                    response,
                    callback);
            return;
        }
        if (request.getLength() < 0 && request.getHeaders().contains(HttpHeader.TRANSFER_ENCODING)) {
            FirstOfBody.readThen(request, new FirstOfBody.Ready() {
                @Override
                public void goOn(Request begun) {
                    shaped(passing, begun, response, callback);
                }

                @Override
                public void broken(Throwable why) {
                    refuseMalformed(passing, response, callback);
                }
            });
            return;
        }
        shaped(passing, request, response, callback);
    }

    private void shaped(Passing passing, Request request, Response response, Callback callback) {
        GuardedRoute route = passing.admitted().route();
        Request counted =
                request.getLength() >= 0 ? request : new BoundedBody(request, settings.mostBody(route.route()));
        Response shaped = Shape.answered(passing.admitted(), counted, response);
        if (route.credential().isPresent()) present(passing, route.credential().get(), counted, shaped, callback);
        else send(passing, counted, shaped, callback);
    }

    private void present(
            Passing passing, Presenting.Ready credential, Request request, Response response, Callback callback) {
        credential.present().whenComplete((presented, broken) -> {
            if (broken == null) {
                send(passing.presenting(presented), request, response, callback);
                return;
            }
            Throwable why = broken instanceof CompletionException wrapped ? wrapped.getCause() : broken;
            passing.decision()
                    .done("%s could not be had: %s"
                            .formatted(credential.credential().name(), why == null ? "no reason" : why.getMessage()));
            fault(
                    passing.decision(),
                    502,
                    "The gateway could not get what it presents to the upstream.",
                    response,
                    callback);
        });
    }

    private void send(Passing passing, Request request, Response response, Callback callback) {
        passing.attachTo(request);
        try {
            handle(request, response, callback);
        } catch (RuntimeException notForwardable) {
            fault(passing.decision(), 502, "The request could not be put to the upstream.", response, callback);
        }
    }

    @Override
    protected org.eclipse.jetty.client.Response.CompleteListener newServerToProxyResponseListener(
            Request request, org.eclipse.jetty.client.Request toUpstream, Response response, Callback callback) {
        boolean presents = Passing.of(request).presented().isPresent();
        return presents
                ? new Presented(request, toUpstream, response, callback)
                : super.newServerToProxyResponseListener(request, toUpstream, response, callback);
    }

    /**
     * Listens to an upstream to which the gateway presented something. A 401 is then no word to the caller, whose token
     * was good: it is the gateway that was refused. It presents another token once, where there may be another and the
     * request can be sent again.
     */
    private final class Presented extends ProxyResponseListener {
        private final Request request;
        private final Response response;
        private final Callback callback;
        private boolean refused;

        Presented(Request request, org.eclipse.jetty.client.Request toUpstream, Response response, Callback callback) {
            super(request, toUpstream, response, callback);
            this.request = request;
            this.response = response;
            this.callback = callback;
        }

        @Override
        @SuppressWarnings("FutureReturnValueIgnored") // the exchange tells of it itself
        public void onBegin(org.eclipse.jetty.client.Response answer) {
            refused = answer.getStatus() == 401;
            if (refused) answer.abort(new IOException("the upstream refused what the gateway presents"));
            else super.onBegin(answer);
        }

        @Override
        public void onHeaders(org.eclipse.jetty.client.Response answer) {
            if (!refused) super.onHeaders(answer);
        }

        @Override
        public void onComplete(Result result) {
            if (!refused) {
                super.onComplete(result);
                return;
            }
            Passing passing = Passing.of(request);
            Presenting.Ready credential =
                    passing.admitted().route().credential().orElseThrow();
            boolean another = credential.refused(passing.presented().orElseThrow());
            if (another && !passing.again() && hasNoBody(request)) {
                passing.decision().done("the upstream refused the gateway's token, so another was fetched");
                present(passing, credential, request, response, callback);
            } else {
                fault(
                        passing.decision(),
                        502,
                        "The upstream refused what the gateway presents to it.",
                        response,
                        callback);
            }
        }
    }

    private static boolean hasNoBody(Request request) {
        return request.getHeaders().getLongField(HttpHeader.CONTENT_LENGTH) <= 0
                && !request.getHeaders().contains(HttpHeader.TRANSFER_ENCODING);
    }

    /** Gives up when no connection stands in time, which includes waiting for one of those that are busy. */
    @SuppressWarnings("FutureReturnValueIgnored") // the exchange tells of its failure itself
    private void boundConnect(org.eclipse.jetty.client.Request toUpstream, Duration most) {
        Scheduler.Task waiting = getHttpClient()
                .getScheduler()
                .schedule(
                        () -> toUpstream.abort(new TimeoutException("no connection in time")),
                        most.toMillis(),
                        TimeUnit.MILLISECONDS);
        toUpstream.onRequestBegin(begun -> waiting.cancel());
        toUpstream.onRequestFailure((failed, why) -> waiting.cancel());
    }

    @Override
    protected HttpURI rewriteHttpURI(Request request) {
        Passing passing = Passing.of(request);
        URI base = passing.admitted().route().upstream().orElseThrow();
        String query = request.getHttpURI().getQuery();
        String basePath = base.getRawPath() == null ? "" : base.getRawPath();
        return HttpURI.build()
                .scheme(base.getScheme())
                .host(base.getHost())
                .port(base.getPort())
                .path(basePath + passing.admitted().path())
                .query(query == null ? null : UpstreamQuery.spell(query))
                .asImmutable();
    }

    @Override
    protected void copyRequestHeaders(Request request, org.eclipse.jetty.client.Request toUpstream) {
        super.copyRequestHeaders(request, toUpstream);
        Passing passing = Passing.of(request);
        Timeouts timeouts = passing.admitted().route().route().timeouts();
        timeouts.connect().ifPresent(it -> boundConnect(toUpstream, it));
        timeouts.idle().ifPresent(it -> toUpstream.idleTimeout(it.toMillis(), TimeUnit.MILLISECONDS));
        timeouts.total().ifPresent(it -> toUpstream.timeout(it.toMillis(), TimeUnit.MILLISECONDS));
        Optional<String> proof = proofs.of(
                passing.admitted(),
                request.getMethod(),
                passing.decision().id(),
                passing.decision().at());
        toUpstream.headers(headers -> {
            headers.remove(HttpHeader.HOST); // the upstream's own name takes its place
            Map<String, String> toRename = Shape.toRename(passing.admitted(), headers);
            Set<String> ofRoute = passing.admitted().route().prepared().ownHeaders();
            Optional<String> presented = passing.presented().map(Presenting.Presented::header);
            for (var each = headers.listIterator(); each.hasNext(); ) {
                if (PassedHeaders.isOurs(each.next(), ofRoute, presented)) each.remove();
            }
            PassedHeaders.withoutOurCookies(headers);
            Shape.request(passing.admitted(), toRename, headers);
            PassedHeaders.add(passing, proof, headers);
            passing.presented().ifPresent(it -> headers.put(it.header(), it.value()));
        });
    }

    @Override
    protected @Nullable HttpField filterServerToProxyResponseField(HttpField field) {
        if (PassedHeaders.isNamedAdmit(
                HeaderName.isOdd(field.getLowerCaseName())
                        ? HeaderName.asBackendsRead(field.getLowerCaseName())
                        : field.getLowerCaseName())) return null;
        boolean plants = field.getHeader() == HttpHeader.SET_COOKIE
                && field.getValue() != null
                && ReservedCookies.sets(field.getValue());
        return plants ? null : field;
    }

    @Override
    protected void onProxyToClientResponseComplete(
            Request request,
            org.eclipse.jetty.client.Request toUpstream,
            org.eclipse.jetty.client.Response fromUpstream,
            Response response,
            Callback callback) {
        journal.write(Passing.of(request).decision(), response.getStatus());
        super.onProxyToClientResponseComplete(request, toUpstream, fromUpstream, response, callback);
    }

    @Override
    protected void onProxyToClientResponseFailure(
            Request request,
            org.eclipse.jetty.client.Request toUpstream,
            org.eclipse.jetty.client.Response fromUpstream,
            Response response,
            Callback callback,
            Throwable failure) {
        journal.write(Passing.of(request).decision().done("the answer could not be sent whole"), response.getStatus());
        super.onProxyToClientResponseFailure(request, toUpstream, fromUpstream, response, callback, failure);
    }

    @Override
    protected void onServerToProxyResponseFailure(
            Request request,
            org.eclipse.jetty.client.Request toUpstream,
            org.eclipse.jetty.client.Response fromUpstream,
            Response response,
            Callback callback,
            Throwable failure) {
        Passing passing = Passing.of(request);
        if (response
                .isCommitted()) { // part of the upstream's answer is out: only breaking off tells that it is not whole
            journal.write(passing.decision().done("the upstream broke off in its answer"), response.getStatus());
            callback.failed(failure);
        } else if (hasCause(failure, BoundedBody.TooLarge.class)) {
            refuseBody(passing, response, callback);
        } else if (hasCause(failure, BoundedBody.Broken.class)) {
            refuseMalformed(passing, response, callback);
        } else if (hasCause(failure, TimeoutException.class)) {
            fault(passing.decision(), 504, "The upstream did not answer in time.", response, callback);
        } else {
            fault(passing.decision(), 502, "The upstream could not be reached, or broke off.", response, callback);
        }
    }

    /**
     * What came broke the letter of HTTP after its headers. The caller's fault, so a refusal and no fault of what lies
     * behind.
     */
    private void refuseMalformed(Passing passing, Response response, Callback callback) {
        Recorder decision = passing.decision();
        decision.add(CheckResult.refused(
                "http",
                Reason.MALFORMED_HTTP,
                "a body to the letter of RFC 9112",
                "one that breaks it",
                Fix.of("Look at the chunks that the client sends.")));
        GateOutcome.Refused refused = new GateOutcome.Refused(
                decision.refusal().orElseThrow(), Optional.of(passing.admitted().route()), Set.of());
        response.getHeaders()
                .put(HttpHeader.CONNECTION, "close"); // where the next request begins is not known any more
        answer(
                decision,
                refused.refusal().reason().status(),
                refusals.write(refused, decision.id(), HttpFields.EMPTY, response.getHeaders()),
                response,
                callback);
    }

    private void refuseBody(Passing passing, Response response, Callback callback) {
        Recorder decision = passing.decision();
        decision.add(CheckResult.refused(
                "body",
                Reason.BODY_TOO_LARGE,
                "at most " + settings.mostBody(passing.admitted().route().route()) + " bytes",
                "more",
                Fix.of("Send less, or in parts.")));
        GateOutcome.Refused refused = new GateOutcome.Refused(
                decision.refusal().orElseThrow(), Optional.of(passing.admitted().route()), Set.of());
        answer(
                decision,
                refused.refusal().reason().status(),
                refusals.write(refused, decision.id(), HttpFields.EMPTY, response.getHeaders()),
                response,
                callback);
    }

    /** The request was good; what lies behind the gateway is not. */
    private void fault(Recorder decision, int status, String sentence, Response response, Callback callback) {
        response.getHeaders().put(HttpHeader.CONTENT_TYPE, "application/problem+json");
        response.getHeaders().put(HttpHeader.CACHE_CONTROL, "no-store");
        answer(
                decision.done(sentence),
                status,
                """
                {"type":"urn:admit:fault:upstream","title":"Upstream failed","status":%d,"detail":"%s The request \
                itself was admitted.",\
                "decision":"%s"}""".formatted(status, sentence, decision.id()).getBytes(StandardCharsets.UTF_8),
                response,
                callback);
    }

    private void answer(Recorder decision, int status, byte[] body, Response response, Callback callback) {
        response.setStatus(status);
        journal.write(decision, status);
        response.write(true, ByteBuffer.wrap(body), callback);
    }

    private static boolean hasCause(Throwable failure, Class<? extends Throwable> type) {
        for (Throwable at = failure; at != null; at = at.getCause()) {
            if (type.isInstance(at)) return true;
        }
        return false;
    }
}
