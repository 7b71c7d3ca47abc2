package dev.admit.server.pages;

import dev.admit.core.authorize.AuthorizationRequest;
import dev.admit.core.authorize.EffectiveRights;
import dev.admit.core.authorize.IdentityScopes;
import dev.admit.core.registry.ClientKind;
import dev.admit.core.registry.Scope;
import dev.admit.core.signin.SignedIn;
import java.io.IOException;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.springframework.stereotype.Component;

/**
 * Asks a person whether a client may act for them: each scope in its words for people, what is new apart from what they
 * approved before.
 */
@Component
class ApprovePage {
    private final Render render;

    ApprovePage(Render render) {
        this.render = render;
    }

    /** One scope as the page has it. */
    public record Line(String scope, String words, boolean changes) {}

    void show(Visit visit, String flow, AuthorizationRequest request, SignedIn who, EffectiveRights rights)
            throws IOException {
        List<Line> before =
                rights.names().stream().map(scope -> line(visit, scope)).toList();
        Map<String, Object> values = new LinkedHashMap<>();
        values.put("flow", flow);
        values.put("client", request.client().client());
        values.put("where", where(request));
        values.put("who", who.person());
        values.put(
                "fresh",
                rights.toApprove().stream().map(scope -> line(visit, scope)).toList());
        values.put("before", before);
        values.put(
                "administrators",
                rights.forAdministrator().stream()
                        .map(scope -> line(visit, scope))
                        .toList());
        values.put(
                "notTheirs",
                rights.notTheirs().stream().map(scope -> line(visit, scope)).toList());
        values.put("anything", !rights.toApprove().isEmpty() || !rights.isEmpty());
        render.page(visit, 200, "approve", values, Optional.of(request.reply().redirectUri()));
    }

    static Line line(Visit visit, String scope) {
        if (IdentityScopes.isOne(scope)) return new Line(scope, IdentityScopes.words(scope), false);
        Scope it = visit.issuer().scopesByName().get(scope);
        return it == null
                ? new Line(scope, "No longer of any use.", false)
                : new Line(scope, it.consequenceForPerson(), it.effect() != Scope.Effect.READS);
    }

    /** Where the person will be sent. */
    static String where(AuthorizationRequest request) {
        boolean onThisDevice = request.client().client().kind() == ClientKind.NATIVE;
        return onThisDevice
                ? "this device"
                : java.net.URI.create(request.reply().redirectUri()).getAuthority();
    }
}
