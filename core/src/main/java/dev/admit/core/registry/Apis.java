package dev.admit.core.registry;

import dev.admit.core.change.Page;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** The APIs that are kept. */
public interface Apis {
    void insert(Api api);

    void update(Api api);

    void delete(String apiId);

    Optional<Api> named(String issuerId, String nameOrId);

    Optional<Api> withAudience(String issuerId, String audience);

    void insert(ApiSecret secret);

    void deleteSecret(String secretId);

    List<ApiSecret> secretsOf(String apiId);

    /** @param ownedBy a person who answers for it; empty for all */
    Page<Api> list(String issuerId, Optional<String> ownedBy, Page.Ask ask);

    /** All of an issuer. */
    default List<Api> of(String issuerId) {
        List<Api> all = new ArrayList<>();
        Optional<String> after = Optional.empty();
        do {
            Page<Api> page = list(issuerId, new Page.Ask(after, Page.Ask.MOST));
            all.addAll(page.items());
            after = page.next();
        } while (after.isPresent());
        return all;
    }

    default Page<Api> list(String issuerId, Page.Ask ask) {
        return list(issuerId, Optional.empty(), ask);
    }
}
