package dev.admit.core.owner;

import dev.admit.core.access.Permission;
import dev.admit.core.approval.Approval;
import dev.admit.core.approval.Approvals;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.plan.Plans;
import dev.admit.core.plan.Subscription;
import dev.admit.core.plan.Subscriptions;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Scopes;
import dev.admit.core.route.Route;
import dev.admit.core.route.Routes;
import java.util.List;
import java.util.Optional;

/**
 * What people may do at the admin API without an admin role, because they own an API or a client. Each endpoint
 * declares whether owners may use it, and of which object; here it is found out whether the person owns that object.
 */
public final class OwnerRights {
    private final Owners owners;
    private final Approvals approvals;
    private final Scopes scopes;
    private final Routes routes;
    private final Plans plans;
    private final Subscriptions subscriptions;

    public OwnerRights(
            Owners owners,
            Approvals approvals,
            Scopes scopes,
            Routes routes,
            Plans plans,
            Subscriptions subscriptions) {
        this.owners = owners;
        this.approvals = approvals;
        this.scopes = scopes;
        this.routes = routes;
        this.plans = plans;
        this.subscriptions = subscriptions;
    }

    /** What the address of a request names, each by name or id; empty where it names none. */
    public record Named(
            Optional<String> api,
            Optional<String> client,
            Optional<String> route,
            Optional<String> approval,
            Optional<String> plan,
            Optional<String> subscription) {}

    public boolean answersFor(String personId, Owned owned) {
        return owners.ofPerson(personId).stream().anyMatch(it -> it.owned().equals(owned));
    }

    /**
     * A list that owners may see is still to be narrowed to what is theirs, by the one who answers it.
     *
     * @param issuer whose person it is, which is also the one in the address
     * @return empty for a person who owns nothing
     */
    public Optional<CheckResult> check(String personId, Issuer issuer, Permission.OwnerOf wanted, Named named) {
        List<Owner> theirs = owners.ofPerson(personId);
        if (theirs.isEmpty()) return Optional.empty();
        String things = String.join(
                " and ", theirs.stream().map(it -> it.owned().toString()).toList());
        if (owns(theirs, issuer, wanted, named))
            return Optional.of(CheckResult.passed("owner", "what they own", things));
        return Optional.of(CheckResult.refused(
                "owner",
                Reason.NOT_OWNER,
                "what they own: " + things,
                "something else",
                Fix.of("Ask a person who may, or have yourself named as an owner.")
                        .by("an administrator")));
    }

    private boolean owns(List<Owner> theirs, Issuer issuer, Permission.OwnerOf wanted, Named named) {
        return switch (wanted) {
            case NOTHING -> false;
            case ANYTHING -> true;
            case API ->
                named.api().filter(it -> owns(theirs, Owned.Kind.API, it)).isPresent();
            case CLIENT ->
                named.client().filter(it -> owns(theirs, Owned.Kind.CLIENT, it)).isPresent();
            case ROUTE_API ->
                named.route()
                        .flatMap(it -> routes.find(issuer.id(), it))
                        .filter(it -> ownsApi(theirs, it))
                        .isPresent();
            case APPROVAL_CLIENT ->
                approval(issuer, named).filter(it -> ownsClient(theirs, it)).isPresent();
            case APPROVAL_API ->
                approval(issuer, named)
                        .filter(it -> ownsApi(theirs, issuer, it))
                        .isPresent();
            case APPROVAL ->
                approval(issuer, named)
                        .filter(it -> ownsClient(theirs, it) || ownsApi(theirs, issuer, it))
                        .isPresent();
            case PLAN ->
                named.plan()
                        .flatMap(it -> plans.named(issuer.id(), it))
                        .map(it -> it.content().apiIds())
                        .filter(ids -> !ids.isEmpty() && ids.stream().allMatch(it -> owns(theirs, Owned.Kind.API, it)))
                        .isPresent();
            case PLAN_PART ->
                named.plan()
                        .flatMap(it -> plans.named(issuer.id(), it))
                        .filter(it -> ownsPart(theirs, it.id()))
                        .isPresent();
            case SUBSCRIPTION_CLIENT ->
                subscription(issuer, named)
                        .filter(it -> owns(theirs, Owned.Kind.CLIENT, it.clientId()))
                        .isPresent();
            case SUBSCRIPTION_PLAN ->
                subscription(issuer, named)
                        .filter(it -> ownsPart(theirs, it.planId()))
                        .isPresent();
            case SUBSCRIPTION_REQUEST ->
                subscription(issuer, named)
                        .filter(it -> ownsPart(
                                theirs,
                                it.moving().map(Subscription.Moving::planId).orElse(it.planId())))
                        .isPresent();
            case SUBSCRIPTION ->
                subscription(issuer, named)
                        .filter(it -> owns(theirs, Owned.Kind.CLIENT, it.clientId()) || ownsPart(theirs, it.planId()))
                        .isPresent();
        };
    }

    private Optional<Subscription> subscription(Issuer issuer, Named named) {
        return named.subscription().flatMap(it -> subscriptions.find(issuer.id(), it));
    }

    private boolean ownsPart(List<Owner> theirs, String planId) {
        return plans.find(planId)
                .filter(plan -> plan.content().apiIds().stream().anyMatch(it -> owns(theirs, Owned.Kind.API, it)))
                .isPresent();
    }

    private Optional<Approval> approval(Issuer issuer, Named named) {
        return named.approval().flatMap(it -> approvals.find(issuer.id(), it));
    }

    private static boolean owns(List<Owner> theirs, Owned.Kind kind, String nameOrId) {
        return theirs.stream().anyMatch(it -> it.owned().isNamed(kind, nameOrId));
    }

    private static boolean ownsApi(List<Owner> theirs, Route route) {
        return route.guard() instanceof Route.Guard.Token token && owns(theirs, Owned.Kind.API, token.apiId());
    }

    private static boolean ownsClient(List<Owner> theirs, Approval approval) {
        return owns(theirs, Owned.Kind.CLIENT, approval.clientId());
    }

    private boolean ownsApi(List<Owner> theirs, Issuer issuer, Approval approval) {
        return scopes.named(issuer.id(), approval.scopeName())
                .filter(scope -> owns(theirs, Owned.Kind.API, scope.apiId()))
                .isPresent();
    }
}
