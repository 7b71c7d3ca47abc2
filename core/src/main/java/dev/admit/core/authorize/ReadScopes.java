package dev.admit.core.authorize;

import dev.admit.core.access.AdminApi;
import dev.admit.core.approval.Approval;
import dev.admit.core.change.Fields;
import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.configuration.IssuerInForce;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Command;
import dev.admit.core.decision.Decision;
import dev.admit.core.decision.Mend;
import dev.admit.core.decision.Reason;
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
 * asked for by its registration.
 */
public final class ReadScopes {
    private static final Pattern SCOPES =
            Pattern.compile("[\\x21\\x23-\\x5B\\x5D-\\x7E]+( [\\x21\\x23-\\x5B\\x5D-\\x7E]+)*");

    private final IssuerInForce issuer;
    private final KnownClient client;
    private final Instant now;
    private final Decision.Builder decision;

    public ReadScopes(IssuerInForce issuer, KnownClient client, Instant now, Decision.Builder decision) {
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
                        Mend.of("Send the names as they were registered."));
            }
            names = List.copyOf(new LinkedHashSet<>(List.of(text.get().strip().split(" "))));
        }
        if (names.isEmpty())
            return refuse(
                    "scope",
                    Reason.NO_DEFAULT_SCOPE,
                    "a scope, because none is given by default here",
                    "no scope",
                    Mend.of("Name what the application needs."));
        for (String name : names) {
            if (!isForThem(name)) return Optional.empty();
        }
        decision.scopes(String.join(" ", names));
        return Optional.of(names);
    }

    private List<String> byDefault() {
        List<Scope> usable = client.approvals().stream()
                .map(ask -> issuer.scopesByName().get(ask.scopeName()))
                .filter(scope -> scope != null
                        && scope.isGivenAt(now)
                        && scope.holders().people()
                        && (scope.givenByDefault()
                                || issuer.apisById().get(scope.apiId()).allByDefault()))
                .toList();
        boolean oneApi = usable.stream().map(Scope::apiId).distinct().count() == 1;
        return oneApi ? usable.stream().map(Scope::name).toList() : List.of();
    }

    private boolean isForThem(String name) {
        Client its = client.client();
        if (IdentityScopes.isOne(name)) {
            if (its.identityScopes().contains(name)) return true;
            refuse(
                    "scope",
                    Reason.SCOPE_NOT_ASKED,
                    "scopes this client asks for",
                    name,
                    Mend.of(
                                    "Have the client registered with it.",
                                    Command.of("client", "change", its.name(), "--add-identity", name))
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
                    Mend.of("Look up the name; it may belong to another issuer.", "admit scope list"));
            return false;
        }
        if (!scope.isGivenAt(now)) {
            refuse(
                    "scope",
                    Reason.SCOPE_NOT_IN_USE,
                    "a scope in use",
                    "%s, which is %s".formatted(name, scope.life()),
                    Mend.of(
                                    "Use another scope, or have this one put in use.",
                                    Command.of(
                                            "scope",
                                            "change",
                                            issuer.apisById().get(scope.apiId()).name(),
                                            name,
                                            "--life",
                                            "in-use"))
                            .by("an operator"));
            return false;
        }
        if (!scope.holders().people()) {
            refuse(
                    "scope",
                    Reason.SCOPE_FOR_PEOPLE,
                    "scopes for people",
                    name + ", which is for clients on their own",
                    Mend.of("Fetch it with client_credentials, as a service."));
            return false;
        }
        Optional<Approval> ask = client.approvalOf(name);
        if (ask.isEmpty()) {
            refuse(
                    "scope",
                    Reason.SCOPE_NOT_ASKED,
                    "scopes this client asks for",
                    name,
                    scope.approver() == Scope.Approver.PERSON
                            ? Mend.of("Have the client ask for it.", Command.of("approval", "ask", its.name(), name))
                                    .by("an operator")
                            : Mend.of("Have it given to the client.", Command.of("approval", "grant", its.name(), name))
                                    .by("an administrator"));
            return false;
        }
        Approval.Status status = ask.get().statusAt(now);
        if (status != Approval.Status.GIVEN && status != Approval.Status.WAITING) {
            refuse(
                    "scope",
                    Reason.SCOPE_NOT_APPROVED,
                    "an ask that is given or waits",
                    "one that is " + status,
                    Mend.of(
                                    "An administrator must approve %s for this client.".formatted(name),
                                    Command.of("approval", "grant", its.name(), name))
                            .by("an administrator"));
            return false;
        }
        return true;
    }

    private Optional<List<String>> readResources(List<String> scopes, List<String> came) {
        LinkedHashSet<String> ofScopes = new LinkedHashSet<>();
        for (String scope : scopes) {
            // The admin API is an audience of its own: a token for it works nowhere else, and one for elsewhere not
            // there (RFC 9700 §2.3).
            if (scope.equals(AdminApi.RUN)) ofScopes.add(issuer.admin().audience());
            else if (!IdentityScopes.isOne(scope))
                ofScopes.add(issuer.apisById()
                        .get(issuer.scopesByName().get(scope).apiId())
                        .audience());
        }
        if (came.isEmpty()) {
            if (ofScopes.size() > 1) {
                // RFC 9068 §3: without a resource it is not said in whose terms the scopes are to be read.
                return refuse(
                        "resource",
                        Reason.SEVERAL_APIS,
                        "scopes of one API, or the resources named",
                        "scopes of " + String.join(" and ", ofScopes),
                        Mend.of("Add resource=… for each."));
            }
            return Optional.of(ofScopes.isEmpty() ? List.of(issuer.url()) : List.copyOf(ofScopes));
        }
        List<String> resources = new ArrayList<>();
        for (String audience : new LinkedHashSet<>(came)) {
            Optional<Api> api = issuer.forAudience(audience);
            if (api.isEmpty()) {
                return refuse(
                        "resource",
                        Reason.UNKNOWN_RESOURCE,
                        "the audience of an API of this issuer",
                        Fields.quoted(audience),
                        Mend.of("Name the audience exactly as the API has it.", "admit api list"));
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
                    Mend.of("Name that resource too, or leave the scopes out."));
        }
        decision.add(CheckResult.passed("resource", "audiences of APIs of this issuer", String.join(" ", resources)));
        return Optional.of(resources);
    }

    private <T> Optional<T> refuse(String check, Reason reason, String expected, String came, Mend mend) {
        decision.add(CheckResult.refused(check, reason, expected, came, mend));
        return Optional.empty();
    }
}
