package dev.admit.core.route;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.URI;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeSet;
import java.util.function.UnaryOperator;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What a change of a route lets pass, and what it drops, is said; what only narrows is not asked about. */
class RouteComparisonTest {
    private static final RouteComparison.Names NAMES = new RouteComparison.Names(
            UnaryOperator.identity(),
            UnaryOperator.identity(),
            id -> id.equals("own") ? "" : id,
            UnaryOperator.identity());

    /** A route as a test changes it, one member at a time. */
    private record Draft(
            String methods,
            String path,
            Route.Guard guard,
            Route.Target target,
            Transform transform,
            Timeouts timeouts,
            Limits limits,
            boolean cors) {
        static Draft of(Route.Guard guard) {
            return new Draft(
                    "GET",
                    "/tides/**",
                    guard,
                    new Route.Target.Upstream(Optional.empty()),
                    Transform.NONE,
                    Timeouts.NONE,
                    Limits.NONE,
                    false);
        }

        Route route() {
            PathPattern pattern = ((PathPattern.Reading.Good) PathPattern.read(path)).pattern();
            return new Route(
                    "rt_1",
                    "own",
                    new TreeSet<>(methods.equals("ANY") ? List.of() : List.of(methods.split(","))),
                    pattern,
                    guard,
                    target,
                    transform,
                    timeouts,
                    limits,
                    cors,
                    1,
                    Instant.EPOCH);
        }
    }

    private static Route.Guard token(String scopes, boolean any, Who who) {
        return new Route.Guard.Token("tides", scopes.isEmpty() ? List.of() : List.of(scopes.split("\\+")), any, who);
    }

    private static RouteComparison compare(Draft before, Draft after) {
        return RouteComparison.of(before.route(), after.route(), NAMES);
    }

    @ParameterizedTest(name = "{0} any {1} to {2} any {3}: {4}")
    @CsvSource(nullValues = "-", textBlock = """
            a,   false, a,   false, -
            a,   false, b,   false, A token with b passes too.
            a,   false, a+b, false, -
            a,   false, a+b, true,  A token with b passes too.
            a+b, false, a,   false, The scope b is not needed any more.
            a+b, false, a+b, true,  One of the scopes a and b is enough.
            a+b, true,  a+b, false, -
            a+b, true,  a,   true,  -
            a,   false, '',  false, 'Any token of the API passes, whatever its scope.'
            '',  false, a,   false, -""")
    void scopesThatAreNotNeededAnyMore(String before, boolean anyBefore, String after, boolean anyAfter, String said) {
        List<String> opens = compare(
                        Draft.of(token(before, anyBefore, Who.ANYONE)), Draft.of(token(after, anyAfter, Who.ANYONE)))
                .opens();
        assertThat(opens).isEqualTo(said == null ? List.of() : List.of(said));
    }

    @Test
    void whoMayPass() {
        Who strict = new Who(
                List.of(),
                Who.For.PEOPLE,
                List.of("buoy"),
                List.of("pilot"),
                Optional.of(Duration.ofMinutes(10)),
                Optional.of("urn:admit:acr:2"),
                Optional.of("method == 'GET'"),
                Optional.of("desk"),
                true);
        Draft before = Draft.of(token("a", false, strict));
        assertThat(compare(before, before).opens()).isEmpty();
        assertThat(compare(Draft.of(token("a", false, Who.ANYONE)), before).opens())
                .as("it only narrows")
                .isEmpty();
        RouteComparison gone = compare(before, Draft.of(token("a", false, Who.ANYONE)));
        assertThat(gone.opens())
                .containsExactly(
                        "People and clients on their own pass, not only people.",
                        "Any client passes, not only buoy.",
                        "No role is needed any more; it was pilot.",
                        "No sign-in within 10m is needed any more.",
                        "No sign-in with acr urn:admit:acr:2 is needed any more.",
                        "Clients need no subscription any more.",
                        "No condition has to be met any more; it was: method == 'GET'");
        assertThat(gone.drops()).containsExactly("Browsers without a token are not signed in any more.");
        assertThat(compare(before, Draft.of(new Route.Guard.Open())).opens())
                .containsExactly("Anyone passes, without a token.");
    }

    @ParameterizedTest(name = "issuers {0} to {1}: {2}; {3}")
    @CsvSource(nullValues = "-", textBlock = """
            '',             own+coastguard, Tokens of coastguard pass too., -
            own+coastguard, '',             -,                              Tokens of coastguard pass no more.
            own+coastguard, coastguard,     -,                              -
            coastguard,     own+coastguard, -,                              -""")
    void issuersWhoseTokensPass(String before, String after, String opens, String drops) {
        RouteComparison said = compare(Draft.of(token("a", false, of(before))), Draft.of(token("a", false, of(after))));
        assertThat(said.opens().stream().filter(it -> it.contains("coastguard")).toList())
                .isEqualTo(opens == null ? List.of() : List.of(opens));
        assertThat(said.drops().stream().filter(it -> it.contains("coastguard")).toList())
                .isEqualTo(drops == null ? List.of() : List.of(drops));
    }

