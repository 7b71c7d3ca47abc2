package dev.admit.core.route;

import dev.admit.contract.FixedResponse;
import dev.admit.contract.RouteTimeouts;
import dev.admit.contract.RouteTransform;
import dev.admit.contract.RouteWanted;
import dev.admit.contract.RouteWho;
import dev.admit.core.browser.SignInAtGate;
import dev.admit.core.change.Fields;
import dev.admit.core.decision.Command;
import dev.admit.core.expression.Expression;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Apis;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.ClientKind;
import dev.admit.core.registry.Clients;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Scope;
import dev.admit.core.registry.Scopes;
import dev.admit.core.route.Route.Guard;
import dev.admit.core.route.Route.Target;
import dev.admit.core.trust.TrustedIssuer;
import dev.admit.core.trust.TrustedIssuers;
import dev.admit.core.upstream.UpstreamCredentials;
import java.net.URI;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.SortedSet;
import java.util.function.UnaryOperator;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** Reads a route as it is wanted, and says what cannot be taken. */
final class RouteReading {
    private static final Duration MAX_CONNECT = Duration.ofMinutes(1);
    private static final Duration MAX_EXCHANGE = Duration.ofHours(1);
    private static final int LONGEST_BODY = 64 * 1024;
    private static final Duration LONGEST_SIGN_IN = Duration.ofDays(365);

    private final Issuer issuer;
    private final Apis apis;
    private final Scopes scopes;
    private final Clients clients;
    private final TrustedIssuers trusted;
    private final UpstreamCredentials credentials;
    private final UnaryOperator<String> gatewayAt;
    private final Fields fields = new Fields();

    RouteReading(
            Issuer issuer,
            Apis apis,
            Scopes scopes,
            Clients clients,
            TrustedIssuers trusted,
            UpstreamCredentials credentials,
            UnaryOperator<String> gatewayAt) {
        this.gatewayAt = gatewayAt;
        this.issuer = issuer;
        this.apis = apis;
        this.scopes = scopes;
        this.clients = clients;
        this.trusted = trusted;
        this.credentials = credentials;
    }

    record Read(
            SortedSet<String> methods,
            PathPattern pattern,
            Guard guard,
            Target target,
            Transform transform,
            Timeouts timeouts,
            Limits limits) {}

    Fields fields() {
        return fields;
    }

    /** @return empty when {@link #fields} has faults */
    Optional<Read> read(RouteWanted wanted) {
        SortedSet<String> methods = OperationReading.methods(fields, "/methods", wanted.methods());
        Optional<PathPattern> pattern = OperationReading.path(fields, "/path", wanted.path());
        String label = Route.label(methods, String.valueOf(wanted.path()));
        Optional<Guard> guard =
                readGuard(wanted, label, pattern.map(PathPattern::host).orElse(""));
        Optional<Target> target = readTarget(wanted, pattern);
        Transform transform = wanted.transform() == null || pattern.isEmpty()
                ? Transform.NONE
                : new TransformReading(fields, issuer, credentials)
                        .read(wanted.transform(), pattern.get(), upstreamOf(target, guard));
        Timeouts timeouts = wanted.timeouts() == null ? Timeouts.NONE : readTimeouts(wanted.timeouts());
        Limits limits = wanted.limits() == null ? Limits.NONE : LimitsReading.read(fields, wanted.limits());
        if (guard.isPresent()
                && guard.get() instanceof Guard.Open
                && Stream.concat(
                                limits.rates().stream().map(Limits.Rate::by),
                                limits.quotas().stream().map(Limits.Quota::by))
                        .anyMatch(it -> it == Limits.By.CLIENT || it == Limits.By.PERSON)) {
            fields.fault(
                    "/limits/rates",
                    "rates by address or route, because nobody is known on an open route",
                    "one by client or person",
                    "Count by address.");
        }
        if (fields.faulty() || pattern.isEmpty() || guard.isEmpty() || target.isEmpty()) return Optional.empty();
        return Optional.of(new Read(methods, pattern.get(), guard.get(), target.get(), transform, timeouts, limits));
    }

