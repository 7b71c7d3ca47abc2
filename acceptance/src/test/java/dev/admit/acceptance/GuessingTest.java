package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import tools.jackson.databind.JsonNode;

/**
 * Guesses and floods. Strangers come by a proxy here, so that each has an address of its own; so this service is no
 * other test's.
 */
class GuessingTest {
    private static final String PASSWORD = "four plain words here";
    private static Running demo;
    private static Operator operator;
    private static Path data;

    @BeforeAll
    static void start(@TempDir Path folder) throws Exception {
        data = folder.resolve("data");
        demo = Running.demo(folder, "--trusted-proxy", "127.0.0.1", "--data", data.toString());
        operator = Operator.of(demo);
    }

    /**
     * Tries are counted by the hour and the quarter of an hour of the clock: no test begins shortly before one ends.
     */
    @BeforeEach
    void awaitTheNextQuarter() throws InterruptedException {
        long left = 900 - Instant.now().getEpochSecond() % 900;
        if (left < 60) Thread.sleep(left * 1_000);
    }

    @AfterAll
    static void stop() {
        demo.close();
    }

    private static String added(String name) throws Exception {
        String email = name + "@saltmarsh.example";
        assertThat(operator.harbour(
                                "POST",
                                "/people",
                                "{\"email\":\"%s\",\"profile\":{\"name\":\"%s\"},\"password\":\"%s\"}"
                                        .formatted(email, name, PASSWORD))
                        .status())
                .isEqualTo(201);
        return email;
    }

    /**
     * A sign-in from an address.
     *
     * @return the status of the answer
     */
    private static Visitor.Seen signIn(Visitor visitor, String from, String email, String password) throws Exception {
        Visitor.Seen page = visitor.get("/harbour/sign-in", "X-Forwarded-For", from);
        return visitor.post(
                "/harbour/sign-in",
                "form=" + Wire.encoded(page.hidden("form").getFirst()) + "&email=" + Wire.encoded(email) + "&password="
                        + Wire.encoded(password),
                "X-Forwarded-For",
                from);
    }

    /**
     * Guesses at once. A machine that hashes too much already says so, and has not looked: then the guess is made
     * again.
     *
     * @return how many were looked at
     */
    private static int lookedAt(List<Callable<Integer>> guesses, int atOnce) throws Exception {
        int looked = 0;
        try (var pool = Executors.newFixedThreadPool(atOnce)) {
            List<Callable<Integer>> patient = guesses.stream()
                    .<Callable<Integer>>map(guess -> () -> {
                        int status = guess.call();
                        for (int again = 0; status == 503 && again < 10; again++) status = guess.call();
                        return status;
                    })
                    .toList();
            for (Future<Integer> one : pool.invokeAll(patient)) {
                assertThat(one.get()).isIn(401, 429, 503);
                looked += one.get() == 401 ? 1 : 0;
            }
        }
        return looked;
    }

    @ParameterizedTest
    @ValueSource(booleans = {true, false})
    void anAccountHasFewTriesAndNobodyIsLockedOut(boolean known) throws Exception {
        String email = known ? added("guessed") : "guessed-nobody@saltmarsh.example";
        Visitor own = new Visitor(demo);
        if (known) assertThat(signIn(own, "10.1.0.1", email, PASSWORD).text()).contains("Your profile");
        List<Callable<Integer>> guesses = new ArrayList<>();
        for (int i = 0; i < 40; i++) {
            String from = "10.2.%d.1".formatted(i);
            guesses.add(() -> signIn(new Visitor(demo), from, email, "wrong").status());
        }
        assertThat(lookedAt(guesses, 10))
                .as("of forty from forty places, at once")
                .isBetween(15, 20);
        for (int i = 0; i < 5; i++)
            signIn(
                    new Visitor(demo),
                    "10.2.%d.2".formatted(i),
                    email,
                    "wrong"); // what was not looked at was given back
        Visitor.Seen stranger = signIn(new Visitor(demo), "10.3.0.1", email, PASSWORD);
        assertThat(stranger.status())
                .as("not even the right one, from a browser that nobody knows")
                .isEqualTo(429);
        assertThat(stranger.header("Retry-After")).isNotEmpty();
        if (!known) return;
        own.cookies.remove("admit-harbour");
        assertThat(signIn(own, "10.1.0.1", email, PASSWORD).text())
                .as("the person's own browser")
                .contains("Your profile");
        own.cookies.remove("admit-harbour");
        int byOwn = 0;
        for (int i = 0; i < 15; i++)
            byOwn += signIn(own, "10.1.0.1", email, "wrong").status() == 429 ? 0 : 1;
        assertThat(byOwn).as("which has tries of its own, and no more").isEqualTo(10);
    }

