package dev.admit.store;

import static org.assertj.core.api.Assertions.assertThat;

import dev.admit.core.accessmap.AccessMap.CallerRow;
import dev.admit.core.accessmap.AccessMap.Passed;
import dev.admit.core.change.Expected;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Decision;
import dev.admit.core.decision.Endpoint;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Recorder;
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

/** What the access map is drawn from, as the records have it. */
class AccessMapTest {
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
        Harbour.made(harbour.approving.grant(
                buoy.client(),
                buoy.requested().getFirst(),
                Optional.of(NOW.plus(Duration.ofDays(1))),
                Harbour.CORIN,
                Expected.ANY));
        SqliteCallers callers = new SqliteCallers(harbour.database, clock);

        List<CallerRow> all = callers.of(harbour.issuer.id(), "");
        assertThat(all).extracting(CallerRow::name).containsExactly("asks-nothing", "night-audit", "tide-buoy-07");
        assertThat(all)
                .extracting(it -> it.scopes().getOrDefault("tides.read", "none"))
                .containsExactly("none", "waiting", "granted");
        assertThat(callers.of(harbour.issuer.id(), "BUOY"))
                .extracting(CallerRow::name)
                .containsExactly("tide-buoy-07");
        assertThat(callers.of("another issuer", "")).isEmpty();

        clock.move(Duration.ofDays(2));
        assertThat(callers.of(harbour.issuer.id(), "buoy").getFirst().scopes())
                .as("what was given for a time ends by itself")
                .containsEntry("tides.read", "expired");
    }

    private Decision decided(
            Endpoint endpoint, String issuer, String client, String route, boolean admitted, Instant at) {
        Recorder builder = new Recorder(endpoint, at)
                .issuer(issuer)
                .client(client, "")
                .route(route, 1)
                .request("GET", "/x", "127.0.0.1");
        if (!admitted)
            builder.add(
                    CheckResult.refused("scope", Reason.INSUFFICIENT_SCOPE, "one", "another", Fix.of("Request it.")));
        return builder.answered(admitted ? 200 : 403);
    }

    @Test
    void whatPassedIsCountedByClientAndRoute() {
        SqliteDecisions decisions = new SqliteDecisions(harbour.database);
        decisions.keep(List.of(
                decided(Endpoint.GATEWAY, "harbour", "cl_a", "GET /tides/**", true, NOW),
                decided(Endpoint.GATEWAY, "harbour", "cl_a", "GET /tides/**", true, NOW),
                decided(Endpoint.GATEWAY, "harbour", "cl_a", "GET /tides/**", false, NOW),
                decided(Endpoint.GATEWAY, "harbour", "", "GET /tides/**", false, NOW),
                decided(Endpoint.GATEWAY, "gullwing", "cl_a", "GET /tides/**", true, NOW),
                decided(Endpoint.TOKEN, "harbour", "cl_a", "", true, NOW),
                decided(Endpoint.GATEWAY, "harbour", "cl_a", "GET /tides/**", true, NOW.minus(Duration.ofDays(8)))));
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
