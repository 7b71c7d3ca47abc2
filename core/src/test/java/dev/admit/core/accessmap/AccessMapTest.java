package dev.admit.core.accessmap;

import static org.assertj.core.api.Assertions.assertThat;

import dev.admit.core.accessmap.AccessMap.CallerRow;
import dev.admit.core.accessmap.AccessMap.Passed;
import dev.admit.core.accessmap.AccessMap.Traffic;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;

class AccessMapTest {
    private static CallerRow client(String name, String kind, Map<String, String> asks) {
        return new CallerRow("cl_" + name, name, kind, true, new TreeMap<>(asks));
    }

    @Test
    void fewClientsStandForThemselvesTheBusiestFirst() {
        List<CallerRow> clients = List.of(
                client("buoy", "machine", Map.of("tides.read", "granted")),
                client("crane", "machine", Map.of("tides.read", "granted")));
        AccessMap accessMap = AccessMap.of(
                clients,
                List.of(
                        new Passed("cl_crane", "GET /tides/**", 7, 2),
                        new Passed("cl_buoy", "GET /tides/**", 1, 0),
                        new Passed("", "GET /tides/**", 0, 4)),
                "");
        assertThat(accessMap.together()).isFalse();
        assertThat(accessMap.callers()).extracting(it -> it.names().getFirst()).containsExactly("crane", "buoy");
        assertThat(accessMap.traffic()).contains(new Traffic("cl_crane", "GET /tides/**", 7, 2));
        assertThat(accessMap.unknown()).containsExactly(new Traffic("", "GET /tides/**", 0, 4));
    }

    @Test
    void manyThatMayDoTheSameStandTogetherAndTheirTrafficIsAdded() {
        List<CallerRow> clients = new ArrayList<>();
        List<Passed> passed = new ArrayList<>();
        for (int i = 0; i < 5_000; i++) {
            clients.add(client(
                    "buoy-%04d".formatted(i), "machine", Map.of("tides.read", i % 50 == 0 ? "waiting" : "granted")));
            passed.add(new Passed("cl_buoy-%04d".formatted(i), "GET /tides/**", 1, i % 2));
        }
        clients.add(new CallerRow("cl_off", "off", "machine", false, new TreeMap<>(Map.of("tides.read", "granted"))));
        AccessMap accessMap = AccessMap.of(clients, passed, "");
        assertThat(accessMap.together()).isTrue();
        assertThat(accessMap.clients()).isEqualTo(5_001);
        assertThat(accessMap.callers()).extracting(AccessMap.Caller::members).containsExactly(4_900, 100, 1);
        assertThat(accessMap.callers().getFirst().names()).hasSize(8).contains("buoy-0001");
        assertThat(accessMap.traffic()).extracting(Traffic::admitted).containsExactlyInAnyOrder(4_900L, 100L);

        String waiting = accessMap.callers().get(1).id();
        AccessMap one = AccessMap.of(clients, passed, waiting);
        assertThat(one.clients()).isEqualTo(100);
        assertThat(one.callers()).hasSize(AccessMap.APART).allMatch(it -> it.members() == 1);
        assertThat(one.unknown()).as("strangers are no members").isEmpty();
    }

    @Test
    void nobodyAndNothingIsDrawnAsThat() {
        assertThat(AccessMap.of(List.of(), List.of(), "").callers()).isEmpty();
        assertThat(AccessMap.of(List.of(client("buoy", "machine", Map.of())), List.of(), "no such caller")
                        .callers())
                .isEmpty();
    }
}
