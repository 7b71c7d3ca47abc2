package dev.admit.core.grant;

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
import dev.admit.core.registry.Scope;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.TreeSet;
import java.util.regex.Pattern;

/**
 * Settles what a client on its own gets, from what it named and what was approved: one API, and scopes of that API.
 * Scopes first, then the resource, as RFC 8707 §2 and RFC 9068 §3 want it.
 */
final class ChooseScopes {
    /** RFC 6749 §3.3, scope-token. */
    private static final Pattern SCOPE_TOKEN = Pattern.compile("[\\x21\\x23-\\x5B\\x5D-\\x7E]+");

    private final IssuerInForce issuer;
    private final KnownClient client;
    private final Instant now;
    private final Decision.Builder decision;

    ChooseScopes(IssuerInForce issuer, KnownClient client, Instant now, Decision.Builder decision) {
        this.issuer = issuer;
        this.client = client;
        this.now = now;
        this.decision = decision;
    }

    /** Empty when a check refused; the decision says which. */
    Optional<Entitlement> choose(Optional<String> scope, List<String> resources) {
        Optional<Optional<Api>> resource = readResource(resources);
        if (resource.isEmpty()) return Optional.empty();
        return scope.isPresent() ? named(scope.get(), resource.get()) : byDefault(resource.get());
    }

    private Optional<Optional<Api>> readResource(List<String> resources) {
        if (resources.isEmpty()) {
            decision.add(new CheckResult.Skipped("resource", "none was named"));
            return Optional.of(Optional.empty());
        }
        // One access token is for one audience.
        if (resources.stream().distinct().count() > 1) {
            return refuse(
                    "resource",
                    Reason.UNKNOWN_RESOURCE,
                    "one resource",
                    resources.size() + " of them",
                    Mend.of("Request a token for each in turn."));
        }
        // RFC 8707 §2: a resource is an absolute URI, so an audience that is none cannot be named here.
        Api api = resources.getFirst().contains(":") ? issuer.apisByAudience().get(resources.getFirst()) : null;
        if (api == null) {
            return refuse(
                    "resource",
                    Reason.UNKNOWN_RESOURCE,
                    "the audience of an API of this issuer",
                    Fields.quoted(resources.getFirst()),
                    Mend.of("Name the audience exactly as the API has it.", "admit api list"));
        }
        decision.api(api.name());
        decision.add(CheckResult.passed("resource", "the audience of an API of this issuer", api.audience()));
        return Optional.of(Optional.of(api));
    }

    private Optional<Entitlement> named(String scopeText, Optional<Api> resource) {
        List<Scope> scopes = new ArrayList<>();
        for (String name : new TreeSet<>(List.of(scopeText.strip().split(" +")))) {
            if (!SCOPE_TOKEN.matcher(name).matches()) {
                return refuse(
                        "scope",
                        Reason.MALFORMED_SCOPE,
                        "scope names separated by single spaces",
                        "a name with a character no scope has",
                        Mend.of("Send the names as they were registered."));
            }
            Scope scope = issuer.scopesByName().get(name);
            if (scope == null) {
                return refuse(
                        "scope",
                        Reason.UNKNOWN_SCOPE,
                        "scopes of this issuer",
                        Fields.quoted(name),
                        Mend.of("Look up the name; it may belong to another issuer.", "admit scope list"));
            }
            scopes.add(scope);
        }
        TreeSet<String> audiences = new TreeSet<>();
        for (Scope scope : scopes)
            audiences.add(issuer.apisById().get(scope.apiId()).audience());
        if (resource.isPresent()
                && !(audiences.size() == 1
                        && audiences.first().equals(resource.get().audience()))) {
            return refuse(
                    "scope",
                    Reason.SCOPE_OF_ANOTHER_API,
                    "scopes of " + resource.get().audience(),
                    "scopes of " + String.join(" and ", audiences),
                    Mend.of("Name the resource that the scopes belong to, or leave it out."));
        }
        if (audiences.size() > 1) return severalApis(audiences);
        Api api = issuer.apisById().get(scopes.getFirst().apiId());
        decision.api(api.name());
        return approved(api, scopes);
    }

    private Optional<Entitlement> byDefault(Optional<Api> resource) {
        List<Approval> given = client.approvals().stream()
                .filter(approval -> approval.isGivenAt(now))
                .toList();
        List<Scope> usable = given.stream()
                .map(approval -> issuer.scopesByName().get(approval.scopeName()))
                .filter(scope ->
                        scope != null && scope.isGivenAt(now) && scope.holders().clients())
                .toList();
        TreeSet<String> audiences = new TreeSet<>();
        for (Scope scope : usable)
            audiences.add(issuer.apisById().get(scope.apiId()).audience());
        if (resource.isEmpty() && audiences.size() > 1) return severalApis(audiences);
        Optional<Api> api =
                resource.isPresent() ? resource : audiences.stream().findFirst().map(issuer.apisByAudience()::get);
        List<Scope> chosen = api.map(it -> usable.stream()
                        .filter(scope -> scope.apiId().equals(it.id()) && (it.allByDefault() || scope.givenByDefault()))
                        .toList())
                .orElse(List.of());
        if (chosen.isEmpty()) return noDefault();
        decision.api(api.orElseThrow().name());
        return approved(api.get(), chosen);
    }

