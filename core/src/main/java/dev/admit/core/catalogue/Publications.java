package dev.admit.core.catalogue;

import dev.admit.core.change.Page;
import dev.admit.core.registry.Api;
import java.util.Optional;

/** How each API stands in the catalogue, as it is kept. */
public interface Publications {
    Optional<Publication> of(String apiId);

    /** In the place of the one before. */
    void put(Publication it);

    /**
     * The APIs of an issuer that a reader finds, by name.
     *
     * @param alsoOwnedBy a person who finds what they own as well, published or not
     * @param search part of a name, a title, the description, a listed scope or an operation; empty for all
     */
    Page<Api> found(String issuerId, Reader reader, Optional<String> alsoOwnedBy, String search, Page.Ask ask);
}
