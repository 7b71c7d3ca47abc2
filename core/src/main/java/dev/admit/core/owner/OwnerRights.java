package dev.admit.core.owner;

import dev.admit.core.approval.Approval;
import dev.admit.core.approval.Approvals;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Mend;
import dev.admit.core.decision.Reason;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Scopes;
import dev.admit.core.route.Route;
import dev.admit.core.route.Routes;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * What people may do at the admin API who do not run Admit but answer for an API or a client: see it and change it, and answer what
 * is asked of their API. Routes they see; the table of paths is everybody's, so operators change it. Who answers for what, and
 * whether an API goes altogether, is said by administrators.
 */
public final class OwnerRights {
    private static final Set<String> READING = Set.of("GET", "HEAD", "OPTIONS");
    private static final Set<String> LISTS = Set.of("apis", "clients", "routes", "approvals");
    private static final Set<String> ANSWERS = Set.of("give", "decline", "withdraw");
    private static final List<String> NOWHERE = List.of("nowhere");

    private final Owners owners;
    private final Approvals approvals;
    private final Scopes scopes;
    private final Routes routes;

    public OwnerRights(Owners owners, Approvals approvals, Scopes scopes, Routes routes) {
        this.owners = owners;
        this.approvals = approvals;
        this.scopes = scopes;
        this.routes = routes;
    }

    public boolean answersFor(String personId, Owned owned) {
        return owners.ofPerson(personId).stream().anyMatch(it -> it.owned().equals(owned));
    }

    /**
     * A list that they may see is still to be narrowed to what is theirs, and an ask to their clients, by whoever answers it.
     *
     * @param issuer whose person it is
     * @param path   as it was matched, decoded
     * @return empty for a person who answers for nothing
     */
    public Optional<CheckResult> check(String personId, Issuer issuer, String method, String path) {
        List<Owner> theirs = owners.ofPerson(personId);
        if (theirs.isEmpty()) return Optional.empty();
        boolean may = (READING.contains(method) ? mayRead(theirs, issuer, path) : mayChange(theirs, issuer, method, within(issuer, path)));
        String things = String.join(" and ", theirs.stream().map(it -> it.owned().toString()).toList());
        if (may) return Optional.of(CheckResult.passed("running", "what they answer for", things));
        return Optional.of(CheckResult.refused("running", Reason.NOT_THEIRS, "what they answer for: " + things, method + " " + path,
                Mend.of("Ask somebody who may, or have yourself named as one who answers for it.", "admit owner add ADDRESS --api API").by("an administrator")));
    }

    /** The parts of the path below the issuer; one that no rule knows for what lies elsewhere. */
    private static List<String> within(Issuer issuer, String path) {
        String base = "/admin/issuers/" + issuer.name();
        if (path.equals(base)) return List.of();
        return path.startsWith(base + "/") ? Arrays.asList(path.substring(base.length() + 1).split("/", -1)) : NOWHERE;
    }

    private boolean mayRead(List<Owner> theirs, Issuer issuer, String path) {
        if (Set.of("/admin", "/admin/issuers", "/admin/live", "/admin/decisions", "/admin/decisions/counts").contains(path) || path.matches("/admin/decisions/[^/]+(/explained)?")) return true;
        List<String> at = within(issuer, path);
        if (at.isEmpty() || at.size() == 1) return at.isEmpty() || LISTS.contains(at.getFirst());
        return switch (at.getFirst()) {
            case "routes" -> at.size() == 2 && routes.find(issuer.id(), at.get(1)).filter(it -> isTheirs(theirs, it)).isPresent();
            case "approvals" -> at.size() == 2 && approvals.find(issuer.id(), at.get(1)).filter(it -> isOfTheirClient(theirs, it) || isOfTheirApi(theirs, issuer, it)).isPresent();
            default -> isTheirs(theirs, at);
        };
    }

    private boolean mayChange(List<Owner> theirs, Issuer issuer, String method, List<String> at) {
        if (at.isEmpty()) return false;
        if (at.getFirst().equals("approvals")) return mayAnswer(theirs, issuer, method, at);
        boolean wholeApi = at.getFirst().equals("apis") && at.size() == 2 && method.equals("DELETE");
        boolean forAdministrators = at.size() > 2 && at.getFirst().equals("clients") && Set.of("identity", "copy").contains(at.get(2));
        return at.size() > 1 && !wholeApi && !forAdministrators && isTheirs(theirs, at);
    }

    private boolean mayAnswer(List<Owner> theirs, Issuer issuer, String method, List<String> at) {
        if (at.size() == 1 || at.equals(List.of("approvals", "roles"))) return method.equals("POST");
        Optional<Approval> approval = approvals.find(issuer.id(), at.get(1));
        if (at.size() == 2) return method.equals("DELETE") && approval.filter(it -> isOfTheirClient(theirs, it)).isPresent();
        return at.size() == 3 && ANSWERS.contains(at.get(2)) && approval.filter(it -> isOfTheirApi(theirs, issuer, it)).isPresent();
    }

    private static boolean isTheirs(List<Owner> theirs, List<String> at) {
        return switch (at.getFirst()) {
            case "apis" -> theirs.stream().anyMatch(it -> it.owned().isNamed(Owned.Kind.API, at.get(1)));
            case "clients" -> theirs.stream().anyMatch(it -> it.owned().isNamed(Owned.Kind.CLIENT, at.get(1)));
            default -> false;
        };
    }

    private static boolean isTheirs(List<Owner> theirs, Route route) {
        return route.guard() instanceof Route.Guard.Token token && theirs.stream().anyMatch(it -> it.owned().isNamed(Owned.Kind.API, token.apiId()));
    }

    private static boolean isOfTheirClient(List<Owner> theirs, Approval approval) {
        return theirs.stream().anyMatch(it -> it.owned().isNamed(Owned.Kind.CLIENT, approval.clientId()));
    }

    private boolean isOfTheirApi(List<Owner> theirs, Issuer issuer, Approval approval) {
        return scopes.named(issuer.id(), approval.scopeName()).filter(scope -> theirs.stream().anyMatch(it -> it.owned().isNamed(Owned.Kind.API, scope.apiId()))).isPresent();
    }
}
