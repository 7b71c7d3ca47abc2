package dev.admit.server.pages;

import dev.admit.contract.SubscriptionWanted;
import dev.admit.contract.UsageView;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.Expected;
import dev.admit.core.change.FieldFault;
import dev.admit.core.owner.Owned;
import dev.admit.core.person.Person;
import dev.admit.core.plan.Plan;
import dev.admit.core.plan.Plans;
import dev.admit.core.plan.Subscription;
import dev.admit.core.plan.Subscriptions;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Apis;
import dev.admit.core.registry.Issuer;
import dev.admit.core.subscription.PlanSentences;
import dev.admit.core.subscription.ReadUsage;
import dev.admit.core.subscription.Subscribing;
import dev.admit.core.subscription.SubscriptionSentences;
import dev.admit.core.subscription.TellSubscribers;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.UnaryOperator;
import org.springframework.stereotype.Controller;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;

/** Plans as developers read them, and the subscriptions of their own clients. */
@Controller
class PlanPages {
    private final Visits visits;
    private final Render render;
    private final CatalogueReader readers;
    private final CataloguePages catalogue;
    private final CataloguePlans offered;
    private final Plans plans;
    private final Subscriptions subscriptions;
    private final Apis apis;
    private final Subscribing subscribing;
    private final TellSubscribers tell;
    private final ReadUsage usage;
    private final Clock clock;

    PlanPages(
            Visits visits,
            Render render,
            CatalogueReader readers,
            CataloguePages catalogue,
            CataloguePlans offered,
            Plans plans,
            Subscriptions subscriptions,
            Apis apis,
            Subscribing subscribing,
            TellSubscribers tell,
            ReadUsage usage,
            Clock clock) {
        this.visits = visits;
        this.render = render;
        this.readers = readers;
        this.catalogue = catalogue;
        this.offered = offered;
        this.plans = plans;
        this.subscriptions = subscriptions;
        this.apis = apis;
        this.subscribing = subscribing;
        this.tell = tell;
        this.usage = usage;
        this.clock = clock;
    }

    /** @param apiTitle of what it belongs to */
    public record Covered(String label, String api, String apiTitle) {}

    /**
     * A subscription of the reader's.
     *
     * @param others plans that it may move to
     * @param terms to be accepted anew; 0 for none
     */
    public record Theirs(
            String id,
            String client,
            String plan,
            String title,
            String status,
            String sentence,
            boolean live,
            boolean moves,
            boolean waitsToMove,
            long terms,
            List<Other> others,
            List<UsageView.Quota> quotas,
            UsageChart chart) {}

    /** @param terms their version; 0 for none */
    public record Other(String name, String title, long terms) {}

    private UnaryOperator<String> apiNames(Issuer issuer) {
        Map<String, String> names = new HashMap<>();
        return id -> names.computeIfAbsent(
                id, missing -> apis.named(issuer.id(), id).map(Api::title).orElse(id));
    }

    @GetMapping("/{issuer}/plans/{plan}")
    void plan(
            @PathVariable String issuer,
            @PathVariable String plan,
            HttpServletRequest request,
            HttpServletResponse response)
            throws IOException {
        visits.show(issuer, request, response, visit -> {
            if (catalogue.signsIn(visit, "plans/" + encoded(plan))) return;
            CatalogueReader.Who who = readers.of(visit);
            Optional<Plan> found = found(visit, who, plan);
            if (found.isPresent()) plan(visit, who, found.get(), 200, "");
            else catalogue.notFound(visit, "No plan of this name is in the catalogue");
        });
    }

    private Optional<Plan> found(Visit visit, CatalogueReader.Who who, String name) {
        return plans.named(visit.issuer().issuer().id(), name)
                .filter(it -> it.name().equals(name) && offered.finds(who, it));
    }

