package dev.admit.server.operations;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyInt;
import static org.mockito.ArgumentMatchers.anyLong;
import static org.mockito.ArgumentMatchers.eq;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.never;
import static org.mockito.Mockito.verify;
import static org.mockito.Mockito.when;

import dev.admit.core.audit.AuditLine;
import dev.admit.core.audit.AuditTrail;
import dev.admit.core.change.Page;
import dev.admit.core.decision.Endpoint;
import dev.admit.core.decision.Recorder;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.IssuerSettings;
import dev.admit.core.registry.Issuers;
import java.net.URI;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

class LiveFeedTest {
    private static final Instant NOW = Instant.parse("2027-01-31T08:00:00Z");
    private final AuditTrail trail = mock(AuditTrail.class);
    private final Issuers issuers = mock(Issuers.class);
    private final List<AuditLine> lines = new ArrayList<>();
    private final LiveFeed feed = new LiveFeed(trail, issuers);

    @BeforeEach
    void anIssuerWithAnAudit() {
        when(issuers.all())
                .thenReturn(List.of(new Issuer(
                        "iss_1",
                        "harbour",
                        "Harbour",
                        "",
                        URI.create("http://127.0.0.1/harbour"),
                        IssuerSettings.USUAL,
                        0,
                        1,
                        NOW)));
        when(trail.following(eq("iss_1"), anyLong(), anyInt())).thenAnswer(asked -> lines.stream()
                .filter(it -> it.seq() > asked.getArgument(1, Long.class))
                .toList());
        when(trail.list(eq("iss_1"), any(), any()))
                .thenAnswer(
                        asked -> new Page<>(lines.isEmpty() ? List.of() : List.of(lines.getLast()), Optional.empty()));
    }

    private void changed(String what, String on) {
        lines.add(new AuditLine(
                "iss_1", lines.size() + 1, NOW, what, "Corin Ashby", "corin", "", on, "", "", Optional.empty(), ""));
    }

    @Test
    void whoeverLooksOnHearsWhatChangedSinceAndNotWhatWasBefore() throws Exception {
        changed("client.added", "before");
        LiveFeed.Onlooker onlooker = feed.join().orElseThrow();
        feed.tell();
        assertThat(onlooker.next(1)).isNull();
        changed("client.changed", "tide-buoy-07");
        changed("approval.granted", "tide-buoy-07");
        feed.tell();
        LiveFeed.Event event = onlooker.next(1);
        assertThat(event.issuer()).isEqualTo("harbour");
        assertThat(event.what()).containsExactly("client.changed", "approval.granted");
        assertThat(event.on()).containsExactly("tide-buoy-07");
        assertThat(event.who()).containsExactly("Corin Ashby");
        feed.tell();
        assertThat(onlooker.next(1)).as("once").isNull();
    }

    @Test
    void decisionsAreToldOncePerTellingHoweverMany() throws Exception {
        LiveFeed.Onlooker onlooker = feed.join().orElseThrow();
        for (int i = 0; i < 100; i++) feed.saw(new Recorder(Endpoint.GATEWAY, NOW).issuer("harbour"));
        feed.tell();
        assertThat(onlooker.next(1).isOfDecisions()).isTrue();
        assertThat(onlooker.next(1)).isNull();
    }

    @Test
    void nothingIsReadWhileNobodyLooksOn() {
        feed.tell();
        feed.saw(new Recorder(Endpoint.GATEWAY, NOW).issuer("harbour"));
        verify(trail, never()).following(any(), anyLong(), anyInt());
    }

    @Test
    void whoTakesNothingMissesEventsAndKeepsNobodyElseFromTheirs() throws Exception {
        LiveFeed.Onlooker asleep = feed.join().orElseThrow();
        LiveFeed.Onlooker awake = feed.join().orElseThrow();
        for (int i = 0; i < 500; i++) {
            changed("client.changed", "c" + i);
            feed.tell();
            assertThat(awake.next(1).on()).containsExactly("c" + i);
        }
        int heard = 0;
        while (asleep.next(1) != null) heard++;
        assertThat(heard).isBetween(1, 100);
        feed.leave(asleep);
        changed("client.changed", "after");
        feed.tell();
        assertThat(asleep.next(1)).isNull();
        assertThat(awake.next(1)).isNotNull();
    }

    @Test
    void thereIsRoomForSoManyAndNoMore() {
        for (int i = 0; i < 500; i++) assertThat(feed.join()).isPresent();
        assertThat(feed.join()).isEmpty();
    }
}
