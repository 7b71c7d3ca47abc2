package dev.admit.core.route;

import dev.admit.core.change.Fields;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.SortedSet;
import java.util.TreeSet;
import java.util.function.UnaryOperator;

/**
 * What a change of a route means for its callers, as sentences.
 *
 * @param opens what passes from now on that did not pass before; such a change is made only with a word of confirmation
 * @param drops what the route does no more, without letting more pass
 */
record RouteComparison(List<String> opens, List<String> drops) {

    /**
     * How things that a route holds by id are called.
     *
     * @param issuer empty for the issuer whose route it is
     */
    record Names(
            UnaryOperator<String> api,
            UnaryOperator<String> client,
            UnaryOperator<String> issuer,
            UnaryOperator<String> credential) {}

    static RouteComparison of(Route before, Route after, Names names) {
        List<String> opens = new ArrayList<>();
        List<String> drops = new ArrayList<>();
        requests(before, after, opens);
        guard(before.guard(), after.guard(), names, opens, drops);
        if (!before.cors() && after.cors()) opens.add("Pages of browser clients may call it.");
        if (before.cors() && !after.cors()) drops.add("Pages of browser clients may call it no more.");
        limits(before.limits(), after.limits(), opens);
        target(before.target(), after.target(), drops);
        transform(before.transform(), after.transform(), names, drops);
        timeouts(before.timeouts(), after.timeouts(), drops);
        return new RouteComparison(List.copyOf(opens), List.copyOf(drops));
    }

    private static void requests(Route before, Route after, List<String> opens) {
        if (!before.pattern().equals(after.pattern())) {
            opens.add("Requests for %s reach it; those for %s do not any more."
                    .formatted(after.pattern(), before.pattern()));
        }
        if (after.methods().isEmpty() && !before.methods().isEmpty())
            opens.add("Any method reaches it, not only %s.".formatted(String.join(" and ", before.methods())));
        SortedSet<String> more = new TreeSet<>(after.methods());
        more.removeAll(before.methods());
        if (!before.methods().isEmpty() && !more.isEmpty())
            opens.add("%s reaches it too.".formatted(String.join(" and ", more)));
    }

    private static void guard(
            Route.Guard before, Route.Guard after, Names names, List<String> opens, List<String> drops) {
        if (!(before instanceof Route.Guard.Token was)) return; // it was open: nothing can open it further
        if (!(after instanceof Route.Guard.Token is)) {
            opens.add("Anyone passes, without a token.");
            return;
        }
        if (!was.apiId().equals(is.apiId()))
            opens.add("Tokens for the API %s pass, instead of those for %s."
                    .formatted(names.api().apply(is.apiId()), names.api().apply(was.apiId())));
        else scopes(was, is, opens);
        who(was.who(), is.who(), names, opens, drops);
    }

    private static void scopes(Route.Guard.Token was, Route.Guard.Token is, List<String> opens) {
        if (was.scopes().isEmpty()) return;
        if (is.scopes().isEmpty()) {
            opens.add("Any token of the API passes, whatever its scope.");
            return;
        }
        boolean oneWasEnough = was.any() || was.scopes().size() == 1;
        boolean oneIsEnough = is.any() || is.scopes().size() == 1;
        if (oneWasEnough) {
            // With one of several, each that comes in addition lets more pass; with all of several, only another one
            // altogether does.
            boolean narrower = oneIsEnough
                    ? was.scopes().containsAll(is.scopes())
                    : is.scopes().stream().anyMatch(was.scopes()::contains);
            if (!narrower)
                without(is.scopes(), was.scopes())
                        .forEach(scope -> opens.add("A token with %s passes too.".formatted(scope)));
        } else if (!is.any()) {
            without(was.scopes(), is.scopes())
                    .forEach(scope -> opens.add("The scope %s is not needed any more.".formatted(scope)));
        } else {
            opens.add("One of the scopes %s is enough.".formatted(String.join(" and ", is.scopes())));
        }
    }

    private static void who(Who was, Who is, Names names, List<String> opens, List<String> drops) {
        List<String> issuers = without(is.issuers(), was.issuers());
        // None named stands for this issuer alone, so that naming it with others adds only the others.
        issuers.stream()
                .map(names.issuer())
                .filter(name -> !was.issuers().isEmpty() || !name.isEmpty())
                .forEach(name -> opens.add("Tokens of %s pass too.".formatted(name)));
        without(was.issuers(), is.issuers()).stream()
                .map(names.issuer())
                .filter(name -> !is.issuers().isEmpty() || !name.isEmpty())
                .forEach(name -> drops.add("Tokens of %s pass no more.".formatted(name)));
        if (was.forWhom() != is.forWhom() && was.forWhom() != Who.For.ANYONE) {
            opens.add(
                    is.forWhom() == Who.For.ANYONE
                            ? "People and clients on their own pass, not only %s.".formatted(was.forWhom())
                            : "%s pass, instead of %s."
                                    .formatted(capital(is.forWhom().toString()), was.forWhom()));
        }
        named(was.clients(), is.clients(), names.client(), "client", opens);
        named(was.roles(), is.roles(), UnaryOperator.identity(), "role", opens);
        if (was.maxAge().isPresent()
                && is.maxAge().map(it -> it.compareTo(was.maxAge().get()) > 0).orElse(true)) {
            opens.add(is.maxAge()
                    .map(it -> "The sign-in may lie %s back, not only %s."
                            .formatted(
                                    Fields.written(it),
                                    Fields.written(was.maxAge().get())))
                    .orElseGet(() -> "No sign-in within %s is needed any more."
                            .formatted(Fields.written(was.maxAge().get()))));
        }
        if (was.acr().isPresent() && !was.acr().equals(is.acr()))
            opens.add("No sign-in with acr %s is needed any more."
                    .formatted(was.acr().get()));
        if (was.subscription() && !is.subscription()) opens.add("Clients need no subscription any more.");
        if (was.condition().isPresent() && !was.condition().equals(is.condition())) {
            opens.add(
                    is.condition().isEmpty()
                            ? "No condition has to be met any more; it was: %s"
                                    .formatted(was.condition().get())
                            : "Another condition decides; it was: %s"
                                    .formatted(was.condition().get()));
        }
        if (was.signIn().isPresent() && is.signIn().isEmpty())
            drops.add("Browsers without a token are not signed in any more.");
    }

