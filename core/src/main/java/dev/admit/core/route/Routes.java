package dev.admit.core.route;

import dev.admit.core.change.Page;
import java.util.List;
import java.util.Optional;

/** The routes that are kept. */
public interface Routes {
    void insert(Route route);

    void update(Route route);

    void delete(String routeId);

    Optional<Route> find(String issuerId, String routeId);

    /** @param ownedBy a person who answers for its API; empty for all */
    Page<Route> list(String issuerId, Optional<String> ownedBy, Page.Ask ask);

    default Page<Route> list(String issuerId, Page.Ask ask) {
        return list(issuerId, Optional.empty(), ask);
    }

    /** The routes of every issuer whose pattern has this shape. */
    List<Route> withShape(String shape);

    /** Those of all other issuers. */
    List<Route> ofOthers(String issuerId);

    /** By path. */
    List<Route> of(String issuerId);

    /** The routes of an issuer that lean on an API. */
    List<Route> ofApi(String issuerId, String apiId);
}
