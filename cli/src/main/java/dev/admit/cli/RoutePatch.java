package dev.admit.cli;

import dev.admit.contract.RouteLimits;
import dev.admit.contract.RouteTransform;
import dev.admit.contract.RouteView;
import dev.admit.contract.RouteWho;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * What a change of a route says, as a merge patch (RFC 7396): only what was named is in it, and null for what is to go.
 */
final class RoutePatch {
    private static final RouteWho NOBODY = new RouteWho(null, null, null, null, null, null, null, null, null);
    private static final RouteTransform NOTHING =
            new RouteTransform(null, null, null, null, null, null, null, null, null);
    private static final RouteLimits NONE = new RouteLimits(null, null, null, null, null);

    private final RouteCommands.FieldOptions said;
    private final RouteView old;
    private final String issuer;
    private final Lists lists;
    private final List<String> noLimits;

    /** @param noLimits the options of limits that are to go, such as {@code body} */
    RoutePatch(RouteCommands.FieldOptions said, RouteView old, String issuer, List<String> noLimits, Lists lists) {
        this.noLimits = noLimits;
        this.said = said;
        this.old = old;
        this.issuer = issuer;
        this.lists = lists;
    }

    /** What is said against what was there: the flags that take something away. */
    record Leaving(boolean allOf, boolean noCors, boolean noSubscription) {}

    Map<String, @Nullable Object> members(Leaving leaving, String newMethods, String newPath) {
        refuseContradictions(leaving);
        Map<String, @Nullable Object> patch = new LinkedHashMap<>();
        if (newMethods != null) patch.put("methods", newMethods.isBlank() ? List.of() : List.of(newMethods.split(",")));
        text(patch, "path", newPath);
        guard(patch, leaving.allOf());
        target(patch);
        if (said.cors || leaving.noCors()) patch.put("cors", said.cors);
        if (!said.open) part(patch, "who", who(old.who() == null ? NOBODY : old.who(), leaving));
        part(patch, "transform", transform(old.transform() == null ? NOTHING : old.transform()));
        part(patch, "timeouts", timeouts());
        part(patch, "limits", limits(old.limits() == null ? NONE : old.limits()));
        return patch;
    }

    private void refuseContradictions(Leaving leaving) {
        said.refuseContradictions();
        Contradiction.refuse("--any-of", said.anyOf, "--all-of", leaving.allOf());
        Contradiction.refuse("--cors", said.cors, "--no-cors", leaving.noCors());
        Contradiction.refuse("--subscription", said.subscription, "--no-subscription", leaving.noSubscription());
        Contradiction.refuse("--open", said.open, "--add-scope", lists.isSaid("--scope", null));
        Contradiction.refuse("--any-scope", said.anyScope, "--add-scope", lists.isSaid("--scope", null));
    }

    /** What stands against what was said goes: a route that is opened has no scopes any more. */
    private void guard(Map<String, @Nullable Object> patch, boolean allOf) {
        if (said.open) {
            patch.put("open", true);
            for (String member : List.of("api", "scopes", "mode", "any_scope", "who")) patch.put(member, null);
            return;
        }
        text(patch, "api", said.api);
        List<String> scopes = lists.list("--scope", said.scopes, old.scopes());
        if (scopes != null) patch.put("scopes", scopes);
        if (said.anyScope) patch.put("any_scope", true);
        if (said.anyScope) patch.put("scopes", null);
        if (scopes != null && !scopes.isEmpty()) patch.put("any_scope", null);
        if (said.api != null || scopes != null || said.anyScope) patch.put("open", null);
        if (said.anyOf || allOf) patch.put("mode", said.anyOf ? "any-of" : "all-of");
    }

    private void target(Map<String, @Nullable Object> patch) {
        text(patch, "upstream", said.upstream);
        if (said.upstream != null && !said.upstream.isBlank()) patch.put("fixed_response", null);
        Map<String, Object> fixed = new LinkedHashMap<>();
        if (said.fixedResponse != null) fixed.put("body", said.fixedResponse);
        if (said.fixedStatus != null) fixed.put("status", said.fixedStatus);
        if (said.fixedType != null) fixed.put("content_type", said.fixedType);
        if (fixed.isEmpty()) return;
        patch.put("fixed_response", fixed);
        patch.put("upstream", null);
    }

