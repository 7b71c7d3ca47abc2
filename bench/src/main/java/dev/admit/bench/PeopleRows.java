package dev.admit.bench;

import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.Statement;
import java.util.Arrays;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.IntFunction;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * What people make of it: codes and refresh tokens against bare commits of the database, and what a flood of sign-ins
 * leaves to the rest.
 */
final class PeopleRows {
    private static final int CALLERS = 32;
    /** Compilers need some ten thousand of these before they cost what they will cost. */
    private static final int WARMING = 14;

    private static final String FORM = "Content-Type: application/x-www-form-urlencoded\r\n";
    private final double seconds;
    private final int rounds;

    PeopleRows(double seconds, int rounds) {
        this.seconds = seconds;
        this.rounds = rounds;
    }

    /**
     * @param client the id of the client that acts for people
     * @param token a token request of a client on its own
     */
    void print(int port, int gatewayPort, OtherProcess process, String client, byte[] token, byte[] admitted)
            throws Exception {
        System.out.println("| figure | Admit, 1/s | floor, 1/s | ratio | Admit, CPU µs |");
        System.out.println("| --- | --- | --- | --- | --- |");
        AtomicInteger next = new AtomicInteger();
        durable(
                "refresh, durable, 32 callers, against one-row commits",
                port,
                process,
                n -> next.get() >= BenchPeople.EACH
                        ? null
                        : Load.request(
                                "POST",
                                "/harbour/token",
                                FORM,
                                "grant_type=refresh_token&client_id=%s&refresh_token=refresh-%d"
                                        .formatted(client, next.getAndIncrement())));
        AtomicInteger code = new AtomicInteger();
        durable(
                "code exchange with ID token, durable, 32 callers, against one-row commits",
                port,
                process,
                n -> code.get() >= BenchPeople.EACH
                        ? null
                        : Load.request(
                                "POST",
                                "/harbour/token",
                                FORM,
                                ("grant_type=authorization_code&client_id=%s&code=code-%d&"
                                                + "redirect_uri=http%%3A%%2F%%2F127.0.0.1%%2Fback&code_verifier=%s")
                                        .formatted(client, code.getAndIncrement(), BenchPeople.VERIFIER)));
        flood("gateway, admitted, during a flood of sign-ins, against quiet", gatewayPort, port, admitted);
        flood("token endpoint during a flood of sign-ins, against quiet", port, port, token);
    }

    private void durable(String figure, int port, OtherProcess process, IntFunction<byte[]> requests) throws Exception {
        for (int turn = 0; turn < WARMING; turn++) Load.run(port, CALLERS, seconds, 200, requests);
        double[] rate = new double[rounds];
        double[] floor = new double[rounds];
        double[] cpu = new double[rounds];
        for (int round = 0; round < rounds; round++) {
            floor[round] = commits();
            double before = process.cpuSeconds();
            Load.Result result = Load.run(port, CALLERS, seconds, 200, requests);
            rate[round] = result.perSecond();
            cpu[round] = (process.cpuSeconds() - before) * 1e6 / Math.max(1, result.requests());
        }
        System.out.printf(
                "| %s | %.0f | %.0f | %.1f | %.1f |%n",
                figure, median(rate), median(floor), median(rate) / median(floor), median(cpu));
    }

    /**
     * One row, one commit at synchronous=FULL, one after the other.
     *
     * @return a second
     */
    private double commits() throws Exception {
        Path file = Files.createTempFile("admit-bench", ".db");
        try (Connection connection = DriverManager.getConnection("jdbc:sqlite:" + file);
                Statement setting = connection.createStatement()) {
            setting.execute("PRAGMA journal_mode = WAL");
            setting.execute("PRAGMA synchronous = FULL");
            setting.execute("CREATE TABLE one (a INTEGER PRIMARY KEY, b TEXT)");
            long end = System.nanoTime() + (long) (seconds * 1e9);
            int done = 0;
            try (PreparedStatement insert = connection.prepareStatement("INSERT INTO one (b) VALUES ('x')")) {
                for (; System.nanoTime() < end; done++) insert.executeUpdate();
            }
            return done / seconds;
        } finally {
            for (String more : new String[] {"", "-wal", "-shm"}) Files.deleteIfExists(Path.of(file + more));
        }
    }

    private void flood(String figure, int port, int server, byte[] request) throws Exception {
        byte[] signIn = signIn(server);
        Load.run(port, 8, seconds, 200, n -> request);
        double[] quiet = new double[rounds];
        double[] flooded = new double[rounds];
        for (int round = 0; round < rounds; round++) {
            quiet[round] = Load.run(port, 8, seconds, 200, n -> request).perSecond();
            AtomicBoolean over = new AtomicBoolean();
            Thread flood = Thread.ofPlatform().start(() -> {
                try {
                    Load.run(server, 16, seconds + 1, 303, n -> over.get() ? null : signIn);
                } catch (IllegalStateException refused) {
                    // too many at once are turned away; that is what it is for
                } catch (InterruptedException stopping) {
                    Thread.currentThread().interrupt();
                }
            });
            Thread.sleep(300);
            flooded[round] = Load.run(port, 8, seconds, 200, n -> request).perSecond();
            over.set(true);
            flood.join();
        }
        System.out.printf(
                "| %s | %.0f | %.0f | %.2f | |%n",
                figure, median(flooded), median(quiet), median(flooded) / median(quiet));
    }

    /** The right password, sent again and again: each is hashed. */
    private static byte[] signIn(int port) throws Exception {
        HttpResponse<String> page = HttpClient.newHttpClient()
                .send(
                        HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + port + "/harbour/sign-in"))
                                .build(),
                        HttpResponse.BodyHandlers.ofString());
        String cookie = page.headers().firstValue("Set-Cookie").orElseThrow().split(";")[0];
        Matcher form = Pattern.compile("name=\"form\" value=\"([0-9a-f]+)\"").matcher(page.body());
        if (!form.find()) throw new IllegalStateException("no form on the page");
        return Load.request(
                "POST",
                "/harbour/sign-in",
                FORM + "Cookie: " + cookie + "\r\n",
                "form=" + form.group(1) + "&email=bench%40saltmarsh.example&password=four+plain+words+here");
    }

    private static double median(double[] values) {
        double[] sorted = values.clone();
        Arrays.sort(sorted);
        return sorted[(sorted.length - 1) / 2];
    }
}
