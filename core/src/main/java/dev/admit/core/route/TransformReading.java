package dev.admit.core.route;

import dev.admit.contract.RouteTransform;
import dev.admit.core.change.Fields;
import dev.admit.core.decision.Reason;
import dev.admit.core.registry.Issuer;
import dev.admit.core.upstream.UpstreamCredential;
import dev.admit.core.upstream.UpstreamCredentials;
import java.net.URI;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/** Reads what a route does to requests and responses, and says what cannot be taken. */
final class TransformReading {
    private static final Pattern HEADER = Pattern.compile("[A-Za-z0-9!#$%&'*+.^_`|~-]{1,100}"); // RFC 9110 §5.6.2
    /**
     * The connection's own (RFC 9110 §7.6.1), what says how long a message is, what the gateway itself passes on, and
     * credentials: a route is no place for a secret.
     */
    private static final Set<String> NOT_SET = Set.of(
            "connection",
            "keep-alive",
            "proxy-connection",
            "te",
            "trailer",
            "transfer-encoding",
            "upgrade",
            "content-length",
            "host",
            "forwarded",
            "x-forwarded-for",
            "x-forwarded-host",
            "x-forwarded-proto",
            "date",
            "set-cookie",
            "authorization",
            "proxy-authorization");

    private static final Set<String> STATUSES = Set.of("400", "401", "403", "404", "405", "413", "429", "431");
    private static final int LONGEST_BODY = 64 * 1024;
    private static final int MOST = 30;

    private final Fields fields;
    private final Issuer issuer;
    private final UpstreamCredentials credentials;

    TransformReading(Fields fields, Issuer issuer, UpstreamCredentials credentials) {
        this.fields = fields;
        this.issuer = issuer;
        this.credentials = credentials;
    }

    /** @param upstream where the route leads; empty where it leads nowhere */
    Transform read(RouteTransform wanted, PathPattern pattern, Optional<URI> upstream) {
        Optional<String> path = fields.lineOrNone("/transform/path", wanted.path(), Fields.LONG_TEXT_LENGTH);
        path.flatMap(it -> PathRewrite.faultOf(it, pattern))
                .ifPresent(fault -> fields.fault(
                        "/transform/path", fault, Fields.quoted(path.get()), "Use the names of the route's own path."));
        Map<String, String> renamed = new LinkedHashMap<>();
        Map<String, String> wantedNames = wanted.renamedOnRequest() == null ? Map.of() : wanted.renamedOnRequest();
        wantedNames.forEach((from, to) -> renamed.put(
                header("/transform/renamed_on_request", from), header("/transform/renamed_on_request", to)));
        return new Transform(
                path,
                headers("/transform/set_on_request", wanted.setOnRequest(), pattern),
                renamed,
                removed("/transform/removed_on_request", wanted.removedOnRequest()),
                headers("/transform/set_on_response", wanted.setOnResponse(), pattern),
                removed("/transform/removed_on_response", wanted.removedOnResponse()),
                credential(wanted.credential(), upstream),
                refusals(wanted.refusals()),
                fields.word("/transform/proof", wanted.proof(), Transform.Proof.class, Transform.Proof.REUSED)
                        .orElse(Transform.Proof.REUSED));
    }

    private Map<String, String> headers(String pointer, @Nullable Map<String, String> wanted, PathPattern pattern) {
        Map<String, String> headers = new LinkedHashMap<>();
        if (wanted == null) return headers;
        if (wanted.size() > MOST) fields.fault(pointer, "at most " + MOST, wanted.size() + " of them", "Set fewer.");
        wanted.forEach((name, text) -> {
            String at = pointer + "/" + name;
            String line = fields.line(at, text, "", Fields.LONG_TEXT_LENGTH);
            Template.faultOf(line)
                    .ifPresent(fault ->
                            fields.fault(at, "a text, or a Mustache template", fault, "Write such as {{claims.sub}}."));
            known(fields, at, line, Placeholders.of(pattern));
            headers.put(header(pointer, name), line);
        });
        return headers;
    }

