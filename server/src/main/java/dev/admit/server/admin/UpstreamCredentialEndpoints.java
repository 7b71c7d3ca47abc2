package dev.admit.server.admin;

import dev.admit.contract.Changed;
import dev.admit.contract.PageView;
import dev.admit.contract.StepsView;
import dev.admit.contract.UpstreamCredentialView;
import dev.admit.contract.UpstreamCredentialWanted;
import dev.admit.core.access.AdminRole;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Expected;
import dev.admit.core.registration.UpstreamCredentialRegistration;
import dev.admit.core.registry.Issuer;
import dev.admit.core.route.Route;
import dev.admit.core.route.Routes;
import dev.admit.core.upstream.TryCredential;
import dev.admit.core.upstream.UpstreamCredential;
import dev.admit.core.upstream.UpstreamCredential.Shown;
import dev.admit.core.upstream.UpstreamCredentials;
import java.util.List;
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
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** What the gateway itself presents to upstreams. */
@RestController
@RequestMapping("/admin/issuers/{issuer}/upstream-credentials")
class UpstreamCredentialEndpoints {
    private final UpstreamCredentials credentials;
    private final UpstreamCredentialRegistration registration;
    private final TryCredential tryCredential;
    private final Routes routes;
    private final Lookup lookup;

    UpstreamCredentialEndpoints(
            UpstreamCredentials credentials,
            UpstreamCredentialRegistration registration,
            TryCredential tryCredential,
            Routes routes,
            Lookup lookup) {
        this.credentials = credentials;
        this.registration = registration;
        this.tryCredential = tryCredential;
        this.routes = routes;
        this.lookup = lookup;
    }

    @Permitted(AdminRole.AUDITOR)
    @GetMapping
    PageView<UpstreamCredentialView> list(@PathVariable String issuer) {
        return new PageView<>(
                credentials.of(lookup.issuer(issuer).id()).stream()
                        .map(it -> view(it.credential()))
                        .toList(),
                null);
    }

    @Permitted(AdminRole.AUDITOR)
    @GetMapping("/{credential}")
    ResponseEntity<UpstreamCredentialView> show(@PathVariable String issuer, @PathVariable String credential) {
        UpstreamCredential it = find(issuer, credential).credential();
        return Answers.found(view(it), it.version());
    }

    @ResponseStatus(HttpStatus.CREATED)
    @Permitted(AdminRole.OPERATOR)
    @PostMapping
    ResponseEntity<Changed<UpstreamCredentialView>> add(
            @PathVariable String issuer,
            @RequestBody UpstreamCredentialWanted wanted,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        return Answers.created(
                registration.add(owner, wanted, actor),
                UpstreamCredential::version,
                it -> "/admin/issuers/%s/upstream-credentials/%s".formatted(owner.name(), it.name()),
                (it, notes) -> new Changed<>(view(it), notes));
    }

    @Permitted(AdminRole.OPERATOR)
    @PatchMapping("/{credential}")
    ResponseEntity<Changed<UpstreamCredentialView>> change(
            @PathVariable String issuer,
            @PathVariable String credential,
            @RequestBody UpstreamCredentialWanted wanted,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Expected expected = Answers.required(ifMatch);
        UpstreamCredential old = find(issuer, credential).credential();
        Map<String, String> parameters = MergePatch.pairs(view(old).parameters(), wanted.parameters());
        return Answers.changed(
                registration.change(
                        lookup.issuer(issuer), credential, wanted.with(parameters), expected.or(old.version()), actor),
                UpstreamCredential::version,
                (it, notes) -> new Changed<>(view(it), notes));
    }

    @ResponseStatus(HttpStatus.NO_CONTENT)
    @Permitted(AdminRole.OPERATOR)
    @DeleteMapping("/{credential}")
    ResponseEntity<Void> remove(
            @PathVariable String issuer,
            @PathVariable String credential,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        return Answers.removed(
                registration.remove(lookup.issuer(issuer), credential, Answers.optional(ifMatch), actor));
    }

    /**
     * Presents it to its upstream now, with a GET.
     *
     * @param path below the upstream
     */
    @Permitted(AdminRole.OPERATOR)
    @PostMapping("/{credential}/check")
    StepsView check(
            @PathVariable String issuer, @PathVariable String credential, @RequestParam(required = false) String path) {
        return Answers.steps(tryCredential.on(find(issuer, credential), path == null ? "" : path));
    }

    private UpstreamCredentials.Stored find(String issuer, String named) {
        return credentials
                .named(lookup.issuer(issuer).id(), named)
                .orElseThrow(Lookup.absent("upstream credential", named));
    }

    private UpstreamCredentialView view(UpstreamCredential it) {
        List<String> presenting = routes.of(it.issuerId()).stream()
                .filter(route ->
                        route.transform().credential().filter(it.id()::equals).isPresent())
                .map(Route::label)
                .toList();
        return switch (it.shown()) {
            case Shown.Header(String name) ->
                new UpstreamCredentialView(
                        it.id(),
                        it.name(),
                        it.upstream().toString(),
                        "header",
                        name,
                        null,
                        null,
                        null,
                        null,
                        null,
                        null,
                        null,
                        presenting,
                        it.version(),
                        it.createdAt());
            case Shown.Login(String user) ->
                new UpstreamCredentialView(
                        it.id(),
                        it.name(),
                        it.upstream().toString(),
                        "login",
                        null,
                        user,
                        null,
                        null,
                        null,
                        null,
                        null,
                        null,
                        presenting,
                        it.version(),
                        it.createdAt());
            case Shown.Token token ->
                new UpstreamCredentialView(
                        it.id(),
                        it.name(),
                        it.upstream().toString(),
                        "token",
                        null,
                        null,
                        token.clientId(),
                        token.issuer().map(Object::toString).orElse(null),
                        token.tokenEndpoint().map(Object::toString).orElse(null),
                        token.inBody() ? "body" : "header",
                        token.scope().orElse(null),
                        token.parameters(),
                        presenting,
                        it.version(),
                        it.createdAt());
        };
    }
}