    private static void named(
            List<String> was, List<String> is, UnaryOperator<String> name, String kind, List<String> opens) {
        if (was.isEmpty()) return;
        String names = String.join(" or ", was.stream().map(name).toList());
        if (is.isEmpty())
            opens.add(
                    kind.equals("client")
                            ? "Any client passes, not only %s.".formatted(names)
                            : "No role is needed any more; it was %s.".formatted(names));
        else
            without(is, was).stream().map(name).forEach(one -> opens.add("The %s %s passes too.".formatted(kind, one)));
    }

    private static void limits(Limits was, Limits is, List<String> opens) {
        gone(was.rates(), is.rates(), "No rate limit of %s any more.", opens);
        gone(was.quotas(), is.quotas(), "No quota of %s any more.", opens);
        raised(was.concurrent(), is.concurrent(), "concurrent requests", opens);
        raised(was.body(), is.body(), "bytes of body", opens);
        raised(was.headers(), is.headers(), "bytes of headers", opens);
    }

    /** A rate that is lowered replaces another, and lets nothing more pass. */
    private static void gone(List<?> was, List<?> is, String sentence, List<String> opens) {
        for (Object one : was) {
            if (!is.contains(one) && is.stream().noneMatch(it -> isStricter(it, one)))
                opens.add(sentence.formatted(one));
        }
    }

    private static boolean isStricter(Object is, Object was) {
        if (is instanceof Limits.Rate one && was instanceof Limits.Rate two)
            return one.by() == two.by() && one.per().equals(two.per()) && one.requests() <= two.requests();
        return is instanceof Limits.Quota one
                && was instanceof Limits.Quota two
                && one.by() == two.by()
                && one.period() == two.period()
                && one.requests() <= two.requests();
    }

    private static <N extends Number> void raised(Optional<N> was, Optional<N> is, String of, List<String> opens) {
        if (was.isEmpty()) return;
        if (is.isEmpty())
            opens.add("No limit of %d %s any more.".formatted(was.get().longValue(), of));
        else if (is.get().longValue() > was.get().longValue())
            opens.add("%d %s pass, not only %d."
                    .formatted(is.get().longValue(), of, was.get().longValue()));
    }

    private static void target(Route.Target was, Route.Target is, List<String> drops) {
        if (was instanceof Route.Target.FixedResponse(int status, String type, String body)
                && !(is instanceof Route.Target.FixedResponse))
            drops.add("The gateway does not answer %d itself any more.".formatted(status));
        if (was instanceof Route.Target.Upstream(var base) && base.isPresent() && !was.equals(is))
            drops.add("Nothing goes to %s any more.".formatted(base.get()));
    }

    private static void transform(Transform was, Transform is, Names names, List<String> drops) {
        if (was.path().isPresent() && is.path().isEmpty())
            drops.add("The path is passed on as it is, not as %s."
                    .formatted(was.path().get()));
        lost(was.setOnRequest(), is.setOnRequest())
                .forEach(name -> drops.add("The request does not get %s any more.".formatted(name)));
        lost(was.renamedOnRequest(), is.renamedOnRequest())
                .forEach(name -> drops.add("The request's %s is not renamed any more.".formatted(name)));
        without(was.removedOnRequest(), is.removedOnRequest())
                .forEach(name -> drops.add("The request keeps %s.".formatted(name)));
        lost(was.setOnResponse(), is.setOnResponse())
                .forEach(name -> drops.add("The response does not get %s any more.".formatted(name)));
        without(was.removedOnResponse(), is.removedOnResponse())
                .forEach(name -> drops.add("The response keeps %s.".formatted(name)));
        if (was.credential().isPresent() && is.credential().isEmpty())
            drops.add("The gateway does not present %s to the upstream any more."
                    .formatted(names.credential().apply(was.credential().get())));
        lost(was.refusals(), is.refusals())
                .forEach(when -> drops.add("A refusal for %s has no text of its own any more.".formatted(when)));
        if (was.proof() != is.proof() && is.proof() != Transform.Proof.EACH_REQUEST) {
            drops.add(
                    is.proof() == Transform.Proof.NONE
                            ? "The upstream gets no proof any more that a request came through the gateway."
                            : "The proof that the upstream gets is not bound to each request any more.");
        }
    }

    private static void timeouts(Timeouts was, Timeouts is, List<String> drops) {
        gone(was.connect(), is.connect(), "connect", drops);
        gone(was.idle(), is.idle(), "idle", drops);
        gone(was.total(), is.total(), "total", drops);
    }

    private static void gone(Optional<Duration> was, Optional<Duration> is, String what, List<String> drops) {
        if (was.isPresent() && is.isEmpty())
            drops.add("The %s timeout of %s is gone.".formatted(what, Fields.written(was.get())));
    }

    private static <T> List<T> without(Collection<T> many, Collection<T> these) {
        return many.stream().filter(it -> !these.contains(it)).toList();
    }

    private static List<String> lost(Map<String, ?> was, Map<String, ?> is) {
        return without(was.keySet(), is.keySet());
    }

    private static String capital(String word) {
        return Character.toUpperCase(word.charAt(0)) + word.substring(1);
    }
}
