package dev.admit.server.admin;

import dev.admit.contract.TrialView;
import dev.admit.contract.TrialWanted;
import dev.admit.core.access.AdminRole;
import dev.admit.core.change.Actor;
import dev.admit.core.grant.GrantOutcome;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Issuer;
import jakarta.servlet.http.HttpServletRequest;
import java.util.HashMap;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestAttribute;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RestController;

/** Trial tokens: to call as a client without its credential. */
@RestController
class TrialEndpoint {
    private final TrialTokens trials;
    private final Lookup lookup;

    TrialEndpoint(TrialTokens trials, Lookup lookup) {
        this.trials = trials;
        this.lookup = lookup;
    }

    @Permitted(AdminRole.OPERATOR)
    @PostMapping("/admin/issuers/{issuer}/tokens/trial")
    ResponseEntity<TrialView> make(
            @PathVariable String issuer,
            @RequestBody TrialWanted wanted,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor,
            HttpServletRequest request) {
        Issuer owner = lookup.issuer(issuer);
        Client client = lookup.client(owner, wanted.client());
        TrialTokens.Made made = trials.make(owner, client, form(wanted.scope(), wanted.resource()), actor);
        return switch (made.outcome()) {
            case GrantOutcome.Issued issued ->
                ResponseEntity.ok(new TrialView(
                        issued.accessToken(),
                        client.name(),
                        issued.audience(),
                        issued.scope(),
                        issued.token().expiresAt(),
                        made.decision().id()));
            case GrantOutcome.Refused refused ->
                throw new Answers.Refused(
                        Answers.refusal(refused.refusal(), made.decision().id()));
        };
    }

    static Map<String, String> form(@Nullable String scope, @Nullable String resource) {
        Map<String, String> form = new HashMap<>();
        if (scope != null && !scope.isBlank()) form.put("scope", scope.strip());
        if (resource != null && !resource.isBlank()) form.put("resource", resource.strip());
        return form;
    }
}