    /** Where a request that passed goes, by the route or by its API. */
    private Optional<URI> upstreamOf(Optional<Target> target, Optional<Guard> guard) {
        if (target.isEmpty() || !(target.get() instanceof Target.Upstream(Optional<URI> base))) return Optional.empty();
        return base.isPresent() || guard.isEmpty() || !(guard.get() instanceof Guard.Token token)
                ? base
                : apis.named(issuer.id(), token.apiId()).flatMap(Api::upstream);
    }

    private Optional<Guard> readGuard(RouteWanted wanted, String label, String host) {
        List<String> wantedScopes = wanted.scopes() == null ? List.of() : wanted.scopes();
        if (Boolean.TRUE.equals(wanted.open())) {
            contradicts("/open", "open", wanted.api() != null && !wanted.api().isBlank(), "api");
            contradicts("/open", "open", !wantedScopes.isEmpty(), "scopes");
            contradicts("/open", "open", Boolean.TRUE.equals(wanted.anyScope()), "any_scope");
            contradicts("/open", "open", wanted.who() != null, "who");
            if (fields.faulty()) return Optional.empty();
            fields.note("This route is open: anyone may call it without a token.");
            return Optional.of(new Guard.Open());
        }
        if (wanted.api() == null || wanted.api().isBlank()) {
            fields.fault(
                    "/api",
                    "the API whose tokens may pass",
                    "nothing",
                    "Name the API; say open to let anyone pass without a token.");
            return Optional.empty();
        }
        Optional<Api> api = apis.named(issuer.id(), wanted.api().strip());
        if (api.isEmpty()) {
            fields.fault(
                    "/api", "an API of this issuer", Fields.quoted(wanted.api()), "List them with: admit api list");
            return Optional.empty();
        }
        boolean anyScope = Boolean.TRUE.equals(wanted.anyScope());
        if (wantedScopes.isEmpty() != anyScope) {
            fields.fault(
                    "/scopes",
                    anyScope ? "no scopes where any will do" : "at least one scope",
                    anyScope ? "scopes too" : "none",
                    "Name the scopes it needs; say any_scope to let every token of the API pass.");
            return Optional.empty();
        }
        if (anyScope) fields.note("Any token for " + api.get().audience() + " passes this route, whatever its scope.");
        List<String> names = new ArrayList<>();
        for (int i = 0; i < wantedScopes.size(); i++) {
            String name = wantedScopes.get(i) == null ? "" : wantedScopes.get(i).strip();
            Optional<Scope> scope = scopes.named(issuer.id(), name)
                    .filter(it -> it.apiId().equals(api.get().id()));
            if (scope.isEmpty()) {
                fields.fault(
                        "/scopes/" + i,
                        "a scope of the API " + api.get().name(),
                        Fields.quoted(name),
                        "List them with: "
                                + Command.of("scope", "list", api.get().name()));
            } else if (!names.contains(scope.get().name())) {
                names.add(scope.get().name());
            }
        }
        Optional<Boolean> any = readMode(wanted.mode());
        Who who = wanted.who() == null ? Who.ANYONE : readWho(wanted.who(), label, host);
        return any.map(it -> new Guard.Token(api.get().id(), names, it, who));
    }

    /** Two members that cannot both be meant. */
    private void contradicts(String pointer, String one, boolean other, String otherName) {
        if (other)
            fields.fault(
                    pointer,
                    "%s or %s".formatted(one, otherName),
                    "both",
                    "They contradict each other: leave one of them out.");
    }

    private Optional<Boolean> readMode(@Nullable String mode) {
        if (mode == null || mode.isBlank() || mode.strip().equals("all-of")) return Optional.of(false);
        if (mode.strip().equals("any-of")) return Optional.of(true);
        fields.fault("/mode", "all-of or any-of", Fields.quoted(mode), "Choose one of them.");
        return Optional.empty();
    }