    private Map<String, @Nullable Object> who(RouteWho was, Leaving leaving) {
        Map<String, @Nullable Object> who = new LinkedHashMap<>();
        // None named stands for the route's own issuer, which stays when others are added.
        List<String> issuers = was.issuers() == null || was.issuers().isEmpty() ? List.of(issuer) : was.issuers();
        list(who, "issuers", "--token-issuer", said.issuers, issuers);
        text(who, "for", said.forWhom);
        list(who, "clients", "--client", said.clients, was.clients());
        list(who, "roles", "--role", said.roles, was.roles());
        text(who, "max_age", said.maxAge);
        text(who, "acr", said.acr);
        text(who, "condition", said.condition);
        text(who, "sign_in", said.signIn);
        if (said.subscription || leaving.noSubscription()) who.put("subscription", said.subscription);
        return who;
    }

    private Map<String, @Nullable Object> transform(RouteTransform was) {
        Map<String, @Nullable Object> transform = new LinkedHashMap<>();
        text(transform, "path", said.upstreamPath);
        pairs(transform, "set_on_request", "--request-header", said.requestHeaders, was.setOnRequest());
        pairs(transform, "renamed_on_request", "--rename-request-header", said.renamed, was.renamedOnRequest());
        list(transform, "removed_on_request", "--drop-request-header", said.dropRequest, was.removedOnRequest());
        pairs(transform, "set_on_response", "--response-header", said.responseHeaders, was.setOnResponse());
        list(transform, "removed_on_response", "--drop-response-header", said.dropResponse, was.removedOnResponse());
        text(transform, "credential", said.credential);
        text(transform, "proof", said.proof);
        Map<String, @Nullable Object> refusals = lists.pairs("--refusal", said.refusals, was.refusals());
        if (refusals != null) {
            refusals.replaceAll((when, text) ->
                    text == null ? null : new RouteTransform.OwnText(said.refusalType, text.toString()));
            transform.put("refusals", refusals);
        }
        return transform;
    }

    private Map<String, @Nullable Object> timeouts() {
        Map<String, @Nullable Object> timeouts = new LinkedHashMap<>();
        text(timeouts, "connect", said.connectTimeout);
        text(timeouts, "idle", said.idleTimeout);
        text(timeouts, "total", said.totalTimeout);
        return timeouts;
    }

    private Map<String, @Nullable Object> limits(RouteLimits was) {
        Map<String, @Nullable Object> limits = new LinkedHashMap<>();
        list(limits, "rates", "--rate", said.rates, was.rates());
        list(limits, "quotas", "--quota", said.quotas, was.quotas());
        number(limits, "concurrent", "concurrent", said.concurrent);
        number(limits, "body", "body", said.body);
        number(limits, "headers", "header-bytes", said.headerBytes);
        return limits;
    }

    private void list(
            Map<String, @Nullable Object> part,
            String member,
            String option,
            @Nullable List<String> whole,
            @Nullable List<String> before) {
        List<String> wanted = lists.list(option, whole, before == null ? List.of() : new ArrayList<>(before));
        if (wanted != null) part.put(member, wanted);
    }

    private void pairs(
            Map<String, @Nullable Object> part,
            String member,
            String option,
            @Nullable Map<String, String> whole,
            @Nullable Map<String, String> before) {
        Map<String, @Nullable Object> wanted = lists.pairs(option, whole, before);
        if (wanted != null) part.put(member, wanted);
    }

    private static void text(Map<String, @Nullable Object> part, String member, @Nullable String said) {
        if (said != null) part.put(member, said.isBlank() ? null : said);
    }

    private void number(Map<String, @Nullable Object> part, String member, String option, @Nullable Number value) {
        boolean none = noLimits.contains(option);
        Contradiction.refuse("--" + option, value != null, "--no-limit " + option, none);
        if (none) part.put(member, null);
        else if (value != null) part.put(member, value);
    }

    private static void part(Map<String, @Nullable Object> patch, String member, Map<String, @Nullable Object> of) {
        if (!of.isEmpty()) patch.put(member, of);
    }
}
