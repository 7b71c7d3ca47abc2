package dev.admit.server.admin;

import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.configuration.LiveConfiguration;
import dev.admit.core.owner.Owned;
import dev.admit.core.owner.Owner;
import dev.admit.core.owner.Owners;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Role;
import dev.admit.server.operations.LiveFeed;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;

/**
 * What of the live feed an owner hears: what changes at the APIs and clients that they own, and that something was
 * decided there.
 */
@Component
class OwnersChanges {
    private final Owners owners;
    private final LiveConfiguration configuration;

    OwnersChanges(Owners owners, LiveConfiguration configuration) {
        this.owners = owners;
        this.configuration = configuration;
    }

    /** @param ownedBy the owner; null for the one who hears all of it */
    Optional<LiveFeed.Event> of(LiveFeed.Event event, String ownedBy) {
        if (ownedBy == null) return Optional.of(event);
        List<Owned> owned = owners.ofPerson(ownedBy).stream().map(Owner::owned).toList();
        Optional<CompiledIssuer> issuer = configuration.get().issuer(event.issuer());
        return event.narrowed(
                told -> isTheirs(told, owned, issuer),
                decided -> owns(owned, Owned.Kind.API, decided.api()) || ownsClientById(owned, decided.clientId()));
    }

    /** What is of a kind that is not named here is nobody's but of those who run the issuer. */
    private static boolean isTheirs(LiveFeed.Told told, List<Owned> owned, Optional<CompiledIssuer> issuer) {
        String[] on = told.on().split(" ", 2);
        return switch (told.what().substring(0, Math.max(0, told.what().indexOf('.')))) {
            case "api", "api-secret", "minting" -> owns(owned, Owned.Kind.API, on[0]);
            case "client", "secret" -> owns(owned, Owned.Kind.CLIENT, on[0]);
            case "scope" -> ownsApiOfScope(owned, on[0], issuer);
            case "role" ->
                issuer.flatMap(it -> it.rolesById().values().stream()
                                .filter(role -> role.name().equals(on[0]))
                                .findFirst())
                        .map(Role::apiId)
                        .flatMap(api -> apiName(issuer, api))
                        .filter(api -> owns(owned, Owned.Kind.API, api))
                        .isPresent();
            case "approval" ->
                owns(owned, Owned.Kind.CLIENT, on[0]) || on.length > 1 && ownsApiOfScope(owned, on[1], issuer);
            default -> false;
        };
    }

    private static boolean ownsApiOfScope(List<Owned> owned, String scope, Optional<CompiledIssuer> issuer) {
        return issuer.flatMap(it -> Optional.ofNullable(it.scopesByName().get(scope)))
                .flatMap(it -> apiName(issuer, it.apiId()))
                .filter(api -> owns(owned, Owned.Kind.API, api))
                .isPresent();
    }

    private static Optional<String> apiName(Optional<CompiledIssuer> issuer, String apiId) {
        return issuer.flatMap(it -> Optional.ofNullable(it.apisById().get(apiId)))
                .map(Api::name);
    }

    private static boolean owns(List<Owned> owned, Owned.Kind kind, String name) {
        return owned.stream().anyMatch(it -> it.kind() == kind && it.name().equals(name));
    }

    private static boolean ownsClientById(List<Owned> owned, String clientId) {
        return owned.stream()
                .anyMatch(it -> it.kind() == Owned.Kind.CLIENT && it.id().equals(clientId));
    }
}
