package dev.admit.core.openapi;

import com.nimbusds.jose.util.JSONObjectUtils;
import dev.admit.core.audit.Audit;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.Transactions;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Issuer;
import java.time.Clock;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.apache.commons.codec.digest.DigestUtils;

/** Keeps the document that an API has, once it can be read. */
public final class KeepOpenApi {
    private final Transactions transactions;
    private final OpenApiDocuments documents;
    private final ReadOpenApi reads;
    private final Audit audit;
    private final Clock clock;

    public KeepOpenApi(
            Transactions transactions, OpenApiDocuments documents, ReadOpenApi reads, Audit audit, Clock clock) {
        this.transactions = transactions;
        this.documents = documents;
        this.reads = reads;
        this.audit = audit;
        this.clock = clock;
    }

    /**
     * What is written down of a document; the whole is kept beside.
     *
     * @param sha256 of it, in hexadecimal, so that a change of its texts shows too
     */
    public record Noted(String title, String version, int operations, String sha256) {
        public static Noted of(OpenApiDocuments.Stored it) {
            OpenApiDocuments.Summary said = it.summary();
            return new Noted(said.title(), said.version(), said.operations(), DigestUtils.sha256Hex(it.document()));
        }
    }

    /** @param document as JSON; empty to have none any more */
    public Change<Optional<Noted>> keep(Issuer issuer, Api api, Map<String, Object> document, Actor by) {
        if (document.isEmpty()) return transactions.inOne(() -> removed(issuer, api, by));
        return switch (reads.read(JSONObjectUtils.toJSONString(document))) {
            case ReadOpenApi.Reading.Malformed malformed -> new Change.Invalid<>(malformed.faults());
            case ReadOpenApi.Reading.Good(OpenApiDocument read) ->
                transactions.inOne(() -> {
                    Optional<OpenApiDocuments.Stored> before = documents.of(api.id());
                    if (before.filter(it -> it.document().equals(read.whole())).isPresent())
                        return Change.made(before.map(Noted::of), "Nothing differs from what is there.");
                    OpenApiDocuments.Stored now = new OpenApiDocuments.Stored(
                            api.id(),
                            read.whole(),
                            new OpenApiDocuments.Summary(
                                    read.title(),
                                    read.version(),
                                    read.operations().size(),
                                    clock.instant()));
                    documents.put(
                            now,
                            read.operations().stream()
                                    .map(it -> it.label() + " " + it.summary())
                                    .collect(Collectors.joining("\n")));
                    if (before.isPresent())
                        audit.changed(
                                by, issuer.id(), "api.openapi", api.name(), Noted.of(before.get()), Noted.of(now));
                    else audit.added(by, issuer.id(), "api.openapi", api.name(), Noted.of(now));
                    return Change.made(Optional.of(Noted.of(now)));
                });
        };
    }

    private Change<Optional<Noted>> removed(Issuer issuer, Api api, Actor by) {
        Optional<OpenApiDocuments.Stored> before = documents.of(api.id());
        before.ifPresent(it -> {
            documents.remove(api.id());
            audit.removed(by, issuer.id(), "api.openapi-removed", api.name(), Noted.of(it));
        });
        return Change.made(Optional.empty());
    }
}
