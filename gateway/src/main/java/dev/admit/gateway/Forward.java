package dev.admit.gateway;

import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Decision;
import dev.admit.core.decision.Journal;
import dev.admit.core.decision.Mend;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Refusal;
import dev.admit.core.gate.GateOutcome;
import dev.admit.core.gate.Passages;
import dev.admit.core.route.Shaping;
import java.net.URI;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import org.eclipse.jetty.client.HttpClient;
import org.eclipse.jetty.http.HttpField;
import org.eclipse.jetty.http.HttpHeader;
import org.eclipse.jetty.http.HttpURI;
import org.eclipse.jetty.proxy.ProxyHandler;
import org.eclipse.jetty.server.Request;
import org.eclipse.jetty.server.Response;
import org.eclipse.jetty.util.Callback;

/** Sends an admitted request to its upstream on Jetty's proxy, and says in the answer when that does not work. */
final class Forward extends ProxyHandler {
    private static final int MOST_CONNECTIONS = 256;

    private final GatewaySettings settings;
    private final Journal journal;
    private final RefusalAnswer refusals;
    private final Passages passages;

    Forward(GatewaySettings settings, Journal journal, RefusalAnswer refusals, Passages passages) {
        this.settings = settings;
        this.journal = journal;
        this.refusals = refusals;
        this.passages = passages;
        setUseServerThreadPool(true);
    }

    @Override protected void configureHttpClient(HttpClient client) {
        super.configureHttpClient(client);
        client.setUserAgentField(null);
        client.setConnectTimeout(settings.upstreamConnect().toMillis());
        client.setIdleTimeout(settings.upstreamSilence().toMillis());
        client.setMaxConnectionsPerDestination(MOST_CONNECTIONS);
        client.setMaxRequestsQueuedPerDestination(4 * MOST_CONNECTIONS);
    }

    void forward(Passing passing, Request request, Response response, Callback callback) {
        if (passing.admitted().route().upstream().isEmpty()) {
            fault(passing.decision(), 502, "The route has no upstream any more.", response, callback);
            return;
        }
        Request counted = request.getLength() >= 0 ? request : new BoundedBody(request, settings.mostBody(passing.admitted().route().route()));
        passing.attachTo(counted);
        try {
            handle(counted, Shape.answered(passing.admitted(), counted, response), callback);
        } catch (RuntimeException notForwardable) {
            fault(passing.decision(), 502, "The request could not be put to the upstream.", response, callback);
        }
    }

    @Override protected HttpURI rewriteHttpURI(Request request) {
        Passing passing = Passing.of(request);
        URI base = passing.admitted().route().upstream().orElseThrow();
        String query = request.getHttpURI().getQuery();
        String basePath = base.getRawPath() == null ? "" : base.getRawPath();
        return HttpURI.build().scheme(base.getScheme()).host(base.getHost()).port(base.getPort())
                .path(basePath + passing.admitted().path()).query(query == null ? null : UpstreamQuery.spell(query)).asImmutable();
    }

    @Override protected void copyRequestHeaders(Request request, org.eclipse.jetty.client.Request toUpstream) {
        super.copyRequestHeaders(request, toUpstream);
        Passing passing = Passing.of(request);
        Shaping shaping = passing.admitted().route().route().shaping();
        shaping.silence().ifPresent(it -> toUpstream.idleTimeout(it.toMillis(), TimeUnit.MILLISECONDS));
        shaping.whole().ifPresent(it -> toUpstream.timeout(it.toMillis(), TimeUnit.MILLISECONDS));
        Optional<String> passage = passages.of(passing.admitted(), request.getMethod(), passing.decision().id(), passing.decision().at());
        toUpstream.headers(headers -> {
            headers.remove(HttpHeader.HOST); // the upstream's own name takes its place
            for (var each = headers.listIterator(); each.hasNext();) {
                if (PassedHeaders.isOurs(each.next())) each.remove();
            }
            Shape.request(passing.admitted(), headers);
            PassedHeaders.add(passing, passage, headers);
        });
    }

    @Override protected HttpField filterServerToProxyResponseField(HttpField field) {
        return PassedHeaders.isNamedAdmit(field.getLowerCaseName()) ? null : field;
    }

    @Override protected void onProxyToClientResponseComplete(Request request, org.eclipse.jetty.client.Request toUpstream,
            org.eclipse.jetty.client.Response fromUpstream, Response response, Callback callback) {
        journal.write(Passing.of(request).decision(), response.getStatus());
        super.onProxyToClientResponseComplete(request, toUpstream, fromUpstream, response, callback);
    }

    @Override protected void onProxyToClientResponseFailure(Request request, org.eclipse.jetty.client.Request toUpstream,
            org.eclipse.jetty.client.Response fromUpstream, Response response, Callback callback, Throwable failure) {
        journal.write(Passing.of(request).decision().done("the answer could not be sent whole"), response.getStatus());
        super.onProxyToClientResponseFailure(request, toUpstream, fromUpstream, response, callback, failure);
    }

    @Override protected void onServerToProxyResponseFailure(Request request, org.eclipse.jetty.client.Request toUpstream,
            org.eclipse.jetty.client.Response fromUpstream, Response response, Callback callback, Throwable failure) {
        Passing passing = Passing.of(request);
        if (response.isCommitted()) { // part of the upstream's answer is out: only breaking off tells that it is not whole
            journal.write(passing.decision().done("the upstream broke off in its answer"), response.getStatus());
            callback.failed(failure);
        } else if (hasCause(failure, BoundedBody.TooLarge.class)) {
            refuseBody(passing, response, callback);
        } else if (hasCause(failure, TimeoutException.class)) {
            fault(passing.decision(), 504, "The upstream did not answer in time.", response, callback);
        } else {
            fault(passing.decision(), 502, "The upstream could not be reached, or broke off.", response, callback);
        }
    }

    private void refuseBody(Passing passing, Response response, Callback callback) {
        Decision.Builder decision = passing.decision();
        decision.add(CheckResult.refused("body", Reason.BODY_TOO_LARGE, "at most " + settings.mostBody(passing.admitted().route().route()) + " bytes", "more",
                Mend.of("Send less, or in parts.")));
        Refusal refusal = decision.refusal().orElseThrow();
        refusals.headers(new GateOutcome.Refused(refusal, Optional.of(passing.admitted().route()), Set.of()), response.getHeaders());
        answer(decision, refusal.reason().status(), refusals.body(refusal, decision.id()), response, callback);
    }

    /** The request was good; what lies behind the gateway is not. */
    private void fault(Decision.Builder decision, int status, String sentence, Response response, Callback callback) {
        response.getHeaders().put(HttpHeader.CONTENT_TYPE, "application/problem+json");
        response.getHeaders().put(HttpHeader.CACHE_CONTROL, "no-store");
        answer(decision.done(sentence), status, """
                {"type":"urn:admit:fault:upstream","title":"Upstream failed","status":%d,"detail":"%s The request itself was admitted.","decision":"%s"}"""
                .formatted(status, sentence, decision.id()).getBytes(StandardCharsets.UTF_8), response, callback);
    }

    private void answer(Decision.Builder decision, int status, byte[] body, Response response, Callback callback) {
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
