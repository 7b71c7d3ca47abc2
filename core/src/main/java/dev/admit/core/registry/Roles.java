package dev.admit.core.registry;

import java.util.List;
import java.util.Optional;

/** The roles that are kept. */
public interface Roles {
    void insert(Role role);

    void update(Role role);

    void delete(String roleId);

    Optional<Role> named(String issuerId, String nameOrId);

    /** All roles of an API, by name. */
    List<Role> of(String apiId);
}