    private void plan(Visit visit, CatalogueReader.Who who, Plan plan, int status, String fault) throws IOException {
        Issuer issuer = visit.issuer().issuer();
        Map<String, Object> values = catalogue.common(visit, who, "plans/" + plan.name());
        List<Theirs> theirs = theirs(issuer, who).stream()
                .filter(it -> it.plan().equals(plan.name()) && it.live())
                .toList();
        List<String> subscribed = theirs.stream().map(Theirs::client).toList();
        values.put("plan", plan);
        values.put("about", Markdown.html(plan.description()));
        values.put("covered", covered(issuer, plan));
        values.put(
                "sentences",
                PlanSentences.of(plan, apiNames(issuer)).stream()
                        .filter(it -> !it.startsWith("Covers "))
                        .toList());
        values.put("terms", Markdown.html(plan.terms().text()));
        values.put("termsVersion", plan.terms().wantAcceptance() ? plan.terms().version() : 0);
        values.put("theirs", theirs);
        values.put(
                "clients",
                who.clients().stream()
                        .filter(it -> !subscribed.contains(it.name()))
                        .toList());
        values.put("owns", !who.clients().isEmpty());
        values.put("fault", fault);
        render.page(visit, status, "plan", values, Optional.empty());
    }

    private List<Covered> covered(Issuer issuer, Plan plan) {
        return plan.content().operations().stream()
                .flatMap(it -> apis.named(issuer.id(), it.apiId()).stream()
                        .map(api -> new Covered(it.label(), api.name(), api.title())))
                .toList();
    }

    /** Subscribes a client of the person who is signed in. */
    @PostMapping("/{issuer}/plans/{plan}")
    void subscribe(
            @PathVariable String issuer,
            @PathVariable String plan,
            HttpServletRequest request,
            HttpServletResponse response)
            throws IOException {
        signedIn(issuer, request, response, (visit, who, by) -> {
            Optional<Plan> found = found(visit, who, plan);
            Optional<Owned> client = visit.form().one("client").flatMap(id -> who.clients().stream()
                    .filter(it -> it.id().equals(id))
                    .findFirst());
            if (found.isEmpty()) {
                catalogue.notFound(visit, "No plan of this name is in the catalogue");
                return;
            }
            if (client.isEmpty()) {
                plan(visit, who, found.get(), 422, "Choose a client of yours.");
                return;
            }
            Issuer its = visit.issuer().issuer();
            Optional<Change<Subscription>> change =
                    readers.client(its, client.get()).map(it -> subscribing.request(its, it, wanted(visit, plan), by));
            answer(visit, by, change, fault -> plan(visit, who, found.get(), 422, fault));
        });
    }

    private static SubscriptionWanted wanted(Visit visit, String plan) {
        return new SubscriptionWanted(
                plan,
                visit.form()
                        .one("accept")
                        .filter(it -> it.matches("[0-9]{1,9}"))
                        .map(Long::valueOf)
                        .orElse(null));
    }

    @GetMapping("/{issuer}/subscriptions")
    void list(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response)
            throws IOException {
        visits.show(issuer, request, response, visit -> {
            if (catalogue.signsIn(visit, "subscriptions")) return;
            CatalogueReader.Who who = readers.of(visit);
            if (who.person().isEmpty()) Visits.redirect(visit, visit.path("subscriptions?sign-in=yes"));
            else list(visit, who, 200, "");
        });
    }

    private void list(Visit visit, CatalogueReader.Who who, int status, String fault) throws IOException {
        Issuer issuer = visit.issuer().issuer();
        Map<String, Object> values = catalogue.common(visit, who, "subscriptions");
        values.put("theirs", theirs(issuer, who));
        values.put("plans", offered.found(issuer, who));
        values.put("owns", !who.clients().isEmpty());
        values.put("fault", fault);
        render.page(visit, status, "subscriptions", values, Optional.empty());
    }

    private List<Theirs> theirs(Issuer issuer, CatalogueReader.Who who) {
        List<Plan> found = offered.found(issuer, who);
        List<Theirs> all = new ArrayList<>();
        for (Owned client : who.clients())
            for (Subscription it : subscriptions.ofClient(client.id()))
                plans.find(it.planId()).ifPresent(plan -> all.add(theirs(client, it, plan, found)));
        return all;
    }

