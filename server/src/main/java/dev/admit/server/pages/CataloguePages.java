package dev.admit.server.pages;

import dev.admit.core.catalogue.Catalogue;
import dev.admit.core.catalogue.Documentation;
import dev.admit.core.catalogue.Publication;
import dev.admit.core.catalogue.Readers;
import dev.admit.core.change.Page;
import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.clientauth.KnownClients;
import dev.admit.core.owner.Owned;
import dev.admit.core.owner.Owner;
import dev.admit.core.person.People;
import dev.admit.core.person.Person;
import dev.admit.core.plan.Plan;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Scope;
import dev.admit.core.route.PathPattern;
import dev.admit.core.signin.SignedIn;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.springframework.stereotype.Controller;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import tools.jackson.databind.json.JsonMapper;

/** Where developers find APIs and read what each offers. */
@Controller
class CataloguePages {
    private static final int APIS_A_PAGE = 20;
    private static final String NO_CLIENT = "CLIENT_ID";
    private static final JsonMapper JSON = new JsonMapper();

    private final Visits visits;
    private final Render render;
    private final Catalogue catalogue;
    private final CatalogueReader readers;
    private final CataloguePlans plans;
    private final People people;
    private final KnownClients known;
    private final SecondFactorPages factorPages;
    private final Flows flows;

    CataloguePages(
            Visits visits,
            Render render,
            Catalogue catalogue,
            CatalogueReader readers,
            CataloguePlans plans,
            People people,
            KnownClients known,
            SecondFactorPages factorPages,
            Flows flows) {
        this.visits = visits;
        this.render = render;
        this.catalogue = catalogue;
        this.readers = readers;
        this.plans = plans;
        this.people = people;
        this.known = known;
        this.factorPages = factorPages;
        this.flows = flows;
    }

    /**
     * @param state what only its owner reads: for whom it stands here
     * @param waits whether it waits to be published
     */
    public record Line(
            String name,
            String title,
            String beginning,
            List<String> scopes,
            int operations,
            String state,
            boolean waits) {}

    /** @param whose what a client does that holds it, as an administrator reads it */
    public record ScopeLine(String name, String whose, boolean person, boolean clients) {}

    public record Note(String date, String html) {}

    private interface Found {
        void on(Visit visit, CatalogueReader.Who who, Catalogue.Entry entry) throws IOException;
    }

    @GetMapping("/{issuer}/catalogue")
    void front(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response)
            throws IOException {
        visits.show(issuer, request, response, visit -> {
            if (signsIn(visit, "catalogue")) return;
            CatalogueReader.Who who = readers.of(visit);
            String search = visit.form().one("search").orElse("").strip();
            Page<Catalogue.Entry> page = catalogue.list(
                    visit.issuer().issuer(),
                    who.ofAll(),
                    who.owner(),
                    search,
                    new Page.Ask(visit.form().one("after").filter(it -> it.length() <= 100), APIS_A_PAGE));
            Map<String, Object> values = common(visit, who, "catalogue");
            values.put("search", search);
            values.put("lines", page.items().stream().map(it -> line(who, it)).toList());
            values.put(
                    "next",
                    page.next()
                            .map(after -> visit.path(
                                    "catalogue?after=" + encoded(after) + "&search=" + encoded(search) + as(who, "&")))
                            .orElse(""));
            render.page(visit, "catalogue", values);
        });
    }

    private static Line line(CatalogueReader.Who who, Catalogue.Entry it) {
        return new Line(
                it.api().name(),
                it.api().title(),
                Markdown.beginning(it.publication().description()),
                it.scopes().stream().map(Scope::name).toList(),
                it.document().map(document -> document.operations()).orElse(0),
                who.mayEdit(it.api()) ? state(it.publication()) : "",
                it.publication().readers() == Readers.NONE);
    }

    private static String state(Publication it) {
        return switch (it.readers()) {
            case NONE -> "not published: only its owners and people with an admin role find it";
            case PUBLIC -> "";
            case SIGNED_IN -> "for people who are signed in";
            case NAMED ->
                it.people().size() == 1
                        ? "for one person"
                        : "for " + it.people().size() + " people";
        };
    }

