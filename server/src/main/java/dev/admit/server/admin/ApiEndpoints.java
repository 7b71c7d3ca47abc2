package dev.admit.server.admin;

import dev.admit.contract.ApiSecretMade;
import dev.admit.contract.ApiView;
import dev.admit.contract.ApiWanted;
import dev.admit.contract.Changed;
import dev.admit.contract.PageView;
import dev.admit.contract.Preview;
import dev.admit.contract.ScopePreview;
import dev.admit.contract.ScopeView;
import dev.admit.contract.ScopeWanted;
import dev.admit.contract.SecretWanted;
import dev.admit.core.access.AdminRole;
import dev.admit.core.access.Permission;
import dev.admit.core.change.Actor;
import dev.admit.core.registration.ApiRegistration;
import dev.admit.core.registration.ApiSentences;
import dev.admit.core.registration.ScopeRegistration;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Apis;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Scope;
import dev.admit.core.registry.Scopes;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Optional;
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
import org.springframework.web.util.UriUtils;

/** APIs and their scopes. */
@RestController
@RequestMapping("/admin/issuers/{issuer}/apis")
class ApiEndpoints {
    private final Apis apis;
    private final Scopes scopes;
    private final ApiRegistration apiRegistration;
    private final ScopeRegistration scopeRegistration;
    private final Lookup lookup;
    private final Views views;

    ApiEndpoints(
            Apis apis,
            Scopes scopes,
            ApiRegistration apiRegistration,
            ScopeRegistration scopeRegistration,
            Lookup lookup,
            Views views) {
        this.apis = apis;
        this.scopes = scopes;
        this.apiRegistration = apiRegistration;
        this.scopeRegistration = scopeRegistration;
        this.lookup = lookup;
        this.views = views;
    }

    @Permitted(value = AdminRole.AUDITOR, owner = Permission.OwnerOf.ANYTHING)
    @GetMapping
    PageView<ApiView> list(
            @PathVariable String issuer,
            @RequestParam(required = false) Integer limit,
            @RequestParam(required = false) String after,
            @RequestAttribute(name = AdminDoor.OWNED_BY, required = false) String ownedBy) {
        return Answers.page(
                apis.list(lookup.issuer(issuer).id(), Optional.ofNullable(ownedBy), Answers.ask(limit, after)),
                views::api);
    }

    @Permitted(value = AdminRole.AUDITOR, owner = Permission.OwnerOf.API)
    @GetMapping("/{api}")
    ResponseEntity<ApiView> show(@PathVariable String issuer, @PathVariable String api) {
        Api found = lookup.api(lookup.issuer(issuer), api);
        return Answers.found(views.api(found), found.version());
    }

    @ResponseStatus(HttpStatus.CREATED)
    @Permitted(AdminRole.OPERATOR)
    @PostMapping
    ResponseEntity<Changed<ApiView>> register(
            @PathVariable String issuer,
            @RequestBody ApiWanted wanted,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        return Answers.created(
                apiRegistration.register(owner, wanted, actor),
                Api::version,
                api -> "/admin/issuers/%s/apis/%s".formatted(owner.name(), api.name()),
                (api, notes) -> new Changed<>(views.api(api), notes));
    }

    /** What an API would be, while it is being written; nothing is saved. */
    @Permitted(AdminRole.OPERATOR)
    @PostMapping("/preview")
    ResponseEntity<Preview> preview(
            @PathVariable String issuer,
            @RequestBody ApiWanted wanted,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        return Answers.shown(
                apiRegistration.preview(lookup.issuer(issuer), wanted, actor),
                api -> new Preview(ApiSentences.of(api), List.of()));
    }

    @Permitted(value = AdminRole.OPERATOR, owner = Permission.OwnerOf.API)
    @PatchMapping("/{api}")
    ResponseEntity<Changed<ApiView>> change(
            @PathVariable String issuer,
            @PathVariable String api,
            @RequestBody ApiWanted wanted,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestParam(required = false) String confirm,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        lookup.apiToChange(owner, api);
        return Answers.changed(
                apiRegistration.change(owner, api, wanted, Answers.required(ifMatch), confirm, actor),
                Api::version,
                (changed, notes) -> new Changed<>(views.api(changed), notes));
    }

    /** A credential with which the API asks at the introspection endpoint. */
    @ResponseStatus(HttpStatus.CREATED)
    @Permitted(value = AdminRole.OPERATOR, owner = Permission.OwnerOf.API)
    @PostMapping("/{api}/secrets")
    ResponseEntity<ApiSecretMade> addSecret(
            @PathVariable String issuer,
            @PathVariable String api,
            @RequestBody SecretWanted wanted,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        Api found = lookup.apiToChange(owner, api);
        return Answers.created(
                apiRegistration.addSecret(owner, api, wanted.label(), wanted.lifetime(), actor),
                made -> 1L,
                made -> "/admin/issuers/%s/apis/%s".formatted(owner.name(), found.name()),
                (made, notes) -> new ApiSecretMade(views.api(found), ReadySecret.of(owner, found, made), notes));
    }