    private Optional<Entitlement> noDefault() {
        List<String> waiting = client.approvals().stream()
                .filter(it -> it.statusAt(now) == Approval.Status.WAITING)
                .map(Approval::scopeName)
                .sorted()
                .toList();
        if (!waiting.isEmpty() && client.approvals().stream().noneMatch(it -> it.isGivenAt(now))) {
            return refuse(
                    "approval",
                    Reason.SCOPE_NOT_APPROVED,
                    "an approval of " + String.join(" or ", waiting),
                    "an ask that still waits",
                    giveMend(waiting.getFirst()));
        }
        List<String> given = client.approvals().stream()
                .filter(it -> it.isGivenAt(now))
                .map(Approval::scopeName)
                .sorted()
                .toList();
        return refuse(
                "scope",
                Reason.NO_DEFAULT_SCOPE,
                "a scope, because none is given by default here",
                "no scope",
                given.isEmpty()
                        ? Mend.of("Have a scope asked for and given: this client has none.")
                                .by("an operator")
                        : Mend.of(
                                "Name one or more of: %s.".formatted(String.join(" ", given)),
                                Command.of("token", "fetch", client.client().name(), "--scope", sameApi(given))));
    }

    /** Of the scopes given, those of one API, ready to be asked for: a token is for one audience. */
    private String sameApi(List<String> given) {
        Optional<String> api =
                Optional.ofNullable(issuer.scopesByName().get(given.getFirst())).map(Scope::apiId);
        return String.join(
                " ",
                given.stream()
                        .filter(it -> Optional.ofNullable(issuer.scopesByName().get(it))
                                .map(Scope::apiId)
                                .equals(api))
                        .toList());
    }

    private Optional<Entitlement> severalApis(TreeSet<String> audiences) {
        // RFC 9068 §3: scopes must not be read in more than one resource's terms.
        return refuse(
                "scope",
                Reason.SEVERAL_APIS,
                "scopes of one API",
                "scopes of " + String.join(" and ", audiences),
                Mend.of("Request a token for each, naming resource and scope."));
    }

    private Optional<Entitlement> approved(Api api, List<Scope> scopes) {
        Instant until = Instant.MAX;
        for (Scope scope : scopes) {
            if (!scope.isGivenAt(now)) {
                return refuse(
                        "scope",
                        Reason.SCOPE_NOT_IN_USE,
                        "a scope in use",
                        "%s, which is %s".formatted(scope.name(), scope.life()),
                        Mend.of(
                                        "Use another scope, or have this one put in use.",
                                        Command.of("scope", "change", api.name(), scope.name(), "--life", "in-use"))
                                .by("an operator"));
            }
            // For people only: nobody is here, so not even an approval for everyone gives it to the client itself.
            if (!scope.holders().clients()) {
                return refuse(
                        "scope",
                        Reason.SCOPE_FOR_PEOPLE,
                        "scopes for clients on their own",
                        scope.name() + ", which is for people",
                        Mend.of("Have a person sign in for it, or ask for a scope for clients."));
            }
            Optional<Approval> approval = client.approvalOf(scope.name());
            if (approval.isEmpty()) {
                return refuse(
                        "approval",
                        Reason.SCOPE_NOT_ASKED,
                        "scopes this client asks for",
                        scope.name(),
                        Mend.of(
                                        "Have it given to the client.",
                                        Command.of(
                                                "approval",
                                                "grant",
                                                client.client().name(),
                                                scope.name()))
                                .by("an administrator"));
            }
            if (!approval.get().isGivenAt(now)) {
                return refuse(
                        "approval",
                        Reason.SCOPE_NOT_APPROVED,
                        "an approval of " + scope.name(),
                        "an ask that is " + approval.get().statusAt(now),
                        giveMend(scope.name()));
            }
            until = earlier(until, approval.get().expiresAt());
            until = earlier(until, scope.closesOn());
        }
        String names = String.join(" ", scopes.stream().map(Scope::name).toList());
        decision.scopes(names);
        decision.add(CheckResult.passed("approval", "an approval of each scope", names));
        return Optional.of(new Entitlement(api, scopes.stream().map(Scope::name).toList(), until));
    }

    private static Instant earlier(Instant one, Optional<Instant> other) {
        return other.isPresent() && other.get().isBefore(one) ? other.get() : one;
    }

    private Mend giveMend(String scope) {
        return Mend.of(
                        "An administrator must approve %s for this client.".formatted(scope),
                        Command.of("approval", "grant", client.client().name(), scope))
                .by("an administrator");
    }

    private <T> Optional<T> refuse(String check, Reason reason, String expected, String came, Mend mend) {
        decision.add(CheckResult.refused(check, reason, expected, came, mend));
        return Optional.empty();
    }
}
