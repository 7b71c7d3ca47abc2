package dev.admit.core.registration;

import dev.admit.contract.RoleWanted;
import dev.admit.core.approval.Withdrawal;
import dev.admit.core.audit.Audit;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.Expected;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Fields;
import dev.admit.core.change.Ids;
import dev.admit.core.change.Republish;
import dev.admit.core.change.Transactions;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Role;
import dev.admit.core.registry.Roles;
import dev.admit.core.registry.Scope;
import dev.admit.core.registry.Scopes;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * Groups scopes of an API into roles. What a client got by requesting one stays when the role changes: each scope was
 * approved by itself. What people got by having it goes: tokens on their behalf with a scope that it no longer has are
 * refused.
 */
public final class RoleRegistration {
    private static final int MOST_SCOPES = 100;

    private final Transactions transactions;
    private final Roles roles;
    private final Scopes scopes;
    private final NamedBy namedBy;
    private final Withdrawal withdrawal;
    private final Audit audit;
    private final Republish live;

    public RoleRegistration(
            Transactions transactions,
            Roles roles,
            Scopes scopes,
            NamedBy namedBy,
            Withdrawal withdrawal,
            Audit audit,
            Republish live) {
        this.transactions = transactions;
        this.roles = roles;
        this.scopes = scopes;
        this.namedBy = namedBy;
        this.withdrawal = withdrawal;
        this.audit = audit;
        this.live = live;
    }

    public Change<Role> add(Issuer issuer, Api api, RoleWanted wanted, Actor by) {
        Fields fields = new Fields();
        String name = fields.name("/name", wanted.name());
        return published(transactions.inOne(() -> {
            Role role = read(
                    fields,
                    wanted,
                    new Role(Ids.random("role_"), issuer.id(), api.id(), name, name, List.of(), false, 0));
            if (fields.faulty()) return new Change.Invalid<>(fields.faults());
            if (roles.named(issuer.id(), name).isPresent()) {
                return new Change.Taken<>(new FieldFault(
                        "/name", "a name no role of this issuer has", Fields.quoted(name), "Choose another name."));
            }
            if (scopes.named(issuer.id(), name).isPresent()) {
                return new Change.Taken<>(new FieldFault(
                        "/name",
                        "a name that no scope of this issuer has",
                        Fields.quoted(name),
                        "Choose another name."));
            }
            roles.insert(role);
            audit.added(by, issuer.id(), "role.added", name, role);
            return new Change.Made<>(role, fields.notes());
        }));
    }

    public Change<Role> change(Issuer issuer, Api api, String named, RoleWanted wanted, Expected expected, Actor by) {
        Fields fields = new Fields();
        return published(withdrawal.revoking(revoke -> {
            Optional<Role> found =
                    roles.named(issuer.id(), named).filter(it -> it.apiId().equals(api.id()));
            if (found.isEmpty()) return new Change.Absent<>("role", named);
            Optional<Change<Role>> stale = expected.stale(found.get().version());
            if (stale.isPresent()) return stale.get();
            if (wanted.name() != null
                    && !wanted.name().strip().equals(found.get().name())) {
                fields.fault(
                        "/name",
                        found.get().name() + ", because others refer to it",
                        Fields.quoted(wanted.name()),
                        "Add a role with the new name, and remove this one.");
            }
            Role changed = read(fields, wanted, found.get());
            if (fields.faulty()) return new Change.Invalid<>(fields.faults());
            if (Audit.same(found.get(), changed))
                return Change.made(found.get(), "Nothing differs from what is there.");
            roles.update(changed);
            found.get().scopes().stream()
                    .filter(scope -> !changed.scopes().contains(scope))
                    .forEach(scope -> revoke.people(issuer.id(), scope));
            audit.changed(by, issuer.id(), "role.changed", changed.name(), found.get(), changed);
            fields.removed("scope", found.get().scopes(), changed.scopes());
            return new Change.Made<>(changed, fields.notes());
        }));
    }

    public Change<Role> remove(Issuer issuer, Api api, String named, Expected expected, Actor by) {
        return published(withdrawal.revoking(revoke -> {
            Optional<Role> found =
                    roles.named(issuer.id(), named).filter(it -> it.apiId().equals(api.id()));
            if (found.isEmpty()) return new Change.Absent<>("role", named);
            Optional<Change<Role>> stale = expected.stale(found.get().version());
            if (stale.isPresent()) return stale.get();
            Optional<Change<Role>> naming = namedBy.refusal(issuer, found.get());
            if (naming.isPresent()) return naming.get();
            roles.delete(found.get().id());
            found.get().scopes().forEach(scope -> revoke.people(issuer.id(), scope));
            audit.removed(by, issuer.id(), "role.removed", found.get().name(), found.get());
            return Change.made(found.get());
        }));
    }

    private Change<Role> published(Change<Role> change) {
        if (change instanceof Change.Made<Role>) live.republish();
        return change;
    }

    private Role read(Fields fields, RoleWanted wanted, Role old) {
        String title = wanted.title() == null
                ? old.title()
                : fields.line("/title", wanted.title(), old.name(), Fields.TEXT_LENGTH);
        List<String> chosen = new ArrayList<>();
        List<String> received = wanted.scopes() == null ? old.scopes() : wanted.scopes();
        if (received.isEmpty() || received.size() > MOST_SCOPES)
            fields.fault(
                    "/scopes",
                    "1 to %d scopes".formatted(MOST_SCOPES),
                    received.size() + " of them",
                    "Name the scopes that belong together.");
        for (int i = 0; i < received.size(); i++) {
            String name = received.get(i) == null ? "" : received.get(i).strip();
            Optional<Scope> scope =
                    scopes.named(old.issuerId(), name).filter(it -> it.apiId().equals(old.apiId()));
            if (scope.isEmpty())
                fields.fault(
                        "/scopes/" + i,
                        "a scope of this API",
                        name.isEmpty() ? "nothing" : Fields.quoted(name),
                        "List them with: admit scope list");
            else if (!chosen.contains(scope.get().name()))
                chosen.add(scope.get().name());
        }
        return new Role(
                old.id(),
                old.issuerId(),
                old.apiId(),
                old.name(),
                title,
                chosen,
                wanted.secondFactor() == null ? old.secondFactor() : wanted.secondFactor(),
                old.version() + 1);
    }
}
