package dev.admit.server.admin;

import dev.admit.contract.CountView;
import dev.admit.contract.DecisionView;
import dev.admit.contract.PageView;
import dev.admit.core.access.AdminRole;
import dev.admit.core.access.Permission;
import dev.admit.core.change.Fields;
import dev.admit.core.decision.BatchedJournal;
import dev.admit.core.decision.Decisions;
import java.time.Duration;
import java.util.Optional;
import org.springdoc.core.annotations.ParameterObject;
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
    private final Times times;

    private final Views views;

    DecisionEndpoints(Decisions decisions, BatchedJournal journal, TheirDecisions theirs, Times times, Views views) {
        this.views = views;
        this.decisions = decisions;
        this.journal = journal;
        this.theirs = theirs;
        this.times = times;
    }

    /**
     * What narrows a list or a count, as the query of an address has it.
     *
     * @param person an address or id
     * @param since a time, or a length of time ago such as 1h
     * @param until as since
     */
    record Asked(
            String issuer,
            String client,
            String person,
            String api,
            String route,
            String verdict,
            String reason,
            String endpoint,
            String since,
            String until) {}

    @Permitted(value = AdminRole.AUDITOR, of = Permission.Of.ANY, owner = Permission.OwnerOf.ANYTHING)
    @GetMapping
    PageView<DecisionView> list(
            @ParameterObject Asked asked,
            @RequestParam(required = false) Integer limit,
            @RequestParam(required = false) String after,
            @RequestAttribute(name = AdminDoor.ONLY, required = false) String only,
            @RequestAttribute(name = AdminDoor.OWNED_BY, required = false) String ownedBy) {
        journal.flush(); // the one who asks has usually just made the request
        return Answers.page(decisions.list(filter(asked, only, ownedBy), Answers.ask(limit, after)), Views::decision);
    }

    /**
     * How many of each there are among those that are kept, over all time or in stretches of it.
     *
     * @param by client, person, api, route, verdict, reason or endpoint
     * @param per such as 5m
     */
    @Permitted(value = AdminRole.AUDITOR, of = Permission.Of.ANY, owner = Permission.OwnerOf.ANYTHING)
    @GetMapping("/counts")
    PageView<CountView> counts(
            @ParameterObject Asked asked,
            @RequestParam(defaultValue = "reason") String by,
            @RequestParam(required = false) String per,
            @RequestAttribute(name = AdminDoor.ONLY, required = false) String only,
            @RequestAttribute(name = AdminDoor.OWNED_BY, required = false) String ownedBy) {
        journal.flush();
        Fields fields = new Fields();
        Optional<Decisions.By> column = fields.word("/by", by, Decisions.By.class, null);
        Optional<Duration> stretch =
                said(per).flatMap(it -> fields.duration("/per", it, Duration.ofSeconds(1), Duration.ofDays(366)));
        if (fields.faulty()) throw new Answers.Refused(Answers.invalid(fields.faults()));
        return new PageView<>(
                decisions.count(filter(asked, only, ownedBy), column.orElseThrow(), stretch).stream()
                        .map(it -> new CountView(it.what(), it.from().orElse(null), it.decisions()))
                        .toList(),
                null);
    }

    private Decisions.Filter filter(Asked it, String only, String ownedBy) {
        return new Decisions.Filter(
                said(only == null ? it.issuer() : only),
                said(it.client()),
                said(it.person()),
                said(it.api()),
                said(it.route()),
                said(it.verdict()),
                said(it.reason()),
                said(it.endpoint()),
                times.ago("/since", it.since()),
                times.ago("/until", it.until()),
                said(ownedBy),
                only == null);
    }

    @Permitted(value = AdminRole.AUDITOR, of = Permission.Of.ANY, owner = Permission.OwnerOf.ANYTHING)
    @GetMapping("/{id}")
    DecisionView show(
            @PathVariable String id,
            @RequestAttribute(name = AdminDoor.ONLY, required = false) String only,
            @RequestAttribute(name = AdminDoor.OWNED_BY, required = false) String ownedBy) {
        journal.flush();
        return decisions
                .find(id)
                .filter(it -> theirs.mayBeSeen(it, only, ownedBy))
                .map(views::forReader)
                .map(Views::decision)
                .orElseThrow(Lookup.absent("decision", id));
    }

    private static Optional<String> said(String value) {
        return Optional.ofNullable(value).map(String::strip).filter(it -> !it.isEmpty());
    }
}
