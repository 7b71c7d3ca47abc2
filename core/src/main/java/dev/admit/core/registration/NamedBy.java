package dev.admit.core.registration;

import dev.admit.core.change.Change;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Apis;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Role;
import dev.admit.core.route.Route;
import dev.admit.core.route.Routes;
import dev.admit.core.route.Who;
import dev.admit.core.trust.TrustedIssuer;
import dev.admit.core.trust.TrustedIssuers;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** What names a client, a role or a scope, so that removing it would change what routes and mappings mean. */
public final class NamedBy {
    private final Apis apis;
    private final Routes routes;
    private final TrustedIssuers trusted;

    public NamedBy(Apis apis, Routes routes, TrustedIssuers trusted) {
        this.apis = apis;
        this.routes = routes;
        this.trusted = trusted;
    }

    /** Why a client may not be removed; empty when nothing names it. */
    <T> Optional<Change<T>> refusal(Issuer issuer, Client client) {
        List<String> naming = new ArrayList<>();
        for (Route route : routes.of(issuer.id())) {
            Who who = whoOf(route);
            if (who.clients().contains(client.id()))
                naming.add("the route %s, among those that pass".formatted(route.label()));
            if (who.signIn().filter(client.id()::equals).isPresent())
                naming.add("the route %s, as whom it signs people in".formatted(route.label()));
        }
        for (TrustedIssuer it : trusted.of(issuer.id()))
            if (it.clients().containsValue(client.id()))
                naming.add("the trusted issuer %s, as a client of theirs".formatted(it.name()));
        naming.addAll(exceptions(issuer, client));
        return refusal("The client " + client.name(), naming);
    }

    /** Why a client may not get another name: exceptions in minting name clients by it. */
    <T> Optional<Change<T>> refusalOfRenaming(Issuer issuer, Client client) {
        return refusal("The client " + client.name(), exceptions(issuer, client));
    }

    /** Whether an API of the issuer has this audience. */
    boolean isAudience(Issuer issuer, String audience) {
        return apis.withAudience(issuer.id(), audience).isPresent();
    }

    private List<String> exceptions(Issuer issuer, Client client) {
        List<String> naming = new ArrayList<>();
        for (Api api : apis.of(issuer.id())) {
            api.minting().exceptions().stream()
                    .filter(it -> it.clients().contains(client.name()))
                    .forEach(
                            it -> naming.add("the exception %s in the minting of %s".formatted(it.name(), api.name())));
        }
        return naming;
    }

    /** Why a role may not be removed. */
    <T> Optional<Change<T>> refusal(Issuer issuer, Role role) {
        return refusal(
                "The role " + role.name(),
                routes.of(issuer.id()).stream()
                        .filter(it -> whoOf(it).roles().contains(role.name()))
                        .map(it -> "the route %s, among those that pass".formatted(it.label()))
                        .toList());
    }

    /** Why a scope may not be removed, beside the routes that need it. */
    <T> Optional<Change<T>> refusalOfScope(Issuer issuer, String scope) {
        return refusal(
                "The scope " + scope,
                trusted.of(issuer.id()).stream()
                        .filter(it -> it.scopes().containsValue(scope))
                        .map(it -> "the trusted issuer %s, as a scope of theirs".formatted(it.name()))
                        .toList());
    }

    private static <T> Optional<Change<T>> refusal(String what, List<String> naming) {
        if (naming.isEmpty()) return Optional.empty();
        return Optional.of(new Change.Refused<>(
                "%s is named by %s.".formatted(what, String.join("; by ", naming)), "Remove it there first."));
    }

    private static Who whoOf(Route route) {
        return route.guard() instanceof Route.Guard.Token token ? token.who() : Who.ANYONE;
    }
}
