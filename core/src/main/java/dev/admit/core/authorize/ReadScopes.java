package dev.admit.core.authorize;

import dev.admit.core.access.AdminApi;
import dev.admit.core.approval.Approval;
import dev.admit.core.change.Fields;
import dev.admit.core.change.Known;
import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.decision.Action;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Recorder;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Scope;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.regex.Pattern;

/**
 * Reads which scopes, of which APIs, a client wants on a person's behalf: that they are there, in use, for people, and
 * requested by its registration.
 */
public final class ReadScopes {
    private static final Pattern SCOPES =
            Pattern.compile("[\\x21\\x23-\\x5B\\x5D-\\x7E]+( [\\x21\\x23-\\x5B\\x5D-\\x7E]+)*");

    private final CompiledIssuer issuer;
    private final KnownClient client;
    private final Instant now;
    private final Recorder decision;

    public ReadScopes(CompiledIssuer issuer, KnownClient client, Instant now, Recorder decision) {
        this.issuer = issuer;
        this.client = client;
        this.now = now;
        this.decision = decision;
    }

    /** @param resources audiences, the usual one first; never empty */
    public record Asked(List<String> scopes, List<String> resources) {}

    /** Empty when a check refused; the decision says which. */
    public Optional<Asked> read(Optional<String> scope, List<String> resources) {
        return readScopes(scope)
                .flatMap(scopes -> readResources(scopes, resources).map(audiences -> new Asked(scopes, audiences)));
    }

    private Optional<List<String>> readScopes(Optional<String> text) {
        List<String> names = text.isPresent() ? List.of() : byDefault();
        if (text.isPresent()) {
            if (text.get().length() > ReadRequest.LONGEST_PASSED_BACK
                    || !SCOPES.matcher(text.get().strip()).matches()) {
                return refuse(
                        "scope",
                        Reason.MALFORMED_SCOPE,
                        "scope names separated by single spaces",
                        "something else",
                        Fix.of("Send the names as they were registered."));
            }
            names = List.copyOf(new LinkedHashSet<>(List.of(text.get().strip().split(" "))));
        }
        if (names.isEmpty())
            return refuse(
                    "scope",
                    Reason.NO_DEFAULT_SCOPE,
                    "a scope, because none is granted by default here",
                    "no scope",
                    Fix.of("Name what the application needs."));
        for (String name : names) {
            if (!isForThem(name)) return Optional.empty();
        }
        decision.scopes(String.join(" ", names));
        return Optional.of(names);
    }

    private List<String> byDefault() {
        List<Scope> usable = client.approvals().stream()
                .map(one -> issuer.scopesByName().get(one.scopeName()))
                .filter(scope -> scope != null
                        && scope.isGrantedAt(now)
                        && scope.forWhom().people()
                        && Known.in(issuer.apisById(), scope.apiId()).grantsByDefault(scope))
                .toList();
        boolean oneApi = usable.stream().map(Scope::apiId).distinct().count() == 1;
        return oneApi ? usable.stream().map(Scope::name).toList() : List.of();
    }

