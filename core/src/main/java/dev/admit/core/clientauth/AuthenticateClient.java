package dev.admit.core.clientauth;

import dev.admit.core.decision.Action;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Checked;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Recorder;
import dev.admit.core.decision.Refusal;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.ClientAuthMethod;
import dev.admit.core.registry.ClientSecret;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.NewSecret;
import dev.admit.core.registry.SecretHash;
import java.time.Duration;
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
            Action.of("secret", "add", "CLIENT"));

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
    public void prepare(PresentedClient presented, Recorder decision) {
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
    public Optional<KnownClient> authenticate(PresentedClient presented, Issuer issuer, Recorder decision) {
        Optional<KnownClient> found = find(presented.id(), issuer, decision.from());
        found.map(KnownClient::client).ifPresent(client -> decision.client(client.id(), client.name()));
        KnownClient proven =
                decision.take(slowed(presented.id(), prove(presented, found, issuer, decision.at()), decision.from()));
        if (proven != null) decision.subject(proven.client().id());
        return Optional.ofNullable(proven);
    }

    private Optional<KnownClient> find(String id, Issuer issuer, String from) {
        return id.isEmpty()
                ? Optional.empty()
                : clients.findFor(id, from)
                        .filter(known -> known.client().issuerId().equals(issuer.id()));
    }

    /** @param found who it says to be, where there is such a client */
    private Checked<KnownClient> prove(
            PresentedClient presented, Optional<KnownClient> found, Issuer issuer, Instant now) {
        return switch (presented) {
            case PresentedClient.Unusable(Reason reason, String received, String fix) ->
                refused(reason, received, Fix.of(fix));
            case PresentedClient.WithSecret it -> bySecret(it, found, now);
            case PresentedClient.WithAssertion it -> byAssertion(it, found, issuer, now);
            case PresentedClient.Named it -> byName(found);
        };
    }

    private Checked<KnownClient> bySecret(
            PresentedClient.WithSecret presented, Optional<KnownClient> found, Instant now) {
        Optional<ClientSecret> secret =
                matching(presented.secret(), found.map(KnownClient::secrets).orElse(List.of()));
        if (found.isPresent() && secret.isEmpty()) clients.findAnew(presented.id()); // as long as for an unknown client
        // One sentence for an unknown client and a wrong secret, so that it tells nobody which ids exist.
        if (found.isEmpty() || secret.isEmpty()) return fitsNone();
        Client client = found.get().client();
        if (secret.get().isExpiredAt(now))
            return refused(
                    Reason.SECRET_EXPIRED,
                    "the secret '%s', which expired at %s"
                            .formatted(
                                    secret.get().label(),
                                    secret.get().expiresAt().orElseThrow()),
                    Fix.of("Have a new secret made.", Action.of("secret", "add", client.name()))
                            .by("an operator"));
        Checked<KnownClient> proven = provenBy(presented.method(), found.get());
        if (proven instanceof Checked.Passed) uses.note(secret.get().id(), now);
        return proven;
    }

    private Checked<KnownClient> byAssertion(
            PresentedClient.WithAssertion presented, Optional<KnownClient> found, Issuer issuer, Instant now) {
        if (found.isEmpty()) return fitsNone();
        // RFC 7523 §3: the audience is the authorization server; its issuer URL and its token endpoint both name it.
        List<String> ours = List.of(issuer.url().toString(), issuer.url() + "/token");
        Optional<Refusal> refusal = assertions.on(
                presented.assertion(), found.get().client(), keys.of(found.get().client()), ours, now);
        if (refusal.isEmpty()) return provenBy(ClientAuthMethod.PRIVATE_KEY_JWT, found.get());
        return Checked.refused(new CheckResult.Refused(CHECK, refusal.get()));
    }

    private static Checked<KnownClient> byName(Optional<KnownClient> found) {
        return found.filter(known -> known.client().tokenEndpointAuthMethod() == ClientAuthMethod.NONE)
                .map(known -> provenBy(ClientAuthMethod.NONE, known))
                .orElseGet(() -> refused(
                        Reason.NO_CLIENT_AUTHENTICATION,
                        "client_id without a credential",
                        Fix.of("Authenticate by Basic, with client_id and client_secret in the form, or with an "
                                + "assertion.")));
    }

    /** What is told only to the one who had the right credential. */
    private static Checked<KnownClient> provenBy(ClientAuthMethod method, KnownClient known) {
        Client client = known.client();
        if (!client.enabled())
            return refused(
                    Reason.CLIENT_SWITCHED_OFF,
                    "%s, which is switched off".formatted(client.name()),
                    Fix.of("Have it switched on.", Action.of("client", "on", client.name()))
                            .by("an operator"));
        if (method != client.tokenEndpointAuthMethod())
            return refused(
                    Reason.WRONG_AUTHENTICATION_METHOD,
                    "%s, where %s is registered".formatted(method, client.tokenEndpointAuthMethod()),
                    Fix.of(
                            "Authenticate by the registered method, or have the registration changed.",
                            Action.of("client", "change", client.name())
                                    .with("token-endpoint-auth-method", method.toString())));
        return Checked.passed(
                known,
                CheckResult.passed(CHECK, client.tokenEndpointAuthMethod().toString(), client.name()));
    }

    private static Checked<KnownClient> fitsNone() {
        return refused(Reason.CLIENT_NOT_AUTHENTICATED, "credentials that fit none", LOOK_AGAIN);
    }

    private static Checked<KnownClient> refused(Reason reason, String received, Fix fix) {
        return Checked.refused(CHECK, reason, EXPECTED, received, fix);
    }

    /** The same, and counted where the credential was a wrong one. */
    private Checked<KnownClient> slowed(String said, Checked<KnownClient> result, String from) {
        return result instanceof Checked.Refused<KnownClient>(CheckResult.Refused check, Duration wait)
                        && check.refusal().reason() == Reason.CLIENT_NOT_AUTHENTICATED
                ? guessing.refused(said, check, from)
                : result;
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
}
