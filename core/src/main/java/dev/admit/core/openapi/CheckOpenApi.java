package dev.admit.core.openapi;

import dev.admit.core.registry.Api;
import dev.admit.core.route.PathPattern;
import dev.admit.core.route.Route;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;

/**
 * What a document promises and no route lets through, and the reverse.
 *
 * @param notReached operations that no route of the API answers
 * @param otherwise operations whose route asks for something else than the document says
 * @param notPromised routes of the API that answer no operation
 * @param wider routes that let through more than the operations they answer: any method, or any path beneath
 */
public record CheckOpenApi(
        int operations,
        List<OpenApiDocument.Operation> notReached,
        List<Otherwise> otherwise,
        List<Route> notPromised,
        List<Route> wider) {

    /**
     * @param promised what the document says that a caller must bring
     * @param wanted what the route wants
     */
    public record Otherwise(OpenApiDocument.Operation of, Route route, String promised, String wanted) {}

    public static CheckOpenApi of(OpenApiDocument document, Api api, List<Route> routes) {
        Reached reached = new Reached(api, routes, document);
        List<OpenApiDocument.Operation> notReached = new ArrayList<>();
        List<Otherwise> otherwise = new ArrayList<>();
        Set<String> used = new HashSet<>();
        for (OpenApiDocument.Operation it : document.operations()) {
            List<Reached.Way> ways = reached.all(it);
            if (ways.isEmpty()) notReached.add(it);
            for (Reached.Way way : ways) {
                Route route = way.route();
                used.add(route.id());
                Wants promised = Wants.of(it.security());
                Wants wanted = Wants.of(route);
                // A document that says nothing of security promises nothing of it.
                if (!(it.security() instanceof OpenApiDocument.Security.Unsaid) && !promised.equals(wanted))
                    otherwise.add(new Otherwise(it, route, promised.toString(), wanted.toString()));
            }
        }
        List<Route> theirs =
                routes.stream().filter(it -> Reached.leadsTo(it, api)).toList();
        return new CheckOpenApi(
                document.operations().size(),
                notReached,
                otherwise,
                theirs.stream().filter(it -> !used.contains(it.id())).toList(),
                theirs.stream()
                        .filter(it -> used.contains(it.id()) && isOpenEnded(it))
                        .toList());
    }

    private static boolean isOpenEnded(Route route) {
        return route.methods().isEmpty()
                || route.pattern().parts().stream().anyMatch(PathPattern.Part.Rest.class::isInstance);
    }

    /** Whether the document says what is so, and no more and no less. */
    public boolean agrees() {
        return notReached.isEmpty() && otherwise.isEmpty() && notPromised.isEmpty() && wider.isEmpty();
    }
}