    private Theirs theirs(Owned client, Subscription it, Plan plan, List<Plan> found) {
        String movingTo = it.moving()
                .flatMap(to -> plans.find(to.planId()))
                .map(Plan::title)
                .orElse(null);
        UsageView used = usage.of(it);
        boolean moves = it.status() == Subscription.Status.ACTIVE || it.status() == Subscription.Status.WAITING;
        boolean others = plan.terms().wantAcceptance()
                && it.status().isLive()
                && it.accepted()
                        .filter(terms -> terms.terms() == plan.terms().version())
                        .isEmpty();
        return new Theirs(
                it.id(),
                client.name(),
                plan.name(),
                plan.title(),
                it.status().toString(),
                SubscriptionSentences.of(it, plan, movingTo, clock.instant()),
                it.status().isLive(),
                moves,
                it.moving().isPresent(),
                others ? plan.terms().version() : 0,
                found.stream()
                        .filter(other -> moves && !other.id().equals(plan.id()))
                        .map(other -> new Other(
                                other.name(),
                                other.title(),
                                other.terms().wantAcceptance() ? other.terms().version() : 0))
                        .toList(),
                it.status().isLive() ? used.quotas() : List.of(),
                UsageChart.of(used.days()));
    }

    /** Ends a subscription of their own client, moves it, or accepts its terms. */
    @PostMapping("/{issuer}/subscriptions")
    void act(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response) throws IOException {
        signedIn(issuer, request, response, (visit, who, by) -> {
            Issuer its = visit.issuer().issuer();
            Optional<Subscription> found = visit.form()
                    .one("subscription")
                    .flatMap(id -> subscriptions.find(its.id(), id))
                    .filter(it -> who.clients().stream()
                            .anyMatch(client -> client.id().equals(it.clientId())));
            Optional<Change<Subscription>> change = found.flatMap(it -> act(visit, its, it, by));
            answer(visit, by, change, fault -> list(visit, who, 422, fault));
        });
    }

    private Optional<Change<Subscription>> act(Visit visit, Issuer issuer, Subscription it, Actor by) {
        String plan = visit.form().one("plan").orElse("");
        return Optional.ofNullable(
                switch (visit.form().one("act").orElse("")) {
                    case "end" -> subscribing.end(issuer, it.id(), null, by, Expected.ANY);
                    case "move" -> subscribing.move(issuer, it.id(), wanted(visit, plan), by, Expected.ANY);
                    case "accept" ->
                        subscribing.acceptTerms(
                                issuer, it.id(), wanted(visit, "").acceptTerms(), by, Expected.ANY);
                    default -> null;
                });
    }

    private interface Told {
        void with(String fault) throws IOException;
    }

    private void answer(Visit visit, Actor by, Optional<Change<Subscription>> change, Told refused) throws IOException {
        if (change.isPresent() && change.get() instanceof Change.Made<Subscription> made) {
            tell.that(visit.issuer().issuer(), made.value(), by);
            Visits.redirect(visit, visit.path("subscriptions"));
            return;
        }
        refused.with(
                switch (change.orElse(null)) {
                    case Change.Invalid<Subscription>(List<FieldFault> faults)
                    when faults.getFirst().pointer().equals("/accept_terms") -> "Read the terms and accept them.";
                    case Change.Invalid<Subscription>(List<FieldFault> faults) ->
                        "Expected %s.".formatted(faults.getFirst().expected());
                    case Change.Taken<Subscription> taken -> "The client is subscribed to this plan already.";
                    case Change.Refused<Subscription> no -> no.sentence();
                    case null, default -> "It is not there any more. Look at the list.";
                });
    }

    private interface Own {
        void on(Visit visit, CatalogueReader.Who who, Actor by) throws IOException;
    }

    private void signedIn(String issuer, HttpServletRequest request, HttpServletResponse response, Own page)
            throws IOException {
        visits.post(issuer, request, response, visit -> {
            CatalogueReader.Who who = readers.of(visit);
            Optional<Person> person = who.person();
            if (person.isEmpty()) Visits.redirect(visit, visit.path("subscriptions?sign-in=yes"));
            else
                page.on(
                        visit,
                        who,
                        new Actor(
                                person.get().id(),
                                person.get().email(),
                                visit.browser().from()));
        });
    }

    private static String encoded(String text) {
        return URLEncoder.encode(text, StandardCharsets.UTF_8);
    }
}
