package dev.admit.server.admin;

import dev.admit.contract.CallView;
import dev.admit.contract.CallWanted;
import dev.admit.contract.DecisionView;
import dev.admit.core.access.AdminRole;
import dev.admit.core.change.Actor;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Fields;
import dev.admit.core.decision.BatchedJournal;
import dev.admit.core.decision.Decisions;
import dev.admit.core.grant.GrantOutcome;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Issuer;
import dev.admit.gateway.Gateway;
import dev.admit.server.CallGateway;
import java.io.IOException;
import java.net.URI;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestAttribute;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RestController;

/**
 * Calls a route through the gateway for an operator: as nobody, as a client with a trial token, as a person who signed
 * in for one, or with a token at hand. Request, answer and decision come back together; the trial token stays here.
 */
@RestController
class CallEndpoint {
    private static final int MOST_HEADERS = 30;
    private static final int MOST_BODY = 256 * 1024;

    private final TrialTokens trials;
    private final PersonTrials persons;
    private final CallGateway gateway;
    private final Gateway where;
    private final Decisions decisions;
    private final BatchedJournal journal;
    private final Lookup lookup;
    private final RouteNeeds needs;

    CallEndpoint(
            TrialTokens trials,
            PersonTrials persons,
            CallGateway gateway,
            Gateway where,
            Decisions decisions,
            BatchedJournal journal,
            Lookup lookup,
            RouteNeeds needs) {
        this.needs = needs;
        this.trials = trials;
        this.persons = persons;
        this.gateway = gateway;
        this.where = where;
        this.decisions = decisions;
        this.journal = journal;
        this.lookup = lookup;
    }

    @Permitted(AdminRole.OPERATOR)
    @PostMapping("/admin/issuers/{issuer}/calls")
    CallView call(
            @PathVariable String issuer,
            @RequestBody CallWanted wanted,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        String method =
                wanted.method() == null ? "GET" : wanted.method().strip().toUpperCase(Locale.ROOT);
        URI url = read(wanted, method);
        String curl = curl(wanted, method, url);
        Optional<String> token;
        if (said(wanted.client())) {
            Client client = lookup.client(owner, wanted.client());
            String scope = said(wanted.scope()) || said(wanted.resource())
                    ? wanted.scope()
                    : needs.of(
                                    owner,
                                    client,
                                    method,
                                    wanted.host() == null ? "" : wanted.host().strip(),
                                    url.getRawPath())
                            .orElse(null);
            TrialTokens.Made made = trials.make(owner, client, TrialEndpoint.form(scope, wanted.resource()), actor);
            if (made.outcome() instanceof GrantOutcome.Issued issued) token = Optional.of(issued.accessToken());
            else return new CallView(0, List.of(), "", false, 0, null, curl, Views.decision(made.decision()));
        } else if (wanted.person() != null && !wanted.person().isBlank()) {
            token = persons.open(wanted.person(), actor);
            if (token.isEmpty())
                throw fault(
                        "/person",
                        "what you were handed after a person signed in",
                        "something else",
                        "Have a person sign in again.");
        } else {
            token = Optional.ofNullable(wanted.token()).map(String::strip).filter(it -> !it.isEmpty());
        }
        return send(owner, url, method, wanted, token, curl);
    }

    private CallView send(
            Issuer owner, URI url, String method, CallWanted wanted, Optional<String> token, String curl) {
        List<Map.Entry<String, String>> headers =
                new ArrayList<>(headers(wanted).entrySet());
        token.ifPresent(it -> headers.add(Map.entry("Authorization", "Bearer " + it)));
        try {
            CallGateway.Response received = gateway.call(
                    url, method, wanted.host() == null ? "" : wanted.host().strip(), headers, wanted.body());
            Optional<String> id = received.headers().stream()
                    .filter(it -> it.getKey().equalsIgnoreCase("Admit-Decision"))
                    .map(Map.Entry::getValue)
                    .findFirst();
            return new CallView(
                    received.status(),
                    received.headers().stream()
                            .map(it -> new CallView.Header(it.getKey(), it.getValue()))
                            .toList(),
                    received.body(),
                    received.cut(),
                    received.micros(),
                    id.flatMap(it -> decision(it, owner)).orElse(null),
                    curl,
                    null);
        } catch (IllegalArgumentException notSendable) {
            throw fault(
                    "/headers",
                    "headers and a method that an HTTP client may send",
                    String.valueOf(notSendable.getMessage()),
                    "Remove it; lengths and connections are not for the caller to set.");
        } catch (IOException gone) {
            throw new Answers.Refused(Answers.problem(
                    502,
                    "gateway-silent",
                    "The gateway did not answer",
                    "an answer within 35 s",
                    String.valueOf(gone.getMessage()),
                    "Look whether the service is healthy, and try again.",
                    List.of()));
        }
    }

