package dev.admit.core.registration;

import dev.admit.contract.UpstreamCredentialWanted;
import dev.admit.core.audit.Audit;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.Expected;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Fields;
import dev.admit.core.change.Ids;
import dev.admit.core.change.Republish;
import dev.admit.core.change.Transactions;
import dev.admit.core.key.MasterKey;
import dev.admit.core.registry.Issuer;
import dev.admit.core.route.Route;
import dev.admit.core.route.Routes;
import dev.admit.core.upstream.UpstreamCredential;
import dev.admit.core.upstream.UpstreamCredential.Shown;
import dev.admit.core.upstream.UpstreamCredentials;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** Adds, changes and removes upstream credentials. A secret goes in, is sealed, and is shown to nobody again. */
public final class UpstreamCredentialRegistration {
    private static final int LONGEST_SECRET = 4_000;
    private static final int MOST_PARAMETERS = 20;
    private static final Set<String> OWN_PARAMETERS =
            Set.of("grant_type", "client_id", "client_secret", "scope", "client_assertion", "client_assertion_type");
    private static final Set<String> LOOPBACK = Set.of("127.0.0.1", "[::1]", "localhost");

    private final Transactions transactions;
    private final UpstreamCredentials credentials;
    private final Routes routes;
    private final MasterKey masterKey;
    private final Audit audit;
    private final Republish live;
    private final Clock clock;

    public UpstreamCredentialRegistration(
            Transactions transactions,
            UpstreamCredentials credentials,
            Routes routes,
            MasterKey masterKey,
            Audit audit,
            Republish live,
            Clock clock) {
        this.transactions = transactions;
        this.credentials = credentials;
        this.routes = routes;
        this.masterKey = masterKey;
        this.audit = audit;
        this.live = live;
        this.clock = clock;
    }

    @SuppressWarnings("NullAway") // what is read is whole when no field has a fault, and only then leaves here
    public Change<UpstreamCredential> add(Issuer issuer, UpstreamCredentialWanted wanted, Actor by) {
        return published(transactions.inOne(() -> {
            Fields fields = new Fields();
            UpstreamCredential fresh = new UpstreamCredential(
                    Ids.random("uc_"),
                    issuer.id(),
                    fields.name("/name", wanted.name()),
                    null,
                    null,
                    0,
                    clock.instant());
            Optional<UpstreamCredentials.Stored> read = read(fields, wanted, fresh, null);
            if (read.isEmpty()) return new Change.Invalid<>(fields.faults());
            if (credentials.named(issuer.id(), fresh.name()).isPresent()) {
                return new Change.Taken<>(new FieldFault(
                        "/name",
                        "a name no upstream credential has",
                        Fields.quoted(fresh.name()),
                        "Choose another name."));
            }
            credentials.insert(read.get());
            audit.added(
                    by,
                    issuer.id(),
                    "upstream-credential.added",
                    fresh.name(),
                    read.get().credential());
            return new Change.Made<>(read.get().credential(), fields.notes());
        }));
    }

    public Change<UpstreamCredential> change(
            Issuer issuer, String named, UpstreamCredentialWanted wanted, Expected expected, Actor by) {
        return published(transactions.inOne(() -> {
            Optional<UpstreamCredentials.Stored> old = credentials.named(issuer.id(), named);
            if (old.isEmpty()) return new Change.Absent<>("upstream credential", named);
            UpstreamCredential before = old.get().credential();
            Optional<Change<UpstreamCredential>> stale = expected.stale(before.version());
            if (stale.isPresent()) return stale.get();
            Fields fields = new Fields();
            if (wanted.name() != null && !wanted.name().strip().equals(before.name())) {
                fields.fault(
                        "/name",
                        before.name() + ", because routes refer to it",
                        Fields.quoted(wanted.name()),
                        "Add one with the new name, and remove this one.");
            }
            Optional<UpstreamCredentials.Stored> read =
                    read(fields, wanted, before, old.get().sealed());
            if (read.isEmpty()) return new Change.Invalid<>(fields.faults());
            UpstreamCredential after = read.get().credential();
            // The one who may change where a secret goes, or in what form, could read it there; so the secret must be
            // known
            // to be sent elsewhere.
            if (wanted.secret() == null && !placeOfSecret(before).equals(placeOfSecret(after))) {
                return Change.invalid(new FieldFault(
                        "/secret",
                        "the secret, because it would go to another place",
                        "none",
                        "Send the secret again: a kept secret stays where it was meant for."));
            }
            if (wanted.secret() == null && Audit.same(before, after))
                return Change.made(before, "Nothing differs from what is there.");
            // It is not presented there: the gateway looks at each request whether it may be.
            using(issuer, before).stream()
                    .filter(it -> it.target() instanceof Route.Target.Upstream(Optional<URI> base)
                            && base.isPresent()
                            && !after.isFor(base.get()))
                    .forEach(it -> fields.note("The route %s leads elsewhere, and answers 502 until it leads there."
                            .formatted(it.label())));
            credentials.update(read.get());
            audit.changed(by, issuer.id(), "upstream-credential.changed", after.name(), before, after);
            return new Change.Made<>(after, fields.notes());
        }));
    }

