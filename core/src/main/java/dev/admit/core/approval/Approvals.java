package dev.admit.core.approval;

import dev.admit.core.change.Page;
import java.util.List;
import java.util.Optional;

/** The asks that are kept, each with its answer. */
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

    /** By time asked. @param status empty for all */
    Page<Approval> list(String issuerId, Optional<Approval.Status> status, java.time.Instant now, Page.Ask ask);
}
