package dev.admit.server.admin;

import dev.admit.contract.Changed;
import dev.admit.contract.PageView;
import dev.admit.contract.StepsView;
import dev.admit.contract.TrustedIssuerView;
import dev.admit.contract.TrustedIssuerWanted;
import dev.admit.core.access.AdminRole;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Expected;
import dev.admit.core.registration.TrustRegistration;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuer;
import dev.admit.core.trust.TrustedIssuer;
import dev.admit.core.trust.TrustedIssuers;
import dev.admit.core.trust.TrustedKeys;
import java.net.URI;
import java.util.LinkedHashMap;
import java.util.Map;
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

/** Issuers elsewhere whose tokens routes may accept. */
@RestController
@RequestMapping("/admin/issuers/{issuer}/trusted-issuers")
class TrustedIssuerEndpoints {
    private final TrustedIssuers trusted;
    private final TrustRegistration registration;
    private final Clients clients;
    private final Lookup lookup;

    TrustedIssuerEndpoints(TrustedIssuers trusted, TrustRegistration registration, Clients clients, Lookup lookup) {
        this.trusted = trusted;
        this.registration = registration;
        this.clients = clients;
        this.lookup = lookup;
    }

    @Permitted(AdminRole.AUDITOR)
    @GetMapping
    PageView<TrustedIssuerView> list(@PathVariable String issuer) {
        return new PageView<>(
                trusted.of(lookup.issuer(issuer).id()).stream().map(this::view).toList(), null);
    }

    @Permitted(AdminRole.AUDITOR)
    @GetMapping("/{trusted}")
    ResponseEntity<TrustedIssuerView> show(@PathVariable String issuer, @PathVariable("trusted") String named) {
        TrustedIssuer it = find(issuer, named);
        return Answers.found(view(it), it.version());
    }

    @ResponseStatus(HttpStatus.CREATED)
    @Permitted(AdminRole.ADMINISTRATOR)
    @PostMapping
    ResponseEntity<Changed<TrustedIssuerView>> add(
            @PathVariable String issuer,
            @RequestBody TrustedIssuerWanted wanted,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        return Answers.created(
                registration.looked(registration.add(owner, wanted, actor)),
                TrustedIssuer::version,
                it -> "/admin/issuers/%s/trusted-issuers/%s".formatted(owner.name(), it.name()),
                (it, notes) -> new Changed<>(view(it), notes));
    }

    @Permitted(AdminRole.ADMINISTRATOR)
    @PatchMapping("/{trusted}")
    ResponseEntity<Changed<TrustedIssuerView>> change(
            @PathVariable String issuer,
            @PathVariable("trusted") String named,
            @RequestBody TrustedIssuerWanted wanted,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Expected expected = Answers.required(ifMatch);
        TrustedIssuer old = find(issuer, named);
        TrustedIssuerView before = view(old);
        TrustedIssuerWanted merged = wanted.with(
                MergePatch.pairs(before.scopes(), wanted.scopes()),
                MergePatch.pairs(before.clients(), wanted.clients()));
        return Answers.changed(
                registration.looked(
                        registration.change(lookup.issuer(issuer), named, merged, expected.or(old.version()), actor)),
                TrustedIssuer::version,
                (it, notes) -> new Changed<>(view(it), notes));
    }

    @ResponseStatus(HttpStatus.NO_CONTENT)
    @Permitted(AdminRole.ADMINISTRATOR)
    @DeleteMapping("/{trusted}")
    ResponseEntity<Void> remove(
            @PathVariable String issuer,
            @PathVariable("trusted") String named,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        return Answers.removed(registration.remove(lookup.issuer(issuer), named, Answers.optional(ifMatch), actor));
    }

    /** Looks for its keys now. */
    @Permitted(AdminRole.OPERATOR)
    @PostMapping("/{trusted}/check")
    StepsView look(@PathVariable String issuer, @PathVariable("trusted") String named) {
        return Answers.steps(registration.look(find(issuer, named)).steps());
    }

    private TrustedIssuer find(String issuer, String named) {
        return trusted.named(lookup.issuer(issuer).id(), named).orElseThrow(Lookup.absent("trusted issuer", named));
    }

    private TrustedIssuerView view(TrustedIssuer it) {
        TrustedKeys.State standing = registration.state(it);
        Map<String, String> linked = new LinkedHashMap<>();
        it.clients()
                .forEach((theirs, ours) -> linked.put(
                        theirs,
                        clients.named(it.issuerId(), ours).map(Client::name).orElse(ours)));
        return new TrustedIssuerView(
                it.id(),
                it.name(),
                it.url(),
                it.keys() instanceof TrustedIssuer.Keys.InMetadata(URI at) ? at.toString() : null,
                it.keys() instanceof TrustedIssuer.Keys.At(URI at) ? at.toString() : null,
                it.keys() instanceof TrustedIssuer.Keys.Pasted,
                it.algorithms().stream().map(Object::toString).toList(),
                it.types(),
                it.audience().orElse(null),
                it.claims().scope(),
                it.claims().roles(),
                it.claims().person(),
                it.claims().client(),
                it.scopes(),
                linked,
                standing.kids(),
                standing.foundAt().orElse(null),
                standing.fault().orElse(null),
                it.version(),
                it.createdAt());
    }
}