    @GetMapping("/{issuer}/catalogue/{api}")
    void api(
            @PathVariable String issuer,
            @PathVariable String api,
            HttpServletRequest request,
            HttpServletResponse response)
            throws IOException {
        find(issuer, api, "", request, response, (visit, who, entry) -> {
            Documentation documentation = catalogue.documentation(visit.issuer().issuer(), entry);
            Map<String, Object> values =
                    common(visit, who, "catalogue/" + entry.api().name());
            Publication publication = entry.publication();
            Optional<Owned> client = client(visit, who);
            values.put("api", entry.api());
            values.put("about", Markdown.html(publication.description()));
            values.put("documentation", documentation);
            values.put("introduction", Markdown.html(documentation.description()));
            values.put(
                    "scopes", entry.scopes().stream().map(CataloguePages::line).toList());
            values.put("owners", owners(who, entry));
            values.put(
                    "notes",
                    publication.changes().stream().map(CataloguePages::note).toList());
            values.put("start", Markdown.html(filled(publication.gettingStarted(), visit, entry, client)));
            FirstCall.token(
                            visit.issuer().url(),
                            client.flatMap(it -> known.find(it.id())).map(KnownClient::client),
                            entry.api(),
                            entry.scopes())
                    .ifPresent(it -> values.put("token", it));
            values.put("plans", plans.lines(who, entry.api(), Optional.empty()));
            values.put("clients", who.clients());
            values.put("chosen", client.map(Owned::id).orElse(""));
            values.put("state", who.findsUnpublished(entry.api()) ? state(publication) : "");
            values.put("waits", publication.readers() == Readers.NONE);
            values.put("mayEdit", who.mayEdit(entry.api()));
            render.page(visit, "catalogue-api", values);
        });
    }

    private static ScopeLine line(Scope it) {
        return new ScopeLine(
                it.name(),
                it.consequenceForAdministrator(),
                it.approver() == Scope.Approver.PERSON,
                it.forWhom().clients());
    }

    private static Note note(Publication.Note it) {
        return new Note(it.date(), Markdown.html(it.text()));
    }

    /** Names; to people who are signed in, with their addresses. */
    private List<String> owners(CatalogueReader.Who who, Catalogue.Entry entry) {
        return catalogue.owners(entry.api()).stream()
                .map(Owner::personId)
                .flatMap(it -> people.find(it).stream())
                .map(it ->
                        who.person().isEmpty() || it.name().equals(it.email()) ? nameOf(it, who) : nameAndAddress(it))
                .filter(it -> !it.isEmpty())
                .toList();
    }

    private static String nameOf(Person it, CatalogueReader.Who who) {
        return who.person().isEmpty() && it.name().equals(it.email()) ? "" : it.name();
    }

    private static String nameAndAddress(Person it) {
        return "%s (%s)".formatted(it.name(), it.email());
    }

    /** The client of theirs that examples are for. */
    private static Optional<Owned> client(Visit visit, CatalogueReader.Who who) {
        String wanted = visit.form().one("client").orElse("");
        return who.clients().stream()
                .filter(it -> it.id().equals(wanted))
                .findFirst()
                .or(() -> who.clients().stream().findFirst());
    }

    private String filled(String text, Visit visit, Catalogue.Entry entry, Optional<Owned> client) {
        String gateway = catalogue.documentation(visit.issuer().issuer(), entry).server();
        return text.replace("{{client_id}}", client.map(Owned::id).orElse(NO_CLIENT))
                .replace("{{issuer}}", visit.issuer().url())
                .replace("{{gateway}}", gateway)
                .replace("{{audience}}", entry.api().audience());
    }

    @GetMapping("/{issuer}/catalogue/{api}/operation")
    void operation(
            @PathVariable String issuer,
            @PathVariable String api,
            HttpServletRequest request,
            HttpServletResponse response)
            throws IOException {
        find(issuer, api, "/operation", request, response, (visit, who, entry) -> {
            String label = visit.form().one("of").orElse("");
            Optional<Documentation.Operation> found =
                    catalogue.documentation(visit.issuer().issuer(), entry).operation(label);
            if (found.isEmpty()) {
                notFound(visit, entry.api().title() + " has no such operation");
                return;
            }
            Documentation.Operation it = found.get();
            Map<String, Object> values =
                    common(visit, who, "catalogue/" + entry.api().name() + "/operation?of=" + encoded(it.label()));
            values.put("api", entry.api());
            values.put("operation", it);
            values.put("words", Markdown.html(it.description()));
            values.put("call", FirstCall.call(it));
            values.put("plans", plans.lines(who, entry.api(), Optional.of(one -> covers(one, it))));
            render.page(visit, "catalogue-operation", values);
        });
    }

