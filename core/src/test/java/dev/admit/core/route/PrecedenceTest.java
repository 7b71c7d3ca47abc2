package dev.admit.core.route;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** What is told of the precedence is what the table finds by, for any table and any path. */
class PrecedenceTest {
    private static Route route(String methods, String path) {
        PathPattern pattern = ((PathPattern.Reading.Good) PathPattern.read(path)).pattern();
        return new Route(
                "rt_" + methods + path,
                "iss",
                new TreeSet<>(methods.equals("ANY") ? List.of() : List.of(methods.split(","))),
                pattern,
                new Route.Guard.Open(),
                new Route.Target.Upstream(Optional.empty()),
                Transform.NONE,
                Timeouts.NONE,
                Limits.NONE,
                false,
                1,
                Instant.EPOCH);
    }

    private static List<String> segments(String path) {
        return ((RequestPath.Reading.Good) RequestPath.read(path)).path().segments();
    }

    @ParameterizedTest(name = "seed {0}")
    @ValueSource(longs = {1, 2, 3, 4, 5, 6, 7, 8})
    void whatIsToldIsWhatAnswersAndEachRouteAnswersSomething(long seed) {
        Random random = new Random(seed);
        String[] parts = {"a", "b", "{x}", "{y}"};
        List<Route> routes = new ArrayList<>();
        Set<String> taken = new HashSet<>();
        for (int i = 0; i < 60; i++) {
            StringBuilder path = new StringBuilder();
            Set<String> names = new HashSet<>();
            for (int depth = random.nextInt(4); depth >= 0; depth--) {
                String part = parts[random.nextInt(parts.length)];
                path.append('/').append(part.startsWith("{") && !names.add(part) ? "a" : part);
            }
            if (random.nextInt(3) == 0) path.append("/**");
            String method = random.nextInt(4) == 0 ? "ANY" : random.nextBoolean() ? "GET" : "POST";
            Route route = route(method, path.toString());
            if (taken.add(method + route.pattern().shape())) routes.add(route);
        }
        Map<Route, Route> entries = new HashMap<>();
        routes.forEach(it -> entries.put(it, it));
        RouteTable<Route> table = new RouteTable<>(entries);
        List<String> words = List.of("a", "b", "c", "d");
        for (int i = 0; i < 10_000; i++) {
            List<String> path = new ArrayList<>();
            for (int depth = random.nextInt(6); depth > 0; depth--) path.add(words.get(random.nextInt(words.size())));
            String method = List.of("GET", "POST", "HEAD", "PUT", "TRACE").get(random.nextInt(5));
            Optional<Route> found = table.match(method, "", path) instanceof RouteTable.Match.Found<Route>(Route it)
                    ? Optional.of(it)
                    : Optional.empty();
            assertThat(Precedence.trying(routes, method, "", path).answers().map(Route::label))
                    .as(method + " " + path)
                    .isEqualTo(found.map(Route::label));
        }
        assertThat(routes.stream().filter(it -> !Precedence.isReached(it, routes)))
                .as("only where a name and its rest cover all of a rest")
                .allMatch(it -> it.pattern().toString().endsWith("/**"));
    }

    @Test
    void aRouteThatNothingReachesIsNamed() {
        Route shadowed = route("GET", "/a/**");
        List<Route> routes = List.of(shadowed, route("GET", "/a"), route("GET", "/a/{x}/**"));
        assertThat(Precedence.isReached(shadowed, routes)).isFalse();
        assertThat(Precedence.unreached(routes.get(2), routes))
                .singleElement()
                .asString()
                .startsWith("GET /a/** is never reached");
        assertThat(Precedence.isReached(shadowed, routes.subList(0, 2))).isTrue();
    }

    @ParameterizedTest(name = "{0} and {1}: {2}")
    @CsvSource(textBlock = """
            /a/b,      /a/b,    true
            /a/{x},    /a/b,    true
            /a/{x},    /b/{x},  false
            /a/**,     /a,      true
            /a/**,     /b/**,   false
            /**,       /a/b/c,  true
            /a,        /a/b,    false
            /{x}/b,    /a/{y},  true""")
    void patternsOverlap(String one, String other, boolean overlaps) {
        PathPattern first = ((PathPattern.Reading.Good) PathPattern.read(one)).pattern();
        PathPattern second = ((PathPattern.Reading.Good) PathPattern.read(other)).pattern();
        assertThat(first.overlaps(second)).isEqualTo(overlaps);
        assertThat(second.overlaps(first)).isEqualTo(overlaps);
    }

