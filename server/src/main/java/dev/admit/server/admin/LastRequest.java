package dev.admit.server.admin;

import dev.admit.core.change.Page;
import dev.admit.core.decision.BatchedJournal;
import dev.admit.core.decision.Decision;
import dev.admit.core.decision.Decisions;
import dev.admit.core.registry.Issuer;
import dev.admit.core.route.RequestPath;
import dev.admit.core.route.Route;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import org.springframework.stereotype.Component;

/** What the last request that a route answered held, as an example of what its texts are filled in with. */
@Component
class LastRequest {
    private final Decisions decisions;
    private final BatchedJournal journal;

    LastRequest(Decisions decisions, BatchedJournal journal) {
        this.decisions = decisions;
        this.journal = journal;
    }

    /** @return name → value; empty where no request is kept */
    Map<String, String> of(Issuer issuer, Route route) {
        journal.flush();
        Optional<String> any = Optional.empty();
        Decisions.Filter filter = new Decisions.Filter(
                Optional.of(issuer.name()),
                any,
                any,
                any,
                Optional.of(route.label()),
                any,
                any,
                Optional.of("gateway"),
                Optional.empty(),
                Optional.empty(),
                any,
                false);
        Optional<Decision> last = decisions.list(filter, new Page.Ask(Optional.empty(), 1)).items().stream()
                .findFirst();
        Map<String, String> examples = new LinkedHashMap<>();
        if (last.isEmpty()) return examples;
        Decision.About about = last.get().about();
        examples.put("decision", last.get().id());
        examples.put("route", route.label());
        examples.put("method", about.method());
        if (!about.clientId().isEmpty()) examples.put("claims.NAME", "claims.client_id = " + about.clientId());
        if (RequestPath.read(about.path()) instanceof RequestPath.Reading.Good(RequestPath path))
            route.pattern().namesIn(path.segments()).forEach((name, value) -> examples.put("path." + name, value));
        return examples;
    }
}
