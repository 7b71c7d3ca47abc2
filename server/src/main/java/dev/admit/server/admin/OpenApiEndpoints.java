package dev.admit.server.admin;

import dev.admit.contract.OpenApiCheckWanted;
import dev.admit.contract.OpenApiChecked;
import dev.admit.contract.OpenApiLoaded;
import dev.admit.contract.OpenApiWanted;
import dev.admit.core.access.AdminRole;
import dev.admit.core.access.Permission;
import dev.admit.core.change.Actor;
import dev.admit.core.decision.Command;
import dev.admit.core.openapi.AnswerOpenApi;
import dev.admit.core.openapi.CheckOpenApi;
import dev.admit.core.openapi.OpenApiDocument;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Issuer;
import dev.admit.core.route.Route;
import dev.admit.core.setup.ImportOpenApi;
import java.util.Map;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestAttribute;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** An API and its own OpenAPI document: made from it, shown as callers see it, held against it. */
@RestController
@RequestMapping("/admin/issuers/{issuer}/apis/{api}/openapi")
class OpenApiEndpoints {
    private final ImportOpenApi imports;
    private final AnswerOpenApi answers;
    private final Lookup lookup;
    private final Views views;

    OpenApiEndpoints(ImportOpenApi imports, AnswerOpenApi answers, Lookup lookup, Views views) {
        this.imports = imports;
        this.answers = answers;
        this.lookup = lookup;
        this.views = views;
    }

    /** The API's document as callers see it: the gateway's addresses, and what each operation really needs. */
    @Permitted(value = AdminRole.AUDITOR, owner = Permission.OwnerOf.API)
    @GetMapping
    Map<String, Object> forCallers(@PathVariable String issuer, @PathVariable String api) {
        Issuer owner = lookup.issuer(issuer);
        return answers.forCallers(owner, lookup.api(owner, api));
    }

    /**
     * Makes the API, its scopes and its routes from a document, or says what that would change; the API need not be
     * there before.
     *
     * @param confirm the API's name, said when more would pass than now
     */
    @Permitted(AdminRole.OPERATOR)
    @PostMapping("/import")
    ResponseEntity<OpenApiLoaded> load(
            @PathVariable String issuer,
            @PathVariable String api,
            @RequestBody OpenApiWanted wanted,
            @RequestParam(required = false) String confirm,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        Lockout.refuseForOperatorIssuer(owner);
        return Answers.shown(
                imports.run(owner, api, wanted, confirm, actor),
                it -> new OpenApiLoaded(
                        api,
                        it.loaded(),
                        it.sha256(),
                        views.steps(it.steps()),
                        it.gone(),
                        it.notes().stream()
                                .map(note -> Command.at(issuer, note))
                                .toList()));
    }

    /** What a document promises and no route lets through, and the reverse. */
    @Permitted(value = AdminRole.AUDITOR, owner = Permission.OwnerOf.API)
    @PostMapping("/check")
    ResponseEntity<OpenApiChecked> check(
            @PathVariable String issuer, @PathVariable String api, @RequestBody OpenApiCheckWanted wanted) {
        Issuer owner = lookup.issuer(issuer);
        Api found = lookup.api(owner, api);
        return Answers.shown(answers.check(owner, found, wanted.document()), it -> view(found, it));
    }

    private static OpenApiChecked view(Api api, CheckOpenApi it) {
        return new OpenApiChecked(
                api.name(),
                it.operations(),
                it.agrees(),
                it.notReached().stream().map(OpenApiDocument.Operation::label).toList(),
                it.otherwise().stream()
                        .map(one -> new OpenApiChecked.Otherwise(
                                one.of().label(), one.route().label(), one.promised(), one.wanted()))
                        .toList(),
                it.notPromised().stream().map(Route::label).toList(),
                it.wider().stream().map(Route::label).toList());
    }
}
