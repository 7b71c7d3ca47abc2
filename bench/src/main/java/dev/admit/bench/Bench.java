package dev.admit.bench;

import java.io.IOException;
import java.net.ServerSocket;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Base64;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.ThreadLocalRandom;
import java.util.function.IntFunction;

/**
 * Measures Admit against floors that do the same work without the part that is judged, in one run, in turns, over
 * several rounds; prints medians. Absolute times on a shared machine swing; the ratios hold.
 */
public final class Bench {
    private static final int CONNECTIONS = 8;
    private static final int WARMING = 7;
    /** Turns without a cheaper one after which a side counts as warm. */
    private static final int SETTLED = 6;

    private static final int LONGEST_WARMING = 60;
    private final double seconds;
    private final int rounds;

    private Bench(double seconds, int rounds) {
        this.seconds = seconds;
        this.rounds = rounds;
    }

    /** {@code [SECONDS-A-TURN [ROUNDS [gateway|token|people|scale|clients|console|catalogue]]]} */
    public static void main(String[] args) throws Exception {
        new Bench(args.length > 0 ? Double.parseDouble(args[0]) : 3, args.length > 1 ? Integer.parseInt(args[1]) : 7)
                .run(args.length > 2 ? args[2] : "");
    }

    /**
     * One side of a comparison.
     *
     * @param port where the load goes
     * @param process whose CPU counts
     */
    private record Side(int port, OtherProcess process, int status, IntFunction<byte[]> requests) {}

    private record Turn(double perSecond, double cpuMicros) {}

    private void run(String only) throws Exception {
        System.out.printf(
                "%d connections, %.0f s a turn, %d rounds in turns, medians.%n%n", CONNECTIONS, seconds, rounds);
        System.out.println(
                "| figure | Admit, 1/s | floor, 1/s | ratio | Admit, CPU µs | floor, CPU µs | more CPU µs |");
        System.out.println("| --- | --- | --- | --- | --- | --- | --- |");
        try (OtherProcess upstream = OtherProcess.start(Floor.class, List.of(), "upstream")) {
            int upstreamPort = Integer.parseInt(upstream.line());
            try (OtherProcess floor = OtherProcess.start(Floor.class, List.of(), "floor", upstreamPort);
                    Service admit = Service.start(upstreamPort, 1, 100)) {
                int floorPort = Integer.parseInt(floor.line());
                if (only.isEmpty() || only.equals("gateway")) gatewayRows(admit, floor, floorPort);
                if (only.isEmpty() || only.equals("token")) tokenRow(admit);
                if (only.isEmpty() || only.equals("people")) {
                    System.out.println();
                    new PeopleRows(seconds, rounds)
                            .print(
                                    admit.port(),
                                    admit.gatewayPort(),
                                    admit.process(),
                                    admit.tablet(),
                                    tokenRequest(),
                                    Load.request(
                                            "GET",
                                            "/tides/north-quay",
                                            "Authorization: Bearer " + admit.token(0) + "\r\n",
                                            ""));
                }
                System.out.printf(
                        "%nResident after load, -Xmx256m: %d MiB%n%n",
                        admit.process().residentMiB());
                if (only.isEmpty() || only.equals("console")) consoleRow(admit, upstreamPort);
                if (only.isEmpty() || only.equals("catalogue")) catalogueRows(upstreamPort);
                if (only.isEmpty() || only.equals("scale") || only.equals("clients"))
                    scaleRows(admit, upstreamPort, only.equals("clients"));
            }
        }
    }