    private static Who of(String issuers) {
        return new Who(
                issuers.isEmpty() ? List.of() : List.of(issuers.split("\\+")),
                Who.For.ANYONE,
                List.of(),
                List.of(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                false);
    }

    @Test
    void limitsThatGoOrAreRaised() {
        Limits.Rate sixty = new Limits.Rate(Limits.By.CLIENT, 60, Duration.ofMinutes(1));
        Limits.Rate thirty = new Limits.Rate(Limits.By.CLIENT, 30, Duration.ofMinutes(1));
        Limits.Quota month = new Limits.Quota(Limits.By.CLIENT, 1000, Limits.Period.MONTH);
        Limits limits = new Limits(List.of(sixty), List.of(month), Optional.of(5), Optional.of(100L), Optional.of(900));
        Draft before = with(limits);
        assertThat(compare(before, with(Limits.NONE)).opens())
                .containsExactly(
                        "No rate limit of 60 per 1m by client any more.",
                        "No quota of %s any more.".formatted(month),
                        "No limit of 5 concurrent requests any more.",
                        "No limit of 100 bytes of body any more.",
                        "No limit of 900 bytes of headers any more.");
        assertThat(compare(with(Limits.NONE), before).opens()).isEmpty();
        assertThat(compare(
                                before,
                                with(new Limits(
                                        List.of(thirty),
                                        List.of(month),
                                        Optional.of(4),
                                        Optional.of(99L),
                                        Optional.of(800))))
                        .opens())
                .as("stricter")
                .isEmpty();
        assertThat(compare(
                                with(new Limits(
                                        List.of(thirty),
                                        List.of(),
                                        Optional.of(4),
                                        Optional.empty(),
                                        Optional.empty())),
                                with(new Limits(
                                        List.of(sixty), List.of(), Optional.of(5), Optional.empty(), Optional.empty())))
                        .opens())
                .containsExactly(
                        "No rate limit of 30 per 1m by client any more.", "5 concurrent requests pass, not only 4.");
    }

    private static Draft with(Limits limits) {
        Draft draft = Draft.of(token("a", false, Who.ANYONE));
        return new Draft(
                draft.methods(),
                draft.path(),
                draft.guard(),
                draft.target(),
                draft.transform(),
                draft.timeouts(),
                limits,
                draft.cors());
    }

    @Test
    void requestsThatReachIt() {
        Draft before = Draft.of(token("a", false, Who.ANYONE));
        assertThat(compare(
                                before,
                                new Draft(
                                        "GET,PUT",
                                        before.path(),
                                        before.guard(),
                                        before.target(),
                                        before.transform(),
                                        before.timeouts(),
                                        before.limits(),
                                        true))
                        .opens())
                .containsExactly("PUT reaches it too.", "Pages of browser clients may call it.");
        assertThat(compare(
                                before,
                                new Draft(
                                        "ANY",
                                        "/x",
                                        before.guard(),
                                        before.target(),
                                        before.transform(),
                                        before.timeouts(),
                                        before.limits(),
                                        false))
                        .opens())
                .containsExactly(
                        "Requests for /x reach it; those for /tides/** do not any more.",
                        "Any method reaches it, not only GET.");
        assertThat(compare(
                                new Draft(
                                        "ANY",
                                        before.path(),
                                        before.guard(),
                                        before.target(),
                                        before.transform(),
                                        before.timeouts(),
                                        before.limits(),
                                        false),
                                before)
                        .opens())
                .isEmpty();
    }

    @Test
    void whatItDoesNoMoreIsSaidWithoutBeingAskedAbout() {
        Transform all = new Transform(
                Optional.of("/v2/**"),
                Map.of("X-A", "a"),
                Map.of("X-B", "X-C"),
                List.of("X-D"),
                Map.of("X-E", "e"),
                List.of("X-F"),
                Optional.of("warnings"),
                Map.of("any", new Transform.Text("text/plain", "no")),
                Transform.Proof.EACH_REQUEST);
        Draft plain = Draft.of(token("a", false, Who.ANYONE));
        Draft before = new Draft(
                "GET",
                "/tides/**",
                plain.guard(),
                new Route.Target.Upstream(Optional.of(URI.create("http://127.0.0.1:1"))),
                all,
                new Timeouts(
                        Optional.of(Duration.ofSeconds(1)),
                        Optional.of(Duration.ofSeconds(2)),
                        Optional.of(Duration.ofSeconds(3))),
                Limits.NONE,
                true);
        RouteComparison said = compare(before, plain);
        assertThat(said.opens()).isEmpty();
        assertThat(said.drops())
                .hasSize(14)
                .contains(
                        "The gateway does not present warnings to the upstream any more.",
                        "The request does not get X-A any more.",
                        "The response keeps X-F.");
    }
}
