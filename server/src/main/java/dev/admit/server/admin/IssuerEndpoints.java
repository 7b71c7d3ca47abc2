package dev.admit.server.admin;

import dev.admit.contract.Changed;
import dev.admit.contract.IssuerView;
import dev.admit.contract.IssuerWanted;
import dev.admit.contract.PageView;
import dev.admit.contract.ServiceView;
import dev.admit.core.access.AdminApi;
import dev.admit.core.access.AdminRole;
import dev.admit.core.access.Permission;
import dev.admit.core.change.Actor;
import dev.admit.core.registration.IssuerRegistration;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Issuers;
import dev.admit.gateway.Gateway;
import java.net.URI;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PatchMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestAttribute;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** The service and its issuers. */
@RestController
@RequestMapping("/admin")
class IssuerEndpoints {
    private final Issuers issuers;
    private final IssuerRegistration registration;
    private final Lookup lookup;
    private final Views views;
    private final Gateway gateway;

    IssuerEndpoints(Issuers issuers, IssuerRegistration registration, Lookup lookup, Views views, Gateway gateway) {
        this.issuers = issuers;
        this.registration = registration;
        this.lookup = lookup;
        this.views = views;
        this.gateway = gateway;
    }

    @Permitted(value = AdminRole.AUDITOR, of = Permission.Of.ANY, owner = Permission.OwnerOf.ANYTHING)
    @GetMapping
    ServiceView service() {
        // The operator issuer's URL is the public URL and one segment more.
        URI publicUrl = URI.create(
                lookup.issuer(AdminApi.ISSUER).url().resolve(".").toString().replaceAll("/$", ""));
        // The one who listens on every address is called at the one that the issuers are known by.
        return new ServiceView("0.1.0", publicUrl.toString(), gateway.url(publicUrl.getHost()));
    }

    @Permitted(value = AdminRole.AUDITOR, of = Permission.Of.ANY, owner = Permission.OwnerOf.ANYTHING)
    @GetMapping("/issuers")
    PageView<IssuerView> list(
            @RequestParam(required = false) Integer limit,
            @RequestParam(required = false) String after,
            @RequestAttribute(name = AdminDoor.ONLY, required = false) String only) {
        if (only != null) return new PageView<>(java.util.List.of(views.issuer(lookup.issuer(only))), null);
        return Answers.page(issuers.list(Answers.ask(limit, after)), views::issuer);
    }

    @Permitted(value = AdminRole.AUDITOR, owner = Permission.OwnerOf.ANYTHING)
    @GetMapping("/issuers/{issuer}")
    ResponseEntity<IssuerView> show(@PathVariable String issuer) {
        Issuer found = lookup.issuer(issuer);
        return Answers.found(views.issuer(found), found.version());
    }

    @ResponseStatus(HttpStatus.CREATED)
    @Permitted(value = AdminRole.ADMINISTRATOR, of = Permission.Of.SERVICE)
    @PostMapping("/issuers")
    ResponseEntity<Changed<IssuerView>> create(
            @RequestBody IssuerWanted wanted, @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        return Answers.created(
                registration.create(wanted, actor),
                Issuer::version,
                issuer -> "/admin/issuers/" + issuer.name(),
                (issuer, notes) -> new Changed<>(views.issuer(issuer), notes));
    }

    @Permitted(AdminRole.ADMINISTRATOR)
    @PatchMapping("/issuers/{issuer}")
    ResponseEntity<Changed<IssuerView>> change(
            @PathVariable String issuer,
            @RequestBody IssuerWanted wanted,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        return Answers.changed(
                registration.change(issuer, wanted, Answers.required(ifMatch), actor),
                Issuer::version,
                (changed, notes) -> new Changed<>(views.issuer(changed), notes));
    }

    /** Removes the issuer with everything it holds; its audit stays. */
    @ResponseStatus(HttpStatus.NO_CONTENT)
    @Permitted(value = AdminRole.ADMINISTRATOR, of = Permission.Of.SERVICE)
    @DeleteMapping("/issuers/{issuer}")
    ResponseEntity<Void> remove(
            @PathVariable String issuer,
            @RequestParam(required = false) String confirm,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Lockout.refuseForOperatorIssuer(lookup.issuer(issuer));
        return Answers.removed(registration.remove(issuer, Answers.optional(ifMatch), confirm, actor));
    }
}
