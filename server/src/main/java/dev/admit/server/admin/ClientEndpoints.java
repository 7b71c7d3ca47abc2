package dev.admit.server.admin;

import dev.admit.contract.Changed;
import dev.admit.contract.ClientMade;
import dev.admit.contract.ClientView;
import dev.admit.contract.ClientWanted;
import dev.admit.contract.NameWanted;
import dev.admit.contract.PageView;
import dev.admit.contract.Preview;
import dev.admit.contract.SecretMade;
import dev.admit.contract.SecretWanted;
import dev.admit.core.access.AdminRole;
import dev.admit.core.access.Permission;
import dev.admit.core.approval.Approvals;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.Fields;
import dev.admit.core.owner.TellOwners;
import dev.admit.core.registration.ClientRegistration;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.ClientKind;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuer;
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

/** Clients and their secrets. */
@RestController
@RequestMapping("/admin/issuers/{issuer}/clients")
class ClientEndpoints {
    private final Clients clients;
    private final ClientRegistration registration;
    private final Approvals approvals;
    private final TellOwners tell;
    private final Lookup lookup;
    private final Views views;

    ClientEndpoints(
            Clients clients,
            ClientRegistration registration,
            Approvals approvals,
            TellOwners tell,
            Lookup lookup,
            Views views) {
        this.clients = clients;
        this.registration = registration;
        this.approvals = approvals;
        this.tell = tell;
        this.lookup = lookup;
        this.views = views;
    }

    /** @param sort name, which is usual, or -created for the newest first */
    @Permitted(value = AdminRole.AUDITOR, owner = Permission.OwnerOf.ANYTHING)
    @GetMapping
    PageView<ClientView> list(
            @PathVariable String issuer,
            @RequestParam(required = false) Integer limit,
            @RequestParam(required = false) String after,
            @RequestParam(defaultValue = "") String search,
            @RequestParam(required = false) String kind,
            @RequestParam(required = false) String tag,
            @RequestParam(required = false) String contact,
            @RequestParam(required = false) Boolean enabled,
            @RequestParam(name = "self_registered", required = false) Boolean selfRegistered,
            @RequestParam(defaultValue = "name") String sort,
            @RequestAttribute(name = AdminDoor.OWNED_BY, required = false) String ownedBy) {
        Issuer its = lookup.issuer(issuer);
        Fields fields = new Fields();
        Optional<ClientKind> kindWanted =
                kind == null ? Optional.empty() : fields.word("/kind", kind, ClientKind.class, null);
        if (!sort.equals("name") && !sort.equals("-created"))
            fields.fault("/sort", "name or -created", Fields.quoted(sort), "Choose one of them.");
        if (fields.faulty()) throw new Answers.Refused(Answers.invalid(fields.faults()));
        Clients.Filter wanted = new Clients.Filter(
                search.strip(),
                kindWanted,
                Optional.ofNullable(tag),
                Optional.ofNullable(contact),
                Optional.ofNullable(enabled),
                Optional.ofNullable(ownedBy),
                Optional.ofNullable(selfRegistered),
                sort.equals("-created"));
        return Answers.page(
                clients.list(its.id(), wanted, Answers.ask(limit, after)), client -> views.client(its, client));
    }

    @Permitted(value = AdminRole.AUDITOR, owner = Permission.OwnerOf.CLIENT)
    @GetMapping("/{client}")
    ResponseEntity<ClientView> show(@PathVariable String issuer, @PathVariable String client) {
        Issuer owner = lookup.issuer(issuer);
        Client found = lookup.client(owner, client);
        return Answers.found(views.client(owner, found), found.version());
    }

    @ResponseStatus(HttpStatus.CREATED)
    @Permitted(AdminRole.OPERATOR)
    @PostMapping
    ResponseEntity<ClientMade> register(
            @PathVariable String issuer,
            @RequestBody ClientWanted wanted,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        Change<ClientRegistration.Registered> registered = registration.register(owner, wanted, actor);
        return Answers.created(
                told(owner, registered, actor),
                made -> made.client().version(),
                made -> "/admin/issuers/%s/clients/%s"
                        .formatted(owner.name(), made.client().name()),
                (made, notes) -> made(owner, made, notes));
    }

    /** What a client would be, while it is being written; nothing is saved, and no secret is kept. */
    @Permitted(AdminRole.OPERATOR)
    @PostMapping("/preview")
    ResponseEntity<Preview> preview(
            @PathVariable String issuer,
            @RequestBody ClientWanted wanted,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        return Answers.shown(registration.preview(owner, wanted, actor), would -> views.preview(owner, would));
    }

    private Change<ClientRegistration.Registered> told(
            Issuer issuer, Change<ClientRegistration.Registered> registered, Actor actor) {
        if (registered instanceof Change.Made<ClientRegistration.Registered> made)
            tell.that(
                    made.value().client(),
                    issuer,
                    approvals.ofClient(made.value().client().id()),
                    actor);
        return registered;
    }

    private ClientMade made(Issuer owner, ClientRegistration.Registered made, List<String> notes) {
        return new ClientMade(
                views.client(owner, made.client()),
                made.secret()
                        .map(secret -> views.secretOnce(owner, made.client(), secret))
                        .orElse(null),
                notes);
    }

    /** Another client like this one; it has a secret of its own, and what it requests waits anew. */
    @ResponseStatus(HttpStatus.CREATED)
    @Permitted(AdminRole.OPERATOR)
    @PostMapping("/{client}/copy")
    ResponseEntity<ClientMade> copy(
            @PathVariable String issuer,
            @PathVariable String client,
            @RequestBody NameWanted wanted,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        return Answers.created(
                told(owner, registration.copy(owner, client, wanted.name(), actor), actor),
                made -> made.client().version(),
                made -> "/admin/issuers/%s/clients/%s"
                        .formatted(owner.name(), made.client().name()),
                (made, notes) -> made(owner, made, notes));
    }

