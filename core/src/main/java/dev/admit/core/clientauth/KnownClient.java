package dev.admit.core.clientauth;

import dev.admit.core.approval.Approval;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.ClientSecret;
import java.time.Instant;
import java.util.ArrayList;
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

    /** What the client still lacks to work, as sentences with who must act; empty when it lacks nothing. */
    public List<String> missing(Instant now) {
        List<String> missing = new ArrayList<>();
        if (!client.enabled()) missing.add("It is switched off. Switch it on with: admit client on " + client.name());
        if (secrets.isEmpty()) missing.add("It has no secret. Make one with: admit secret add " + client.name());
        else if (secrets.stream().allMatch(secret -> secret.isExpiredAt(now))) {
            missing.add("Every secret has run out. Make another with: admit secret add " + client.name());
        }
        if (approvals.isEmpty()) missing.add("It asks for nothing. Ask with: admit approval ask %s SCOPE".formatted(client.name()));
        for (Approval approval : approvals) {
            switch (approval.statusAt(now)) {
                case GIVEN -> { }
                case WAITING -> missing.add("It asks for %s: an administrator must approve, with: admit approval give %s %s"
                        .formatted(approval.scopeName(), client.name(), approval.scopeName()));
                case DECLINED, WITHDRAWN, EXPIRED -> missing.add("The approval of %s is %s. Ask again with: admit approval ask %s %s"
                        .formatted(approval.scopeName(), approval.statusAt(now), client.name(), approval.scopeName()));
            }
        }
        return missing;
    }
}