    /** Where the secret goes, and as what: everything but the scope and the parameters of a request for a token. */
    private static List<Object> placeOfSecret(UpstreamCredential it) {
        return switch (it.shown()) {
            case Shown.Header(String header) -> List.of(it.upstream(), "header", header);
            case Shown.Login(String user) -> List.of(it.upstream(), "login", user);
            case Shown.Token token ->
                List.of(
                        it.upstream(),
                        "token",
                        token.issuer(),
                        token.tokenEndpoint(),
                        token.clientId(),
                        token.inBody());
        };
    }

    public Change<UpstreamCredential> remove(Issuer issuer, String named, Expected expected, Actor by) {
        return published(transactions.inOne(() -> {
            Optional<UpstreamCredential> old =
                    credentials.named(issuer.id(), named).map(UpstreamCredentials.Stored::credential);
            if (old.isEmpty()) return new Change.Absent<>("upstream credential", named);
            Optional<Change<UpstreamCredential>> stale =
                    expected.stale(old.get().version());
            if (stale.isPresent()) return stale.get();
            List<String> using =
                    using(issuer, old.get()).stream().map(Route::label).toList();
            if (!using.isEmpty())
                return new Change.Refused<>(
                        "The route %s presents it.".formatted(String.join(", ", using)), "Change the routes first.");
            credentials.delete(old.get().id());
            audit.removed(
                    by, issuer.id(), "upstream-credential.removed", old.get().name(), old.get());
            return Change.made(old.get());
        }));
    }

    private List<Route> using(Issuer issuer, UpstreamCredential it) {
        return routes.of(issuer.id()).stream()
                .filter(route -> route.transform().credential().equals(Optional.of(it.id())))
                .toList();
    }

    /** @param kept the secret that stays where none is said; null for one that is new */
    @SuppressWarnings("NullAway") // what is read is whole when no field has a fault, and only then leaves here
    private Optional<UpstreamCredentials.Stored> read(
            Fields fields, UpstreamCredentialWanted wanted, UpstreamCredential old, byte @Nullable [] kept) {
        URI upstream = wanted.upstream() == null && old.upstream() != null
                ? old.upstream()
                : fields.upstream("/upstream", wanted.upstream()).orElse(null);
        if (upstream != null && "http".equals(upstream.getScheme()) && !LOOPBACK.contains(upstream.getHost())) {
            fields.note("It goes to the upstream in plain http: the one who is on the way can read it.");
        }
        Shown shown = shown(fields, wanted, old.shown());
        byte[] sealed = kept;
        UpstreamCredential it = new UpstreamCredential(
                old.id(), old.issuerId(), old.name(), upstream, shown, old.version() + 1, old.createdAt());
        if (wanted.secret() != null || kept == null) {
            String secret = wanted.secret() == null ? "" : wanted.secret().strip();
            boolean fits = !secret.isEmpty()
                    && secret.length() <= LONGEST_SECRET
                    && secret.chars().allMatch(c -> c >= 0x20 && c < 0x7f);
            if (!fits)
                fields.fault(
                        "/secret",
                        "1 to %d printable ASCII characters".formatted(LONGEST_SECRET),
                        secret.isEmpty() ? "nothing" : "something else",
                        "Give the header's value, the password, or the client's secret.");
            else sealed = masterKey.seal(secret.getBytes(StandardCharsets.UTF_8), it.sealedAs());
        }
        return fields.faulty() ? Optional.empty() : Optional.of(new UpstreamCredentials.Stored(it, sealed));
    }

    private Shown shown(Fields fields, UpstreamCredentialWanted wanted, Shown old) {
        long kinds = java.util.stream.Stream.of(wanted.header(), wanted.user(), wanted.clientId())
                .filter(it -> it != null && !it.isBlank())
                .count();
        boolean asToken = wanted.issuer() != null
                || wanted.tokenEndpoint() != null
                || wanted.auth() != null
                || wanted.scope() != null
                || wanted.parameters() != null;
        if (kinds > 1 || kinds == 0 && old == null) {
            fields.fault(
                    "/header",
                    "one of header, user and client_id",
                    kinds == 0 ? "none" : kinds + " of them",
                    "Say header for a fixed header, user for a login, client_id for a token that is fetched.");
            return old;
        }
        if (wanted.header() != null) return header(fields, wanted.header());
        if (wanted.user() != null) {
            String user = fields.line("/user", wanted.user(), null, Fields.TEXT_LENGTH);
            if (user.contains(":"))
                fields.fault("/user", "a name without a colon (RFC 7617 §2)", Fields.quoted(user), "Correct it.");
            return new Shown.Login(user);
        }
        Shown.Token before = old instanceof Shown.Token token ? token : null;
        if (wanted.clientId() == null && before == null) {
            if (asToken)
                fields.fault(
                        "/client_id",
                        "the client as which a token is fetched",
                        "none",
                        "Say it; or leave out what a request for a token has.");
            return old;
        }
        return token(fields, wanted, before);
    }

