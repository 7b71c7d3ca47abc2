package dev.admit.core.clientauth;

import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Command;
import dev.admit.core.decision.Decision;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Refusal;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.ClientAuthMethod;
import dev.admit.core.registry.ClientSecret;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.NewSecret;
import dev.admit.core.registry.SecretHash;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** Finds out which client a request comes from, and that it is the one (RFC 6749 §3.2.1). */
public final class AuthenticateClient {
    private static final String CHECK = "client-authentication";
    private static final String EXPECTED = "a client of this issuer, authenticated as it is registered";
    /** Compared against for a client that is not there, so that both take the same time. */
    private static final SecretHash NOBODYS = NewSecret.make().hash();

    private static final Fix LOOK_AGAIN = Fix.of(
            "Check client_id and credential, and that they are of this issuer; an operator can make another secret.",
            "admit secret add CLIENT");

    private final KnownClients clients;
    private final ClientKeys keys;
    private final CheckAssertion assertions;
    private final SecretUses uses;
    private final SlowedGuessing guessing;

    public AuthenticateClient(
            KnownClients clients, ClientKeys keys, UsedAssertions used, SecretUses uses, SlowedGuessing guessing) {
        this.clients = clients;
        this.keys = keys;
        this.assertions = new CheckAssertion(used);
        this.uses = uses;
        this.guessing = guessing;
    }

    /**
     * Does what may take long and is no part of the answer: fetches the keys of a client that publishes them elsewhere.
     */
    public void prepare(PresentedClient presented, Decision.Builder decision) {
        if (presented instanceof PresentedClient.WithAssertion it) {
            clients.findFor(it.id(), decision.from())
                    .ifPresent(known -> keys.prepare(
                            known.client(),
                            Optional.ofNullable(it.assertion().getHeader().getKeyID()),
                            decision.at()));
        }
    }

    /** A client as it is now, for whoever need not have it proved. */
    public Optional<KnownClient> known(String clientId) {
        return clients.find(clientId);
    }

    /** @return the client, or empty when a check refused; the decision says which */
    public Optional<KnownClient> authenticate(
            PresentedClient presented, Issuer issuer, Instant now, Decision.Builder decision) {
        return switch (presented) {
            case PresentedClient.Unusable(Reason reason, String received, String fix) ->
                refuse("", reason, EXPECTED, received, Fix.of(fix), decision);
            case PresentedClient.WithSecret it -> bySecret(it, issuer, now, decision);
            case PresentedClient.WithAssertion it -> byAssertion(it, issuer, now, decision);
            case PresentedClient.Named it -> byName(it, issuer, decision);
        };
    }

    private Optional<KnownClient> find(String id, Issuer issuer, Decision.Builder decision) {
        Optional<KnownClient> found = clients.findFor(id, decision.from())
                .filter(known -> known.client().issuerId().equals(issuer.id()));
        found.ifPresent(
                known -> decision.client(known.client().id(), known.client().name()));
        return found;
    }

    private Optional<KnownClient> bySecret(
            PresentedClient.WithSecret presented, Issuer issuer, Instant now, Decision.Builder decision) {
        Optional<KnownClient> found = find(presented.id(), issuer, decision);
        Optional<ClientSecret> secret =
                matching(presented.secret(), found.map(KnownClient::secrets).orElse(List.of()));
        if (found.isPresent() && secret.isEmpty()) clients.findAnew(presented.id()); // as long as for an unknown client
        // One sentence for an unknown client and a wrong secret, so that it tells nobody which ids exist.
        if (found.isEmpty() || secret.isEmpty())
            return refuse(
                    presented.id(),
                    Reason.CLIENT_NOT_AUTHENTICATED,
                    EXPECTED,
                    "credentials that fit none",
                    LOOK_AGAIN,
                    decision);
        Client client = found.get().client();
        if (secret.get().isExpiredAt(now)) {
            return refuse(
                    presented.id(),
                    Reason.SECRET_EXPIRED,
                    EXPECTED,
                    "the secret '%s', which expired at %s"
                            .formatted(
                                    secret.get().label(),
                                    secret.get().expiresAt().orElseThrow()),
                    Fix.of("Have a new secret made.", Command.of("secret", "add", client.name()))
                            .by("an operator"),
                    decision);
        }
        Optional<KnownClient> proven = provenBy(presented.method(), found.get(), decision);
        if (proven.isPresent()) uses.note(secret.get().id(), now);
        return proven;
    }

