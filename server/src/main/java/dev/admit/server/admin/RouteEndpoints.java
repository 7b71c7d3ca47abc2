package dev.admit.server.admin;

import dev.admit.contract.PageView;
import dev.admit.contract.PlaceholderView;
import dev.admit.contract.Preview;
import dev.admit.contract.RouteRevised;
import dev.admit.contract.RouteView;
import dev.admit.contract.RouteWanted;
import dev.admit.core.access.AdminRole;
import dev.admit.core.access.Permission;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Expected;
import dev.admit.core.registry.Issuer;
import dev.admit.core.route.Placeholders;
import dev.admit.core.route.Route;
import dev.admit.core.route.RouteRegistration;
import dev.admit.core.route.RouteSentences;
import dev.admit.core.route.Routes;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PatchMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestAttribute;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;
import tools.jackson.databind.JsonNode;

/** Routes of the gateway. */
@RestController
@RequestMapping("/admin/issuers/{issuer}/routes")
class RouteEndpoints {
    private final Routes routes;
    private final RouteRegistration registration;
    private final Lookup lookup;
    private final Views views;

    private final MergePatch patches;

    private final LastRequest lastRequest;

    RouteEndpoints(
            Routes routes,
            RouteRegistration registration,
            Lookup lookup,
            Views views,
            MergePatch patches,
            LastRequest lastRequest) {
        this.lastRequest = lastRequest;
        this.patches = patches;
        this.routes = routes;
        this.registration = registration;
        this.lookup = lookup;
        this.views = views;
    }

    @Permitted(value = AdminRole.AUDITOR, owner = Permission.OwnerOf.ANYTHING)
    @GetMapping
    PageView<RouteView> list(
            @PathVariable String issuer,
            @RequestParam(required = false) Integer limit,
            @RequestParam(required = false) String after,
            @RequestAttribute(name = AdminDoor.OWNED_BY, required = false) String ownedBy) {
        Issuer owner = lookup.issuer(issuer);
        return Answers.page(
                routes.list(owner.id(), Optional.ofNullable(ownedBy), Answers.ask(limit, after)),
                route -> views.route(owner, route));
    }

    @Permitted(value = AdminRole.AUDITOR, owner = Permission.OwnerOf.ROUTE_API)
    @GetMapping("/{route}")
    ResponseEntity<RouteView> show(@PathVariable String issuer, @PathVariable String route) {
        Issuer owner = lookup.issuer(issuer);
        Route found = routes.find(owner.id(), route).orElseThrow(Lookup.absent("route", route));
        return Answers.found(views.route(owner, found), found.version());
    }

    /**
     * What the texts of a route may be filled in with, each with what it held in the last request that the route
     * answered.
     */
    @Permitted(value = AdminRole.AUDITOR, owner = Permission.OwnerOf.ROUTE_API)
    @GetMapping("/{route}/placeholders")
    PageView<PlaceholderView> placeholders(@PathVariable String issuer, @PathVariable String route) {
        Issuer owner = lookup.issuer(issuer);
        Route found = routes.find(owner.id(), route).orElseThrow(Lookup.absent("route", route));
        Map<String, String> examples = lastRequest.of(owner, found);
        return new PageView<>(
                Placeholders.of(found.pattern()).entrySet().stream()
                        .map(it -> new PlaceholderView(it.getKey(), it.getValue(), examples.get(it.getKey())))
                        .toList(),
                null);
    }

    @ResponseStatus(HttpStatus.CREATED)
    @Permitted(AdminRole.OPERATOR)
    @PostMapping
    ResponseEntity<RouteRevised> add(
            @PathVariable String issuer,
            @RequestBody RouteWanted wanted,
            @RequestParam(required = false) String why,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        return Answers.created(
                registration.add(owner, wanted, why, actor),
                made -> made.route().version(),
                made -> "/admin/issuers/%s/routes/%s"
                        .formatted(owner.name(), made.route().id()),
                (made, notes) -> new RouteRevised(views.route(owner, made.route()), made.revision(), notes));
    }

    /** What a route would mean, while it is being written; nothing is saved. */
    @Permitted(AdminRole.OPERATOR)
    @PostMapping("/preview")
    ResponseEntity<Preview> preview(@PathVariable String issuer, @RequestBody RouteWanted wanted) {
        Issuer owner = lookup.issuer(issuer);
        return Answers.shown(
                registration.preview(owner, wanted),
                route -> new Preview(RouteSentences.of(views.asWanted(owner, route)), List.of()));
    }

    @Permitted(AdminRole.OPERATOR)
    @PutMapping("/{route}")
    ResponseEntity<RouteRevised> replace(
            @PathVariable String issuer,
            @PathVariable String route,
            @RequestBody RouteWanted wanted,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestParam(required = false) String confirm,
            @RequestParam(required = false) String why,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        return put(lookup.issuer(issuer), route, wanted, Answers.required(ifMatch), confirm, why, actor);
    }

    /**
     * Changes what the body names, and keeps the rest (RFC 7396): a member that is null goes, and a list takes the
     * place of the list that was there.
     */
    @Permitted(AdminRole.OPERATOR)
    @PatchMapping("/{route}")
    ResponseEntity<RouteRevised> change(
            @PathVariable String issuer,
            @PathVariable String route,
            @RequestBody JsonNode patch,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestParam(required = false) String confirm,
            @RequestParam(required = false) String why,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        Expected expected = Answers.required(ifMatch);
        Route old = routes.find(owner.id(), route).orElseThrow(Lookup.absent("route", route));
        RouteWanted wanted = patches.applied(views.asWanted(owner, old), patch, RouteWanted.class);
        // What was read stays what is changed, whether or not the caller named a version.
        return put(owner, route, wanted, expected.or(old.version()), confirm, why, actor);
    }

    private ResponseEntity<RouteRevised> put(
            Issuer owner,
            String route,
            RouteWanted wanted,
            Expected expected,
            String confirm,
            String why,
            Actor actor) {
        return Answers.changed(
                registration.replace(owner, route, wanted, expected, confirm, why, actor),
                made -> made.route().version(),
                (made, notes) -> new RouteRevised(views.route(owner, made.route()), made.revision(), notes));
    }

    @Permitted(AdminRole.OPERATOR)
    @DeleteMapping("/{route}")
    ResponseEntity<RouteRevised> remove(
            @PathVariable String issuer,
            @PathVariable String route,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestParam(required = false) String why,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        return Answers.changed(
                registration.remove(owner, route, Answers.optional(ifMatch), why, actor),
                made -> made.route().version(),
                (made, notes) -> new RouteRevised(views.route(owner, made.route()), made.revision(), notes));
    }
}
