package dev.admit.core.decision;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.mockito.ArgumentMatchers.anyList;
import static org.mockito.Mockito.doNothing;
import static org.mockito.Mockito.doThrow;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.times;
import static org.mockito.Mockito.verify;

import java.time.Instant;
import org.junit.jupiter.api.Test;

class KeepingRuleTest {
    private static final Instant NOW = Instant.parse("2026-06-01T12:00:00Z");

    private static Recorder refused(String from, Instant at) {
        Recorder decision = new Recorder(Endpoint.GATEWAY, at).request("GET", "/x", from);
        decision.add(CheckResult.refused("route", Reason.NO_ROUTE, "a", "b", Fix.of("c")));
        return decision;
    }

    @Test
    void aFloodFromOneAddressIsCountedAndOthersAreKept() {
        KeepingRule rule = new KeepingRule(10, 3);
        int kept = 0;
        for (int i = 0; i < 100; i++) if (rule.keeps(refused("10.0.0.1", NOW))) kept++;
        assertThat(kept).isEqualTo(3);
        assertThat(rule.passedOver()).isEqualTo(97);
        assertThat(rule.keeps(refused("10.0.0.2", NOW))).isTrue();
        assertThat(rule.keeps(refused("10.0.0.1", NOW.plusSeconds(60))))
                .as("a minute later")
                .isTrue();
    }

    @Test
    void admittedRequestsAreKeptUpToACapPerSecond() {
        KeepingRule rule = new KeepingRule(10, 3);
        int kept = 0;
        for (int i = 0; i < 100; i++) if (rule.keeps(new Recorder(Endpoint.GATEWAY, NOW))) kept++;
        assertThat(kept).isEqualTo(10);
        assertThat(rule.keeps(new Recorder(Endpoint.GATEWAY, NOW.plusSeconds(1))))
                .isTrue();
    }

    @Test
    void whatAFailingStoreDidNotTakeIsKeptForTheNextFlush() {
        Decisions decisions = mock(Decisions.class);
        doThrow(new IllegalStateException("disk full")).when(decisions).keep(anyList());
        BatchedJournal journal = new BatchedJournal(decisions, new KeepingRule(10, 10));
        journal.write(new Recorder(Endpoint.GATEWAY, NOW), 200);
        assertThatThrownBy(journal::flush).hasMessage("disk full");
        doNothing().when(decisions).keep(anyList());
        journal.flush();
        journal.flush();
        verify(decisions, times(2)).keep(anyList());
    }
}
