package dev.admit.contract;

import java.util.List;

/** A route after a change, and the revision of the issuer's routes that the change made. It is live. */
public record RouteRevised(RouteView now, long revision, List<String> notes) {}
