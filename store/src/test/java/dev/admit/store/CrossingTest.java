package dev.admit.store;

import static org.assertj.core.api.Assertions.assertThat;

import dev.admit.core.change.Expected;
import dev.admit.core.crossing.Crossing.Asking;
import dev.admit.core.crossing.Crossing.Passed;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Decision;
import dev.admit.core.decision.Mend;
import dev.admit.core.decision.Plane;
import dev.admit.core.decision.Reason;
import dev.admit.core.registration.ClientRegistration;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What the crossing is drawn from, as the records have it. */
class CrossingTest {
    private static final Instant NOW = Instant.parse("2027-01-31T08:00:00Z");

    @TempDir
    Path folder;

    private final SettableClock clock = new SettableClock(NOW.toString());
    private Harbour harbour;

    @BeforeEach
    void open() {
        harbour = new Harbour(folder, clock);
        harbour.readScope();
    }

    @AfterEach
    void close() {
        harbour.close();
    }

    @Test
    void eachClientHasItsAsksAndWhereTheyStand() {
        ClientRegistration.Registered buoy = harbour.client("tide-buoy-07", "tides.read");
        harbour.client("night-audit", "tides.read");
        harbour.client("asks-nothing");
        Harbour.made(harbour.approving.give(
                buoy.client(),
                buoy.asks().getFirst(),
                Optional.of(NOW.plus(Duration.ofDays(1))),
                Harbour.CORIN,
                Expected.ANY));
        SqliteCallers callers = new SqliteCallers(harbour.database, clock);

        List<Asking> all = callers.of(harbour.issuer.id(), "");
        assertThat(all).extracting(Asking::name).containsExactly("asks-nothing", "night-audit", "tide-buoy-07");
        assertThat(all)
                .extracting(it -> it.asks().getOrDefault("tides.read", "none"))
                .containsExactly("none", "waiting", "given");
        assertThat(callers.of(harbour.issuer.id(), "BUOY"))
                .extracting(Asking::name)
                .containsExactly("tide-buoy-07");
        assertThat(callers.of("another issuer", "")).isEmpty();

        clock.move(Duration.ofDays(2));
        assertThat(callers.of(harbour.issuer.id(), "buoy").getFirst().asks())
                .as("what was given for a time ends by itself")
                .containsEntry("tides.read", "expired");
    }

    private Decision decided(Plane plane, String issuer, String client, String route, boolean admitted, Instant at) {
        Decision.Builder builder = new Decision.Builder(plane, at)
                .issuer(issuer)
                .client(client, "")
                .route(route, 1)
                .request("GET", "/x", "127.0.0.1");
        if (!admitted)
            builder.add(
                    CheckResult.refused("scope", Reason.INSUFFICIENT_SCOPE, "one", "another", Mend.of("Ask for it.")));
        return builder.answered(admitted ? 200 : 403);
    }

    @Test
    void whatPassedIsCountedByClientAndRoute() {
        SqliteDecisions decisions = new SqliteDecisions(harbour.database);
        decisions.keep(List.of(
                decided(Plane.GATEWAY, "harbour", "cl_a", "GET /tides/**", true, NOW),
                decided(Plane.GATEWAY, "harbour", "cl_a", "GET /tides/**", true, NOW),
                decided(Plane.GATEWAY, "harbour", "cl_a", "GET /tides/**", false, NOW),
                decided(Plane.GATEWAY, "harbour", "", "GET /tides/**", false, NOW),
                decided(Plane.GATEWAY, "gullwing", "cl_a", "GET /tides/**", true, NOW),
                decided(Plane.TOKEN, "harbour", "cl_a", "", true, NOW),
                decided(Plane.GATEWAY, "harbour", "cl_a", "GET /tides/**", true, NOW.minus(Duration.ofDays(8)))));
        assertThat(decisions.passed("harbour", NOW.minus(Duration.ofDays(7)), 1_000))
                .containsExactlyInAnyOrder(
                        new Passed("cl_a", "GET /tides/**", 2, 1), new Passed("", "GET /tides/**", 0, 1));
        assertThat(decisions.passed("harbour", NOW.minus(Duration.ofDays(9)), 1_000))
                .contains(new Passed("cl_a", "GET /tides/**", 3, 1));
        assertThat(decisions.passed("harbour", NOW.minus(Duration.ofDays(7)), 1).stream()
                        .mapToLong(it -> it.admitted() + it.refused())
                        .sum())
                .as("of the newest alone")
                .isEqualTo(1);
    }
}
