package dev.admit.core.registry;

import dev.admit.core.change.Page;
import java.util.List;
import java.util.Optional;

/** The clients that are kept, with their secrets. */
public interface Clients {
    void insert(Client client);

    void update(Client client);

    /** Removes the client with its secrets, asks and approvals. */
    void delete(String clientId);

    Optional<Client> named(String issuerId, String nameOrId);

    /** By name. @param holding part of a name, an id or a title; empty for all */
    Page<Client> list(String issuerId, String holding, Page.Ask ask);

    void insert(ClientSecret secret);

    void deleteSecret(String secretId);

    List<ClientSecret> secretsOf(String clientId);
}
