package dev.admit.core.route;

import dev.admit.contract.RouteLimits;
import dev.admit.contract.RouteTimeouts;
import dev.admit.contract.RouteTransform;
import dev.admit.contract.RouteWho;
import dev.admit.core.change.Fields;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;

/**
 * What a route says beside where it goes, as words: as it is wanted, as a setup file has it, as it is shown. Null
 * stands for nothing, or as usual.
 */
public final class RouteWords {
    private RouteWords() {}

    /**
     * @param clientName of an id
     * @param issuerName of an id: this issuer's, or a trusted one's.
     * @return null when nothing is asked
     */
    public static @Nullable RouteWho of(
            Route route, UnaryOperator<String> clientName, UnaryOperator<String> issuerName) {
        if (!(route.guard() instanceof Route.Guard.Token token) || token.who().equals(Who.ANYONE)) return null;
        Who it = token.who();
        return new RouteWho(
                some(it.issuers().stream().map(issuerName).toList()),
                it.forWhom() == Who.For.ANYONE ? null : it.forWhom().toString(),
                some(it.clients().stream().map(clientName).toList()),
                some(it.roles()),
                it.maxAge().map(Fields::written).orElse(null),
                it.acr().orElse(null),
                it.condition().orElse(null),
                it.signIn().map(clientName).orElse(null),
                it.subscription() ? true : null);
    }

    /**
     * @param credentialName of an id.
     * @return null when nothing is done
     */
    public static @Nullable RouteTransform of(Transform it, UnaryOperator<String> credentialName) {
        if (it.equals(Transform.NONE)) return null;
        return new RouteTransform(
                it.path().orElse(null),
                some(it.setOnRequest()),
                some(it.renamedOnRequest()),
                some(it.removedOnRequest()),
                some(it.setOnResponse()),
                some(it.removedOnResponse()),
                it.credential().map(credentialName).orElse(null),
                texts(it.refusals()),
                it.proof() == Transform.Proof.REUSED ? null : it.proof().toString());
    }

    /** @return null when it has no time of its own */
    public static @Nullable RouteTimeouts of(Timeouts it) {
        return it.equals(Timeouts.NONE)
                ? null
                : new RouteTimeouts(
                        it.connect().map(Fields::written).orElse(null),
                        it.idle().map(Fields::written).orElse(null),
                        it.total().map(Fields::written).orElse(null));
    }

    /** @return null when there is none */
    public static @Nullable RouteLimits of(Limits it) {
        return it.equals(Limits.NONE)
                ? null
                : new RouteLimits(
                        some(it.rates().stream().map(Object::toString).toList()),
                        some(it.quotas().stream().map(Object::toString).toList()),
                        it.concurrent().orElse(null),
                        it.body().orElse(null),
                        it.headers().orElse(null));
    }

    private static @Nullable Map<String, RouteTransform.OwnText> texts(Map<String, Transform.Text> many) {
        if (many.isEmpty()) return null;
        Map<String, RouteTransform.OwnText> texts = new LinkedHashMap<>();
        many.forEach((when, text) -> texts.put(when, new RouteTransform.OwnText(text.contentType(), text.body())));
        return texts;
    }

    private static <T> @Nullable List<T> some(List<T> many) {
        return Optional.of(many).filter(it -> !it.isEmpty()).orElse(null);
    }

    private static <K, V> @Nullable Map<K, V> some(Map<K, V> many) {
        return Optional.of(many).filter(it -> !it.isEmpty()).orElse(null);
    }
}
