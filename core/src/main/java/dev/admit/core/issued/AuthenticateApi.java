package dev.admit.core.issued;

import dev.admit.core.change.Known;
import dev.admit.core.clientauth.PresentedClient;
import dev.admit.core.clientauth.SlowedGuessing;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Decision;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.ApiSecret;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * Finds out that a caller of the introspection endpoint is the API it says to be: id and secret, sent as a client sends
 * them.
 */
final class AuthenticateApi {
    private AuthenticateApi() {}

    /** Whether this is how APIs show themselves: their ids begin otherwise than those of clients. */
    static boolean isMeant(PresentedClient presented) {
        return presented instanceof PresentedClient.WithSecret it && it.id().startsWith("api_");
    }

    static Optional<Api> authenticate(
            PresentedClient presented,
            CompiledIssuer issuer,
            Instant now,
            SlowedGuessing guessing,
            Decision.Builder decision) {
        PresentedClient.WithSecret it = (PresentedClient.WithSecret) presented;
        List<ApiSecret> secrets = issuer.apiSecrets().getOrDefault(it.id(), List.of());
        Optional<ApiSecret> match = Optional.empty();
        for (ApiSecret secret : secrets)
            if (it.secret().matches(secret.hash()) && !secret.isExpiredAt(now)) match = Optional.of(secret);
        if (match.isEmpty()) {
            guessing.refuse(
                    it.id(),
                    CheckResult.refused(
                            "api-authentication",
                            Reason.CLIENT_NOT_AUTHENTICATED,
                            "an API of this issuer with its secret",
                            "credentials that fit none",
                            Fix.of("Check id and secret; an operator can make another.")
                                    .by("an operator")),
                    decision);
            return Optional.empty();
        }
        Api api = Known.in(issuer.apisById(), it.id());
        decision.api(api.name());
        decision.add(CheckResult.passed("api-authentication", "an API of this issuer with its secret", api.name()));
        return Optional.of(api);
    }
}
