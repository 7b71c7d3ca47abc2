package dev.admit.server.admin;

import dev.admit.contract.Answer;
import dev.admit.contract.ApprovalView;
import dev.admit.contract.Changed;
import dev.admit.contract.GrantWanted;
import dev.admit.contract.PageView;
import dev.admit.contract.ScopeRequestWanted;
import dev.admit.contract.StandingApprovalView;
import dev.admit.core.access.AdminRole;
import dev.admit.core.access.Permission;
import dev.admit.core.approval.Approval;
import dev.admit.core.approval.Approvals;
import dev.admit.core.approval.Approving;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Fields;
import dev.admit.core.owner.Owned;
import dev.admit.core.owner.OwnerRights;
import dev.admit.core.owner.TellOwners;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Scopes;
import java.time.Clock;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
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

/** What clients request, and the answers. */
@RestController
@RequestMapping("/admin/issuers/{issuer}/approvals")
class ApprovalEndpoints {
    private final Approvals approvals;
    private final Clients clients;
    private final Scopes scopes;
    private final Approving approving;
    private final OwnerRights rights;
    private final TellOwners tell;
    private final Lookup lookup;
    private final Views views;
    private final Times times;
    private final Clock clock;

    ApprovalEndpoints(
            Approvals approvals,
            Clients clients,
            Scopes scopes,
            Approving approving,
            OwnerRights rights,
            TellOwners tell,
            Lookup lookup,
            Views views,
            Times times,
            Clock clock) {
        this.approvals = approvals;
        this.clients = clients;
        this.scopes = scopes;
        this.approving = approving;
        this.rights = rights;
        this.tell = tell;
        this.lookup = lookup;
        this.views = views;
        this.times = times;
        this.clock = clock;
    }

    @Permitted(value = AdminRole.AUDITOR, owner = Permission.OwnerOf.ANYTHING)
    @GetMapping
    PageView<ApprovalView> list(
            @PathVariable String issuer,
            @RequestParam(required = false) String status,
            @RequestParam(required = false) String client,
            @RequestParam(required = false) String scope,
            @RequestParam(required = false) Integer limit,
            @RequestParam(required = false) String after,
            @RequestAttribute(name = AdminDoor.OWNED_BY, required = false) String ownedBy) {
        Issuer owner = lookup.issuer(issuer);
        Approvals.Wanted wanted = new Approvals.Wanted(
                readStatus(status),
                Optional.ofNullable(client)
                        .map(it -> clients.named(owner.id(), it).map(Client::id).orElse("none")),
                Optional.ofNullable(scope),
                Optional.ofNullable(ownedBy));
        return Answers.page(
                approvals.list(owner.id(), wanted, clock.instant(), Answers.ask(limit, after)),
                it -> views.approval(owner, it));
    }

    /** What is approved ahead, for every client that fits; all of it, for there is at most one for a scope. */
    @Permitted(value = AdminRole.AUDITOR, owner = Permission.OwnerOf.ANYTHING)
    @GetMapping("/standing")
    PageView<StandingApprovalView> standing(
            @PathVariable String issuer,
            @RequestAttribute(name = AdminDoor.OWNED_BY, required = false) String ownedBy) {
        Issuer owner = lookup.issuer(issuer);
        return new PageView<>(
                scopes.withStanding(owner.id()).stream()
                        .flatMap(scope -> {
                            Api api = lookup.api(owner, scope.apiId());
                            boolean seen = ownedBy == null || rights.answersFor(ownedBy, Owned.of(api));
                            return seen
                                    ? Stream.of(views.standing(
                                            api, scope, scope.standing().orElseThrow()))
                                    : Stream.empty();
                        })
                        .toList(),
                null);
    }

    private static Optional<Approval.Status> readStatus(String status) {
        if (status == null || status.isBlank()) return Optional.empty();
        return Optional.of(Arrays.stream(Approval.Status.values())
                .filter(it -> it.toString().equals(status.strip()))
                .findFirst()
                .orElseThrow(() -> new Answers.Refused(Answers.invalid(List.of(new FieldFault(
                        "/status",
                        "one of " + Arrays.toString(Approval.Status.values()),
                        Fields.quoted(status),
                        "Choose one of them, or leave it out."))))));
    }

    @Permitted(value = AdminRole.AUDITOR, owner = Permission.OwnerOf.APPROVAL)
    @GetMapping("/{approval}")
    ResponseEntity<ApprovalView> show(@PathVariable String issuer, @PathVariable String approval) {
        Issuer owner = lookup.issuer(issuer);
        Approval found = lookup.approval(owner, approval);
        return Answers.found(views.approval(owner, found), found.version());
    }

    @ResponseStatus(HttpStatus.CREATED)
    @Permitted(value = AdminRole.OPERATOR, owner = Permission.OwnerOf.ANYTHING)
    @PostMapping
    ResponseEntity<Changed<ApprovalView>> request(
            @PathVariable String issuer,
            @RequestBody ScopeRequestWanted wanted,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor,
            @RequestAttribute(name = AdminDoor.OWNED_BY, required = false) String ownedBy) {
        Issuer owner = lookup.issuer(issuer);
        Client client = asking(owner, wanted.client(), ownedBy);
        Change<Approval> asked = approving.request(client, wanted.scope(), actor);
        if (asked instanceof Change.Made<Approval> made) tell.that(client, owner, List.of(made.value()), actor);
        return Answers.created(
                asked,
                Approval::version,
                it -> "/admin/issuers/%s/approvals/%s".formatted(owner.name(), it.id()),
                (it, notes) -> new Changed<>(views.approval(owner, it), notes));
    }

