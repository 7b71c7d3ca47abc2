package dev.admit.core.clientauth;

import dev.admit.core.approval.Approval;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.ClientSecret;
import java.util.List;
import java.util.Optional;

/** What a token request needs to know of a client, read together. */
public record KnownClient(Client client, List<ClientSecret> secrets, List<Approval> approvals) {

    /** Reads one by its client id. */
    public interface Source {
        Optional<KnownClient> read(String clientId);
    }

    public Optional<Approval> approvalOf(String scopeName) {
        for (Approval approval : approvals) {
            if (approval.scopeName().equals(scopeName)) return Optional.of(approval);
        }
        return Optional.empty();
    }
}
