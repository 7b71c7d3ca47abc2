package dev.admit.core.catalogue;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import dev.admit.core.change.Page;
import dev.admit.core.openapi.AnswerOpenApi;
import dev.admit.core.openapi.OpenApiDocuments;
import dev.admit.core.owner.Owned;
import dev.admit.core.owner.Owner;
import dev.admit.core.owner.Owners;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Apis;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Scope;
import dev.admit.core.registry.Scopes;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.function.LongSupplier;
import java.util.function.Predicate;
import java.util.stream.Collectors;

/** What a reader finds in the catalogue. */
public final class Catalogue {
    /** Operations, of all documents that are kept together. */
    private static final int KEPT = 40_000;

    private static final int LONGEST_SEARCH = 100;

    private final Publications publications;
    private final Apis apis;
    private final Scopes scopes;
    private final OpenApiDocuments documents;
    private final AnswerOpenApi answers;
    private final Owners owners;
    private final LongSupplier serial;
    private final Clock clock;
    /** A document is read anew when it changes, or the configuration does: routes and scopes are told of in it. */
    private final Cache<Key, Documentation> read = Caffeine.newBuilder()
            .maximumWeight(KEPT)
            .weigher((Key key, Documentation it) -> 1 + it.count())
            .build();

    /** @param serial number of the configuration in force */
    public Catalogue(
            Publications publications,
            Apis apis,
            Scopes scopes,
            OpenApiDocuments documents,
            AnswerOpenApi answers,
            Owners owners,
            LongSupplier serial,
            Clock clock) {
        this.publications = publications;
        this.apis = apis;
        this.scopes = scopes;
        this.documents = documents;
        this.answers = answers;
        this.owners = owners;
        this.serial = serial;
        this.clock = clock;
    }

    private record Key(String apiId, Instant importedAt, long serial) {}

    /**
     * An API in the catalogue.
     *
     * @param scopes that are listed and may be requested
     * @param document what it has; empty for none
     */
    public record Entry(
            Api api, Publication publication, List<Scope> scopes, Optional<OpenApiDocuments.Summary> document) {}

    /** @param search cut to a sensible length */
    public Page<Entry> list(Issuer issuer, Reader reader, Optional<String> alsoOwnedBy, String search, Page.Ask ask) {
        String said = search.strip();
        Page<Api> found = publications.found(
                issuer.id(),
                reader,
                alsoOwnedBy,
                said.length() > LONGEST_SEARCH ? said.substring(0, LONGEST_SEARCH) : said,
                ask);
        return new Page<>(found.items().stream().map(this::entry).toList(), found.next());
    }

    /**
     * One API; empty when the reader does not find it, as when it is not there.
     *
     * @param reader who looks at this API
     * @param whatever whether they find it though it is not published for them
     */
    public Optional<Entry> find(Issuer issuer, String name, Function<Api, Reader> reader, Predicate<Api> whatever) {
        return apis.named(issuer.id(), name)
                .filter(api -> api.name().equals(name))
                .map(this::entry)
                .filter(it -> it.publication().isFor(reader.apply(it.api())) || whatever.test(it.api()));
    }

    private Entry entry(Api api) {
        Instant now = clock.instant();
        return new Entry(
                api,
                publications.of(api.id()).orElseGet(() -> Publication.none(api.id())),
                scopes.of(api.id()).stream()
                        .filter(it -> it.listed() && it.isGrantedAt(now))
                        .toList(),
                documents.summary(api.id()));
    }

    public List<Owner> owners(Api api) {
        return owners.of(Owned.of(api));
    }

    public Documentation documentation(Issuer issuer, Entry of) {
        Key key = new Key(
                of.api().id(),
                of.document().map(OpenApiDocuments.Summary::importedAt).orElse(Instant.EPOCH),
                serial.getAsLong());
        return read.get(key, fresh -> ReadDocumentation.of(document(issuer, of)));
    }

    /** The OpenAPI document as callers see it, of the scopes that are listed. */
    public Map<String, Object> document(Issuer issuer, Entry of) {
        Set<String> listed = of.scopes().stream().map(Scope::name).collect(Collectors.toSet());
        return answers.forCallers(issuer, of.api(), listed::contains);
    }
}
