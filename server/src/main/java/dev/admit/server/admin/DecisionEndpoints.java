package dev.admit.server.admin;

import dev.admit.contract.DecisionView;
import dev.admit.contract.PageView;
import dev.admit.core.decision.BatchedJournal;
import dev.admit.core.decision.Decisions;
import java.util.Optional;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestAttribute;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** The decisions that were made, newest first. */
@RestController
@RequestMapping("/admin/decisions")
class DecisionEndpoints {
    private final Decisions decisions;
    private final BatchedJournal journal;
    private final TheirDecisions theirs;

    DecisionEndpoints(Decisions decisions, BatchedJournal journal, TheirDecisions theirs) {
        this.decisions = decisions;
        this.journal = journal;
        this.theirs = theirs;
    }

    @GetMapping PageView<DecisionView> list(@RequestParam(required = false) String issuer, @RequestParam(required = false) String client,
            @RequestParam(required = false) String route, @RequestParam(required = false) String verdict,
            @RequestParam(required = false) String reason, @RequestParam(required = false) String plane,
            @RequestParam(required = false) Integer limit, @RequestParam(required = false) String after,
            @RequestAttribute(name = AdminDoor.ONLY, required = false) String only, @RequestAttribute(name = AdminDoor.OWNED_BY, required = false) String ownedBy) {
        journal.flush(); // whoever asks has usually just made the request
        Decisions.Filter filter = new Decisions.Filter(said(only == null ? issuer : only), said(client), said(route), said(verdict), said(reason), said(plane), said(ownedBy));
        return Answers.page(decisions.list(filter, Answers.ask(limit, after)), Views::decision);
    }

    @GetMapping("/{id}") DecisionView show(@PathVariable String id, @RequestAttribute(name = AdminDoor.ONLY, required = false) String only,
            @RequestAttribute(name = AdminDoor.OWNED_BY, required = false) String ownedBy) {
        journal.flush();
        return decisions.find(id).filter(it -> theirs.mayBeSeen(it, only, ownedBy)).map(Views::decision).orElseThrow(Lookup.absent("decision", id));
    }

    private static Optional<String> said(String value) {
        return Optional.ofNullable(value).map(String::strip).filter(it -> !it.isEmpty());
    }
}
