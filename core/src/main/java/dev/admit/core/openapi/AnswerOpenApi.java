package dev.admit.core.openapi;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import dev.admit.core.change.Change;
import dev.admit.core.change.FieldFault;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Scopes;
import dev.admit.core.route.Routes;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.LongSupplier;
import java.util.function.Predicate;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;

/** Tells of the routes in force in the terms of an API's document. */
public final class AnswerOpenApi {
    private final OpenApiDocuments documents;
    private final ReadOpenApi reads;
    private final Routes routes;
    private final Scopes scopes;
    private final UnaryOperator<String> gateway;
    private final LongSupplier serial;
    /** Routes are read and laid out anew when the configuration changes, not for each API that is asked about. */
    private final Cache<Key, Reached.Routed> laidOut =
            Caffeine.newBuilder().maximumSize(ISSUERS).build();

    private static final int ISSUERS = 20;

    private record Key(String issuerId, long serial) {}

    /**
     * @param gateway host, empty for any → the gateway's URL there
     * @param serial number of the configuration in force
     */
    public AnswerOpenApi(
            OpenApiDocuments documents,
            ReadOpenApi reads,
            Routes routes,
            Scopes scopes,
            UnaryOperator<String> gateway,
            LongSupplier serial) {
        this.documents = documents;
        this.reads = reads;
        this.routes = routes;
        this.scopes = scopes;
        this.gateway = gateway;
        this.serial = serial;
    }

    /** The document as callers see it; of an API that has none, what its routes say. */
    public Map<String, Object> forCallers(Issuer issuer, Api api) {
        return forCallers(issuer, api, every -> true);
    }

    /** @param tells of which scopes: an operation that wants others alone is left out */
    public Map<String, Object> forCallers(Issuer issuer, Api api, Predicate<String> tells) {
        Reached.Routed theirs = laidOut.get(
                new Key(issuer.id(), serial.getAsLong()), fresh -> Reached.Routed.of(routes.of(issuer.id())));
        OpenApiForCallers callers = new OpenApiForCallers(issuer, api, theirs, scopes.of(api.id()), tells, gateway);
        return kept(api).map(callers::from).orElseGet(callers::fromRoutes);
    }

    /**
     * Holds the routes in force against a document.
     *
     * @param text null for the one that the API has
     */
    public Change<CheckOpenApi> check(Issuer issuer, Api api, @Nullable String text) {
        if (text == null || text.isBlank())
            return kept(api)
                    .map(it -> CheckOpenApi.of(it, api, routes.of(issuer.id())))
                    .map(it -> Change.made(it))
                    .orElseGet(() -> Change.invalid(new FieldFault(
                            "/document",
                            "an OpenAPI document",
                            "nothing, and %s has none".formatted(api.name()),
                            "Give the document's text.")));
        return switch (reads.read(text)) {
            case ReadOpenApi.Reading.Malformed(List<FieldFault> faults) ->
                new Change.Invalid<>(faults.stream()
                        .map(it -> new FieldFault("/document" + it.pointer(), it.expected(), it.received(), it.fix()))
                        .toList());
            case ReadOpenApi.Reading.Good(OpenApiDocument document) ->
                Change.made(CheckOpenApi.of(document, api, routes.of(issuer.id())));
        };
    }

    private Optional<OpenApiDocument> kept(Api api) {
        return documents.of(api.id()).map(it -> switch (reads.read(it.document())) {
            case ReadOpenApi.Reading.Good(OpenApiDocument document) -> document;
            case ReadOpenApi.Reading.Malformed malformed ->
                throw new IllegalStateException("a kept OpenAPI document cannot be read");
        });
    }
}
