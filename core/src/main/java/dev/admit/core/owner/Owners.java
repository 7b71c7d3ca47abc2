package dev.admit.core.owner;

import dev.admit.core.change.Page;
import java.util.List;

/** Who answers for what, as it is kept. It goes with the person, and with the thing. */
public interface Owners {
    /** @return false when they answered for it before */
    boolean insert(Owner owner);

    /** @return false when they did not answer for it */
    boolean delete(String personId, Owned owned);

    /** By address. */
    List<Owner> of(Owned owned);

    /** APIs first, then by name. */
    List<Owner> ofPerson(String personId);

    /** @param personId empty for everyone's */
    Page<Owner> list(String issuerId, String personId, Page.Ask ask);
}
