package dev.admit.server.pages;

import dev.admit.core.catalogue.Publication;
import dev.admit.core.catalogue.Publications;
import dev.admit.core.change.Page;
import dev.admit.core.plan.Plan;
import dev.admit.core.plan.Plans;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Apis;
import dev.admit.core.registry.Issuer;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;
import org.springframework.stereotype.Component;

/** The plans that a reader of the catalogue finds: those of which they find each API. */
@Component
class CataloguePlans {
    private static final int MOST_PLANS = 100;

    private final Plans plans;
    private final Publications publications;
    private final Apis apis;

    CataloguePlans(Plans plans, Publications publications, Apis apis) {
        this.plans = plans;
        this.publications = publications;
        this.apis = apis;
    }

    /** Whether a reader finds a plan: each of its APIs. */
    boolean finds(CatalogueReader.Who who, Plan plan) {
        return !plan.content().apiIds().isEmpty()
                && plan.content().apiIds().stream().allMatch(id -> apis.named(plan.issuerId(), id)
                        .filter(api -> finds(who, api))
                        .isPresent());
    }

    private boolean finds(CatalogueReader.Who who, Api api) {
        return publications
                        .of(api.id())
                        .orElseGet(() -> Publication.none(api.id()))
                        .isFor(who.of(api))
                || who.findsUnpublished(api);
    }

    List<Plan> found(Issuer issuer, CatalogueReader.Who who) {
        return plans.list(issuer.id(), Optional.empty(), Page.Ask.first(MOST_PLANS)).items().stream()
                .filter(it -> finds(who, it))
                .toList();
    }

    /** A plan in a line, for the pages of APIs and operations. */
    public record Line(String name, String title, String limits, boolean atOnce) {}

    /**
     * The plans that cover something of an API, as a reader finds them.
     *
     * @param operation a method and a path that they cover at least in part; empty for any
     */
    List<Line> lines(CatalogueReader.Who who, Api api, Optional<Predicate<Plan.Operation>> operation) {
        return plans.ofApi(api.id()).stream()
                .filter(it -> finds(who, it))
                .filter(it -> operation.isEmpty()
                        || it.content().operations().stream()
                                .anyMatch(one -> one.apiId().equals(api.id())
                                        && operation.get().test(one)))
                .map(CataloguePlans::line)
                .toList();
    }

    private static Line line(Plan it) {
        List<String> limits = new ArrayList<>();
        it.content().rates().forEach(rate -> limits.add(rate.toString()));
        it.content().quotas().forEach(quota -> limits.add(quota.toString()));
        return new Line(
                it.name(),
                it.title(),
                limits.isEmpty() ? "no limits of its own" : String.join(", ", limits),
                it.approval() == Plan.Approval.AUTOMATIC);
    }
}