    /** Every scope of a role at once. */
    @ResponseStatus(HttpStatus.CREATED)
    @Permitted(value = AdminRole.OPERATOR, owner = Permission.OwnerOf.ANYTHING)
    @PostMapping("/roles")
    ResponseEntity<Changed<List<ApprovalView>>> requestRole(
            @PathVariable String issuer,
            @RequestBody ScopeRequestWanted wanted,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor,
            @RequestAttribute(name = AdminDoor.OWNED_BY, required = false) String ownedBy) {
        Issuer owner = lookup.issuer(issuer);
        Client client = asking(owner, wanted.client(), ownedBy);
        Change<List<Approval>> change = approving.requestRole(client, wanted.role(), actor);
        if (change instanceof Change.Made<List<Approval>> made) tell.that(client, owner, made.value(), actor);
        return Answers.created(
                change,
                asked -> 1L,
                asked -> "/admin/issuers/%s/approvals".formatted(owner.name()),
                (asked, notes) -> new Changed<>(
                        asked.stream().map(it -> views.approval(owner, it)).toList(), notes));
    }

    /** Grants scopes, whether or not they were requested: what an administrator says at once. */
    @Permitted(AdminRole.ADMINISTRATOR)
    @PostMapping("/grant")
    ResponseEntity<Changed<List<ApprovalView>>> grantTo(
            @PathVariable String issuer,
            @RequestBody GrantWanted wanted,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        Client client = lookup.client(owner, wanted.client());
        Change<List<Approval>> change = approving.grant(
                client,
                wanted.scopes() == null ? List.of() : wanted.scopes(),
                times.ahead("/until", wanted.until()),
                actor);
        return Answers.changed(
                change,
                granted -> 1L,
                (granted, notes) -> new Changed<>(
                        granted.stream().map(it -> views.approval(owner, it)).toList(), notes));
    }

    @Permitted(value = AdminRole.ADMINISTRATOR, owner = Permission.OwnerOf.APPROVAL_API)
    @PostMapping("/{approval}/grant")
    ResponseEntity<Changed<ApprovalView>> grant(
            @PathVariable String issuer,
            @PathVariable String approval,
            @RequestBody Answer answer,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        Approval found = lookup.approval(owner, approval);
        Client client = lookup.client(owner, found.clientId());
        return changed(
                owner,
                approving.grant(
                        client, found, times.ahead("/until", answer.until()), actor, Answers.optional(ifMatch)));
    }

    @Permitted(value = AdminRole.ADMINISTRATOR, owner = Permission.OwnerOf.APPROVAL_API)
    @PostMapping("/{approval}/decline")
    ResponseEntity<Changed<ApprovalView>> decline(
            @PathVariable String issuer,
            @PathVariable String approval,
            @RequestBody Answer answer,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        Approval found = lookup.approval(owner, approval);
        return changed(
                owner,
                approving.decline(
                        lookup.client(owner, found.clientId()),
                        found,
                        answer.reason(),
                        actor,
                        Answers.optional(ifMatch)));
    }

    @Permitted(value = AdminRole.ADMINISTRATOR, owner = Permission.OwnerOf.APPROVAL_API)
    @PostMapping("/{approval}/withdraw")
    ResponseEntity<Changed<ApprovalView>> withdraw(
            @PathVariable String issuer,
            @PathVariable String approval,
            @RequestBody Answer answer,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        Approval found = lookup.approval(owner, approval);
        Lockout.refuseForOneself(found.clientId(), actor);
        return changed(
                owner,
                approving.withdraw(
                        lookup.client(owner, found.clientId()),
                        found,
                        answer.reason(),
                        actor,
                        Answers.optional(ifMatch)));
    }

    /** Takes the ask off the client, with its answer. */
    @ResponseStatus(HttpStatus.NO_CONTENT)
    @Permitted(value = AdminRole.OPERATOR, owner = Permission.OwnerOf.APPROVAL_CLIENT)
    @DeleteMapping("/{approval}")
    ResponseEntity<Void> drop(
            @PathVariable String issuer,
            @PathVariable String approval,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        Approval found = lookup.approval(owner, approval);
        Lockout.refuseForOneself(found.clientId(), actor);
        return Answers.removed(approving.drop(lookup.client(owner, found.clientId()), found, actor));
    }

    /** The one who answers for some clients requests those alone, and is not told which others there are. */
    private Client asking(Issuer issuer, @Nullable String named, String ownedBy) {
        if (ownedBy == null) return lookup.client(issuer, named);
        return clients.named(issuer.id(), named == null ? "" : named)
                .filter(it -> rights.answersFor(ownedBy, Owned.of(it)))
                .orElseThrow(() -> new Answers.Refused(Answers.problem(
                        403,
                        "not-owner",
                        "Refused by a rule",
                        "a client that you answer for",
                        named == null ? "nothing" : Fields.quoted(named),
                        "Ask a person who answers for it.",
                        List.of())));
    }

    private ResponseEntity<Changed<ApprovalView>> changed(Issuer owner, Change<Approval> change) {
        return Answers.changed(
                change, Approval::version, (it, notes) -> new Changed<>(views.approval(owner, it), notes));
    }
}
