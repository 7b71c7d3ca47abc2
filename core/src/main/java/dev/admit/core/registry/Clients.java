package dev.admit.core.registry;

import dev.admit.core.change.Page;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** The clients that are kept, with their secrets. */
public interface Clients {
    void insert(Client client);

    void update(Client client);

    /** Removes the client with its secrets, requested scopes and approvals. */
    void delete(String clientId);

    Optional<Client> named(String issuerId, String nameOrId);

    /** Whether a person who reads a name could take it for that of a client that a person registered. */
    boolean looksTaken(String issuerId, String clientName);

    /** Whether a client of any issuer has this id. */
    boolean isIdTaken(String id);

    /**
     * Which clients are wanted, and in what order.
     *
     * @param search part of a name, id, title, description, owner, contact, link or tag; empty for all
     * @param kind empty for all, as the next five
     * @param ownedBy a person who answers for it
     * @param selfRegistered whether it registered itself
     * @param newest the newest first, else by name
     */
    record Filter(
            String search,
            Optional<ClientKind> kind,
            Optional<String> tag,
            Optional<String> contact,
            Optional<Boolean> enabled,
            Optional<String> ownedBy,
            Optional<Boolean> selfRegistered,
            boolean newest) {
        public static final Filter ALL = new Filter(
                "",
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                false);

        /** All that registered themselves, by name. */
        public static final Filter SELF_REGISTERED = new Filter(
                "",
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.of(true),
                false);

        /** All that have a tag, by name. */
        public static Filter tagged(String tag) {
            return new Filter(
                    "",
                    Optional.empty(),
                    Optional.of(tag),
                    Optional.empty(),
                    Optional.empty(),
                    Optional.empty(),
                    Optional.empty(),
                    false);
        }
    }

    Page<Client> list(String issuerId, Filter wanted, Page.Ask ask);

    void insert(ClientSecret secret);

    void update(ClientSecret secret);

    void deleteSecret(String secretId);

    List<ClientSecret> secretsOf(String clientId);

    /**
     * Notes when secrets were last used.
     *
     * @param bySecret secret id → time
     */
    void used(Map<String, Instant> bySecret);
}
