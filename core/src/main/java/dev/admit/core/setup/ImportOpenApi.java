package dev.admit.core.setup;

import dev.admit.contract.OpenApiWanted;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Fields;
import dev.admit.core.openapi.OpenApiDocument;
import dev.admit.core.openapi.ReadOpenApi;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Issuer;
import dev.admit.core.route.PathPattern;
import java.net.URI;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.apache.commons.codec.digest.DigestUtils;
import org.jspecify.annotations.Nullable;

/**
 * Makes an API, its scopes and its routes from the API's own OpenAPI document, and says what would change before it
 * does; again when the document changes.
 */
public final class ImportOpenApi {
    private static final Pattern OF_ROUTE = Pattern.compile("/routes/(\\d+)(.*)");

    /** Fetches a document from the upstream whose owner is trusted with the API. */
    public interface Fetch {
        /** @throws NotFetched why not, in words that go on "it could not be fetched: " */
        String document(URI address) throws NotFetched;
    }

    /** A document did not come. */
    public static final class NotFetched extends Exception {
        public NotFetched(@Nullable String why) {
            super(why);
        }
    }

    private final ReadOpenApi reads;
    private final Fetch fetch;
    private final LoadSetup load;
    private final ExportSetup export;
    private final LoadSetup.Records records;

    public ImportOpenApi(
            ReadOpenApi reads, Fetch fetch, LoadSetup load, ExportSetup export, LoadSetup.Records records) {
        this.reads = reads;
        this.fetch = fetch;
        this.load = load;
        this.export = export;
        this.records = records;
    }

    /**
     * @param loaded whether it was saved
     * @param sha256 of the document
     */
    public record Imported(
            boolean loaded, String sha256, List<SetupOutcome.Step> steps, List<String> gone, List<String> notes) {}

    /**
     * @param api the name that the API has or is to have
     * @param confirm the API's name, said when more would pass than now; null for not said
     * @param by whose rights it takes: everything is done as by hand
     */
    public Change<Imported> run(Issuer issuer, String api, OpenApiWanted wanted, @Nullable String confirm, Actor by) {
        Fields fields = new Fields();
        Optional<Api> before = records.apis().named(issuer.id(), api);
        Optional<URI> upstream = wanted.upstream() == null || wanted.upstream().isBlank()
                ? Optional.empty()
                : fields.upstream("/upstream", wanted.upstream());
        String prefix = prefix(fields, wanted.prefix());
        Optional<URI> there = upstream.isPresent() ? upstream : before.flatMap(Api::upstream);
        String text = fields.faulty() ? "" : text(fields, wanted, there);
        if (fields.faulty()) return new Change.Invalid<>(fields.faults());
        return switch (reads.read(text)) {
            case ReadOpenApi.Reading.Malformed(List<FieldFault> faults) ->
                new Change.Invalid<>(faults.stream()
                        .map(it -> new FieldFault(
                                (wanted.url() == null ? "/document" : "/url") + it.pointer(),
                                it.expected(),
                                it.received(),
                                it.fix()))
                        .toList());
            case ReadOpenApi.Reading.Good(OpenApiDocument document)
            when isAnother(wanted, document) ->
                Change.invalid(new FieldFault(
                        "/sha256",
                        DigestUtils.sha256Hex(document.whole()) + ", of the document as it is now",
                        Fields.quoted(wanted.sha256()),
                        "Look at what would change first, and load with the sha256 that the answer says."));
            case ReadOpenApi.Reading.Good(OpenApiDocument document) ->
                proposed(
                        issuer,
                        document,
                        new ProposeSetup.Given(issuer.name(), api, prefix, upstream),
                        before,
                        Boolean.TRUE.equals(wanted.load()),
                        confirm,
                        by);
        };
    }

    /** What is fetched anew may be another than what was looked at: whoever answers there would choose. */
    private static boolean isAnother(OpenApiWanted wanted, OpenApiDocument document) {
        boolean named = wanted.sha256() != null && !wanted.sha256().isBlank();
        boolean needed = Boolean.TRUE.equals(wanted.load())
                && wanted.url() != null
                && !wanted.url().isBlank();
        return (named || needed)
                && !DigestUtils.sha256Hex(document.whole())
                        .equals(wanted.sha256() == null ? "" : wanted.sha256().strip());
    }

