package dev.admit.core.clientstatus;

import dev.admit.core.change.Page;
import dev.admit.core.clientauth.KnownClients;
import dev.admit.core.decision.Decision;
import dev.admit.core.decision.Decisions;
import dev.admit.core.decision.Endpoint;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Verdict;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Issuer;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * How far a client has come while its developer works elsewhere: what came of it, what came of an unknown caller, and
 * what is to be changed until the first call passes.
 */
public final class WatchClient {
    private static final int MOST = 100;

    private final Decisions decisions;
    private final KnownClients clients;

    public WatchClient(Decisions decisions, KnownClients clients) {
        this.decisions = decisions;
        this.clients = clients;
    }

    /**
     * @param steps from the token to the first call, each a sentence with whether it is done
     * @param next what is to be changed; empty when nothing is, or when it is the developer's turn
     * @param received its decisions and those of an unknown caller, the newest first
     * @param admitted whether a call of it has passed the gateway
     */
    public record Progress(List<Step> steps, Optional<Fix> next, List<Decision> received, boolean admitted) {}

    public record Step(boolean done, String said) {}

    /**
     * @param since what came before counts for nothing
     * @param strangersToo whether who watches may see what came of an unknown caller, which may be anybody's
     */
    public Progress since(Issuer issuer, Client client, Instant since, boolean strangersToo) {
        List<Decision> its = list(issuer, Optional.of(client.id()), since);
        List<Decision> strangers = !strangersToo
                ? List.of()
                : list(issuer, Optional.empty(), since).stream()
                        .filter(it -> it.endpoint() != Endpoint.ADMIN && isOfNobody(it))
                        .toList();
        Optional<Decision> token = newest(its, Endpoint.TOKEN);
        Optional<Decision> call = newest(its, Endpoint.GATEWAY);
        boolean admitted =
                its.stream().anyMatch(it -> it.endpoint() == Endpoint.GATEWAY && it.verdict() == Verdict.ADMITTED);
        List<Step> steps = new ArrayList<>();
        steps.add(tokenStep(client, token, call.isPresent()));
        steps.add(callStep(call, admitted));
        if (!admitted && !strangers.isEmpty()) steps.add(new Step(false, strangers(strangers)));
        return new Progress(
                steps, admitted ? Optional.empty() : next(token, call, strangers), merged(its, strangers), admitted);
    }

    private List<Decision> list(Issuer issuer, Optional<String> client, Instant since) {
        Optional<String> any = Optional.empty();
        return decisions
                .list(
                        new Decisions.Filter(
                                Optional.of(issuer.name()),
                                client,
                                any,
                                any,
                                any,
                                any,
                                any,
                                any,
                                Optional.of(since),
                                Optional.empty(),
                                any,
                                false),
                        new Page.Ask(Optional.empty(), MOST))
                .items();
    }

    private boolean isOfNobody(Decision it) {
        boolean person = it.refusal()
                .filter(no -> no.reason() == Reason.SIGN_IN_NEEDED)
                .isPresent(); // a person at a browser, no client
        // At the gateway a client's id comes from a token that was verified: then it is known who called, here or at a
        // trusted issuer.
        boolean nobody = it.about().clientId().isEmpty()
                || it.endpoint() == Endpoint.TOKEN
                        && clients.find(it.about().clientId()).isEmpty();
        return it.verdict() == Verdict.REFUSED && !person && nobody;
    }

    private static Optional<Decision> newest(List<Decision> all, Endpoint endpoint) {
        return all.stream().filter(it -> it.endpoint() == endpoint).findFirst();
    }

    private static Step tokenStep(Client client, Optional<Decision> token, boolean called) {
        if (token.isEmpty())
            return new Step(
                    called, called ? "It has a token from before." : client.name() + " has not requested a token yet.");
        if (token.get().verdict() == Verdict.ADMITTED)
            return new Step(
                    true,
                    "It got a token for %s."
                            .formatted(
                                    token.get().about().scopes().isEmpty()
                                            ? "nothing in particular"
                                            : token.get().about().scopes()));
        return new Step(false, "It requested a token and was refused: " + why(token.get()));
    }

    private static Step callStep(Optional<Decision> call, boolean admitted) {
        if (call.isEmpty()) return new Step(false, "No call with a token of it has come to the gateway yet.");
        String request = call.get().about().method() + " " + call.get().about().path();
        if (admitted) return new Step(true, "Its call %s was admitted.".formatted(request));
        return new Step(false, "Its call %s was refused: %s".formatted(request, why(call.get())));
    }

    private static String why(Decision it) {
        return it.refusal()
                .map(no -> "expected %s; received %s.".formatted(no.expected(), no.received()))
                .orElse("");
    }

    private static String strangers(List<Decision> all) {
        Map<String, Integer> reasons = new LinkedHashMap<>();
        all.forEach(it ->
                reasons.merge(it.refusal().map(no -> no.reason().toString()).orElse(""), 1, Integer::sum));
        return "%s of an unknown caller came meanwhile, maybe of it: %s."
                .formatted(
                        all.size() == 1 ? "1 request" : all.size() + " requests",
                        String.join(
                                ", ",
                                reasons.entrySet().stream()
                                        .map(it -> it.getValue() + " " + it.getKey())
                                        .toList()));
    }

    /**
     * What the client itself stands before now; what came of an unknown caller may be another person's, and counts only
     * where it says nothing.
     */
    private static Optional<Fix> next(Optional<Decision> token, Optional<Decision> call, List<Decision> strangers) {
        Optional<Fix> own = java.util.stream.Stream.of(token, call)
                .flatMap(Optional::stream)
                .max(java.util.Comparator.comparing(Decision::id))
                .flatMap(WatchClient::fix);
        return own.or(() -> strangers.stream().findFirst().flatMap(WatchClient::fix));
    }

    private static Optional<Fix> fix(Decision it) {
        return it.refusal().map(no -> no.fix());
    }

    private static List<Decision> merged(List<Decision> its, List<Decision> strangers) {
        return java.util.stream.Stream.concat(its.stream(), strangers.stream())
                .sorted(java.util.Comparator.comparing(Decision::id).reversed())
                .limit(MOST)
                .toList();
    }
}
