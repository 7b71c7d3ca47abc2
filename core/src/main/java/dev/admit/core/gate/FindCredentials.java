package dev.admit.core.gate;

import dev.admit.core.browser.BrowserSession;
import dev.admit.core.browser.SignInAtGate;
import dev.admit.core.configuration.GuardedRoute;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Checked;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.route.Route;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/** The stage that finds where a request has its token: in its header, or in what a browser keeps for the gateway. */
final class FindCredentials {
    private static final Set<String> SAFE = Set.of("GET", "HEAD", "OPTIONS");

    private final SignInAtGate signIn;

    FindCredentials(SignInAtGate signIn) {
        this.signIn = signIn;
    }

    /**
     * @param authorization every Authorization header, or the one that the browser's session stands for
     * @param session empty where the request brought its own
     * @param renewed the cookie's new value, where the session was renewed
     */
    record Credentials(List<String> authorization, Optional<BrowserSession> session, Optional<String> renewed) {
        /**
         * Whether it is a person's session that has lasted a while, and would be another one after signing in again.
         */
        boolean canSignInAgain(Instant at) {
            return session.filter(it -> !it.isFresh(at)).isPresent();
        }
    }

    Checked<Credentials> of(GateRequest request, GuardedRoute route, Instant at) {
        return route.signsIn() && request.authorization().isEmpty()
                ? ofBrowser(request, route, at)
                : Checked.passed(new Credentials(request.authorization(), Optional.empty(), Optional.empty()));
    }

    private Checked<Credentials> ofBrowser(GateRequest request, GuardedRoute route, Instant at) {
        String cookie = request.browser().cookie(cookieFor(request, route));
        // A cookie goes along with whatever any page has sent, so what changes something must come from this very
        // origin.
        if (cookie != null
                && !SAFE.contains(request.method())
                && request.browser().comesFromElsewhere())
            return Checked.refused(
                    "session",
                    Reason.FROM_ANOTHER_SITE,
                    "a request by a page of this address",
                    "one by a page of another",
                    Fix.of("Open the page at this address, and send it from there."));
        return switch (signIn.standing(route, cookie, at, request.from())) {
            case SignInAtGate.Standing.Renewing(var stage) -> new Checked.Waits<>(stage, nobody(cookie));
            case SignInAtGate.Standing.None none -> Checked.refused(nobody(cookie));
            case SignInAtGate.Standing.Good(BrowserSession session, Optional<String> renewed) ->
                Checked.passed(
                        new Credentials(List.of(session.authorization()), Optional.of(session), renewed),
                        CheckResult.passed(
                                "session",
                                "a person who is signed in",
                                renewed.isPresent() ? "one, whose token was renewed" : "one"));
        };
    }

    private static CheckResult.Refused nobody(@Nullable String cookie) {
        return CheckResult.refused(
                "session",
                Reason.SIGN_IN_NEEDED,
                "a person who is signed in",
                cookie == null ? "nobody" : "a session that is over",
                Fix.of("Open the page in a browser, and sign in."));
    }

    private static String cookieFor(GateRequest request, GuardedRoute route) {
        return SignInAtGate.sessionCookie(
                ((Route.Guard.Token) route.route().guard()).who().signIn().orElseThrow(),
                route.api().orElseThrow().id(),
                request.browser().isSecure());
    }
}