    @Test
    void anAddressThatGuessesAtManyAccountsIsTurnedAwayByItsNetwork() throws Exception {
        List<Callable<Integer>> guesses = new ArrayList<>();
        for (int i = 0; i < 110; i++) {
            String from = "2001:db8:7:7::" + Integer.toHexString(i + 1);
            String email = "many-%d@saltmarsh.example".formatted(i);
            guesses.add(() -> signIn(new Visitor(demo), from, email, "wrong").status());
        }
        assertThat(lookedAt(guesses, 10)).as("one /64 is one place").isBetween(80, 100);
        assertThat(signIn(new Visitor(demo), "2001:db8:7:8::1", "many-1@saltmarsh.example", "wrong")
                        .status())
                .isNotEqualTo(429);
    }

    @Test
    void codesOfDevicesHaveFewTriesInABrowserAndFromAPlace() throws Exception {
        Visitor browser = new Visitor(demo);
        int inBrowser = 0;
        for (int i = 0; i < 8; i++)
            inBrowser += device(browser, "10.4.0." + i, "BCDF-BCD" + "BCDFGHJK".charAt(i)) == 429 ? 0 : 1;
        assertThat(inBrowser).isEqualTo(5);
        List<Callable<Integer>> guesses = new ArrayList<>();
        for (int i = 0; i < 40; i++) guesses.add(() -> device(new Visitor(demo), "10.5.0.1", "BBBB-CCCC"));
        int fromPlace = 0;
        try (var pool = Executors.newFixedThreadPool(10)) {
            for (Future<Integer> one : pool.invokeAll(guesses)) fromPlace += one.get() == 429 ? 0 : 1;
        }
        assertThat(fromPlace).as("at once, from browsers without a cookie").isEqualTo(20);
    }

    private static int device(Visitor visitor, String from, String code) throws Exception {
        Visitor.Seen page = visitor.get("/harbour/device", "X-Forwarded-For", from);
        return visitor.post(
                        "/harbour/device",
                        "form=" + Wire.encoded(page.hidden("form").getFirst()) + "&user_code=" + code,
                        "X-Forwarded-For",
                        from)
                .status();
    }

    @Test
    void ofTimeCodesAtOnceNoMoreAreLookedAtThanThereAreTries() throws Exception {
        Visitor ama = new Visitor(demo);
        Visitor.Seen page = Visitor.signIn(
                ama.get(Visitor.asking(
                        demo, "berth-desk", Visitor.Pkce.make(), "openid", "acr_values", "urn:admit:acr:2")),
                demo,
                "ama");
        assertThat(page.body()).contains("/harbour/second-factor\"");
        String cookies = String.join(
                "; ",
                ama.cookies.entrySet().stream()
                        .map(it -> it.getKey() + "=" + it.getValue())
                        .toList());
        String form = "form=" + Wire.encoded(page.hidden("form").getFirst()) + "&flow="
                + Wire.encoded(page.hidden("flow").getFirst()) + "&session="
                + page.hidden("session").getFirst() + "&code=";
        List<Callable<Integer>> guesses = new ArrayList<>();
        for (int i = 0; i < 40; i++) {
            String code = "%06d".formatted(i);
            guesses.add(() -> Wire.send(
                            "POST",
                            demo.server() + "/harbour/second-factor",
                            Map.of("Cookie", cookies, "Content-Type", "application/x-www-form-urlencoded"),
                            form + code)
                    .status());
        }
        int looked = 0;
        try (var pool = Executors.newFixedThreadPool(20)) {
            for (Future<Integer> one : pool.invokeAll(guesses)) looked += one.get() == 401 ? 1 : 0;
        }
        assertThat(looked).isEqualTo(10);
    }

