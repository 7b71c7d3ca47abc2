package dev.admit.core.approval;

import java.util.List;
import java.util.Optional;

/** The approvals of people for themselves that are kept. */
public interface PersonalApprovals {
    /** Given before, it stays as it was. */
    void insert(PersonalApproval approval);

    List<PersonalApproval> of(String personId, String clientId);

    List<PersonalApproval> ofPerson(String personId);

    /**
     * What every person approved for a client under one scope.
     *
     * @return how many
     */
    int deleteOfClient(String clientId, String scope);

    /** What every person approved for a client. */
    int deleteOfClient(String clientId);

    /**
     * @param scope empty for all that the client has.
     * @return how many
     */
    int delete(String personId, String clientId, Optional<String> scope);
}
