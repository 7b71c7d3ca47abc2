package dev.admit.demo;

import com.sun.net.httpserver.HttpExchange;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.concurrent.ConcurrentHashMap;

/** Cargo lists per voyage, each owned by a firm; computed from the voyage's name, so that every voyage has one. */
final class ManifestsStandIn extends StandIn {
    private static final List<String> FIRMS = List.of("Gullwing Lines", "Saltmarsh Coastal", "Tern & Daughters");
    private static final List<String> GOODS =
            List.of("barley", "oak planks", "machine parts", "sea salt", "wool", "glass");

    private final Map<String, String> remarks = new ConcurrentHashMap<>();

    ManifestsStandIn() throws IOException {}

    @Override
    Reply reply(String method, String[] path, byte[] body, HttpExchange exchange) {
        if (!path[0].equals("manifests") || path.length != 2) return Reply.error(404, "no such thing here");
        if (!path[1].matches("[a-z0-9-]{1,40}")) return Reply.error(404, "no voyage of that name");
        if (method.equals("PATCH")) {
            if (!(object(body).get("remark") instanceof String remark))
                return Reply.error(422, "an amendment has a remark");
            remarks.put(path[1], remark);
        }
        return Reply.ok(manifest(path[1]));
    }

    private Map<String, Object> manifest(String voyage) {
        SplittableRandom random = new SplittableRandom(voyage.hashCode());
        String firm = FIRMS.get(random.nextInt(FIRMS.size()));
        List<Map<String, Object>> cargo = new ArrayList<>();
        for (int i = 0, n = random.nextInt(2, 5); i < n; i++) {
            cargo.add(inOrder("goods", GOODS.get(random.nextInt(GOODS.size())), "tonnes", random.nextInt(2, 90)));
        }
        return inOrder("voyage", voyage, "firm", firm, "cargo", cargo, "remark", remarks.getOrDefault(voyage, ""));
    }
}