    private void gatewayRows(Service admit, OtherProcess floor, int floorPort) throws Exception {
        byte[] authorized =
                Load.request("GET", "/tides/north-quay", "Authorization: Bearer " + admit.token(0) + "\r\n", "");
        byte[] bare = Load.request("GET", "/tides/north-quay", "", "");
        byte[] constant = Load.request("GET", "/constant", "", "");
        Side unchecked = new Side(floorPort, floor, 200, n -> authorized);
        row(
                "gateway, admitted, token seen before",
                new Side(admit.gatewayPort(), admit.process(), 200, n -> authorized),
                unchecked);
        byte[] each = Load.request("GET", "/each/north-quay", "Authorization: Bearer " + admit.token(0) + "\r\n", "");
        row(
                "gateway, a gateway proof bound to each request, against one that is used again",
                new Side(admit.gatewayPort(), admit.process(), 200, n -> each),
                new Side(admit.gatewayPort(), admit.process(), 200, n -> authorized));
        for (String plan : List.of("covered", "limited")) {
            byte[] subscribed = Load.request(
                    "GET", "/" + plan + "/north-quay", "Authorization: Bearer " + admit.token(0) + "\r\n", "");
            row(
                    "gateway, a route that wants a subscription, its plan %s, against one that wants none"
                            .formatted(plan.equals("covered") ? "without limits" : "with a rate and a quota"),
                    new Side(admit.gatewayPort(), admit.process(), 200, n -> subscribed),
                    new Side(admit.gatewayPort(), admit.process(), 200, n -> authorized));
        }
        row(
                "gateway, refusal without a token",
                new Side(admit.gatewayPort(), admit.process(), 401, n -> bare),
                new Side(floorPort, floor, 401, n -> constant));
        firstSight(admit);
    }

    /**
     * Each token is sent once; what that costs more than one token sent as often, right before, is held against one raw
     * verification.
     */
    private void firstSight(Service admit) throws Exception {
        List<Double> more = new ArrayList<>();
        List<Double> raw = new ArrayList<>();
        for (int round = -WARMING; round < rounds; round++) {
            byte[][] once = new byte[5000][];
            for (int i = 0; i < once.length; i++)
                once[i] = Load.request("GET", "/tides/x", "Authorization: Bearer " + admit.token(i % 100) + "\r\n", "");
            byte[] seen = once[0];
            double before = burst(admit, n -> n < once.length ? seen : null);
            double first = burst(admit, n -> n < once.length ? once[n] : null);
            if (round < 0) continue; // the path that only a new token takes has to be warm too
            more.add(first - before);
            raw.add(Double.parseDouble(get("http://127.0.0.1:" + admit.port() + "/bench-floor/verify?times=2000")));
        }
        System.out.printf(
                "| gateway, first sight of an ES256 token, over a token seen before | | | %.2f | %.1f | %.1f | |%n",
                median(more) / median(raw), median(more), median(raw));
    }

    /** @return CPU microseconds a request */
    private static double burst(Service admit, IntFunction<byte[]> requests) throws Exception {
        double cpu = admit.process().cpuSeconds();
        Load.Result result = Load.run(admit.gatewayPort(), CONNECTIONS, 60, 200, requests);
        return (admit.process().cpuSeconds() - cpu) * 1e6 / result.requests();
    }

    private static byte[] tokenRequest() {
        return Load.request(
                "POST",
                "/harbour/token",
                "Content-Type: application/x-www-form-urlencoded\r\n",
                "grant_type=client_credentials&client_id=cl_bench_0&client_secret=secret-0");
    }

    private void tokenRow(Service admit) throws Exception {
        String form = "Content-Type: application/x-www-form-urlencoded\r\n";
        byte[] request = tokenRequest();
        byte[] floor = Load.request(
                "POST",
                "/bench-floor/minted",
                form,
                "grant_type=client_credentials&client_id=cl_bench_0&client_secret=secret-0");
        row(
                "token endpoint, client credentials, ES256",
                new Side(admit.port(), admit.process(), 200, n -> request),
                new Side(admit.port(), admit.process(), 200, n -> floor));
    }

    /** What the console's first page requests, with as many clients as it has to stay readable with. */
    private void consoleRow(Service small, int upstreamPort) throws Exception {
        System.out.println("| figure | many, 1/s | few, 1/s | ratio | many, CPU µs | few, CPU µs | more CPU µs |");
        System.out.println("| --- | --- | --- | --- | --- | --- | --- |");
        try (Service many = Service.start(upstreamPort, 1, 5_000)) {
            byte[] ofMany = accessMap(many);
            byte[] ofFew = accessMap(small);
            row(
                    "the access map of 5,000 clients against that of 100",
                    new Side(many.port(), many.process(), 200, n -> ofMany),
                    new Side(small.port(), small.process(), 200, n -> ofFew));
        }
    }

