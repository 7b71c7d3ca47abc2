package dev.admit.core.registry;

import java.util.List;
import java.util.Optional;

/** The scopes that are kept. */
public interface Scopes {
    void insert(Scope scope);

    void update(Scope scope);

    void delete(String scopeId);

    Optional<Scope> named(String issuerId, String nameOrId);

    /** All scopes of an API, by name. */
    List<Scope> of(String apiId);

    /** Those of an issuer that have a standing approval, by name. */
    List<Scope> withStanding(String issuerId);
}
