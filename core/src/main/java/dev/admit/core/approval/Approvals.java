package dev.admit.core.approval;

import dev.admit.core.change.Page;
import java.util.List;
import java.util.Optional;

/** The requests that are kept, each with its answer. */
public interface Approvals {
    void insert(Approval approval);

    void update(Approval approval);

    void delete(String approvalId);

    Optional<Approval> find(String issuerId, String approvalId);

    Optional<Approval> of(String clientId, String scopeId);

    List<Approval> ofClient(String clientId);

    /** Of every scope of an API. */
    List<Approval> ofApi(String apiId);

    List<Approval> ofScope(String scopeId);

    /**
     * Which are wanted; empty for all.
     *
     * @param ownedBy a person who answers for the client, or for the API of the scope
     */
    record Wanted(
            Optional<Approval.Status> status,
            Optional<String> clientId,
            Optional<String> scope,
            Optional<String> ownedBy) {
        public static final Wanted ALL =
                new Wanted(Optional.empty(), Optional.empty(), Optional.empty(), Optional.empty());
    }

    /** By time asked. */
    Page<Approval> list(String issuerId, Wanted wanted, java.time.Instant now, Page.Ask ask);
}
