package dev.admit.core.grant;

import dev.admit.core.approval.Approval;
import dev.admit.core.change.Fields;
import dev.admit.core.change.Known;
import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.decision.Action;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Checked;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Scope;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Pattern;

/**
 * Settles what a client on its own gets, from what it named and what was approved: one API, and scopes of that API.
 * Scopes first, then the resource, as RFC 8707 §2 and RFC 9068 §3 want it.
 */
final class ChooseScopes {
    /** RFC 6749 §3.3, scope-token. */
    private static final Pattern SCOPE_TOKEN = Pattern.compile("[\\x21\\x23-\\x5B\\x5D-\\x7E]+");

    private final CompiledIssuer issuer;
    private final KnownClient client;
    private final Instant now;

    ChooseScopes(CompiledIssuer issuer, KnownClient client, Instant now) {
        this.issuer = issuer;
        this.client = client;
        this.now = now;
    }

    /** @param named the API whose audience was named; empty where none was */
    record Resource(Optional<Api> named) {}

    /** Scopes of one API, of which it is not known yet whether the client may have them. */
    record Chosen(Api api, List<Scope> scopes) {}

    Checked<Resource> resource(List<String> resources) {
        if (resources.isEmpty())
            return Checked.passed(
                    new Resource(Optional.empty()), new CheckResult.Skipped("resource", "none was named"));
        // One access token is for one audience.
        if (resources.stream().distinct().count() > 1) {
            return Checked.refused(
                    "resource",
                    Reason.UNKNOWN_RESOURCE,
                    "one resource",
                    resources.size() + " of them",
                    Fix.of("Request a token for each in turn."));
        }
        // RFC 8707 §2: a resource is an absolute URI, so an audience that is none cannot be named here.
        Api api = resources.getFirst().contains(":") ? issuer.apisByAudience().get(resources.getFirst()) : null;
        if (api == null) {
            return Checked.refused(
                    "resource",
                    Reason.UNKNOWN_RESOURCE,
                    "the audience of an API of this issuer",
                    Fields.quoted(resources.getFirst()),
                    Fix.of("Name the audience exactly as the API has it.", Action.of("api", "list")));
        }
        return Checked.passed(
                new Resource(Optional.of(api)),
                CheckResult.passed("resource", "the audience of an API of this issuer", api.audience()));
    }

    Checked<Chosen> scopes(Optional<String> scope, Resource resource) {
        return scope.isPresent() ? named(scope.get(), resource.named()) : byDefault(resource.named());
    }

    private Checked<Chosen> named(String scopeText, Optional<Api> resource) {
        List<Scope> scopes = new ArrayList<>();
        for (String name : new TreeSet<>(List.of(scopeText.strip().split(" +")))) {
            if (!SCOPE_TOKEN.matcher(name).matches()) {
                return Checked.refused(
                        "scope",
                        Reason.MALFORMED_SCOPE,
                        "scope names separated by single spaces",
                        "a name with a character no scope has",
                        Fix.of("Send the names as they were registered."));
            }
            Scope scope = issuer.scopesByName().get(name);
            if (scope == null) {
                return Checked.refused(
                        "scope",
                        Reason.UNKNOWN_SCOPE,
                        "scopes of this issuer",
                        Fields.quoted(name),
                        Fix.of("Look up the name; it may belong to another issuer.", Action.of("scope", "list")));
            }
            scopes.add(scope);
        }
        TreeSet<String> audiences = new TreeSet<>();
        for (Scope scope : scopes)
            audiences.add(Known.in(issuer.apisById(), scope.apiId()).audience());
        if (resource.isPresent()
                && !(audiences.size() == 1
                        && audiences.first().equals(resource.get().audience()))) {
            return Checked.refused(
                    "scope",
                    Reason.SCOPE_OF_ANOTHER_API,
                    "scopes of " + resource.get().audience(),
                    "scopes of " + String.join(" and ", audiences),
                    Fix.of("Name the resource that the scopes belong to, or leave it out."));
        }
        if (audiences.size() > 1) return severalApis(audiences);
        Api api = Known.in(issuer.apisById(), scopes.getFirst().apiId());
        return Checked.passed(new Chosen(api, scopes));
    }

    private Checked<Chosen> byDefault(Optional<Api> resource) {
        List<Approval> granted = client.approvals().stream()
                .filter(approval -> approval.isGrantedAt(now))
                .toList();
        List<Scope> usable = granted.stream()
                .map(approval -> issuer.scopesByName().get(approval.scopeName()))
                .filter(scope -> scope != null
                        && scope.isGrantedAt(now)
                        && scope.forWhom().clients())
                .toList();
        TreeSet<String> audiences = new TreeSet<>();
        for (Scope scope : usable)
            audiences.add(Known.in(issuer.apisById(), scope.apiId()).audience());
        if (resource.isEmpty() && audiences.size() > 1) return severalApis(audiences);
        Optional<Api> api =
                resource.isPresent() ? resource : audiences.stream().findFirst().map(issuer.apisByAudience()::get);
        List<Scope> chosen = api.map(it -> usable.stream()
                        .filter(scope -> scope.apiId().equals(it.id()) && it.grantsByDefault(scope))
                        .toList())
                .orElse(List.of());
        if (chosen.isEmpty()) return noDefault();
        return Checked.passed(new Chosen(api.orElseThrow(), chosen));
    }

