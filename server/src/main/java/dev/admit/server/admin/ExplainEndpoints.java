package dev.admit.server.admin;

import dev.admit.contract.ExplainWanted;
import dev.admit.contract.Explained;
import dev.admit.contract.TriedView;
import dev.admit.core.access.AdminRole;
import dev.admit.core.access.Permission;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Fields;
import dev.admit.core.decision.BatchedJournal;
import dev.admit.core.decision.Decision;
import dev.admit.core.decision.Decisions;
import dev.admit.core.decision.Explanation;
import dev.admit.core.gate.TryRequest;
import dev.admit.core.registry.Issuer;
import dev.admit.core.route.Precedence;
import dev.admit.core.route.RequestPath;
import dev.admit.core.route.Route;
import dev.admit.core.route.Routes;
import jakarta.servlet.http.HttpServletRequest;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestAttribute;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Why: of a request that was made, of one that was not, and of the table of routes. */
@RestController
@RequestMapping("/admin")
class ExplainEndpoints {
    private final Decisions decisions;
    private final BatchedJournal journal;
    private final TryRequest trying;
    private final Routes routes;
    private final TheirDecisions theirs;
    private final Lookup lookup;
    private final Views views;

    ExplainEndpoints(
            Decisions decisions,
            BatchedJournal journal,
            TryRequest trying,
            Routes routes,
            TheirDecisions theirs,
            Lookup lookup,
            Views views) {
        this.decisions = decisions;
        this.journal = journal;
        this.trying = trying;
        this.routes = routes;
        this.theirs = theirs;
        this.lookup = lookup;
        this.views = views;
    }

    @Permitted(value = AdminRole.AUDITOR, of = Permission.Of.ANY, owner = Permission.OwnerOf.ANYTHING)
    @GetMapping("/decisions/{id}/explained")
    Explained decision(
            @PathVariable String id,
            @RequestAttribute(name = AdminDoor.ONLY, required = false) String only,
            @RequestAttribute(name = AdminDoor.OWNED_BY, required = false) String ownedBy) {
        journal.flush();
        Decision found = views.forReader(decisions
                .find(id)
                .filter(it -> theirs.mayBeSeen(it, only, ownedBy))
                .orElseThrow(Lookup.absent("decision", id)));
        return new Explained(Explanation.of(found, true), Views.decision(found));
    }

    /** What would come of a request, were it sent now. Nothing is kept of it, and no rate is counted. */
    @Permitted(AdminRole.AUDITOR)
    @PostMapping("/issuers/{issuer}/explain")
    Explained request(@PathVariable String issuer, @RequestBody ExplainWanted wanted, HttpServletRequest request) {
        Issuer its = lookup.issuer(issuer);
        if (wanted.path() == null || !wanted.path().startsWith("/"))
            throw new Answers.Refused(Answers.invalid(List.of(new FieldFault(
                    "/path",
                    "a path at the gateway, such as /tides/north-quay",
                    wanted.path() == null ? "nothing" : Fields.quoted(wanted.path()),
                    "Begin it with a slash."))));
        String method = wanted.method() == null || wanted.method().isBlank()
                ? "GET"
                : wanted.method().strip().toUpperCase(Locale.ROOT);
        if (!method.matches("[A-Z]{1,20}"))
            throw new Answers.Refused(Answers.invalid(List.of(
                    new FieldFault("/method", "an HTTP method such as GET", Fields.quoted(method), "Correct it."))));
        Decision decision =
                trying.without(method, host(wanted.host()), wanted.path(), wanted.token(), request.getRemoteAddr());
        if (!decision.about().issuer().isEmpty() && !decision.about().issuer().equals(its.name())) {
            throw new Answers.Refused(Answers.problem(
                    404,
                    "absent",
                    "No route of this issuer",
                    "a path that a route of %s matches".formatted(its.name()),
                    "one of another issuer",
                    "Ask there.",
                    List.of()));
        }
        return new Explained(Explanation.of(decision, false), Views.decision(decision));
    }

    /** Which route answers, which would come after it, and why. */
    @Permitted(AdminRole.AUDITOR)
    @GetMapping("/issuers/{issuer}/table")
    TriedView table(
            @PathVariable String issuer,
            @RequestParam(defaultValue = "GET") String method,
            @RequestParam String path,
            @RequestParam(required = false) String host) {
        Issuer its = lookup.issuer(issuer);
        String asked = method.strip().toUpperCase(Locale.ROOT);
        RequestPath read =
                switch (RequestPath.read(path)) {
                    case RequestPath.Reading.Good(RequestPath good) -> good;
                    case RequestPath.Reading.Unsafe(String received) ->
                        throw new Answers.Refused(Answers.invalid(List.of(new FieldFault(
                                "/path",
                                "a path that can be read in one way only",
                                received,
                                "The gateway refuses it as well."))));
                };
        Precedence.Tried tried = Precedence.trying(routes.of(its.id()), asked, host(host), read.segments());
        return new TriedView(
                tried.answers().map(route -> views.route(its, route)).orElse(null),
                tried.behind().stream()
                        .map(it -> new TriedView.Behind(it.route().label(), it.why()))
                        .toList(),
                tried.methods().stream().map(Route::label).toList(),
                said(asked + " " + path, tried));
    }

    private static String host(@Nullable String said) {
        return said == null ? "" : said.strip().toLowerCase(Locale.ROOT);
    }

    private static List<String> said(String request, Precedence.Tried tried) {
        List<String> said = new ArrayList<>();
        if (tried.answers().isPresent())
            said.add("%s is answered by the route %s."
                    .formatted(request, tried.answers().get().label()));
        else
            said.add(
                    tried.methods().isEmpty()
                            ? "No route of this issuer answers %s.".formatted(request)
                            : "No route answers %s; the path is there with other methods: %s."
                                    .formatted(
                                            request,
                                            String.join(
                                                    ", ",
                                                    tried.methods().stream()
                                                            .map(Route::label)
                                                            .toList())));
        String before = tried.answers().map(Route::label).orElse("");
        for (Precedence.Behind it : tried.behind()) {
            said.add("%s fits as well, and comes after %s: %s."
                    .formatted(it.route().label(), before, it.why()));
            before = it.route().label();
        }
        return said;
    }
}