    /** The gateway keeps its decision when the last byte is out, which may be a moment after it came in here. */
    private Optional<DecisionView> decision(String id, Issuer owner) {
        for (int tries = 0; tries < 20; tries++) {
            journal.flush();
            var found = decisions.find(id);
            if (found.isPresent())
                return found.filter(it -> it.about().issuer().isEmpty()
                                || it.about().issuer().equals(owner.name()))
                        .map(Views::decision);
            try {
                Thread.sleep(15);
            } catch (InterruptedException stopped) {
                Thread.currentThread().interrupt();
                return Optional.empty();
            }
        }
        return Optional.empty();
    }

    private URI read(CallWanted wanted, String method) {
        if (!method.matches("[A-Z]{1,20}") || method.equals("CONNECT") || method.equals("TRACE"))
            throw fault("/method", "an HTTP method such as GET", Fields.quoted(method), "Correct it.");
        String path = wanted.path() == null ? "" : wanted.path().strip();
        if (wanted.body() != null && wanted.body().length() > MOST_BODY)
            throw fault("/body", "at most 256 KiB", "more", "Send large bodies by another client.");
        try {
            if (path.startsWith("/") && !path.startsWith("//") && path.length() < 8_000)
                return URI.create(where.url("127.0.0.1") + path);
        } catch (IllegalArgumentException notAPath) {
            throw fault(
                    "/path",
                    "a path in percent-encoding, such as /tides/north-quay",
                    Fields.quoted(path),
                    "Encode what an address may not hold.");
        }
        throw fault(
                "/path",
                "a path at the gateway, such as /tides/north-quay",
                path.isEmpty() ? "nothing" : Fields.quoted(path),
                "Begin it with one slash.");
    }

    private static Map<String, String> headers(CallWanted wanted) {
        Map<String, String> headers = wanted.headers() == null ? Map.of() : wanted.headers();
        if (headers.size() > MOST_HEADERS)
            throw fault("/headers", "at most " + MOST_HEADERS, headers.size() + " of them", "Take some out.");
        for (String name : headers.keySet()) {
            String lower = name.toLowerCase(Locale.ROOT);
            // The call comes from this machine, whose word on a caller's address may be taken.
            if (lower.equals("forwarded") || lower.startsWith("x-forwarded") || lower.equals("host"))
                throw fault(
                        "/headers",
                        "headers that say nothing of where the call comes from or goes to",
                        Fields.quoted(name),
                        "Remove it.");
        }
        return headers;
    }

    private static boolean said(@Nullable String text) {
        return text != null && !text.isBlank();
    }

    private static Answers.Refused fault(String pointer, String expected, String received, String fix) {
        return new Answers.Refused(Answers.invalid(List.of(new FieldFault(pointer, expected, received, fix))));
    }

    /** One line of plain options, so that other HTTP clients import it. */
    private static String curl(CallWanted wanted, String method, URI url) {
        StringBuilder line = new StringBuilder("curl -s -i -X ").append(method);
        boolean token = said(wanted.client()) || said(wanted.person()) || said(wanted.token());
        if (token) line.append(" -H \"Authorization: Bearer $TOKEN\"");
        if (wanted.host() != null && !wanted.host().isBlank())
            line.append(" -H ").append(quoted("Host: " + wanted.host().strip()));
        if (wanted.headers() != null)
            wanted.headers().forEach((name, value) -> line.append(" -H ").append(quoted(name + ": " + value)));
        if (wanted.body() != null && !wanted.body().isBlank())
            line.append(" --data-raw ").append(quoted(wanted.body()));
        return line.append(' ').append(quoted(url.toString())).toString();
    }

    private static String quoted(String text) {
        return "'" + text.replace("'", "'\\''") + "'";
    }
}
