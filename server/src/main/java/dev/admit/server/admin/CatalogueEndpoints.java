package dev.admit.server.admin;

import dev.admit.contract.CatalogueEntry;
import dev.admit.contract.Changed;
import dev.admit.contract.PageView;
import dev.admit.contract.PublicationView;
import dev.admit.contract.PublicationWanted;
import dev.admit.core.access.AdminRole;
import dev.admit.core.access.Permission;
import dev.admit.core.catalogue.Catalogue;
import dev.admit.core.catalogue.Publication;
import dev.admit.core.catalogue.PublicationSentences;
import dev.admit.core.catalogue.Publications;
import dev.admit.core.catalogue.Publish;
import dev.admit.core.catalogue.Reader;
import dev.admit.core.catalogue.Readers;
import dev.admit.core.change.Actor;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Fields;
import dev.admit.core.openapi.OpenApiDocuments;
import dev.admit.core.person.People;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Scope;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PatchMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestAttribute;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Which APIs stand in the catalogue, for whom, and what is said of each. */
@RestController
@RequestMapping("/admin/issuers/{issuer}")
class CatalogueEndpoints {
    private final Catalogue catalogue;
    private final Publish publish;
    private final Publications publications;
    private final People people;
    private final Lookup lookup;

    CatalogueEndpoints(Catalogue catalogue, Publish publish, Publications publications, People people, Lookup lookup) {
        this.catalogue = catalogue;
        this.publish = publish;
        this.publications = publications;
        this.people = people;
        this.lookup = lookup;
    }

    /**
     * The APIs that stand in the catalogue; to an owner, their own.
     *
     * @param search part of a name, title, description, scope or operation
     * @param as the kind of reader whose catalogue is wanted: public, signed-in or named
     */
    @Permitted(value = AdminRole.AUDITOR, owner = Permission.OwnerOf.ANYTHING)
    @GetMapping("/catalogue")
    PageView<CatalogueEntry> list(
            @PathVariable String issuer,
            @RequestParam(required = false) String search,
            @RequestParam(required = false) String as,
            @RequestParam(required = false) Integer limit,
            @RequestParam(required = false) String after,
            @RequestAttribute(name = AdminDoor.OWNED_BY, required = false) String ownedBy) {
        Issuer its = lookup.issuer(issuer);
        Readers reader = reader(as);
        // Whoever only owns something sees of the others what any person sees.
        boolean others = ownedBy == null || as != null && reader != Readers.NAMED;
        return Answers.page(
                catalogue.list(
                        its,
                        new Reader.Preview(others ? reader : Readers.NONE),
                        Optional.ofNullable(ownedBy).filter(it -> as == null),
                        search == null ? "" : search,
                        Answers.ask(limit, after)),
                it -> entry(its, it));
    }

    private static Readers reader(@Nullable String as) {
        if (as == null) return Readers.NAMED;
        return Arrays.stream(Readers.values())
                .filter(it -> it != Readers.NONE && it.toString().equals(as))
                .findFirst()
                .orElseThrow(() -> new Answers.Refused(Answers.invalid(List.of(new FieldFault(
                        "/as", "public, signed-in or named", Fields.quoted(as), "Choose one of them.")))));
    }

    private static CatalogueEntry entry(Issuer issuer, Catalogue.Entry it) {
        return new CatalogueEntry(
                it.api().name(),
                it.api().title(),
                it.publication().readers().toString(),
                it.publication().description(),
                it.scopes().stream().map(Scope::name).toList(),
                it.document().map(OpenApiDocuments.Summary::operations).orElse(0),
                page(issuer, it.api()));
    }

    private static String page(Issuer issuer, Api api) {
        return issuer.url() + "/catalogue/" + api.name();
    }

    /** How an API stands in the catalogue. */
    @Permitted(value = AdminRole.AUDITOR, owner = Permission.OwnerOf.API)
    @GetMapping("/apis/{api}/catalogue")
    ResponseEntity<PublicationView> show(@PathVariable String issuer, @PathVariable String api) {
        Issuer its = lookup.issuer(issuer);
        Api found = lookup.api(its, api);
        Publication it = publications.of(found.id()).orElseGet(() -> Publication.none(found.id()));
        return Answers.found(view(its, found, it), it.version());
    }

    /** Publishes an API, says who finds it, and what is said of it; readers none takes it out. */
    @Permitted(value = AdminRole.OPERATOR, owner = Permission.OwnerOf.API)
    @PatchMapping("/apis/{api}/catalogue")
    ResponseEntity<Changed<PublicationView>> change(
            @PathVariable String issuer,
            @PathVariable String api,
            @RequestBody PublicationWanted wanted,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer its = lookup.issuer(issuer);
        Api found = lookup.apiToChange(its, api);
        return Answers.changed(
                publish.change(its, found, wanted, Answers.required(ifMatch), actor),
                Publication::version,
                (changed, notes) -> new Changed<>(view(its, found, changed), notes));
    }

    private PublicationView view(Issuer issuer, Api api, Publication it) {
        PublicationWanted said = Publish.said(it, people);
        return new PublicationView(
                api.name(),
                it.readers().toString(),
                Fields.orNone(said.people()),
                it.description(),
                it.gettingStarted(),
                Fields.orNone(said.changes()),
                page(issuer, api),
                it.changedAt().orElse(null),
                PublicationSentences.of(api, it));
    }
}
