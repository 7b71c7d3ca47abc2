package dev.admit.core.crossing;

import static org.assertj.core.api.Assertions.assertThat;

import dev.admit.core.crossing.Crossing.Asking;
import dev.admit.core.crossing.Crossing.Passed;
import dev.admit.core.crossing.Crossing.Traffic;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;

class CrossingTest {
    private static Asking client(String name, String kind, Map<String, String> asks) {
        return new Asking("cl_" + name, name, kind, true, new TreeMap<>(asks));
    }

    @Test
    void fewClientsStandForThemselvesTheBusiestFirst() {
        List<Asking> clients = List.of(
                client("buoy", "service", Map.of("tides.read", "given")),
                client("crane", "service", Map.of("tides.read", "given")));
        Crossing crossing = Crossing.of(
                clients,
                List.of(
                        new Passed("cl_crane", "GET /tides/**", 7, 2),
                        new Passed("cl_buoy", "GET /tides/**", 1, 0),
                        new Passed("", "GET /tides/**", 0, 4)),
                "");
        assertThat(crossing.together()).isFalse();
        assertThat(crossing.callers()).extracting(it -> it.names().getFirst()).containsExactly("crane", "buoy");
        assertThat(crossing.traffic()).contains(new Traffic("cl_crane", "GET /tides/**", 7, 2));
        assertThat(crossing.unknown()).containsExactly(new Traffic("", "GET /tides/**", 0, 4));
    }

    @Test
    void manyThatMayDoTheSameStandTogetherAndTheirTrafficIsAdded() {
        List<Asking> clients = new ArrayList<>();
        List<Passed> passed = new ArrayList<>();
        for (int i = 0; i < 5_000; i++) {
            clients.add(client(
                    "buoy-%04d".formatted(i), "service", Map.of("tides.read", i % 50 == 0 ? "waiting" : "given")));
            passed.add(new Passed("cl_buoy-%04d".formatted(i), "GET /tides/**", 1, i % 2));
        }
        clients.add(new Asking("cl_off", "off", "service", false, new TreeMap<>(Map.of("tides.read", "given"))));
        Crossing crossing = Crossing.of(clients, passed, "");
        assertThat(crossing.together()).isTrue();
        assertThat(crossing.clients()).isEqualTo(5_001);
        assertThat(crossing.callers()).extracting(Crossing.Caller::members).containsExactly(4_900, 100, 1);
        assertThat(crossing.callers().getFirst().names()).hasSize(8).contains("buoy-0001");
        assertThat(crossing.traffic()).extracting(Traffic::admitted).containsExactlyInAnyOrder(4_900L, 100L);

        String waiting = crossing.callers().get(1).id();
        Crossing one = Crossing.of(clients, passed, waiting);
        assertThat(one.clients()).isEqualTo(100);
        assertThat(one.callers()).hasSize(Crossing.APART).allMatch(it -> it.members() == 1);
        assertThat(one.unknown()).as("strangers are no members").isEmpty();
    }

    @Test
    void nobodyAndNothingIsDrawnAsThat() {
        assertThat(Crossing.of(List.of(), List.of(), "").callers()).isEmpty();
        assertThat(Crossing.of(List.of(client("buoy", "service", Map.of())), List.of(), "no such caller")
                        .callers())
                .isEmpty();
    }
}
