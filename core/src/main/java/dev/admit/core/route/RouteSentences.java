package dev.admit.core.route;

import dev.admit.contract.FixedResponse;
import dev.admit.contract.RouteLimits;
import dev.admit.contract.RouteTimeouts;
import dev.admit.contract.RouteTransform;
import dev.admit.contract.RouteWanted;
import dev.admit.contract.RouteWho;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** What is in force at a route, in sentences: the same ones on every surface, and while a route is being written. */
public final class RouteSentences {
    private final List<String> said = new ArrayList<>();

    private RouteSentences() {}

    /** @param route with everything in it called by its name */
    public static List<String> of(RouteWanted route) {
        RouteSentences sentences = new RouteSentences();
        sentences.guard(route);
        if (route.who() != null) sentences.who(route.who());
        if (route.limits() != null) sentences.limits(route.limits());
        if (Boolean.TRUE.equals(route.cors())) sentences.say("Pages of browser clients may call it.");
        sentences.target(route);
        if (route.transform() != null) sentences.transform(route.transform());
        if (route.timeouts() != null) sentences.timeouts(route.timeouts());
        return List.copyOf(sentences.said);
    }

    private void say(String sentence) {
        said.add(sentence);
    }

    private void guard(RouteWanted route) {
        String what = Route.label(some(route.methods()), route.path() == null ? "" : route.path());
        boolean any = "any-of".equals(route.mode());
        if (Boolean.TRUE.equals(route.open())) say("Anyone may call %s, without a token.".formatted(what));
        else if (some(route.scopes()).isEmpty())
            say("Any token for %s may call %s, whatever its scope.".formatted(route.api(), what));
        else
            say("A token for %s with %s%s may call %s."
                    .formatted(
                            route.api(), any ? "any of " : "", joined(some(route.scopes()), any ? "or" : "and"), what));
    }

    private void who(RouteWho who) {
        if ("people".equals(who.forWhom())) say("Only on a person's behalf.");
        if ("clients".equals(who.forWhom())) say("Only clients on their own.");
        if (!some(who.clients()).isEmpty()) say("Only the client %s.".formatted(joined(some(who.clients()), "or")));
        if (!some(who.roles()).isEmpty())
            say("Only people with the role %s.".formatted(joined(some(who.roles()), "or")));
        if (who.maxAge() != null) say("Only after a sign-in within the last %s.".formatted(who.maxAge()));
        if (who.acr() != null) say("Only after a sign-in with acr %s.".formatted(who.acr()));
        if (Boolean.TRUE.equals(who.subscription()))
            say("Only clients that are subscribed to a plan that covers the request.");
        if (who.condition() != null) say("Only when this holds: %s".formatted(who.condition()));
        if (!some(who.issuers()).isEmpty())
            say("Tokens of %s are taken.".formatted(joined(some(who.issuers()), "and")));
        if (who.signIn() != null) say("Browsers without a token are signed in as %s.".formatted(who.signIn()));
    }

    private void limits(RouteLimits limits) {
        some(limits.rates()).forEach(rate -> say("At most %s.".formatted(rate)));
        some(limits.quotas()).forEach(quota -> say("At most %s.".formatted(quota)));
        if (limits.concurrent() != null) say("At most %d concurrent requests.".formatted(limits.concurrent()));
        if (limits.headers() != null) say("At most %d bytes of headers.".formatted(limits.headers()));
        if (limits.body() != null) say("At most %d bytes of body.".formatted(limits.body()));
    }

    private void target(RouteWanted route) {
        FixedResponse fixed = route.fixedResponse();
        String path = route.transform() == null ? null : route.transform().path();
        if (fixed != null)
            say("The gateway responds by itself, with %d.".formatted(fixed.status() == null ? 200 : fixed.status()));
        else
            say("What passes goes to %s%s."
                    .formatted(
                            route.upstream() == null ? "the API's upstream" : route.upstream(),
                            path == null ? "" : ", as " + path));
    }

    private void transform(RouteTransform it) {
        some(it.renamedOnRequest())
                .forEach((from, to) -> say("The request's %s is passed on as %s.".formatted(from, to)));
        some(it.setOnRequest()).forEach((name, text) -> say("The request gets %s: %s".formatted(name, text)));
        some(it.removedOnRequest()).forEach(name -> say("The request loses %s.".formatted(name)));
        some(it.setOnResponse()).forEach((name, text) -> say("The response gets %s: %s".formatted(name, text)));
        some(it.removedOnResponse()).forEach(name -> say("The response loses %s.".formatted(name)));
        if (it.credential() != null) say("The gateway presents %s to the upstream.".formatted(it.credential()));
        some(it.refusals())
                .forEach((when, text) -> say(
                        "Refused for %s: says %s".formatted(when.equals("any") ? "any reason" : when, text.body())));
        if (Transform.Proof.EACH_REQUEST.toString().equals(it.proof()))
            say("The upstream gets a gateway proof bound to each request.");
        if (Transform.Proof.NONE.toString().equals(it.proof())) say("The upstream gets no gateway proof.");
    }

    private void timeouts(RouteTimeouts it) {
        if (it.connect() != null) say("A connection to the upstream may take %s.".formatted(it.connect()));
        if (it.idle() != null) say("The upstream may send nothing for %s.".formatted(it.idle()));
        if (it.total() != null) say("The exchange may take %s.".formatted(it.total()));
    }

    private static <T> List<T> some(@Nullable List<T> list) {
        return list == null ? List.of() : list;
    }

    private static <V> Map<String, V> some(@Nullable Map<String, V> map) {
        return map == null ? Map.of() : map;
    }

    /** {@code a, b and c}. */
    static String joined(List<String> words, String by) {
        int last = words.size() - 1;
        return last < 1
                ? String.join("", words)
                : String.join(", ", words.subList(0, last)) + " " + by + " " + words.get(last);
    }
}
