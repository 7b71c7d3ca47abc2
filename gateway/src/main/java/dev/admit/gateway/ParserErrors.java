package dev.admit.gateway;

import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Endpoint;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Journal;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Recorder;
import java.nio.ByteBuffer;
import java.time.Clock;
import org.eclipse.jetty.http.HttpHeader;
import org.eclipse.jetty.http.HttpStatus;
import org.eclipse.jetty.io.Content;
import org.eclipse.jetty.server.Request;
import org.eclipse.jetty.server.Response;
import org.eclipse.jetty.util.Callback;

/** Answers what never became a request: a malformed request line, headers that are too large, ambiguous lengths. */
final class ParserErrors implements Request.Handler {
    private final RefusalAnswer refusals;
    private final Journal journal;
    private final Clock clock;

    ParserErrors(RefusalAnswer refusals, Journal journal, Clock clock) {
        this.refusals = refusals;
        this.journal = journal;
        this.clock = clock;
    }

    @Override
    public boolean handle(Request request, Response response, Callback callback) {
        int status = response.getStatus();
        Recorder decision = new Recorder(Endpoint.GATEWAY, clock.instant())
                .request(request.getMethod() == null ? "" : request.getMethod(), "", Request.getRemoteAddr(request));
        response.getHeaders().put(GateHandler.DECISION_HEADER, decision.id());
        response.getHeaders().put(HttpHeader.CONTENT_TYPE, "application/problem+json");
        response.getHeaders().put(HttpHeader.CACHE_CONTROL, "no-store");
        boolean notSpoken = status == HttpStatus.NOT_IMPLEMENTED_501
                || status == HttpStatus.HTTP_VERSION_NOT_SUPPORTED_505; // by the parser, of what came
        if (status >= 500 && !notSpoken) { // a fault of ours, not a rule that said no
            decision.done("a fault in the gateway");
            journal.write(decision, status);
            Content.Sink.write(
                    response,
                    true,
                    "{\"title\":\"Fault in the gateway\",\"status\":%d,\"decision\":\"%s\"}"
                            .formatted(status, decision.id()),
                    callback);
            return true;
        }
        Reason reason = status == Reason.HEADERS_TOO_LARGE.status()
                ? Reason.HEADERS_TOO_LARGE
                : status == Reason.BODY_TOO_LARGE.status() ? Reason.BODY_TOO_LARGE : Reason.MALFORMED_HTTP;
        decision.add(CheckResult.refused(
                "http",
                reason,
                "a request to the letter of RFC 9112",
                reason == Reason.HEADERS_TOO_LARGE ? "more header bytes than the gateway takes" : "one that breaks it",
                Fix.of("Look at the request line, the header sizes and the lengths that the client sends.")));
        response.setStatus(reason.status());
        journal.write(decision, reason.status());
        response.write(true, ByteBuffer.wrap(refusals.body(decision.refusal().orElseThrow(), decision.id())), callback);
        return true;
    }
}
