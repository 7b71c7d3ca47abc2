package dev.admit.core.route;

import dev.admit.core.change.Fields;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.UnaryOperator;

/**
 * What a route says beside where it goes, as words: as it is wanted, as a setup file has it, as it is shown. Null
 * stands for nothing, or as usual.
 */
public final class RouteWords {
    private RouteWords() {}

    /**
     * As {@link dev.admit.core.route.Who}. @param issuers names of this issuer and of trusted ones, @param bearer
     * {@code anyone}, {@code people} or {@code clients}, @param clients names; ids are taken as well, @param signIn the
     * name of a client
     */
    public record Who(
            List<String> issuers,
            String bearer,
            List<String> clients,
            List<String> roles,
            String signedInWithin,
            String strength,
            String when,
            String signIn) {}

    /** As {@link dev.admit.core.route.Shaping}. @param credential its name */
    public record Shaping(
            String path,
            Map<String, String> setOnRequest,
            Map<String, String> renamedOnRequest,
            List<String> removedOnRequest,
            Map<String, String> setOnAnswer,
            List<String> removedOnAnswer,
            String connect,
            String silence,
            String whole,
            String credential,
            Map<String, Text> refusals,
            String passage) {}

    /** As {@link dev.admit.core.route.Shaping.Text}. @param contentType null for plain text */
    public record Text(String contentType, String body) {}

    /**
     * As {@link dev.admit.core.route.Limits}. @param rates such as {@code 60 per 1m by client}, @param quotas such as
     * {@code 100000 a month by client}
     */
    public record Limits(List<String> rates, List<String> quotas, Integer atOnce, Long body, Integer headers) {}

    /**
     * @param clientName of an id, @param issuerName of an id: this issuer's, or a trusted one's. @return null when
     *     nothing is asked
     */
    public static Who of(Route route, UnaryOperator<String> clientName, UnaryOperator<String> issuerName) {
        if (!(route.guard() instanceof Route.Guard.Token token) || token.who().equals(dev.admit.core.route.Who.ANYONE))
            return null;
        dev.admit.core.route.Who it = token.who();
        return new Who(
                some(it.issuers().stream().map(issuerName).toList()),
                it.bearer() == dev.admit.core.route.Who.Bearer.ANYONE
                        ? null
                        : it.bearer().toString(),
                some(it.clients().stream().map(clientName).toList()),
                some(it.roles()),
                it.signedInWithin().map(Fields::written).orElse(null),
                it.strength().orElse(null),
                it.when().orElse(null),
                it.signIn().map(clientName).orElse(null));
    }

    /** @param credentialName of an id. @return null when nothing is done */
    public static Shaping of(dev.admit.core.route.Shaping it, UnaryOperator<String> credentialName) {
        if (it.equals(dev.admit.core.route.Shaping.NONE)) return null;
        return new Shaping(
                it.path().orElse(null),
                some(it.setOnRequest()),
                some(it.renamedOnRequest()),
                some(it.removedOnRequest()),
                some(it.setOnAnswer()),
                some(it.removedOnAnswer()),
                it.connect().map(Fields::written).orElse(null),
                it.silence().map(Fields::written).orElse(null),
                it.whole().map(Fields::written).orElse(null),
                it.credential().map(credentialName).orElse(null),
                texts(it.refusals()),
                it.passage() == dev.admit.core.route.Shaping.Passage.REUSED
                        ? null
                        : it.passage().toString());
    }

    /** @return null when there is none */
    public static Limits of(dev.admit.core.route.Limits it) {
        return it.equals(dev.admit.core.route.Limits.NONE)
                ? null
                : new Limits(
                        some(it.rates().stream().map(Object::toString).toList()),
                        some(it.quotas().stream().map(Object::toString).toList()),
                        it.atOnce().orElse(null),
                        it.body().orElse(null),
                        it.headers().orElse(null));
    }

    private static Map<String, Text> texts(Map<String, dev.admit.core.route.Shaping.Text> many) {
        if (many.isEmpty()) return null;
        Map<String, Text> texts = new LinkedHashMap<>();
        many.forEach((when, text) -> texts.put(when, new Text(text.contentType(), text.body())));
        return texts;
    }

    private static <T> List<T> some(List<T> many) {
        return Optional.of(many).filter(it -> !it.isEmpty()).orElse(null);
    }

    private static <K, V> Map<K, V> some(Map<K, V> many) {
        return Optional.of(many).filter(it -> !it.isEmpty()).orElse(null);
    }
}
