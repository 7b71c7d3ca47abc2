package dev.admit.core.clientauth;

import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Decision;
import dev.admit.core.decision.Mend;
import dev.admit.core.decision.Reason;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.ClientSecret;
import dev.admit.core.registry.NewSecret;
import dev.admit.core.registry.SecretHash;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** Finds out which client a request comes from, and that it is the one (RFC 6749 §3.2.1). */
public final class AuthenticateClient {
    private static final String CHECK = "client-authentication";
    private static final String EXPECTED = "a client of this issuer, authenticated with its secret";
    /** Compared against for a client that is not there, so that both take the same time. */
    private static final SecretHash NOBODYS = NewSecret.make().hash();
    private static final Mend LOOK_AGAIN = Mend.of("Check client_id and secret, and that they are of this issuer; an operator can make another secret.",
            "admit secret add CLIENT");

    private AuthenticateClient() {}

    /** @return the client, or empty when a check refused; the decision says which */
    public static Optional<KnownClient> authenticate(PresentedClient presented, String issuerId, KnownClients directory, Instant now,
                                                     Decision.Builder decision) {
        return switch (presented) {
            case PresentedClient.Unusable(Reason reason, String came, String mend, boolean triedBasic) -> {
                decision.add(CheckResult.refused(CHECK, reason, EXPECTED, came, Mend.of(mend)));
                yield Optional.empty();
            }
            case PresentedClient.WithSecret it -> authenticate(it, issuerId, directory, now, decision);
        };
    }

    private static Optional<KnownClient> authenticate(PresentedClient.WithSecret presented, String issuerId, KnownClients directory,
                                                      Instant now, Decision.Builder decision) {
        Optional<KnownClient> found = directory.find(presented.id()).filter(known -> known.client().issuerId().equals(issuerId));
        Optional<ClientSecret> secret = matching(presented.secret(), found.map(KnownClient::secrets).orElse(List.of()));
        if (found.isPresent() && secret.isEmpty()) directory.findAnew(presented.id()); // as long as for an unknown client
        if (found.isPresent()) decision.client(found.get().client().id(), found.get().client().name());
        if (found.isEmpty() || secret.isEmpty()) {
            // One sentence for an unknown client and a wrong secret, so that it tells nobody which ids exist.
            return refuse(Reason.CLIENT_NOT_AUTHENTICATED, "credentials that fit none", LOOK_AGAIN, decision);
        }
        Client client = found.get().client();
        // What follows is told only to whoever had the right secret.
        if (!client.enabled()) {
            return refuse(Reason.CLIENT_SWITCHED_OFF, "%s, which is switched off".formatted(client.name()),
                    Mend.of("Have it switched on.", "admit client on " + client.name()).by("an operator"), decision);
        }
        if (secret.get().isExpiredAt(now)) {
            return refuse(Reason.SECRET_EXPIRED, "the secret '%s', which ran out at %s".formatted(secret.get().label(), secret.get().expiresAt()),
                    Mend.of("Have a new secret made.", "admit secret add " + client.name()).by("an operator"), decision);
        }
        if (presented.method() != client.authMethod()) {
            return refuse(Reason.WRONG_AUTHENTICATION_METHOD, "%s, where %s is registered".formatted(presented.method(), client.authMethod()),
                    Mend.of("Authenticate by the registered method, or have the registration changed.",
                            "admit client change %s --auth-method %s".formatted(client.name(), presented.method())), decision);
        }
        decision.subject(client.id());
        decision.add(CheckResult.passed(CHECK, client.authMethod().toString(), client.name()));
        return found;
    }

    private static Optional<ClientSecret> matching(PresentedSecret presented, List<ClientSecret> secrets) {
        Optional<ClientSecret> match = Optional.empty();
        boolean nobody = presented.matches(NOBODYS);
        for (ClientSecret secret : secrets) {
            // All are compared, and of two that match the one that lives longer counts.
            if (presented.matches(secret.hash()) && (match.isEmpty() || secret.expiresAt().isAfter(match.get().expiresAt()))) {
                match = Optional.of(secret);
            }
        }
        return nobody ? Optional.empty() : match;
    }

    private static Optional<KnownClient> refuse(Reason reason, String came, Mend mend, Decision.Builder decision) {
        decision.add(CheckResult.refused(CHECK, reason, EXPECTED, came, mend));
        return Optional.empty();
    }
}
