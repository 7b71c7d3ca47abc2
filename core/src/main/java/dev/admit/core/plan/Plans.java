package dev.admit.core.plan;

import dev.admit.core.change.Page;
import java.util.List;
import java.util.Optional;

/** The plans that are kept. */
public interface Plans {
    void insert(Plan plan);

    /** With what it was before, as far as it says so. */
    void update(Plan plan);

    /** With every subscription to it. */
    void delete(String planId);

    Optional<Plan> named(String issuerId, String nameOrId);

    Optional<Plan> find(String planId);

    /** Those of an issuer that cover something of an API, by name. */
    List<Plan> ofApi(String apiId);

    /**
     * By name.
     *
     * @param ownedBy a person who owns one of its APIs; empty for all
     */
    Page<Plan> list(String issuerId, Optional<String> ownedBy, Page.Ask ask);
}
