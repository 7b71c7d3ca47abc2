package dev.admit.core.approval;

import dev.admit.core.access.AdminApi;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Apis;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Issuers;
import dev.admit.core.registry.Scopes;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;

/**
 * The clients that can run Admit, or that wait to: those with {@code admit:run} or a scope of the admin API. The one
 * who holds the credential of such a client, or receives its codes, has its rights. So only administrators register,
 * change or replace anything by which such a client proves itself or is reached.
 */
public final class AdminClients {
    private final Issuers issuers;
    private final Apis apis;
    private final Scopes scopes;
    private final Approvals approvals;
    private final Predicate<String> ownClients;

    /** @param ownClients whether a client id is one of Admit's own, such as the console's */
    public AdminClients(Issuers issuers, Apis apis, Scopes scopes, Approvals approvals, Predicate<String> ownClients) {
        this.issuers = issuers;
        this.apis = apis;
        this.scopes = scopes;
        this.approvals = approvals;
        this.ownClients = ownClients;
    }

    /** Whether the client requests what runs Admit, with or without an answer. */
    public boolean isOne(Client client) {
        return client.openidScopes().contains(AdminApi.RUN)
                || approvals.ofClient(client.id()).stream()
                        .anyMatch(it -> runsAdmit(client.issuerId(), it.scopeName()));
    }

    /** Whether a scope is one of the admin API. */
    public boolean runsAdmit(String issuerId, String scopeName) {
        Optional<Issuer> service =
                issuers.named(AdminApi.ISSUER).filter(it -> it.id().equals(issuerId));
        Optional<Api> admin = service.flatMap(it -> apis.named(it.id(), AdminApi.NAME));
        return admin.isPresent()
                && scopes.named(issuerId, scopeName)
                        .filter(scope -> scope.apiId().equals(admin.get().id()))
                        .isPresent();
    }

    /** Whether the client is one of Admit's own. */
    public boolean isOwn(Client client) {
        return ownClients.test(client.id());
    }

    /**
     * Why this may not be done to a client; empty when it may.
     *
     * @param requested scopes that the client would request from now on
     * @param what such as {@code change this client}
     */
    public <T> Optional<Change<T>> refusal(Client client, List<String> requested, String what, Actor by) {
        if (by.power() == Actor.Power.ADMIT) return Optional.empty();
        if (isOwn(client))
            return Optional.of(new Change.Refused<>(
                    "%s is Admit's own client, and stays as Admit made it.".formatted(client.name()),
                    "To keep people out of the console, switch it off."));
        if (by.isAdministrator()) return Optional.empty();
        boolean wouldRun =
                requested.contains(AdminApi.RUN) || requested.stream().anyMatch(it -> runsAdmit(client.issuerId(), it));
        return wouldRun || isOne(client)
                ? Optional.of(Change.Forbidden.toAllBut("administrators", what + ", because it can run Admit"))
                : Optional.empty();
    }

    /** As above, for a change that requests nothing new. */
    public <T> Optional<Change<T>> refusal(Client client, String what, Actor by) {
        return refusal(client, List.of(), what, by);
    }
}