    private Optional<Target> readTarget(RouteWanted wanted, Optional<PathPattern> pattern) {
        boolean upstreamNamed = wanted.upstream() != null && !wanted.upstream().isBlank();
        if (wanted.fixedResponse() != null) {
            if (upstreamNamed) {
                fields.fault("/fixed_response", "either an upstream or a fixed response", "both", "Remove one.");
                return Optional.empty();
            }
            RouteTransform transform = wanted.transform();
            if (transform != null) {
                contradicts(
                        "/fixed_response", "fixed_response", transform.credential() != null, "transform/credential");
                contradicts("/fixed_response", "fixed_response", transform.path() != null, "transform/path");
            }
            contradicts("/fixed_response", "fixed_response", wanted.timeouts() != null, "timeouts");
            return readFixed(wanted.fixedResponse(), pattern);
        }
        if (upstreamNamed)
            return fields.upstream("/upstream", wanted.upstream()).map(base -> new Target.Upstream(Optional.of(base)));
        boolean ofApi = wanted.api() != null
                && apis.named(issuer.id(), wanted.api().strip())
                        .flatMap(Api::upstream)
                        .isPresent();
        if (!ofApi) {
            fields.fault(
                    "/upstream",
                    "an upstream, on the route or on its API, or a fixed response",
                    "none",
                    "Add one of them.");
            return Optional.empty();
        }
        return Optional.of(new Target.Upstream(Optional.empty()));
    }

    private Optional<Target> readFixed(FixedResponse answer, Optional<PathPattern> pattern) {
        int status = answer.status() == null ? 200 : answer.status();
        if (status < 200 || status > 599)
            fields.fault("/fixed_response/status", "200 to 599", String.valueOf(status), "Choose a final HTTP status.");
        String type = fields.line(
                "/fixed_response/content_type", answer.contentType(), "text/plain; charset=utf-8", Fields.TEXT_LENGTH);
        if (!type.chars().allMatch(c -> c >= 0x20 && c < 0x7f)) {
            fields.fault(
                    "/fixed_response/content_type",
                    "a media type in ASCII",
                    Fields.quoted(type),
                    "Write such as application/json.");
        }
        String body = answer.body() == null ? "" : answer.body();
        if (body.length() > LONGEST_BODY) {
            fields.fault(
                    "/fixed_response/body",
                    "at most " + LONGEST_BODY + " characters",
                    body.length() + " characters",
                    "Shorten it, or serve it from an upstream.");
        }
        Template.faultOf(body)
                .ifPresent(fault -> fields.fault(
                        "/fixed_response/body",
                        "a text, or a Mustache template",
                        fault,
                        "Write such as {{path.gauge}}."));
        pattern.ifPresent(it -> TransformReading.known(fields, "/fixed_response/body", body, Placeholders.of(it)));
        return fields.faulty() ? Optional.empty() : Optional.of(new Target.FixedResponse(status, type, body));
    }

    private Timeouts readTimeouts(RouteTimeouts wanted) {
        return new Timeouts(
                fields.durationOrNone("/timeouts/connect", wanted.connect(), MAX_CONNECT),
                fields.durationOrNone("/timeouts/idle", wanted.idle(), MAX_EXCHANGE),
                fields.durationOrNone("/timeouts/total", wanted.total(), MAX_EXCHANGE));
    }

