package dev.admit.core.person;

import dev.admit.core.change.Page;
import java.util.List;
import java.util.Optional;

/** The people that are kept. */
public interface People {
    void insert(Person person);

    void update(Person person);

    /** With their sessions, approvals, and all that was issued on their behalf. */
    void delete(String personId);

    Optional<Person> find(String personId);

    /** @param emailOrId the address in lower case, or the id */
    Optional<Person> named(String issuerId, String emailOrId);

    /**
     * By address.
     *
     * @param search part of address, name or another field, or empty
     * @param role an id, or empty
     */
    Page<Person> list(String issuerId, String search, String role, Page.Ask ask);

    /** Everyone of an issuer who has a role. */
    List<Person> having(String issuerId, String roleId);
}
