package dev.admit.core.route;

import dev.admit.core.change.Page;
import java.util.List;
import java.util.Optional;

/** The revisions of routes that are kept, with the routes as they were. */
public interface Revisions {
    void insert(Revision revision);

    /** A route stands as it is from this revision on. */
    void began(Route route, long number);

    /** A route no longer stands as it did. */
    void ended(String routeId, long number);

    /** The newest first. */
    Page<Revision> list(String issuerId, Page.Ask ask);

    Optional<Revision> find(String issuerId, long number);

    /** The routes as they stood with a revision, by path. */
    List<Route> at(String issuerId, long number);

    /** What a revision changed: each route before it and after it. */
    List<Step> steps(String issuerId, long number);

    /** @return the last version that a route ever had; 0 for one that never was */
    long lastVersion(String routeId);

    record Step(Optional<Route> before, Optional<Route> after) {}
}