    /** Pages of a catalogue with 500 APIs of 40 operations each, against the same pages of one with 5. */
    private void catalogueRows(int upstreamPort) throws Exception {
        System.out.println("| figure | many, 1/s | few, 1/s | ratio | many, CPU µs | few, CPU µs | more CPU µs |");
        System.out.println("| --- | --- | --- | --- | --- | --- | --- |");
        try (Service many = Service.start(upstreamPort, 1, 100, "-Xmx512m", 500);
                Service few = Service.start(upstreamPort, 1, 100, "-Xmx512m", 5)) {
            for (String page : List.of("front", "search", "API", "operation"))
                row(
                        "catalogue, %s, 500 APIs with 20,000 operations against 5 with 200".formatted(page),
                        new Side(many.port(), many.process(), 200, n -> catalogue(page, 500)),
                        new Side(few.port(), few.process(), 200, n -> catalogue(page, 5)));
            System.out.printf(
                    "%nResident after the catalogue's rows, -Xmx512m: %d MiB with 500 APIs, %d MiB with 5%n%n",
                    many.process().residentMiB(), few.process().residentMiB());
        }
    }

    /** A page of any API, each as likely. */
    private static byte[] catalogue(String page, int apis) {
        int api = ThreadLocalRandom.current().nextInt(apis);
        return Load.request(
                "GET",
                "/harbour/catalogue"
                        + switch (page) {
                            case "front" -> "";
                            case "search" -> "?search=harbour+" + api + "+of";
                            case "API" -> "/c" + api;
                            default ->
                                "/c%d/operation?of=GET%%20/c%d/things%d/%%7Bid%%7D".formatted(api, api, api % 40);
                        },
                "",
                "");
    }

    private static byte[] accessMap(Service service) throws Exception {
        return Load.request(
                "GET",
                "/admin/issuers/harbour/access-map",
                "Authorization: Bearer " + service.operatorToken() + "\r\n",
                "");
    }

    /** The same request with many routes and many clients beside it, against few. */
    private void scaleRows(Service small, int upstreamPort, boolean clientsAlone) throws Exception {
        System.out.println("| figure | many, 1/s | few, 1/s | ratio | many, CPU µs | few, CPU µs | more CPU µs |");
        System.out.println("| --- | --- | --- | --- | --- | --- | --- |");
        byte[] few = Load.request("GET", "/tides/x", "Authorization: Bearer " + small.token(0) + "\r\n", "");
        if (!clientsAlone)
            try (Service routes = Service.start(upstreamPort, 10_000, 100)) {
                byte[] many = Load.request("GET", "/tides/x", "Authorization: Bearer " + routes.token(0) + "\r\n", "");
                row(
                        "gateway, 10,000 routes against 1",
                        new Side(routes.gatewayPort(), routes.process(), 200, n -> many),
                        new Side(small.gatewayPort(), small.process(), 200, n -> few));
            }
        // As the launcher starts it: how many clients are remembered goes by the heap.
        try (Service clients = Service.start(upstreamPort, 1, 100_000, "-Xmx512m", 0)) {
            row(
                    "token endpoint, 100,000 clients against 100, each as likely",
                    new Side(clients.port(), clients.process(), 200, n -> anyClient(100_000)),
                    new Side(small.port(), small.process(), 200, n -> anyClient(100)));
        }
    }

    private static byte[] anyClient(int of) {
        int n = ThreadLocalRandom.current().nextInt(of);
        return Load.request(
                "POST",
                "/harbour/token",
                "Content-Type: application/x-www-form-urlencoded\r\n",
                "grant_type=client_credentials&client_id=cl_bench_%d&client_secret=secret-%d".formatted(n, n));
    }

    /** Measures two sides in turns and prints their medians. */
    private void row(String figure, Side ours, Side floor) throws Exception {
        warm(ours, floor);
        List<Double> rate = new ArrayList<>();
        List<Double> floorRate = new ArrayList<>();
        List<Double> ratio = new ArrayList<>();
        List<Double> cpu = new ArrayList<>();
        List<Double> floorCpu = new ArrayList<>();
        for (int round = 0; round < rounds; round++) {
            boolean oursFirst = round % 2 == 0; // so that neither side always runs on a machine the other has warmed
            Turn first = turn(oursFirst ? ours : floor);
            Turn second = turn(oursFirst ? floor : ours);
            Turn mine = oursFirst ? first : second;
            Turn its = oursFirst ? second : first;
            rate.add(mine.perSecond());
            floorRate.add(its.perSecond());
            ratio.add(mine.perSecond() / its.perSecond());
            cpu.add(mine.cpuMicros());
            floorCpu.add(its.cpuMicros());
        }
        System.out.printf(
                "| %s | %.0f | %.0f | %.2f | %.1f | %.1f | %.1f |%n",
                figure,
                median(rate),
                median(floorRate),
                median(ratio),
                median(cpu),
                median(floorCpu),
                median(cpu) - median(floorCpu));
    }

