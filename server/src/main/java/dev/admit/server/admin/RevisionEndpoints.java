package dev.admit.server.admin;

import dev.admit.contract.Changed;
import dev.admit.contract.PageView;
import dev.admit.contract.RevisionView;
import dev.admit.contract.RouteView;
import dev.admit.contract.WhyWanted;
import dev.admit.core.access.AdminRole;
import dev.admit.core.change.Actor;
import dev.admit.core.registry.Issuer;
import dev.admit.core.route.KeepRevision;
import dev.admit.core.route.RestoreRevision;
import dev.admit.core.route.Revision;
import dev.admit.core.route.Revisions;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestAttribute;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** The revisions of an issuer's routes. */
@RestController
@RequestMapping("/admin/issuers/{issuer}/revisions")
class RevisionEndpoints {
    private final Revisions revisions;
    private final RestoreRevision back;
    private final Lookup lookup;
    private final Views views;

    RevisionEndpoints(Revisions revisions, RestoreRevision back, Lookup lookup, Views views) {
        this.revisions = revisions;
        this.back = back;
        this.lookup = lookup;
        this.views = views;
    }

    /** The newest first. */
    @Permitted(AdminRole.AUDITOR)
    @GetMapping
    PageView<RevisionView> list(
            @PathVariable String issuer,
            @RequestParam(required = false) Integer limit,
            @RequestParam(required = false) String after) {
        return Answers.page(revisions.list(lookup.issuer(issuer).id(), Answers.ask(limit, after)), this::view);
    }

    @Permitted(AdminRole.AUDITOR)
    @GetMapping("/{number}")
    RevisionView show(@PathVariable String issuer, @PathVariable long number) {
        return revisions
                .find(lookup.issuer(issuer).id(), number)
                .map(this::view)
                .orElseThrow(Lookup.absent("revision", String.valueOf(number)));
    }

    /** The routes as they stood with it. */
    @Permitted(AdminRole.AUDITOR)
    @GetMapping("/{number}/routes")
    PageView<RouteView> routes(@PathVariable String issuer, @PathVariable long number) {
        Issuer its = lookup.issuer(issuer);
        if (revisions.find(its.id(), number).isEmpty())
            throw Lookup.absent("revision", String.valueOf(number)).get();
        return new PageView<>(
                revisions.at(its.id(), number).stream()
                        .map(it -> views.route(its, it))
                        .toList(),
                null);
    }

    /** Puts the routes as they stood with it. It is a revision of its own. */
    @Permitted(AdminRole.OPERATOR)
    @PostMapping("/{number}/restore")
    ResponseEntity<Changed<RevisionView>> restoreRevision(
            @PathVariable String issuer,
            @PathVariable long number,
            @RequestBody WhyWanted wanted,
            @RequestParam(required = false) String confirm,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        return Answers.changed(
                back.to(lookup.issuer(issuer), number, confirm, wanted.why(), actor),
                Revision::number,
                (made, notes) -> new Changed<>(view(made), notes));
    }

    private RevisionView view(Revision it) {
        return new RevisionView(
                it.number(),
                it.at(),
                it.who(),
                it.why(),
                KeepRevision.inWords(revisions.steps(it.issuerId(), it.number())));
    }
}
