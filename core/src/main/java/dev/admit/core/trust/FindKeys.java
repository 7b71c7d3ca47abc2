package dev.admit.core.trust;

import com.nimbusds.jose.util.JSONObjectUtils;
import dev.admit.core.change.Fields;
import java.net.URI;
import java.text.ParseException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * Finds the keys of an issuer elsewhere, step by step, each told. Nothing that comes back is trusted beyond what it is
 * wanted for.
 */
public final class FindKeys {

    /** Fetches a document: bounded in time and size, no redirects. */
    public interface Fetch {
        /** @throws NotFetched with what came instead, as a phrase */
        String from(URI address) throws NotFetched;

        /**
         * The same for an address that another server named: it may lie inside this network only where that server
         * does.
         *
         * @param namedBy where the server is
         */
        default String from(URI address, URI namedBy) throws NotFetched {
            return from(address);
        }
    }

    /** It could not or may not be fetched. */
    public static final class NotFetched extends Exception {
        public NotFetched(String phrase) {
            super(phrase, null, false, false);
        }
    }

    /**
     * @param step what was looked for
     * @param good whether it was found
     * @param said what came of it
     */
    public record Step(String step, boolean good, String said) {}

    /** @param jwks the key set as JSON; empty when a step failed, which is then the last */
    public record Outcome(List<Step> steps, Optional<String> jwks, List<TheirKey> keys) {
        public int count() {
            return keys.size();
        }

        /** What went wrong, as a clause; empty when nothing did. */
        public Optional<String> fault() {
            return steps.stream().filter(it -> !it.good()).findFirst().map(Step::said);
        }
    }

    private final Fetch fetch;

    public FindKeys(Fetch fetch) {
        this.fetch = fetch;
    }

    public Outcome of(TrustedIssuer it) {
        List<Step> steps = new ArrayList<>();
        try {
            String jwks =
                    switch (it.keys()) {
                        case TrustedIssuer.Keys.InMetadata(URI at) ->
                            fetch("keys", keysNamedAt(it, at, steps), at, steps);
                        case TrustedIssuer.Keys.At(URI at) -> fetch("keys", at, at, steps);
                        case TrustedIssuer.Keys.Pasted(String pasted) -> pasted;
                    };
            List<TheirKey> keys = TheirKey.in(jwks, it.algorithms());
            String ids = String.join(
                    ", ",
                    keys.stream()
                            .map(key -> key.kid().isEmpty() ? "one without an id" : Fields.quoted(key.kid()))
                            .toList());
            steps.add(new Step(
                    "usable keys",
                    !keys.isEmpty(),
                    keys.isEmpty()
                            ? "there is none for "
                                    + String.join(
                                            " or ",
                                            it.algorithms().stream()
                                                    .map(Object::toString)
                                                    .toList())
                            : ids));
            return keys.isEmpty()
                    ? new Outcome(steps, Optional.empty(), List.of())
                    : new Outcome(steps, Optional.of(jwks), keys);
        } catch (ParseException none) {
            steps.add(new Step("usable keys", false, "what came is no key set"));
        } catch (NotFetched why) {
            // the last step says so
        }
        return new Outcome(steps, Optional.empty(), List.of());
    }

    private URI keysNamedAt(TrustedIssuer it, URI at, List<Step> steps) throws NotFetched {
        String text = fetch("metadata", at, at, steps);
        try {
            Map<String, Object> metadata = JSONObjectUtils.parse(text);
            // RFC 8414 §3.3: the issuer in it must be the one that is meant, or another person speaks.
            String named = String.valueOf(metadata.get("issuer"));
            boolean same = it.url().equals(named);
            steps.add(new Step(
                    "issuer in the metadata",
                    same,
                    same ? named : "it names %s, not %s".formatted(Fields.quoted(named), it.url())));
            if (!same) throw new NotFetched("another issuer");
            if (metadata.get("jwks_uri") instanceof String keys) return URI.create(keys);
            steps.add(new Step("jwks_uri in the metadata", false, "there is none"));
        } catch (ParseException | IllegalArgumentException unreadable) {
            steps.add(new Step("metadata", false, "what came cannot be read"));
        }
        throw new NotFetched("no address of keys");
    }

    private String fetch(String what, URI at, URI namedBy, List<Step> steps) throws NotFetched {
        try {
            String text = fetch.from(at, namedBy);
            steps.add(new Step(what, true, at.toString()));
            return text;
        } catch (NotFetched why) {
            steps.add(new Step(what, false, "%s: %s".formatted(at, why.getMessage())));
            throw why;
        }
    }
}
