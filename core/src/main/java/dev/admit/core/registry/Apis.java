package dev.admit.core.registry;

import dev.admit.core.change.Page;
import java.util.Optional;

/** The APIs that are kept. */
public interface Apis {
    void insert(Api api);

    void update(Api api);

    void delete(String apiId);

    Optional<Api> named(String issuerId, String nameOrId);

    Optional<Api> withAudience(String issuerId, String audience);

    Page<Api> list(String issuerId, Page.Ask ask);
}
