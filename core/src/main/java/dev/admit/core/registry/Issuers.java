package dev.admit.core.registry;

import dev.admit.core.change.Page;
import java.util.Optional;

/** The issuers that are kept. */
public interface Issuers {
    void insert(Issuer issuer);

    Optional<Issuer> named(String nameOrId);

    Page<Issuer> list(Page.Ask ask);

    /** Gives the issuer's routes their next number and returns it. */
    long nextRevision(String issuerId);
}
