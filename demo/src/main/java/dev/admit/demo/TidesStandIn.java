package dev.admit.demo;

import com.sun.net.httpserver.HttpExchange;
import java.io.IOException;
import java.io.InputStream;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentLinkedDeque;
import tools.jackson.core.type.TypeReference;
import tools.jackson.dataformat.yaml.YAMLMapper;

/** Tide heights per gauge and hour, computed from two lunar and one solar constituent; takes readings. */
final class TidesStandIn extends StandIn {
    /** Amplitude in metres, period in hours, phase in hours. */
    private record Constituent(double metres, double hours, double phase) {}

    private record Gauge(String name, double mean, List<Constituent> constituents) {
        double heightAt(Instant time) {
            double hours = time.getEpochSecond() / 3600.0;
            return mean
                    + constituents.stream()
                            .mapToDouble(it -> it.metres() * Math.cos(2 * Math.PI * (hours - it.phase()) / it.hours()))
                            .sum();
        }
    }

    private static final List<Gauge> GAUGES = List.of(
            new Gauge(
                    "north-quay",
                    3.1,
                    List.of(
                            new Constituent(1.6, 12.4206, 2.1),
                            new Constituent(0.5, 12.0, 4.4),
                            new Constituent(0.2, 25.8193, 7.0))),
            new Gauge(
                    "south-quay",
                    3.0,
                    List.of(
                            new Constituent(1.5, 12.4206, 2.3),
                            new Constituent(0.5, 12.0, 4.6),
                            new Constituent(0.2, 25.8193, 7.4))),
            new Gauge(
                    "fish-quay",
                    2.7,
                    List.of(
                            new Constituent(1.3, 12.4206, 2.9),
                            new Constituent(0.4, 12.0, 5.1),
                            new Constituent(0.1, 25.8193, 8.0))));
    private static final int READINGS_KEPT = 1000;

    private final ConcurrentLinkedDeque<Map<String, Object>> readings = new ConcurrentLinkedDeque<>();

    TidesStandIn() throws IOException {}

    /** The document that this backend's makers wrote. */
    static Map<String, Object> described() {
        try (InputStream in = TidesStandIn.class.getResourceAsStream("/apis/tides.yaml")) {
            return new YAMLMapper().readValue(in, new TypeReference<Map<String, Object>>() {});
        } catch (IOException unreadable) {
            throw new IllegalStateException("the document of tides cannot be read", unreadable);
        }
    }

    @Override
    Map<String, Object> document() {
        return described();
    }

    @Override
    Reply reply(String method, String[] path, byte[] body, HttpExchange exchange) {
        if (!path[0].equals("tides")) return Reply.error(404, "no such thing here");
        if (path.length == 1)
            return Reply.ok(Map.of("gauges", GAUGES.stream().map(Gauge::name).toList()));
        if (path[1].equals("readings"))
            return method.equals("POST") ? take(object(body)) : Reply.ok(Map.of("readings", List.copyOf(readings)));
        return GAUGES.stream()
                .filter(gauge -> gauge.name().equals(path[1]))
                .findFirst()
                .map(gauge -> Reply.ok(heights(gauge)))
                .orElse(Reply.error(404, "no gauge of that name"));
    }

    private static Map<String, Object> heights(Gauge gauge) {
        Instant hour = Instant.now().truncatedTo(ChronoUnit.HOURS);
        List<Map<String, Object>> heights = new ArrayList<>();
        for (int i = 0; i < 6; i++) {
            Instant at = hour.plus(i, ChronoUnit.HOURS);
            heights.add(inOrder("at", at.toString(), "metres", Math.round(gauge.heightAt(at) * 100) / 100.0));
        }
        return inOrder("gauge", gauge.name(), "heights", heights);
    }

    private Reply take(Map<String, Object> reading) {
        boolean good = GAUGES.stream().anyMatch(gauge -> gauge.name().equals(reading.get("gauge")))
                && reading.get("metres") instanceof Number;
        if (!good) return Reply.error(422, "a reading has a gauge and a number of metres");
        Map<String, Object> kept = Map.of(
                "gauge",
                reading.get("gauge"),
                "metres",
                reading.get("metres"),
                "at",
                Instant.now().truncatedTo(ChronoUnit.SECONDS).toString());
        readings.addFirst(kept);
        while (readings.size() > READINGS_KEPT) readings.pollLast();
        return new Reply(201, kept);
    }
}
