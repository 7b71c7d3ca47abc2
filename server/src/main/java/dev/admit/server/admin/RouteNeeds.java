package dev.admit.server.admin;

import dev.admit.core.approval.Approval;
import dev.admit.core.approval.Approvals;
import dev.admit.core.configuration.GuardedRoute;
import dev.admit.core.configuration.LiveConfiguration;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Issuer;
import dev.admit.core.route.RequestPath;
import dev.admit.core.route.Route;
import dev.admit.core.route.RouteTable;
import java.time.Clock;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;

/** The scopes that a call needs, for a caller who names none. */
@Component
class RouteNeeds {
    private final LiveConfiguration configuration;
    private final Approvals approvals;
    private final Clock clock;

    RouteNeeds(LiveConfiguration configuration, Approvals approvals, Clock clock) {
        this.configuration = configuration;
        this.approvals = approvals;
        this.clock = clock;
    }

    /**
     * @param path as it is sent.
     * @return space-separated; empty where no route of the issuer answers, or one that needs none
     */
    Optional<String> of(Issuer issuer, Client client, String method, String host, String path) {
        if (!(RequestPath.read(path) instanceof RequestPath.Reading.Good(RequestPath read))) return Optional.empty();
        if (!(configuration.get().routes().match(method, host, read.segments())
                instanceof RouteTable.Match.Found<GuardedRoute>(GuardedRoute route))) return Optional.empty();
        boolean ours = route.route().issuerId().equals(issuer.id());
        if (!ours
                || !(route.route().guard() instanceof Route.Guard.Token token)
                || token.scopes().isEmpty()) return Optional.empty();
        return Optional.of(token.any() ? held(client, token.scopes()) : String.join(" ", token.scopes()));
    }

    /** Of several that each would do, one that the client holds, or else requests. */
    private String held(Client client, List<String> names) {
        List<Approval> asked = approvals.ofClient(client.id()).stream()
                .filter(it -> names.contains(it.scopeName()))
                .toList();
        return asked.stream()
                .filter(it -> it.isGrantedAt(clock.instant()))
                .findFirst()
                .or(() -> asked.stream().findFirst())
                .map(Approval::scopeName)
                .orElse(names.getFirst());
    }
}