    // Floods.

    @Test
    void deviceRequestsOfNobodyAreFew() throws Exception {
        String kiosk = demo.ready()
                .path("clients")
                .path("ferry-kiosk")
                .path("client_id")
                .asString();
        int begun = 0;
        Wire.Answer last = null;
        for (int i = 0; i < 40; i++) {
            last = Wire.send(
                    "POST",
                    demo.server() + "/harbour/device_authorization",
                    Map.of("Content-Type", "application/x-www-form-urlencoded", "X-Forwarded-For", "10.6.0.1"),
                    "client_id=" + kiosk);
            if (last.status() == 200) begun++;
        }
        assertThat(begun).isEqualTo(30);
        assertThat(last.status()).isEqualTo(429);
        assertThat(last.header("Retry-After")).isNotEmpty();
        assertThat(last.json().path("error").asString()).isEqualTo("slow_down");
    }

    @Test
    void tokensThatNobodyGaveAreNotLookedUpForEver() throws Exception {
        int looked = 0;
        for (int i = 0; i < 320; i++) looked += opaque("10.7.0.1", i).status() == 401 ? 1 : 0;
        assertThat(looked).isEqualTo(300);
        assertThat(opaque("10.7.0.2", 1).status()).as("others are").isEqualTo(401);
        String good = Wire.token(demo, "tide-buoy-07", "&scope=tides.read");
        assertThat(Wire.send(
                                "GET",
                                demo.gateway() + "/tides/north-quay",
                                Map.of("Authorization", "Bearer " + good, "X-Forwarded-For", "10.7.0.1"),
                                null)
                        .status())
                .as("a good one passes from there")
                .isEqualTo(200);
    }

    private static Wire.Answer opaque(String from, int i) throws Exception {
        return Wire.send(
                "GET",
                demo.gateway() + "/tides/north-quay",
                Map.of("Authorization", "Bearer admat_" + "%043d".formatted(i), "X-Forwarded-For", from),
                null);
    }

    // What tells who is here.

    @Test
    void forgottenCostsTheSameForAnybody() throws Exception {
        String known = added("forgetting");
        long before = codes();
        new Visitor(demo).get("/harbour/forgotten").send("/harbour/forgotten", "email", known);
        long between = codes();
        new Visitor(demo)
                .get("/harbour/forgotten")
                .send("/harbour/forgotten", "email", "nobody-at-all@saltmarsh.example");
        assertThat(codes() - between)
                .as("one record, as for a person")
                .isEqualTo(between - before)
                .isEqualTo(1);
        assertThat(operator.harbour("GET", "/outbox?to=nobody-at-all@saltmarsh.example", null)
                        .json()
                        .path("items"))
                .isEmpty();
    }

    private static long codes() throws Exception {
        try (var connection = java.sql.DriverManager.getConnection("jdbc:sqlite:" + data.resolve("admit.db"));
                var rows = connection.createStatement().executeQuery("SELECT count(*) FROM mailed_code")) {
            return rows.getLong(1);
        }
    }

    // Expressions.

    @Test
    void anExpressionThatGrowsIsRefusedWhenItIsSavedAndTheServiceGoesOn() throws Exception {
        String chain = "[client.name]" + ".map(a, a + a)".repeat(20);
        Wire.Answer refused = operator.harbour(
                "PATCH",
                "/apis/tides/minting",
                "{\"claims\":[{\"name\":\"grown\",\"expression\":%s}]}"
                        .formatted(Running.JSON.writeValueAsString(chain)));
        assertThat(refused.status()).as(refused.body()).isEqualTo(422);
        assertThat(refused.body()).contains("copies");
        assertThat(operator.harbour("GET", "/apis/tides", null).status()).isEqualTo(200);
        JsonNode claims = Visitor.claims(Wire.token(demo, "tide-buoy-07", "&scope=tides.read"));
        assertThat(claims.has("grown")).isFalse();
    }
}
