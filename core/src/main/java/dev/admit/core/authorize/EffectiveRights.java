package dev.admit.core.authorize;

import dev.admit.core.approval.Approval;
import dev.admit.core.approval.PersonalApproval;
import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.person.Person;
import dev.admit.core.registry.Role;
import dev.admit.core.registry.Scope;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * What a client may do on a person's behalf now, of what it requested: what was approved, for everyone or by the
 * person, and what the person may do themselves. A token never carries more than all three allow.
 *
 * @param granted of APIs: requested, approved, and the person's own right
 * @param identity of the issuer's own, such as {@code openid}: requested and approved
 * @param toApprove that the person may approve and has not; the issuer's own by name alone
 * @param forAdministrator that only an administrator may approve, and none has
 * @param notTheirs that the person may not do themselves
 * @param until the first end of an approval or a scope that it leans on
 */
public record EffectiveRights(
        List<Scope> granted,
        List<String> identity,
        List<String> toApprove,
        List<String> forAdministrator,
        List<String> notTheirs,
        Instant until) {

    /**
     * @param requested names of scopes that are of this issuer and that the client requests by its registration
     * @param personal what the person approved for this client
     */
    public static EffectiveRights of(
            List<String> requested,
            CompiledIssuer issuer,
            KnownClient client,
            Person person,
            List<PersonalApproval> personal,
            Instant now) {
        Set<String> approved =
                new HashSet<>(personal.stream().map(PersonalApproval::scope).toList());
        Set<String> byRole = scopesByRole(person, issuer);
        List<Scope> granted = new ArrayList<>();
        List<String> identity = new ArrayList<>();
        List<String> toApprove = new ArrayList<>();
        List<String> forAdministrator = new ArrayList<>();
        List<String> notTheirs = new ArrayList<>();
        Instant until = Instant.MAX;
        for (String name : requested) {
            if (IdentityScopes.isOne(name)) {
                boolean mayThemselves = !IdentityScopes.needsAdministrator(name);
                if (client.client().people().openidGranted() || mayThemselves && approved.contains(name))
                    identity.add(name);
                else if (!mayThemselves) forAdministrator.add(name);
                else toApprove.add(name);
                continue;
            }
            Scope scope = issuer.scopesByName().get(name);
            if (scope == null || !scope.isGrantedAt(now) || !scope.forWhom().people())
                continue; // was, when it was requested
            if (scope.byRole() && !byRole.contains(name)) {
                notTheirs.add(name);
                continue;
            }
            Optional<Approval> approval = client.approvalOf(name);
            boolean forEveryone = approval.filter(it -> it.isGrantedAt(now)).isPresent();
            // An administrator's no stands until an administrator changes it, the one who requests the scope anew.
            boolean mayThemselves = scope.approver() == Scope.Approver.PERSON
                    && !(client.client().selfRegistered() && issuer.waryOfUnknown())
                    && approval.filter(it -> it.statusAt(now) == Approval.Status.WAITING && !it.lastWord())
                            .isPresent();
            if (forEveryone || mayThemselves && approved.contains(name)) {
                granted.add(scope);
                until = earlier(until, forEveryone ? approval.get().expiresAt() : Optional.empty());
                until = earlier(until, scope.closesOn());
            } else if (mayThemselves) {
                toApprove.add(name);
            } else {
                forAdministrator.add(name);
            }
        }
        return new EffectiveRights(granted, identity, toApprove, forAdministrator, notTheirs, until);
    }

    private static Set<String> scopesByRole(Person person, CompiledIssuer issuer) {
        Set<String> scopes = new HashSet<>();
        for (String role : person.roles()) {
            Role it = issuer.rolesById().get(role);
            if (it != null) scopes.addAll(it.scopes());
        }
        return scopes;
    }

    private static Instant earlier(Instant one, Optional<Instant> other) {
        return other.isPresent() && other.get().isBefore(one) ? other.get() : one;
    }

    public boolean isEmpty() {
        return granted.isEmpty() && identity.isEmpty();
    }

    /** Names of everything granted. */
    public List<String> names() {
        List<String> names = new ArrayList<>(identity);
        granted.forEach(scope -> names.add(scope.name()));
        return names;
    }
}
