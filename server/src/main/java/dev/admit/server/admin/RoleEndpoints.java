package dev.admit.server.admin;

import dev.admit.contract.Changed;
import dev.admit.contract.PageView;
import dev.admit.contract.RoleView;
import dev.admit.contract.RoleWanted;
import dev.admit.core.access.AdminRole;
import dev.admit.core.access.Permission;
import dev.admit.core.change.Actor;
import dev.admit.core.registration.RoleRegistration;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Role;
import dev.admit.core.registry.Roles;
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
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Roles of an API. */
@RestController
@RequestMapping("/admin/issuers/{issuer}/apis/{api}/roles")
class RoleEndpoints {
    private final Roles roles;
    private final RoleRegistration registration;
    private final Lookup lookup;

    RoleEndpoints(Roles roles, RoleRegistration registration, Lookup lookup) {
        this.roles = roles;
        this.registration = registration;
        this.lookup = lookup;
    }

    @Permitted(value = AdminRole.AUDITOR, owner = Permission.OwnerOf.API)
    @GetMapping
    PageView<RoleView> list(@PathVariable String issuer, @PathVariable String api) {
        Api found = lookup.api(lookup.issuer(issuer), api);
        return new PageView<>(
                roles.of(found.id()).stream().map(role -> view(found, role)).toList(), null);
    }

    @Permitted(value = AdminRole.AUDITOR, owner = Permission.OwnerOf.API)
    @GetMapping("/{role}")
    ResponseEntity<RoleView> show(@PathVariable String issuer, @PathVariable String api, @PathVariable String role) {
        Issuer owner = lookup.issuer(issuer);
        Api found = lookup.api(owner, api);
        Role it = roles.named(owner.id(), role)
                .filter(one -> one.apiId().equals(found.id()))
                .orElseThrow(Lookup.absent("role", role));
        return Answers.found(view(found, it), it.version());
    }

    @ResponseStatus(HttpStatus.CREATED)
    @Permitted(value = AdminRole.ADMINISTRATOR, owner = Permission.OwnerOf.API)
    @PostMapping
    ResponseEntity<Changed<RoleView>> add(
            @PathVariable String issuer,
            @PathVariable String api,
            @RequestBody RoleWanted wanted,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        Api found = lookup.apiToChange(owner, api);
        return Answers.created(
                registration.add(owner, found, wanted, actor),
                Role::version,
                role -> "/admin/issuers/%s/apis/%s/roles/%s".formatted(owner.name(), found.name(), role.name()),
                (role, notes) -> new Changed<>(view(found, role), notes));
    }

    @Permitted(value = AdminRole.ADMINISTRATOR, owner = Permission.OwnerOf.API)
    @PatchMapping("/{role}")
    ResponseEntity<Changed<RoleView>> change(
            @PathVariable String issuer,
            @PathVariable String api,
            @PathVariable String role,
            @RequestBody RoleWanted wanted,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        Api found = lookup.apiToChange(owner, api);
        return Answers.changed(
                registration.change(owner, found, role, wanted, Answers.required(ifMatch), actor),
                Role::version,
                (changed, notes) -> new Changed<>(view(found, changed), notes));
    }

    @ResponseStatus(HttpStatus.NO_CONTENT)
    @Permitted(value = AdminRole.ADMINISTRATOR, owner = Permission.OwnerOf.API)
    @DeleteMapping("/{role}")
    ResponseEntity<Void> remove(
            @PathVariable String issuer,
            @PathVariable String api,
            @PathVariable String role,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        return Answers.removed(
                registration.remove(owner, lookup.apiToChange(owner, api), role, Answers.optional(ifMatch), actor));
    }

    private static RoleView view(Api api, Role it) {
        return new RoleView(it.id(), it.name(), it.title(), api.name(), it.scopes(), it.secondFactor(), it.version());
    }
}