    @Test
    void whyIsSaidOfEachThatComesAfter() {
        List<Route> routes = List.of(
                route("GET", "/tides/**"),
                route("GET", "/tides/{gauge}"),
                route("ANY", "/tides/{gauge}"),
                route("GET", "/tides/north"),
                route("POST", "/tides/readings"));
        Precedence.Tried tried = Precedence.trying(routes, "GET", "", segments("/tides/north"));
        assertThat(tried.answers().orElseThrow().label()).isEqualTo("GET /tides/north");
        assertThat(tried.behind())
                .extracting(it -> it.route().label())
                .containsExactly("GET /tides/{gauge}", "/tides/{gauge}", "GET /tides/**");
        assertThat(tried.behind())
                .extracting(Precedence.Behind::why)
                .containsExactly(
                        "at segment 2 it has 'north', and the other {gauge}",
                        "it names the method, and the other takes any",
                        "at segment 2 it has {gauge}, and the other /**");
        assertThat(Precedence.trying(routes, "DELETE", "", segments("/tides")).methods())
                .extracting(Route::label)
                .containsExactly("GET /tides/**");
        assertThat(Precedence.overlaps(route("GET", "/tides/{any}"), routes))
                .hasSize(4)
                .first()
                .asString()
                .contains("GET /tides/** fits some of the same requests; there this one answers");
    }

    private static Route of(String issuer, String path) {
        Route it = route("GET", path);
        return new Route(
                issuer + path,
                issuer,
                it.methods(),
                it.pattern(),
                it.guard(),
                it.target(),
                it.transform(),
                it.timeouts(),
                it.limits(),
                false,
                1,
                Instant.EPOCH);
    }

    @ParameterizedTest(name = "{0}{1}: {2}")
    @CsvSource(nullValues = "none", textBlock = """
            tides.example,  /a/b, tides.example/a/{x}
            tides.example,  /c,   harbour /c
            tides.example,  /d,   none
            berths.example, /a/b, harbour /a/**
            none,           /a/b, harbour /a/**
            none,           /d,   gullwing /d
            gull.example,   /d,   gullwing /d
            gull.example,   /a/b, none
            gull.example,   /e,   gull.example/e
            """)
    void aHostBelongsToTheIssuerWhoseRoutesNameIt(String host, String path, String answers) {
        List<Route> routes = List.of(
                of("harbour", "tides.example/a/{x}"),
                of("harbour", "/a/**"),
                of("harbour", "/c"),
                of("gullwing", "/d"),
                of("gullwing", "gull.example/e"));
        Map<Route, Route> entries = new HashMap<>();
        routes.forEach(it -> entries.put(it, it));
        String found = new RouteTable<>(entries).match("GET", host == null ? "" : host, segments(path))
                        instanceof RouteTable.Match.Found<Route>(Route it)
                ? it.pattern().host().isEmpty()
                        ? it.issuerId() + " " + it.pattern()
                        : it.pattern().toString()
                : null;
        assertThat(found).isEqualTo(answers);
    }

    @ParameterizedTest(name = "{0} and {1}: {2}")
    @CsvSource(textBlock = """
            /a/**,            /a/b,             true
            /a/**,            /b,               false
            tides.example/a,  tides.example/b,  true
            tides.example/a,  /a,               false
            tides.example/a,  berths.example/a, false
            """)
    void noIssuerTakesFromAnother(String mine, String its, boolean takes) {
        assertThat(of("harbour", mine).takesFrom(of("gullwing", its))).isEqualTo(takes);
        assertThat(of("gullwing", its).takesFrom(of("harbour", mine))).isEqualTo(takes);
        assertThat(of("harbour", mine).takesFrom(of("harbour", its))).isFalse();
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "tides.example",
                "tides example/a",
                "tides.example:8080/a",
                "-tides.example/a",
                "tides..example/a",
                "*.example/a",
                "a_b.example/a",
                "tides.example//a",
                "user@tides.example/a"
            })
    void aHostIsAHost(String text) {
        assertThat(PathPattern.read(text)).isInstanceOf(PathPattern.Reading.Impossible.class);
    }

    @Test
    void whyAHostGoesFirstIsSaid() {
        List<Route> routes = List.of(of("harbour", "/a/b"), of("harbour", "tides.example/a/**"));
        Precedence.Tried tried = Precedence.trying(routes, "GET", "tides.example", segments("/a/b"));
        assertThat(tried.answers().orElseThrow().label()).isEqualTo("GET tides.example/a/**");
        assertThat(tried.behind())
                .extracting(Precedence.Behind::why)
                .containsExactly("it names the host, and the other takes any");
        assertThat(Precedence.trying(routes, "GET", "", segments("/a/b"))
                        .answers()
                        .orElseThrow()
                        .label())
                .isEqualTo("GET /a/b");
        assertThat(((PathPattern.Reading.Good) PathPattern.read("Tides.Example/a"))
                        .pattern()
                        .toString())
                .isEqualTo("tides.example/a");
    }
}
