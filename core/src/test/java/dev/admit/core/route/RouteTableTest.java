package dev.admit.core.route;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeSet;
import org.junit.jupiter.api.RepeatedTest;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class RouteTableTest {
    private static final List<String> ROUTES = List.of(
            "GET /tides/**",
            "POST /tides/readings",
            "GET /tides/readings/latest",
            "GET /berths/{berth}",
            "PUT /berths/{berth}/ship",
            "GET /berths/n1",
            "/office/**",
            "GET /office/hours",
            "GET /{first}/{second}/ship",
            "GET /");

    private static RouteTable<String> table(List<String> routes) {
        Map<Route, String> entries = new LinkedHashMap<>();
        for (String label : routes) {
            String[] parts = label.split(" ");
            PathPattern pattern = ((PathPattern.Reading.Good) PathPattern.read(parts[parts.length - 1])).pattern();
            entries.put(
                    new Route(
                            "rt_" + entries.size(),
                            "iss",
                            new TreeSet<>(parts.length == 1 ? List.of() : List.of(parts[0].split(","))),
                            pattern,
                            new Route.Guard.Open(),
                            new Route.Target.Upstream(Optional.empty()),
                            Transform.NONE,
                            Timeouts.NONE,
                            Limits.NONE,
                            false,
                            1,
                            Instant.EPOCH),
                    label);
        }
        return new RouteTable<>(entries);
    }

    private static String match(RouteTable<String> table, String method, String path) {
        List<String> segments =
                ((RequestPath.Reading.Good) RequestPath.read(path)).path().segments();
        return switch (table.match(method, "", segments)) {
            case RouteTable.Match.Found<String>(String route) -> route;
            case RouteTable.Match.OtherMethod<String>(var allowed) -> "only " + String.join(",", allowed);
            case RouteTable.Match.Nothing<String> nothing -> "nothing";
        };
    }

    @ParameterizedTest(name = "{0} {1}: {2}")
    @CsvSource(quoteCharacter = '"', textBlock = """
            GET,    /tides,                 GET /tides/**
            GET,    /tides/,                GET /tides/**
            GET,    /tides/a/b/c,           GET /tides/**
            GET,    /tides/readings,        GET /tides/**
            POST,   /tides/readings,        POST /tides/readings
            GET,    /tides/readings/latest, GET /tides/readings/latest
            GET,    /tides/readings/other,  GET /tides/**
            HEAD,   /tides/x,               GET /tides/**
            DELETE, /tides/x,               "only GET,HEAD"
            DELETE, /tides/readings,        "only GET,HEAD,POST"
            GET,    /berths/n1,             GET /berths/n1
            GET,    /berths/n2,             GET /berths/{berth}
            GET,    /berths/,               nothing
            GET,    /berths/n1/ship,        GET /{first}/{second}/ship
            PUT,    /berths/n1/ship,        PUT /berths/{berth}/ship
            GET,    /berthsn1,              nothing
            GET,    /office/hours,          GET /office/hours
            POST,   /office/hours,          /office/**
            TRACE,  /office/x,              "only DELETE,GET,HEAD,OPTIONS,PATCH,POST,PUT"
            GET,    /,                      GET /
            GET,    /nowhere,               nothing""")
    void theMostSpecificRouteThatTakesTheMethodAnswers(String method, String path, String expected) {
        assertThat(match(table(ROUTES), method, path)).isEqualTo(expected);
    }

    @RepeatedTest(5)
    void theOrderOfSavingNeverMatters() {
        List<String> shuffled = new ArrayList<>(ROUTES);
        Collections.shuffle(shuffled);
        RouteTable<String> table = table(shuffled);
        assertThat(match(table, "GET", "/berths/n1")).isEqualTo("GET /berths/n1");
        assertThat(match(table, "GET", "/tides/readings/other")).isEqualTo("GET /tides/**");
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(quoteCharacter = '"', nullValues = "good", textBlock = """
            tides,               begins with /
            /tides//x,           empty segment
            /tides/../x,         dot segment
            /tides/**/x,         only at the end
            /tides/*,            whole segment
            /tides/x{name},      whole segment
            /tides/{Name},       whole segment
            /{a}/{a},            each name once
            /a;b,                none of
            /a%20b,              none of
            /a?b,                none of
            /.well-known/x,      gateway's own
            /_admit/x,           gateway's own
            /tides/,             good
            /**,                 good
            /a/{b}/c/**,         good""")
    void aPatternThatCannotMatchIsNamed(String pattern, String fault) {
        PathPattern.Reading reading = PathPattern.read(pattern);
        if (fault == null) {
            assertThat(reading)
                    .isInstanceOfSatisfying(PathPattern.Reading.Good.class, good -> assertThat(good.pattern())
                            .hasToString(pattern));
        } else {
            assertThat(reading)
                    .isInstanceOfSatisfying(PathPattern.Reading.Impossible.class, it -> assertThat(it.expected())
                            .contains(fault));
        }
    }

    @Test
    void namesDoNotMakeAnotherShape() {
        assertThat(((PathPattern.Reading.Good) PathPattern.read("/a/{b}"))
                        .pattern()
                        .shape())
                .isEqualTo(((PathPattern.Reading.Good) PathPattern.read("/a/{c}"))
                        .pattern()
                        .shape());
    }
}
