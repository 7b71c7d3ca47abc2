package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Queue;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicLong;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.JsonNode;

/**
 * Full load while routes change twice a second and clients are withdrawn one after the other: no request is answered by
 * half a change, none passes after its withdrawal was acknowledged. {@code -Dadmit.load.seconds=60} makes it the minute
 * of docs/performance.md.
 */
class ChangingUnderLoadTest {
    private static final int SECONDS = Integer.getInteger("admit.load.seconds", 6);
    private static final int CALLERS = 12;

    @TempDir
    Path folder;

    @Test
    void nobodySeesHalfAChangeNorPassesAfterTheirWithdrawal() throws Exception {
        try (Running demo = Running.demo(folder)) {
            Operator operator = Operator.of(demo);
            List<JsonNode> clients = new ArrayList<>();
            List<String> tokens = new ArrayList<>();
            for (int i = 0; i < Math.max(4, SECONDS); i++) {
                clients.add(operator.approvedClient("gull-" + i, "tides.read"));
                tokens.add(Wire.form(
                                demo.ready().path("issuers").path("harbour").asString() + "/token",
                                Wire.basic(clients.get(i)),
                                "grant_type=client_credentials")
                        .json()
                        .path("access_token")
                        .asString());
            }
            String id = operator.harbour("POST", "/routes", route(0))
                    .json()
                    .path("now")
                    .path("id")
                    .asString();
            AtomicBoolean going = new AtomicBoolean(true);
            AtomicLong answered = new AtomicLong();
            AtomicLong refused = new AtomicLong();
            boolean[] withdrawn = new boolean[clients.size()];
            Queue<String> wrong = new ConcurrentLinkedQueue<>();
            ExecutorService pool = Executors.newVirtualThreadPerTaskExecutor();
            List<Future<?>> callers = new ArrayList<>();
            for (int c = 0; c < CALLERS; c++) {
                int first = c;
                callers.add(pool.submit(() -> {
                    for (int n = first; going.get(); n++) {
                        int who = n % tokens.size();
                        boolean over = withdrawn[who]; // acknowledged before this call began
                        Wire.Answer answer = Wire.call("GET", demo.gateway() + "/changing", tokens.get(who));
                        answered.incrementAndGet();
                        if (answer.status() == 401) refused.incrementAndGet();
                        if (answer.status() != 200 && answer.status() != 401)
                            wrong.add(answer.status() + " " + answer.body());
                        if (answer.status() == 200 && over) wrong.add("admitted after the withdrawal of gull-" + who);
                        if (answer.status() == 401
                                && !answer.json().path("reason").asString().equals("revoked")) wrong.add(answer.body());
                        if (answer.status() == 200 && !answer.header("X-State").equals(answer.body()))
                            wrong.add("half a change: " + answer.header("X-State") + " and " + answer.body());
                    }
                    return null;
                }));
            }
            long begin = System.nanoTime();
            long early = 0;
            int states = 0;
            int next = 0;
            while (System.nanoTime() - begin < SECONDS * 1_000_000_000L) {
                Wire.Answer changed = operator.send("PUT", "/issuers/harbour/routes/" + id, "*", route(++states));
                assertThat(changed.status()).as(changed.body()).isEqualTo(200);
                assertThat(latest(Wire.call("GET", demo.gateway() + "/changing", tokens.getLast())))
                        .as("what a change says is live when it returns")
                        .isEqualTo("s" + states);
                if (states % 2 == 0 && next < clients.size() - 1) {
                    assertThat(operator.harbour(
                                            "POST",
                                            "/approvals/"
                                                    + clients.get(next)
                                                            .path("approval")
                                                            .asString() + "/withdraw",
                                            "{}")
                                    .status())
                            .isEqualTo(200);
                    withdrawn[next++] = true;
                }
                if (early == 0 && System.nanoTime() - begin > SECONDS * 400_000_000L) early = resident(demo);
                Thread.sleep(450);
            }
            going.set(false);
            for (Future<?> caller : callers) caller.get();
            pool.close();
            long late = resident(demo);
            System.out.printf(
                    "%d s: %d requests, %d of them refused as revoked, %d changes of the route, %d withdrawals; "
                            + "resident %d MiB, then %d MiB%n",
                    SECONDS, answered.get(), refused.get(), states, next, early >> 10, late >> 10);
            assertThat(wrong).isEmpty();
            assertThat(refused.get()).as("or the test says nothing").isPositive();
            assertThat(late).as("resident KiB, against %d before", early).isLessThan(early + early / 4);
        }
    }

    private static String route(int state) {
        return ("{\"methods\":[\"GET\"],"
                        + "\"path\":\"/changing\",\"api\":\"tides\",\"scopes\":[\"tides.read\"],\"fixed_response\":"
                        + "{\"body\""
                        + ":\"s%1$d\"},\"transform\":{\"set_on_response\":{\"X-State\":\"s%1$d\"}}}")
                .formatted(state);
    }

    private static String latest(Wire.Answer answer) {
        assertThat(answer.status()).as(answer.body()).isEqualTo(200);
        return answer.body();
    }

    /** In KiB, by the system's own account. */
    private static long resident(Running demo) throws Exception {
        String line = Files.readAllLines(Path.of("/proc/" + demo.process.pid() + "/status")).stream()
                .filter(it -> it.startsWith("VmRSS"))
                .findFirst()
                .orElse("VmRSS: 0 kB");
        return Long.parseLong(line.replaceAll("\\D+", ""));
    }
}