    @Permitted(value = AdminRole.OPERATOR, owner = Permission.OwnerOf.CLIENT)
    @PatchMapping("/{client}")
    ResponseEntity<Changed<ClientView>> change(
            @PathVariable String issuer,
            @PathVariable String client,
            @RequestBody ClientWanted wanted,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        boolean howItGetsTokens = wanted.kind() != null
                || wanted.tokenEndpointAuthMethod() != null
                || wanted.grantTypes() != null
                || wanted.jwks() != null
                || wanted.jwksUri() != null
                || wanted.tokenEndpointAuthSigningAlg() != null;
        if (howItGetsTokens)
            Lockout.refuseForOneself(lookup.client(owner, client).id(), actor);
        return Answers.changed(
                registration.change(owner, client, wanted, Answers.required(ifMatch), actor),
                Client::version,
                (changed, notes) -> new Changed<>(views.client(owner, changed), notes));
    }

    /** An administrator says yes for everyone to the client's OpenID scopes, or takes that back. */
    @Permitted(AdminRole.ADMINISTRATOR)
    @PostMapping("/{client}/openid/{answer}")
    ResponseEntity<Changed<ClientView>> openid(
            @PathVariable String issuer,
            @PathVariable String client,
            @PathVariable String answer,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        if (!answer.equals("grant") && !answer.equals("withdraw"))
            throw new Answers.Refused(Answers.absent("answer", answer));
        return Answers.changed(
                registration.grantOpenid(owner, client, answer.equals("grant"), actor),
                Client::version,
                (changed, notes) -> new Changed<>(views.client(owner, changed), notes));
    }

    @Permitted(value = AdminRole.OPERATOR, owner = Permission.OwnerOf.CLIENT)
    @PostMapping("/{client}/on")
    ResponseEntity<Changed<ClientView>> on(
            @PathVariable String issuer,
            @PathVariable String client,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        return switchTo(lookup.issuer(issuer), client, true, ifMatch, actor);
    }

    /** From the next request on its tokens are refused. */
    @Permitted(value = AdminRole.OPERATOR, owner = Permission.OwnerOf.CLIENT)
    @PostMapping("/{client}/off")
    ResponseEntity<Changed<ClientView>> off(
            @PathVariable String issuer,
            @PathVariable String client,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        Lockout.refuseForOneself(lookup.client(owner, client).id(), actor);
        return switchTo(owner, client, false, ifMatch, actor);
    }

    private ResponseEntity<Changed<ClientView>> switchTo(
            Issuer owner, String client, boolean on, String ifMatch, Actor actor) {
        return Answers.changed(
                registration.switchTo(owner, client, on, Answers.optional(ifMatch), actor),
                Client::version,
                (switched, notes) -> new Changed<>(views.client(owner, switched), notes));
    }

    @ResponseStatus(HttpStatus.NO_CONTENT)
    @Permitted(value = AdminRole.OPERATOR, owner = Permission.OwnerOf.CLIENT)
    @DeleteMapping("/{client}")
    ResponseEntity<Void> remove(
            @PathVariable String issuer,
            @PathVariable String client,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestParam(required = false) String confirm,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        Lockout.refuseForOneself(lookup.client(owner, client).id(), actor);
        return Answers.removed(registration.remove(owner, client, Answers.optional(ifMatch), confirm, actor));
    }

    @ResponseStatus(HttpStatus.CREATED)
    @Permitted(value = AdminRole.OPERATOR, owner = Permission.OwnerOf.CLIENT)
    @PostMapping("/{client}/secrets")
    ResponseEntity<SecretMade> addSecret(
            @PathVariable String issuer,
            @PathVariable String client,
            @RequestBody SecretWanted wanted,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        Client found = lookup.client(owner, client);
        return Answers.created(
                registration.addSecret(owner, client, wanted.label(), wanted.lifetime(), actor),
                made -> 1L,
                made -> "/admin/issuers/%s/clients/%s".formatted(owner.name(), found.name()),
                (made, notes) ->
                        new SecretMade(views.client(owner, found), views.secretOnce(owner, found, made), notes));
    }

    /** A new secret; the others expire after an overlap. */
    @ResponseStatus(HttpStatus.CREATED)
    @Permitted(value = AdminRole.OPERATOR, owner = Permission.OwnerOf.CLIENT)
    @PostMapping("/{client}/secrets/replace")
    ResponseEntity<SecretMade> replaceSecrets(
            @PathVariable String issuer,
            @PathVariable String client,
            @RequestBody SecretWanted wanted,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        Client found = lookup.client(owner, client);
        return Answers.created(
                registration.replaceSecrets(owner, client, wanted.label(), wanted.lifetime(), wanted.overlap(), actor),
                made -> 1L,
                made -> "/admin/issuers/%s/clients/%s".formatted(owner.name(), found.name()),
                (made, notes) ->
                        new SecretMade(views.client(owner, found), views.secretOnce(owner, found, made), notes));
    }

    @ResponseStatus(HttpStatus.NO_CONTENT)
    @Permitted(value = AdminRole.OPERATOR, owner = Permission.OwnerOf.CLIENT)
    @DeleteMapping("/{client}/secrets/{secret}")
    ResponseEntity<Void> removeSecret(
            @PathVariable String issuer,
            @PathVariable String client,
            @PathVariable String secret,
            @RequestParam(required = false) String confirm,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        return Answers.removed(registration.removeSecret(lookup.issuer(issuer), client, secret, confirm, actor));
    }
}