    private Optional<KnownClient> byAssertion(
            PresentedClient.WithAssertion presented, Issuer issuer, Instant now, Decision.Builder decision) {
        Optional<KnownClient> found = find(presented.id(), issuer, decision);
        if (found.isEmpty())
            return refuse(
                    presented.id(),
                    Reason.CLIENT_NOT_AUTHENTICATED,
                    EXPECTED,
                    "credentials that fit none",
                    LOOK_AGAIN,
                    decision);
        // RFC 7523 §3: the audience is the authorization server; its issuer URL and its token endpoint both name it.
        List<String> ours = List.of(issuer.url().toString(), issuer.url() + "/token");
        Optional<Refusal> refusal = assertions.on(
                presented.assertion(), found.get().client(), keys.of(found.get().client()), ours, now);
        if (refusal.isPresent()) {
            Refusal why = refusal.get();
            return refuse(presented.id(), why.reason(), why.expected(), why.received(), why.fix(), decision);
        }
        return provenBy(ClientAuthMethod.PRIVATE_KEY_JWT, found.get(), decision);
    }

    private Optional<KnownClient> byName(PresentedClient.Named presented, Issuer issuer, Decision.Builder decision) {
        Optional<KnownClient> found = find(presented.id(), issuer, decision);
        if (found.filter(known -> known.client().tokenEndpointAuthMethod() == ClientAuthMethod.NONE)
                .isEmpty()) {
            return refuse(
                    presented.id(),
                    Reason.NO_CLIENT_AUTHENTICATION,
                    EXPECTED,
                    "client_id without a credential",
                    Fix.of("Authenticate by Basic, with client_id and client_secret in the form, or with an "
                            + "assertion."),
                    decision);
        }
        return provenBy(ClientAuthMethod.NONE, found.get(), decision);
    }

    /** What is told only to the one who had the right credential. */
    private Optional<KnownClient> provenBy(ClientAuthMethod method, KnownClient known, Decision.Builder decision) {
        Client client = known.client();
        if (!client.enabled()) {
            return refuse(
                    client.id(),
                    Reason.CLIENT_SWITCHED_OFF,
                    EXPECTED,
                    "%s, which is switched off".formatted(client.name()),
                    Fix.of("Have it switched on.", Command.of("client", "on", client.name()))
                            .by("an operator"),
                    decision);
        }
        if (method != client.tokenEndpointAuthMethod()) {
            return refuse(
                    client.id(),
                    Reason.WRONG_AUTHENTICATION_METHOD,
                    EXPECTED,
                    "%s, where %s is registered".formatted(method, client.tokenEndpointAuthMethod()),
                    Fix.of(
                            "Authenticate by the registered method, or have the registration changed.",
                            Command.of(
                                    "client",
                                    "change",
                                    client.name(),
                                    "--token-endpoint-auth-method",
                                    method.toString())),
                    decision);
        }
        decision.subject(client.id());
        decision.add(CheckResult.passed(CHECK, client.tokenEndpointAuthMethod().toString(), client.name()));
        return Optional.of(known);
    }

    private static Optional<ClientSecret> matching(PresentedSecret presented, List<ClientSecret> secrets) {
        Optional<ClientSecret> match = Optional.empty();
        boolean nobody = presented.matches(NOBODYS);
        for (ClientSecret secret : secrets) {
            // All are compared, and of two that match the one that lives longer counts.
            if (presented.matches(secret.hash()))
                match = Optional.of(match.isEmpty() ? secret : ClientSecret.longer(match.get(), secret));
        }
        return nobody ? Optional.empty() : match;
    }

    private Optional<KnownClient> refuse(
            String said, Reason reason, String expected, String received, Fix fix, Decision.Builder decision) {
        CheckResult refused = CheckResult.refused(CHECK, reason, expected, received, fix);
        if (reason == Reason.CLIENT_NOT_AUTHENTICATED) guessing.refuse(said, refused, decision);
        else decision.add(refused);
        return Optional.empty();
    }
}