    private static Shown header(Fields fields, String wanted) {
        String name = fields.line("/header", wanted, null, Fields.NAME_LENGTH);
        boolean taken = Set.of(
                        "host",
                        "connection",
                        "content-length",
                        "transfer-encoding",
                        "te",
                        "upgrade",
                        "trailer",
                        "cookie")
                .contains(name.toLowerCase(java.util.Locale.ROOT));
        if (!name.matches("[A-Za-z0-9!#$%&'*+.^_`|~-]+")
                || taken
                || name.toLowerCase(java.util.Locale.ROOT).startsWith("admit")) {
            fields.fault(
                    "/header",
                    "the name of a header that is neither the connection's nor the gateway's own",
                    Fields.quoted(name),
                    "Write such as X-Api-Key.");
        }
        return new Shown.Header(name);
    }

    @SuppressWarnings("NullAway") // what is read is whole when no field has a fault, and only then leaves here
    private static Shown token(Fields fields, UpstreamCredentialWanted wanted, Shown.@Nullable Token before) {
        Optional<URI> issuer = wanted.issuer() == null
                ? before == null || wanted.tokenEndpoint() != null ? Optional.empty() : before.issuer()
                : address(fields, "/issuer", wanted.issuer());
        Optional<URI> endpoint = wanted.tokenEndpoint() == null
                ? before == null || wanted.issuer() != null ? Optional.empty() : before.tokenEndpoint()
                : address(fields, "/token_endpoint", wanted.tokenEndpoint());
        if (issuer.isPresent() == endpoint.isPresent() && !fields.faulty()) {
            fields.fault(
                    "/issuer",
                    "either the issuer or its token_endpoint",
                    issuer.isPresent() ? "both" : "none",
                    "Say the issuer, and its metadata is read; or the endpoint by hand.");
        }
        if (wanted.auth() != null
                && !Set.of("header", "body").contains(wanted.auth().strip()))
            fields.fault("/auth", "header or body", Fields.quoted(wanted.auth()), "Choose one of them.");
        Map<String, String> parameters = new LinkedHashMap<>();
        if (wanted.parameters() != null)
            wanted.parameters().forEach((name, value) -> {
                if (OWN_PARAMETERS.contains(name.strip()))
                    fields.fault(
                            "/parameters/" + name,
                            "a parameter that has no member of its own",
                            Fields.quoted(name),
                            "Use the member of that name.");
                parameters.put(
                        fields.line("/parameters", name, null, Fields.NAME_LENGTH),
                        fields.line("/parameters/" + name, value, "", Fields.URI_LENGTH));
            });
        if (parameters.size() > MOST_PARAMETERS)
            fields.fault("/parameters", "at most " + MOST_PARAMETERS, parameters.size() + " of them", "Name fewer.");
        String scope = wanted.scope() == null
                ? before == null ? "" : before.scope().orElse("")
                : fields.line("/scope", wanted.scope(), "", Fields.LONG_TEXT_LENGTH);
        return new Shown.Token(
                issuer,
                endpoint,
                wanted.clientId() == null
                        ? before.clientId()
                        : fields.line("/client_id", wanted.clientId(), null, Fields.TEXT_LENGTH),
                wanted.auth() == null
                        ? before != null && before.inBody()
                        : wanted.auth().strip().equals("body"),
                Optional.of(scope).filter(it -> !it.isEmpty()),
                wanted.parameters() == null && before != null ? before.parameters() : parameters);
    }

    /** https, or http on loopback: a secret is sent there. */
    private static Optional<URI> address(Fields fields, String pointer, String value) {
        Optional<URI> uri = fields.absoluteUri(pointer, value);
        if (uri.filter(it -> "https".equals(it.getScheme())
                        || "http".equals(it.getScheme()) && it.getHost() != null && LOOPBACK.contains(it.getHost()))
                .isPresent()) return uri;
        if (uri.isPresent())
            fields.fault(
                    pointer,
                    "an https address; plain http on loopback alone",
                    Fields.quoted(value),
                    "The client's secret is sent there.");
        return Optional.empty();
    }

    private Change<UpstreamCredential> published(Change<UpstreamCredential> change) {
        if (change instanceof Change.Made<UpstreamCredential>) live.republish();
        return change;
    }
}
