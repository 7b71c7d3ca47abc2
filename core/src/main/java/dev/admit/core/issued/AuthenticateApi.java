package dev.admit.core.issued;

import dev.admit.core.change.Known;
import dev.admit.core.clientauth.PresentedClient;
import dev.admit.core.clientauth.SlowedGuessing;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Checked;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Recorder;
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
    static boolean isMeant(PresentedClient.WithSecret presented) {
        return presented.id().startsWith("api_");
    }

    static Optional<Api> authenticate(
            PresentedClient.WithSecret presented, CompiledIssuer issuer, SlowedGuessing guessing, Recorder decision) {
        Api api = decision.take(prove(presented, issuer, guessing, decision.at(), decision.from()));
        if (api != null) decision.api(api.name());
        return Optional.ofNullable(api);
    }

    private static Checked<Api> prove(
            PresentedClient.WithSecret presented,
            CompiledIssuer issuer,
            SlowedGuessing guessing,
            Instant now,
            String from) {
        String expected = "an API of this issuer with its secret";
        List<ApiSecret> secrets = issuer.apiSecrets().getOrDefault(presented.id(), List.of());
        boolean matches = false;
        for (ApiSecret secret : secrets)
            if (presented.secret().matches(secret.hash()) && !secret.isExpiredAt(now)) matches = true;
        if (!matches)
            return guessing.refused(
                    presented.id(),
                    CheckResult.refused(
                            "api-authentication",
                            Reason.CLIENT_NOT_AUTHENTICATED,
                            expected,
                            "credentials that fit none",
                            Fix.of("Check id and secret; an operator can make another.")
                                    .by("an operator")),
                    from);
        Api api = Known.in(issuer.apisById(), presented.id());
        return Checked.passed(api, CheckResult.passed("api-authentication", expected, api.name()));
    }
}