    private Who readWho(RouteWho wanted, String label, String host) {
        List<String> issuers = readIssuers(Fields.orNone(wanted.issuers()));
        Who.For forWhom = fields.word("/who/for", wanted.forWhom(), Who.For.class, Who.For.ANYONE)
                .orElse(Who.For.ANYONE);
        List<String> named = new ArrayList<>();
        List<String> wantedClients = Fields.orNone(wanted.clients());
        for (int i = 0; i < wantedClients.size(); i++) {
            String name =
                    wantedClients.get(i) == null ? "" : wantedClients.get(i).strip();
            Optional<Client> client = clients.named(issuer.id(), name);
            if (client.isEmpty())
                fields.fault(
                        "/who/clients/" + i,
                        "a client of this issuer",
                        Fields.quoted(name),
                        "List them with: admit client list");
            client.map(Client::id).filter(id -> !named.contains(id)).ifPresent(named::add);
        }
        List<String> roles = new ArrayList<>();
        List<String> wantedRoles = Fields.orNone(wanted.roles());
        for (int i = 0; i < wantedRoles.size(); i++)
            roles.add(fields.line("/who/roles/" + i, wantedRoles.get(i), null, Fields.NAME_LENGTH));
        Optional<Duration> within = fields.durationOrNone("/who/max_age", wanted.maxAge(), LONGEST_SIGN_IN);
        Optional<String> acr = fields.lineOrNone("/who/acr", wanted.acr(), Fields.LONG_TEXT_LENGTH);
        if (acr.filter(it -> !it.matches("[!#-\\[\\]-~]+")).isPresent())
            fields.fault(
                    "/who/acr",
                    "one acr value, without spaces or quotes",
                    Fields.quoted(acr.get()),
                    "Write such as urn:admit:acr:2.");
        Optional<String> when =
                Optional.ofNullable(wanted.condition()).map(String::strip).filter(it -> !it.isEmpty());
        when.ifPresent(it -> readCondition(it, label));
        boolean ofPerson = within.isPresent() || acr.isPresent();
        contradicts(
                "/who/sign_in",
                "sign_in",
                forWhom == Who.For.CLIENTS
                        && wanted.signIn() != null
                        && !wanted.signIn().isBlank(),
                "for: clients");
        if (ofPerson && forWhom == Who.For.CLIENTS)
            fields.fault(
                    "/who/for",
                    "people, because only people sign in",
                    "clients",
                    "Remove what the sign-in must be, or say people.");
        return new Who(
                issuers,
                ofPerson ? Who.For.PEOPLE : forWhom,
                List.copyOf(named),
                List.copyOf(roles),
                within,
                acr,
                when,
                signIn(wanted.signIn(), issuers, host),
                Boolean.TRUE.equals(wanted.subscription()));
    }

    /** A client that keeps a credential and that people can come back to at the gateway. */
    private Optional<String> signIn(@Nullable String wanted, List<String> issuers, String host) {
        if (wanted == null || wanted.isBlank()) return Optional.empty();
        Optional<Client> client = clients.named(issuer.id(), wanted.strip());
        boolean web = client.filter(it -> it.kind() == ClientKind.WEB).isPresent();
        if (!web) {
            fields.fault(
                    "/who/sign_in",
                    "a client of the kind web",
                    client.map(it -> "one of the kind " + it.kind()).orElseGet(() -> Fields.quoted(wanted)),
                    "Register one; its people come back to the gateway.");
        } else if (client.get().addresses().redirects().stream().noneMatch(it -> it.endsWith(SignInAtGate.BACK))) {
            fields.fault(
                    "/who/sign_in",
                    "a client with a redirect URI that ends in " + SignInAtGate.BACK,
                    client.get().name() + ", which has none",
                    "Register it with: "
                            + Command.of(
                                    "client",
                                    "change",
                                    client.get().name(),
                                    "--add-redirect-uri",
                                    gatewayAt.apply(host) + SignInAtGate.BACK));
        }
        if (!issuers.isEmpty() && !issuers.contains(issuer.id()))
            fields.fault(
                    "/who/sign_in",
                    "this issuer among those whose tokens pass",
                    "others alone",
                    "People sign in at this issuer.");
        return client.map(Client::id);
    }

    private List<String> readIssuers(List<String> wanted) {
        List<String> ids = new ArrayList<>();
        for (int i = 0; i < wanted.size(); i++) {
            String name = wanted.get(i) == null ? "" : wanted.get(i).strip();
            Optional<String> id = name.equals(issuer.name())
                    ? Optional.of(issuer.id())
                    : trusted.named(issuer.id(), name).map(TrustedIssuer::id);
            if (id.isEmpty())
                fields.fault(
                        "/who/issuers/" + i,
                        issuer.name() + ", or an issuer that it trusts",
                        Fields.quoted(name),
                        "List them with: admit trusted-issuer list");
            id.filter(it -> !ids.contains(it)).ifPresent(ids::add);
        }
        return ids.equals(List.of(issuer.id())) ? List.of() : List.copyOf(ids);
    }

    private void readCondition(String text, String label) {
        try {
            RequestCondition.read(text, label);
        } catch (Expression.Senseless wrong) {
            fields.fault(
                    "/who/condition",
                    "a condition in CEL over claims, path, method, headers and now, that is true or false",
                    wrong.phrase(),
                    "Write such as claims.firm == 'Saltmarsh Customs'.");
        }
    }
}
