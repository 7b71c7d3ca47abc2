package dev.admit.demo;

import dev.admit.core.change.Ids;
import dev.admit.core.change.Page;
import dev.admit.core.decision.BatchedJournal;
import dev.admit.core.decision.Decision;
import dev.admit.core.decision.Decisions;
import dev.admit.core.decision.Endpoint;
import dev.admit.core.decision.Verdict;
import dev.admit.server.AuthorizationServer;
import java.io.IOException;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Something for lists and charts to show: a minute's worth of requests is really sent through the gateway, by clients
 * of the harbour and by some who got it wrong; and what came of them stands in for the days before, marked as sample
 * data.
 */
final class History {
    private static final String MARK = "sample data of the demo";
    private static final Pattern TOKEN = Pattern.compile("\"access_token\"\\s*:\\s*\"([^\"]+)\"");
    private static final int DAYS = 7;
    private static final int BUSIEST_HOUR = 24;

    private final HttpClient http =
            HttpClient.newBuilder().connectTimeout(Duration.ofSeconds(5)).build();
    private final AuthorizationServer server;
    private final ReadyFile ready;
    private final Random random = new Random(7);

    History(AuthorizationServer server, ReadyFile ready) {
        this.server = server;
        this.ready = ready;
    }

    /** Fails quietly: the demo is none the worse without. */
    void make() {
        try {
            send();
            standIn();
        } catch (IOException | RuntimeException unable) {
            System.err.println("The demo's history could not be made: " + unable.getMessage());
        } catch (InterruptedException stopped) {
            Thread.currentThread().interrupt();
        }
    }

    private void send() throws IOException, InterruptedException {
        Optional<String> reading = token("tide-buoy-07", "tides.read");
        Optional<String> publishing = token("tide-buoy-07", "tides.publish");
        token("night-audit", "manifests.inspect");
        for (String gauge : List.of("north-quay", "south-quay", "fish-quay", "north-quay"))
            call("GET", "/tides/" + gauge, reading);
        for (int i = 0; i < 2; i++) call("POST", "/tides/readings", publishing);
        call("GET", "/status", Optional.empty());
        call("GET", "/tides/north-quay", Optional.empty());
        call("POST", "/tides/readings", reading);
        call("GET", "/berths/n1", reading);
        call("GET", "/tides/north-quay", reading.map(it -> it.substring(0, it.length() - 8) + "AAAAAAAA"));
        call("GET", "/quays", reading);
    }

    private Optional<String> token(String client, String scope) throws IOException, InterruptedException {
        ReadyFile.OneClient it = ready.clients().get(client);
        if (it == null || it.clientSecret() == null) return Optional.empty();
        String pair = URLEncoder.encode(it.clientId(), StandardCharsets.UTF_8) + ":"
                + URLEncoder.encode(it.clientSecret(), StandardCharsets.UTF_8);
        HttpResponse<String> answer = http.send(
                HttpRequest.newBuilder(URI.create(ready.issuers().get(Harbour.ISSUER) + "/token"))
                        .timeout(Duration.ofSeconds(20))
                        .header(
                                "Authorization",
                                "Basic " + Base64.getEncoder().encodeToString(pair.getBytes(StandardCharsets.UTF_8)))
                        .header("Content-Type", "application/x-www-form-urlencoded")
                        .POST(HttpRequest.BodyPublishers.ofString("grant_type=client_credentials&scope=" + scope))
                        .build(),
                HttpResponse.BodyHandlers.ofString());
        Matcher found = TOKEN.matcher(answer.body());
        return found.find() ? Optional.of(found.group(1)) : Optional.empty();
    }

    private void call(String method, String path, Optional<String> token) throws IOException, InterruptedException {
        HttpRequest.Builder request = HttpRequest.newBuilder(URI.create(ready.gateway() + path))
                .timeout(Duration.ofSeconds(20))
                .method(
                        method,
                        method.equals("POST")
                                ? HttpRequest.BodyPublishers.ofString("{\"gauge\":\"north-quay\",\"metres\":2.1}")
                                : HttpRequest.BodyPublishers.noBody());
        if (method.equals("POST")) request.header("Content-Type", "application/json");
        token.ifPresent(it -> request.header("Authorization", "Bearer " + it));
        http.send(request.build(), HttpResponse.BodyHandlers.discarding());
    }

    /** The days before, hour by hour: much by day, little at night, more admitted than refused. */
    private void standIn() {
        server.part(BatchedJournal.class).flush();
        Decisions decisions = server.part(Decisions.class);
        List<Decision> sent =
                decisions.list(Decisions.Filter.ALL, new Page.Ask(Optional.empty(), Page.Ask.MOST)).items().stream()
                        .filter(it -> it.endpoint() == Endpoint.GATEWAY || it.endpoint() == Endpoint.TOKEN)
                        .toList();
        List<Decision> admitted =
                sent.stream().filter(it -> it.verdict() == Verdict.ADMITTED).toList();
        List<Decision> refused =
                sent.stream().filter(it -> it.verdict() == Verdict.REFUSED).toList();
        if (admitted.isEmpty() || refused.isEmpty()) return;
        List<Decision> past = new ArrayList<>();
        Instant now = Instant.now();
        for (Instant hour = now.minus(DAYS, ChronoUnit.DAYS).truncatedTo(ChronoUnit.HOURS);
                hour.plus(1, ChronoUnit.HOURS).isBefore(now);
                hour = hour.plus(1, ChronoUnit.HOURS)) {
            double day = Math.sin(Math.PI * hour.atZone(ZoneOffset.UTC).getHour() / 23.0);
            int many = 2 + (int) (day * BUSIEST_HOUR * (0.6 + 0.4 * random.nextDouble()));
            for (int i = 0; i < many; i++) {
                List<Decision> among = random.nextInt(9) == 0 ? refused : admitted;
                past.add(at(hour.plusMillis(random.nextInt(3_600_000)), among.get(random.nextInt(among.size()))));
            }
        }
        decisions.keep(past);
    }

    private static Decision at(Instant time, Decision it) {
        List<String> done = new ArrayList<>(it.done());
        done.add(MARK);
        return new Decision(
                Ids.timeOrdered("dec_", time.toEpochMilli()),
                time,
                it.endpoint(),
                it.about(),
                it.checks(),
                it.verdict(),
                it.refusal(),
                it.answered(),
                done,
                it.micros(),
                it.took());
    }
}