    @ResponseStatus(HttpStatus.NO_CONTENT)
    @Permitted(value = AdminRole.OPERATOR, owner = Permission.OwnerOf.API)
    @DeleteMapping("/{api}/secrets/{secret}")
    ResponseEntity<Void> removeSecret(
            @PathVariable String issuer,
            @PathVariable String api,
            @PathVariable String secret,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        return Answers.removed(apiRegistration.removeSecret(
                owner, lookup.apiToChange(owner, api).name(), secret, actor));
    }

    @ResponseStatus(HttpStatus.NO_CONTENT)
    @Permitted(AdminRole.OPERATOR)
    @DeleteMapping("/{api}")
    ResponseEntity<Void> remove(
            @PathVariable String issuer,
            @PathVariable String api,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestParam(required = false) String confirm,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        lookup.apiToChange(owner, api);
        return Answers.removed(apiRegistration.remove(owner, api, Answers.optional(ifMatch), confirm, actor));
    }

    /** All of them: an API has few enough for one page. */
    @Permitted(value = AdminRole.AUDITOR, owner = Permission.OwnerOf.API)
    @GetMapping("/{api}/scopes")
    PageView<ScopeView> scopes(@PathVariable String issuer, @PathVariable String api) {
        Api found = lookup.api(lookup.issuer(issuer), api);
        List<ScopeView> all = scopes.of(found.id()).stream()
                .map(scope -> views.scope(found, scope))
                .toList();
        return new PageView<>(all, null);
    }

    @Permitted(value = AdminRole.AUDITOR, owner = Permission.OwnerOf.API)
    @GetMapping("/{api}/scopes/{scope}")
    ResponseEntity<ScopeView> scope(@PathVariable String issuer, @PathVariable String api, @PathVariable String scope) {
        Issuer owner = lookup.issuer(issuer);
        Api found = lookup.api(owner, api);
        Scope it = scopes.named(owner.id(), scope)
                .filter(one -> one.apiId().equals(found.id()))
                .orElseThrow(Lookup.absent("scope", scope));
        return Answers.found(views.scope(found, it), it.version());
    }

    @ResponseStatus(HttpStatus.CREATED)
    @Permitted(value = AdminRole.OPERATOR, owner = Permission.OwnerOf.API)
    @PostMapping("/{api}/scopes")
    ResponseEntity<Changed<ScopeView>> addScope(
            @PathVariable String issuer,
            @PathVariable String api,
            @RequestBody ScopeWanted wanted,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        Api found = lookup.apiToChange(owner, api);
        return Answers.created(
                scopeRegistration.add(owner, found, wanted, actor),
                Scope::version,
                scope -> "/admin/issuers/%s/apis/%s/scopes/%s"
                        .formatted(owner.name(), found.name(), UriUtils.encode(scope.name(), StandardCharsets.UTF_8)),
                (scope, notes) -> new Changed<>(views.scope(found, scope), notes));
    }

    /** What a scope would mean, while it is being written; nothing is saved. */
    @Permitted(value = AdminRole.OPERATOR, owner = Permission.OwnerOf.API)
    @PostMapping("/{api}/scopes/preview")
    ResponseEntity<ScopePreview> previewScope(
            @PathVariable String issuer,
            @PathVariable String api,
            @RequestBody ScopeWanted wanted,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        return Answers.shown(
                scopeRegistration.preview(lookup.api(lookup.issuer(issuer), api), wanted, actor),
                scope -> new ScopePreview(Views.reads(scope)));
    }

    @Permitted(value = AdminRole.OPERATOR, owner = Permission.OwnerOf.API)
    @PatchMapping("/{api}/scopes/{scope}")
    ResponseEntity<Changed<ScopeView>> changeScope(
            @PathVariable String issuer,
            @PathVariable String api,
            @PathVariable String scope,
            @RequestBody ScopeWanted wanted,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        Api found = lookup.apiToChange(owner, api);
        return Answers.changed(
                scopeRegistration.change(owner, found, scope, wanted, Answers.required(ifMatch), actor),
                Scope::version,
                (changed, notes) -> new Changed<>(views.scope(found, changed), notes));
    }

    @ResponseStatus(HttpStatus.NO_CONTENT)
    @Permitted(value = AdminRole.OPERATOR, owner = Permission.OwnerOf.API)
    @DeleteMapping("/{api}/scopes/{scope}")
    ResponseEntity<Void> removeScope(
            @PathVariable String issuer,
            @PathVariable String api,
            @PathVariable String scope,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestParam(required = false) String confirm,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        return Answers.removed(scopeRegistration.remove(
                owner, lookup.apiToChange(owner, api), scope, Answers.optional(ifMatch), confirm, actor));
    }
}