    private Checked<Chosen> noDefault() {
        List<String> waiting = client.approvals().stream()
                .filter(it -> it.statusAt(now) == Approval.Status.WAITING)
                .map(Approval::scopeName)
                .sorted()
                .toList();
        if (!waiting.isEmpty() && client.approvals().stream().noneMatch(it -> it.isGrantedAt(now))) {
            return Checked.refused(
                    "approval",
                    Reason.SCOPE_NOT_APPROVED,
                    "an approval of " + String.join(" or ", waiting),
                    "a request that still waits",
                    giveFix(waiting.getFirst()));
        }
        List<String> granted = client.approvals().stream()
                .filter(it -> it.isGrantedAt(now))
                .map(Approval::scopeName)
                .sorted()
                .toList();
        return Checked.refused(
                "scope",
                Reason.NO_DEFAULT_SCOPE,
                "a scope, because none is given by default here",
                "no scope",
                granted.isEmpty()
                        ? Fix.of("Have a scope requested and granted: this client has none.")
                                .by("an operator")
                        : Fix.of(
                                "Name one or more of: %s.".formatted(String.join(" ", granted)),
                                Action.of("token", "fetch", client.client().name())
                                        .with("scope", sameApi(granted))));
    }

    /** Of the scopes given, those of one API, ready to be requested: a token is for one audience. */
    private String sameApi(List<String> granted) {
        Optional<String> api = Optional.ofNullable(issuer.scopesByName().get(granted.getFirst()))
                .map(Scope::apiId);
        return String.join(
                " ",
                granted.stream()
                        .filter(it -> Optional.ofNullable(issuer.scopesByName().get(it))
                                .map(Scope::apiId)
                                .equals(api))
                        .toList());
    }

    private static Checked<Chosen> severalApis(Set<String> audiences) {
        // RFC 9068 §3: scopes must not be read in more than one resource's terms.
        return Checked.refused(
                "scope",
                Reason.SEVERAL_APIS,
                "scopes of one API",
                "scopes of " + String.join(" and ", audiences),
                Fix.of("Request a token for each, naming resource and scope."));
    }

    Checked<GrantedScopes> approved(Chosen chosen) {
        Instant until = Instant.MAX;
        for (Scope scope : chosen.scopes()) {
            if (!scope.isGrantedAt(now)) {
                return Checked.refused(
                        "scope",
                        Reason.SCOPE_NOT_IN_USE,
                        "a scope in use",
                        "%s, which is %s".formatted(scope.name(), scope.status()),
                        Fix.of(
                                        "Use another scope, or have this one put in use.",
                                        Action.of(
                                                        "scope",
                                                        "change",
                                                        chosen.api().name(),
                                                        scope.name())
                                                .with("status", "in-use"))
                                .by("an operator"));
            }
            // For people only: nobody is here, so not even an approval for everyone gives it to the client itself.
            if (!scope.forWhom().clients()) {
                return Checked.refused(
                        "scope",
                        Reason.SCOPE_FOR_PEOPLE,
                        "scopes for clients on their own",
                        scope.name() + ", which is for people",
                        Fix.of("Have a person sign in for it, or request a scope for clients."));
            }
            Optional<Approval> approval = client.approvalOf(scope.name());
            if (approval.isEmpty()) {
                return Checked.refused(
                        "approval",
                        Reason.SCOPE_NOT_REQUESTED,
                        "scopes this client requests",
                        scope.name(),
                        Fix.of(
                                        "Have it granted to the client.",
                                        Action.of(
                                                "approval",
                                                "grant",
                                                client.client().name(),
                                                scope.name()))
                                .by("an administrator"));
            }
            if (!approval.get().isGrantedAt(now)) {
                return Checked.refused(
                        "approval",
                        Reason.SCOPE_NOT_APPROVED,
                        "an approval of " + scope.name(),
                        "a request that is " + approval.get().statusAt(now),
                        giveFix(scope.name()));
            }
            until = earlier(until, approval.get().expiresAt());
            until = earlier(until, scope.closesOn());
        }
        GrantedScopes granted = new GrantedScopes(
                chosen.api(), chosen.scopes().stream().map(Scope::name).toList(), until);
        return Checked.passed(granted, CheckResult.passed("approval", "an approval of each scope", granted.text()));
    }

    private static Instant earlier(Instant one, Optional<Instant> other) {
        return other.isPresent() && other.get().isBefore(one) ? other.get() : one;
    }

    private Fix giveFix(String scope) {
        return Fix.of(
                        "An administrator must approve %s for this client.".formatted(scope),
                        Action.of("approval", "grant", client.client().name(), scope))
                .by("an administrator");
    }
}
