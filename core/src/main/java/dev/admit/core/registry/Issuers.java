package dev.admit.core.registry;

import dev.admit.core.change.Page;
import java.util.List;
import java.util.Optional;

/** The issuers that are kept. */
public interface Issuers {
    void insert(Issuer issuer);

    void update(Issuer issuer);

    /** Removes the issuer with everything it holds. */
    void delete(String issuerId);

    /** How much an issuer holds. */
    record Holds(long apis, long clients, long approvals, long routes) {}

    Holds holds(String issuerId);

    List<Issuer> all();

    Optional<Issuer> named(String nameOrId);

    Page<Issuer> list(Page.Ask ask);

    /** Gives the issuer's routes their next number and returns it. */
    long nextRevision(String issuerId);
}