    /**
     * Compilers need their time, and it is nobody's figure: on a slow machine a minute goes by until a request costs
     * what it will cost.
     */
    private void warm(Side ours, Side floor) throws Exception {
        double best = Double.MAX_VALUE;
        double bestOfFloor = Double.MAX_VALUE;
        int idle = 0;
        for (int turns = 0; turns < WARMING || (idle < SETTLED && turns < LONGEST_WARMING); turns++) {
            double cpu = turn(ours).cpuMicros();
            double floorCpu = turn(floor).cpuMicros();
            idle = cpu < best * 0.97 || floorCpu < bestOfFloor * 0.97 ? 0 : idle + 1;
            best = Math.min(best, cpu);
            bestOfFloor = Math.min(bestOfFloor, floorCpu);
        }
    }

    private Turn turn(Side side) throws Exception {
        double before = side.process().cpuSeconds();
        Load.Result result = Load.run(side.port(), CONNECTIONS, seconds, side.status(), side.requests());
        return new Turn(result.perSecond(), (side.process().cpuSeconds() - before) * 1e6 / result.requests());
    }

    private static double median(List<Double> values) {
        double[] sorted =
                values.stream().mapToDouble(Double::doubleValue).sorted().toArray();
        return Arrays.stream(sorted)
                .skip((sorted.length - 1) / 2)
                .limit(2 - sorted.length % 2)
                .average()
                .orElse(Double.NaN);
    }

    private static String get(String url) throws IOException, InterruptedException {
        return HttpClient.newHttpClient()
                .send(HttpRequest.newBuilder(URI.create(url)).build(), HttpResponse.BodyHandlers.ofString())
                .body();
    }

    /** Admit in a process of its own. */
    private record Service(OtherProcess process, int port, int gatewayPort, String tablet, String operator)
            implements AutoCloseable {
        private static final HttpClient CLIENT = HttpClient.newHttpClient();

        static Service start(int upstreamPort, int routes, int clients) throws IOException {
            return start(upstreamPort, routes, clients, "-Xmx256m", 0);
        }

        /** @param apis that stand in the catalogue, each with 40 operations */
        static Service start(int upstreamPort, int routes, int clients, String heap, int apis) throws IOException {
            int port = freePort();
            int gatewayPort = freePort();
            OtherProcess process = OtherProcess.start(
                    Subject.class, List.of(heap), port, gatewayPort, upstreamPort, routes, clients, apis);
            String tablet = process.line();
            String operator = process.line();
            if (!process.line().equals("ready")) throw new IOException("the service did not start");
            return new Service(process, port, gatewayPort, tablet, operator);
        }

        /** A fresh token of one of the clients. */
        String token(int client) throws IOException, InterruptedException {
            return fetch(
                    "/harbour/token",
                    "grant_type=client_credentials&client_id=cl_bench_%d&client_secret=secret-%d"
                            .formatted(client, client),
                    Optional.empty());
        }

        String operatorToken() throws IOException, InterruptedException {
            return fetch(
                    "/admit/token",
                    "grant_type=client_credentials",
                    Optional.of("Basic "
                            + Base64.getEncoder()
                                    .encodeToString(operator.replace(' ', ':').getBytes(StandardCharsets.US_ASCII))));
        }

        private String fetch(String path, String form, Optional<String> authorization)
                throws IOException, InterruptedException {
            HttpRequest.Builder request = HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + port + path))
                    .header("Content-Type", "application/x-www-form-urlencoded")
                    .POST(HttpRequest.BodyPublishers.ofString(form));
            authorization.ifPresent(it -> request.header("Authorization", it));
            String body = CLIENT.send(request.build(), HttpResponse.BodyHandlers.ofString())
                    .body();
            int from = body.indexOf("\"access_token\":\"") + 16;
            return body.substring(from, body.indexOf('"', from));
        }

        @Override
        public void close() {
            process.close();
        }

        private static int freePort() throws IOException {
            try (ServerSocket socket = new ServerSocket(0)) {
                return socket.getLocalPort();
            }
        }
    }
}
