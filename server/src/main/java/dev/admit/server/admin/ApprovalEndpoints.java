package dev.admit.server.admin;

import dev.admit.contract.Answer;
import dev.admit.contract.ApprovalView;
import dev.admit.contract.AskWanted;
import dev.admit.contract.Changed;
import dev.admit.contract.PageView;
import dev.admit.core.approval.Approval;
import dev.admit.core.approval.Approvals;
import dev.admit.core.approval.Approving;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Fields;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Issuer;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.format.DateTimeParseException;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestAttribute;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** What clients ask for, and the answers. */
@RestController
@RequestMapping("/admin/issuers/{issuer}/approvals")
class ApprovalEndpoints {
    private static final Duration LONGEST = Duration.ofDays(3660);

    private final Approvals approvals;
    private final Approving approving;
    private final Lookup lookup;
    private final Views views;
    private final Clock clock;

    ApprovalEndpoints(Approvals approvals, Approving approving, Lookup lookup, Views views, Clock clock) {
        this.approvals = approvals;
        this.approving = approving;
        this.lookup = lookup;
        this.views = views;
        this.clock = clock;
    }

    @GetMapping PageView<ApprovalView> list(@PathVariable String issuer, @RequestParam(required = false) String status,
            @RequestParam(required = false) Integer limit, @RequestParam(required = false) String after) {
        Issuer owner = lookup.issuer(issuer);
        return Answers.page(approvals.list(owner.id(), readStatus(status), clock.instant(), Answers.ask(limit, after)), it -> views.approval(owner, it));
    }

    private static Optional<Approval.Status> readStatus(String status) {
        if (status == null || status.isBlank()) return Optional.empty();
        return Optional.of(Arrays.stream(Approval.Status.values()).filter(it -> it.toString().equals(status.strip())).findFirst()
                .orElseThrow(() -> new Answers.Refused(Answers.invalid(List.of(new FieldFault("/status", "one of " + Arrays.toString(Approval.Status.values()),
                        Fields.quoted(status), "Choose one of them, or leave it out."))))));
    }

    @GetMapping("/{approval}") ResponseEntity<ApprovalView> show(@PathVariable String issuer, @PathVariable String approval) {
        Issuer owner = lookup.issuer(issuer);
        Approval found = lookup.approval(owner, approval);
        return Answers.found(views.approval(owner, found), found.version());
    }

    @ResponseStatus(HttpStatus.CREATED)
    @PostMapping ResponseEntity<Changed<ApprovalView>> ask(@PathVariable String issuer, @RequestBody AskWanted wanted, @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        return Answers.created(approving.ask(lookup.client(owner, wanted.client()), wanted.scope(), actor), Approval::version,
                it -> "/admin/issuers/%s/approvals/%s".formatted(owner.name(), it.id()), (it, notes) -> new Changed<>(views.approval(owner, it), notes));
    }

    /** Every scope of a role at once. */
    @ResponseStatus(HttpStatus.CREATED)
    @PostMapping("/roles") ResponseEntity<Changed<List<ApprovalView>>> askRole(@PathVariable String issuer, @RequestBody AskWanted wanted, @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        return Answers.created(approving.askRole(lookup.client(owner, wanted.client()), wanted.role(), actor), asked -> 1L, asked -> "/admin/issuers/%s/approvals".formatted(owner.name()),
                (asked, notes) -> new Changed<>(asked.stream().map(it -> views.approval(owner, it)).toList(), notes));
    }

    @PostMapping("/{approval}/give") ResponseEntity<Changed<ApprovalView>> give(@PathVariable String issuer, @PathVariable String approval, @RequestBody Answer answer,
            @RequestHeader(name = "If-Match", required = false) String ifMatch, @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        Approval found = lookup.approval(owner, approval);
        Client client = lookup.client(owner, found.clientId());
        return changed(owner, approving.give(client, found, readUntil(answer.until()), actor, Answers.optional(ifMatch)));
    }

    @PostMapping("/{approval}/decline") ResponseEntity<Changed<ApprovalView>> decline(@PathVariable String issuer, @PathVariable String approval,
            @RequestBody Answer answer, @RequestHeader(name = "If-Match", required = false) String ifMatch, @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        Approval found = lookup.approval(owner, approval);
        return changed(owner, approving.decline(lookup.client(owner, found.clientId()), found, answer.reason(), actor, Answers.optional(ifMatch)));
    }

    @PostMapping("/{approval}/withdraw") ResponseEntity<Changed<ApprovalView>> withdraw(@PathVariable String issuer, @PathVariable String approval,
            @RequestBody Answer answer, @RequestHeader(name = "If-Match", required = false) String ifMatch, @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        Approval found = lookup.approval(owner, approval);
        Lockout.refuseForOneself(found.clientId(), actor);
        return changed(owner, approving.withdraw(lookup.client(owner, found.clientId()), found, answer.reason(), actor, Answers.optional(ifMatch)));
    }

    /** Takes the ask off the client, with its answer. */
    @ResponseStatus(HttpStatus.NO_CONTENT)
    @DeleteMapping("/{approval}") ResponseEntity<Void> drop(@PathVariable String issuer, @PathVariable String approval,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        Approval found = lookup.approval(owner, approval);
        Lockout.refuseForOneself(found.clientId(), actor);
        return Answers.removed(approving.drop(lookup.client(owner, found.clientId()), found, actor));
    }

    private ResponseEntity<Changed<ApprovalView>> changed(Issuer owner, Change<Approval> change) {
        return Answers.changed(change, Approval::version, (it, notes) -> new Changed<>(views.approval(owner, it), notes));
    }

    /** A length of time from now, or a time. */
    private Optional<Instant> readUntil(String text) {
        if (text == null || text.isBlank()) return Optional.empty();
        try {
            return Optional.of(Instant.parse(text.strip()));
        } catch (DateTimeParseException notATime) {
            Fields fields = new Fields();
            Optional<Duration> duration = fields.duration("/until", text, Duration.ZERO, LONGEST);
            return Optional.of(clock.instant().plus(duration.orElseThrow(() -> new Answers.Refused(Answers.invalid(fields.faults())))));
        }
    }
}