    private boolean isForThem(String name) {
        Client its = client.client();
        if (IdentityScopes.isOne(name)) {
            if (its.openidScopes().contains(name)) return true;
            refuse(
                    "scope",
                    Reason.SCOPE_NOT_REQUESTED,
                    "scopes this client requests",
                    name,
                    Fix.of(
                                    "Have the client registered with it.",
                                    Action.of("client", "change", its.name()).with("add-openid-scope", name))
                            .by("an operator"));
            return false;
        }
        Scope scope = issuer.scopesByName().get(name);
        if (scope == null) {
            refuse(
                    "scope",
                    Reason.UNKNOWN_SCOPE,
                    "scopes of this issuer",
                    Fields.quoted(name),
                    Fix.of("Look up the name; it may belong to another issuer.", Action.of("scope", "list")));
            return false;
        }
        if (!scope.isGrantedAt(now)) {
            refuse(
                    "scope",
                    Reason.SCOPE_NOT_IN_USE,
                    "a scope in use",
                    "%s, which is %s".formatted(name, scope.status()),
                    Fix.of(
                                    "Use another scope, or have this one put in use.",
                                    Action.of(
                                                    "scope",
                                                    "change",
                                                    Known.in(issuer.apisById(), scope.apiId())
                                                            .name(),
                                                    name)
                                            .with("status", "in-use"))
                            .by("an operator"));
            return false;
        }
        if (!scope.forWhom().people()) {
            refuse(
                    "scope",
                    Reason.SCOPE_FOR_PEOPLE,
                    "scopes for people",
                    name + ", which is for clients on their own",
                    Fix.of("Fetch it with client_credentials, as a service."));
            return false;
        }
        Optional<Approval> requested = client.approvalOf(name);
        if (requested.isEmpty()) {
            refuse(
                    "scope",
                    Reason.SCOPE_NOT_REQUESTED,
                    "scopes this client requests",
                    name,
                    scope.approver() == Scope.Approver.PERSON
                            ? Fix.of("Have the client request it.", Action.of("approval", "request", its.name(), name))
                                    .by("an operator")
                            : Fix.of("Have it granted to the client.", Action.of("approval", "grant", its.name(), name))
                                    .by("an administrator"));
            return false;
        }
        Approval.Status status = requested.get().statusAt(now);
        if (status != Approval.Status.GRANTED && status != Approval.Status.WAITING) {
            refuse(
                    "scope",
                    Reason.SCOPE_NOT_APPROVED,
                    "a request that is granted or waits",
                    "one that is " + status,
                    Fix.of(
                                    "An administrator must approve %s for this client.".formatted(name),
                                    Action.of("approval", "grant", its.name(), name))
                            .by("an administrator"));
            return false;
        }
        return true;
    }

    private Optional<List<String>> readResources(List<String> scopes, List<String> received) {
        LinkedHashSet<String> ofScopes = new LinkedHashSet<>();
        for (String scope : scopes) {
            // The admin API is an audience of its own: a token for it works nowhere else, and one for elsewhere not
            // there (RFC 9700 §2.3).
            if (scope.equals(AdminApi.RUN)) ofScopes.add(issuer.admin().audience());
            else if (!IdentityScopes.isOne(scope))
                ofScopes.add(Known.in(
                                issuer.apisById(),
                                Known.in(issuer.scopesByName(), scope).apiId())
                        .audience());
        }
        if (received.isEmpty()) {
            if (ofScopes.size() > 1) {
                // RFC 9068 §3: without a resource it is not said in whose terms the scopes are to be read.
                return refuse(
                        "resource",
                        Reason.SEVERAL_APIS,
                        "scopes of one API, or the resources named",
                        "scopes of " + String.join(" and ", ofScopes),
                        Fix.of("Add resource=… for each."));
            }
            return Optional.of(ofScopes.isEmpty() ? List.of(issuer.url()) : List.copyOf(ofScopes));
        }
        List<String> resources = new ArrayList<>();
        for (String audience : new LinkedHashSet<>(received)) {
            Optional<Api> api = issuer.forAudience(audience);
            if (api.isEmpty()) {
                return refuse(
                        "resource",
                        Reason.UNKNOWN_RESOURCE,
                        "the audience of an API of this issuer",
                        Fields.quoted(audience),
                        Fix.of("Name the audience exactly as the API has it.", Action.of("api", "list")));
            }
            resources.add(audience);
        }
        Optional<String> unnamed = ofScopes.stream()
                .filter(audience -> !resources.contains(audience))
                .findFirst();
        if (unnamed.isPresent()) {
            return refuse(
                    "resource",
                    Reason.SCOPE_OF_ANOTHER_API,
                    "scopes of " + String.join(" and ", resources),
                    "scopes of " + unnamed.get(),
                    Fix.of("Name that resource too, or leave the scopes out."));
        }
        decision.add(CheckResult.passed("resource", "audiences of APIs of this issuer", String.join(" ", resources)));
        return Optional.of(resources);
    }

    private <T> Optional<T> refuse(String check, Reason reason, String expected, String received, Fix fix) {
        decision.add(CheckResult.refused(check, reason, expected, received, fix));
        return Optional.empty();
    }
}