    /** A name that nothing fills in would leave a gap that nobody sees. */
    static void known(Fields fields, String pointer, String text, Map<String, String> known) {
        Placeholders.unknown(text, known)
                .ifPresent(name -> fields.fault(
                        pointer,
                        "only names that are filled in here: " + Placeholders.listed(known),
                        "{{%s}}".formatted(name),
                        "Correct the name."));
    }

    private List<String> removed(String pointer, @Nullable List<String> wanted) {
        return Fields.orNone(wanted).stream()
                .map(name -> header(pointer, name))
                .distinct()
                .toList();
    }

    /** A header whose value is the route's to say. */
    private String header(String pointer, String name) {
        String trimmed = name == null ? "" : name.strip();
        String lower = trimmed.toLowerCase(Locale.ROOT);
        if (!HEADER.matcher(trimmed).matches() || NOT_SET.contains(lower) || lower.startsWith("admit")) {
            fields.fault(
                    pointer,
                    "the name of a header that is neither the connection's nor the gateway's own",
                    trimmed.isEmpty() ? "nothing" : Fields.quoted(trimmed),
                    "Choose another.");
        }
        return trimmed;
    }

    /** The id of what is presented, which must be meant for where the route leads. */
    private Optional<String> credential(@Nullable String wanted, Optional<URI> upstream) {
        if (wanted == null || wanted.isBlank()) return Optional.empty();
        Optional<UpstreamCredential> it =
                credentials.named(issuer.id(), wanted.strip()).map(UpstreamCredentials.Stored::credential);
        if (it.isEmpty()) {
            fields.fault(
                    "/transform/credential",
                    "an upstream credential of this issuer",
                    Fields.quoted(wanted),
                    "List them with: admit upstream-credential list");
        } else if (upstream.isEmpty() || !it.get().isFor(upstream.get())) {
            fields.fault(
                    "/transform/credential",
                    "one for %s".formatted(upstream.map(URI::toString).orElse("an upstream, which this route has not")),
                    "%s, which is for %s".formatted(it.get().name(), it.get().upstream()),
                    "Change the upstream, or add a credential for it.");
        }
        return it.map(UpstreamCredential::id);
    }

    private Map<String, Transform.Text> refusals(@Nullable Map<String, RouteTransform.OwnText> wanted) {
        Map<String, Transform.Text> texts = new LinkedHashMap<>();
        if (wanted == null) return texts;
        if (wanted.size() > MOST)
            fields.fault("/transform/refusals", "at most " + MOST, wanted.size() + " of them", "Name fewer.");
        wanted.forEach((when, text) -> {
            String at = "/transform/refusals/" + when;
            if (!when.equals("any")
                    && !STATUSES.contains(when)
                    && Reason.of(when).isEmpty())
                fields.fault(
                        "/transform/refusals",
                        "a reason such as insufficient-scope, a status such as 403, or any",
                        Fields.quoted(when),
                        "Correct it.");
            String body = text == null || text.body() == null ? "" : text.body();
            if (body.length() > LONGEST_BODY)
                fields.fault(
                        at + "/body",
                        "at most " + LONGEST_BODY + " characters",
                        body.length() + " characters",
                        "Shorten it.");
            Template.faultOf(body)
                    .ifPresent(fault -> fields.fault(
                            at + "/body", "a text, or a Mustache template", fault, "Write such as {{sentence}}."));
            known(fields, at + "/body", body, Placeholders.ofRefusals());
            String type = text == null
                    ? ""
                    : fields.line(
                            at + "/content_type", text.contentType(), "text/plain; charset=utf-8", Fields.TEXT_LENGTH);
            if (!type.chars().allMatch(c -> c >= 0x20 && c < 0x7f))
                fields.fault(
                        at + "/content_type",
                        "a media type in ASCII",
                        Fields.quoted(type),
                        "Write such as text/html; charset=utf-8.");
            texts.put(when, new Transform.Text(type, body));
        });
        return texts;
    }
}