    private static boolean covers(Plan.Operation plan, Documentation.Operation it) {
        boolean method = plan.methods().isEmpty() || plan.methods().contains(it.method());
        return method
                && PathPattern.read(withPlainNames(it.path())) instanceof PathPattern.Reading.Good(PathPattern path)
                && plan.path().overlaps(path);
    }

    /** A document names the places in a path as it likes; which they are is all that matters here. */
    private static String withPlainNames(String path) {
        String[] segments = path.split("/", -1);
        for (int i = 0; i < segments.length; i++) if (segments[i].contains("{")) segments[i] = "{p" + i + "}";
        return String.join("/", segments);
    }

    /** The OpenAPI document as callers see it, for tools. */
    @GetMapping("/{issuer}/catalogue/{api}/openapi.json")
    void document(
            @PathVariable String issuer,
            @PathVariable String api,
            HttpServletRequest request,
            HttpServletResponse response)
            throws IOException {
        find(issuer, api, "/openapi.json", request, response, (visit, who, entry) -> {
            byte[] json =
                    JSON.writeValueAsBytes(catalogue.document(visit.issuer().issuer(), entry));
            response.setContentType("application/json");
            response.setHeader("X-Content-Type-Options", "nosniff");
            response.setHeader("Cache-Control", "no-store");
            response.setContentLength(json.length);
            response.getOutputStream().write(json);
        });
    }

    /** @param beneath what of the API is wanted, such as {@code /operation} */
    private void find(
            String issuerName,
            String api,
            String beneath,
            HttpServletRequest request,
            HttpServletResponse response,
            Found page)
            throws IOException {
        visits.show(issuerName, request, response, visit -> {
            CatalogueReader.Who who = readers.of(visit);
            Issuer issuer = visit.issuer().issuer();
            Optional<Catalogue.Entry> entry = catalogue.find(issuer, api, who::of, who::findsUnpublished);
            if (signsIn(visit, "catalogue/" + encoded(api) + beneath)) return;
            if (entry.isPresent()) page.on(visit, who, entry.get());
            else notFound(visit, "No API of this name is in the catalogue");
        });
    }

    /** The same for an API that is not there and for one that this reader does not find. */
    void notFound(Visit visit, String title) throws IOException {
        CatalogueReader.Who who = readers.of(visit);
        Map<String, Object> values = common(visit, who, "catalogue");
        values.put("title", title);
        render.page(visit, 404, "catalogue-none", values, Optional.empty());
    }

    Map<String, Object> common(Visit visit, CatalogueReader.Who who, String page) {
        Map<String, Object> values = new LinkedHashMap<>();
        values.put("wide", true);
        values.put("here", visit.path(page));
        values.put("as", as(who, "?"));
        values.put("also", as(who, "&"));
        values.put(
                "looksAs",
                who.as()
                        .map(it -> switch (it) {
                            case PUBLIC -> "a person who is not signed in";
                            case SIGNED_IN -> "a person who is signed in";
                            case NAMED, NONE -> "a person who is named";
                        })
                        .orElse(""));
        values.put("signedIn", who.person().map(Person::name).orElse(""));
        values.put("signIn", visit.path(page + (page.contains("?") ? "&" : "?") + "sign-in=yes"));
        return values;
    }

    private static String as(CatalogueReader.Who who, String before) {
        return who.as().map(it -> before + "as=" + it).orElse("");
    }

    /**
     * Has a person sign in who asked to, with their second factor, and come back to the page.
     *
     * @param page without a query
     * @return whether something else than the page was answered
     */
    boolean signsIn(Visit visit, String page) throws IOException {
        if (visit.form().one("sign-in").isEmpty()) return false;
        String of = visit.form().one("of").map(it -> "of=" + encoded(it)).orElse("");
        String flow = flows.sealed(
                visit,
                AccountTask.backTo(
                        page + "?sign-in=yes" + (of.isEmpty() ? "" : "&" + of),
                        visit.decision().at()));
        Optional<SignedIn> person = visit.person();
        if (person.isEmpty()) Visits.redirect(visit, visit.path("sign-in?flow=" + flow));
        else if (readers.lacksFactor(visit, person.get()))
            factorPages.ask(visit, flow, person.get(), Optional.empty(), Optional.empty());
        else Visits.redirect(visit, visit.path(page + (of.isEmpty() ? "" : "?" + of)));
        return true;
    }

    private static String encoded(String text) {
        return URLEncoder.encode(text, StandardCharsets.UTF_8);
    }
}