    private static String prefix(Fields fields, @Nullable String wanted) {
        String prefix = wanted == null ? "" : wanted.strip().replaceAll("/+$", "");
        if (!prefix.isEmpty()
                && !(prefix.startsWith("/")
                        && PathPattern.read(prefix) instanceof PathPattern.Reading.Good(PathPattern read)
                        && read.parts().stream().allMatch(PathPattern.Part.Literal.class::isInstance)))
            fields.fault(
                    "/prefix",
                    "a path without names, outside the gateway's own, such as /tides",
                    Fields.quoted(wanted),
                    "Correct it, or leave it out.");
        return prefix;
    }

    private String text(Fields fields, OpenApiWanted wanted, Optional<URI> upstream) {
        String document = wanted.document() == null ? "" : wanted.document();
        boolean given = !document.isBlank();
        boolean named = wanted.url() != null && !wanted.url().isBlank();
        if (given == named) {
            fields.fault("/document", "a document or a url", given ? "both" : "nothing", "Give one of the two.");
            return "";
        }
        if (given) return document;
        Optional<URI> address = fields.upstream("/url", wanted.url());
        if (address.isEmpty()) return "";
        // An address elsewhere would have the service read whatever it reaches, and tell of it.
        if (upstream.filter(it -> isBelow(address.get(), it)).isEmpty()) {
            fields.fault(
                    "/url",
                    "an address at the API's upstream"
                            + upstream.map(it -> ", " + it).orElse(", which it has none of"),
                    Fields.quoted(wanted.url()),
                    "Say where the API is with upstream, or give the document's text.");
            return "";
        }
        try {
            return fetch.document(address.get());
        } catch (NotFetched why) {
            fields.fault(
                    "/url",
                    "a document that can be fetched",
                    "none: " + why.getMessage(),
                    "Give the document's text instead.");
            return "";
        }
    }

    private static boolean isBelow(URI address, URI upstream) {
        return address.getScheme().equals(upstream.getScheme())
                && address.getRawAuthority().equals(upstream.getRawAuthority())
                && !address.getRawPath().contains("..");
    }

    private Change<Imported> proposed(
            Issuer issuer,
            OpenApiDocument document,
            ProposeSetup.Given given,
            Optional<Api> before,
            boolean forGood,
            @Nullable String confirm,
            Actor by) {
        ProposeSetup.Proposal proposal = ProposeSetup.of(
                document,
                given,
                new ProposeSetup.Now(
                        before,
                        name -> records.scopes().named(issuer.id(), name).isPresent(),
                        records.routes().of(issuer.id()),
                        export::route));
        if (forGood && !proposal.opens().isEmpty() && !given.api().equals(confirm))
            return new Change.NeedsConfirmation<>(
                    given.api(), Change.NeedsConfirmation.LETS_MORE_PASS, proposal.opens());
        LoadSetup.Request request = new LoadSetup.Request(proposal.setup(), Map.of(), false);
        return switch (forGood ? load.load(request, by) : load.compare(request, by)) {
            case SetupOutcome.Refused(List<FieldFault> faults) ->
                new Change.Invalid<>(faults.stream()
                        .map(it -> placed(it, given.api(), proposal.setup()))
                        .toList());
            case SetupOutcome.Fits fits -> {
                List<String> notes = new ArrayList<>(proposal.opens());
                notes.addAll(proposal.notes());
                notes.addAll(fits.notes());
                yield Change.made(new Imported(
                        forGood, DigestUtils.sha256Hex(document.whole()), fits.steps(), proposal.gone(), notes));
            }
        };
    }

    /** A fault of what the document came to, told of the document. */
    private static FieldFault placed(FieldFault it, String api, Setup setup) {
        Matcher route = OF_ROUTE.matcher(it.pointer());
        if (route.matches() && setup.routes() != null) {
            String label = String.valueOf(
                    setup.routes().get(Integer.parseInt(route.group(1))).route());
            return new FieldFault(
                    "/document", "for the route %s: %s".formatted(label, it.expected()), it.received(), it.fix());
        }
        String ofApi = "/apis/" + SetupSteps.escaped(api);
        String rest = it.pointer().startsWith(ofApi) ? it.pointer().substring(ofApi.length()) : it.pointer();
        return switch (rest) {
            case "/name" -> new FieldFault("/name", it.expected(), it.received(), it.fix());
            case "/upstream" -> new FieldFault("/upstream", it.expected(), it.received(), it.fix());
            default ->
                new FieldFault(
                        "/document",
                        "for%s: %s".formatted(rest.replace('/', ' '), it.expected()),
                        it.received(),
                        it.fix());
        };
    }
}
