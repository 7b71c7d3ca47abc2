package dev.admit.demo;

import com.sun.net.httpserver.HttpExchange;
import java.io.IOException;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentSkipListMap;
import java.util.concurrent.CopyOnWriteArrayList;

/** Berths, their bookings, and which ship lies where. */
final class BerthsStandIn extends StandIn {
    private record Berth(String name, String quay, int metres) {}

    private static final List<Berth> BERTHS = List.of(
            new Berth("n1", "North", 180),
            new Berth("n2", "North", 140),
            new Berth("s1", "South", 220),
            new Berth("s2", "South", 90),
            new Berth("f1", "Fish Quay", 40));

    private final Map<String, String> ships =
            new ConcurrentSkipListMap<>(Map.of("n1", "Grey Heron", "s1", "Marsh Lantern"));
    private final List<Map<String, Object>> bookings = new CopyOnWriteArrayList<>();

    BerthsStandIn() throws IOException {}

    @Override
    Reply reply(String method, String[] path, byte[] body, HttpExchange exchange) {
        if (path[0].equals("office")) return Reply.page(office(exchange));
        if (!path[0].equals("berths")) return Reply.error(404, "no such thing here");
        if (path.length == 1)
            return Reply.ok(Map.of("berths", BERTHS.stream().map(this::describe).toList()));
        Berth berth = BERTHS.stream()
                .filter(it -> it.name().equals(path[1]))
                .findFirst()
                .orElse(null);
        if (berth == null) return Reply.error(404, "no berth of that name");
        if (path.length == 2) return Reply.ok(describe(berth));
        Map<String, Object> sent = object(body);
        if (path[2].equals("bookings") && method.equals("POST")) return book(berth, sent);
        if (path[2].equals("ship") && method.equals("PUT")) return assign(berth, sent);
        return Reply.error(404, "no such thing here");
    }

    /** A page for people: the gateway signed them in, and says who they are. */
    private String office(HttpExchange exchange) {
        StringBuilder rows = new StringBuilder();
        for (Berth berth : BERTHS)
            rows.append("<tr><td>%s<td>%s<td>%s</tr>"
                    .formatted(berth.name(), berth.quay(), ships.getOrDefault(berth.name(), "free")));
        return """
                <!doctype html><html lang="en"><meta charset="utf-8"><title>Berth office</title>
                <style>body{font:16px/1.5 system-ui;max-width:42rem;margin:3rem auto;padding:0 \
                1rem;color:#1B2430;background:#F7F5F0}td,th{text-align:left;padding:.2rem 1rem .2rem 0}</style>
                <h1>Berth office</h1><p>Signed in: %s, by %s.</p><p><a href="/_admit/sign-out">Sign out</a></p>
                <table><tr><th>Berth<th>Quay<th>Ship</tr>%s</table></html>
                """.formatted(
                        exchange.getRequestHeaders().getFirst("Admit-Person"),
                        exchange.getRequestHeaders().getFirst("Admit-Caller"),
                        rows);
    }

    private Map<String, Object> describe(Berth berth) {
        return inOrder(
                "berth",
                berth.name(),
                "quay",
                berth.quay(),
                "metres",
                berth.metres(),
                "ship",
                ships.getOrDefault(berth.name(), ""),
                "bookings",
                bookings.stream()
                        .filter(it -> berth.name().equals(it.get("berth")))
                        .count());
    }

    private Reply book(Berth berth, Map<String, Object> sent) {
        if (!(sent.get("ship") instanceof String ship)) return Reply.error(422, "a booking names a ship");
        Map<String, Object> booking = inOrder("berth", berth.name(), "ship", ship, "number", bookings.size() + 1);
        bookings.add(booking);
        return new Reply(201, booking);
    }

    private Reply assign(Berth berth, Map<String, Object> sent) {
        if (!(sent.get("ship") instanceof String ship)) return Reply.error(422, "name the ship");
        ships.put(berth.name(), ship);
        return Reply.ok(describe(berth));
    }
}
