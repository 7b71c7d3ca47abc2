package dev.admit.store;

import static org.assertj.core.api.Assertions.assertThat;

import dev.admit.contract.RouteLimits;
import dev.admit.contract.RouteTransform;
import dev.admit.contract.RouteWanted;
import dev.admit.core.approval.Approval;
import dev.admit.core.change.Expected;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.gate.GateOutcome;
import dev.admit.core.key.SigningAlgorithm;
import dev.admit.core.key.SigningKey;
import dev.admit.core.route.RequestPath;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/**
 * The gate on real records: what passes, what is refused and why, and that nothing is forwarded but what was matched.
 */
class GateTest {
    private static final long SEED = 20261123L;

    @TempDir
    Path folder;

    private final SettableClock clock = new SettableClock("2026-11-23T09:00:00Z");
    private Harbour harbour;
    private AtTheGate gate;
    private String client;

    @BeforeEach
    void open() {
        harbour = new Harbour(folder, clock);
        harbour.readScope();
        Harbour.made(harbour.scopes.add(
                harbour.issuer,
                harbour.tides,
                Harbour.scope("tides.publish", "changes", "everyone", "clients"),
                Harbour.CORIN));
        var registered = harbour.client("tide-buoy-07", "tides.read");
        harbour.given(registered);
        client = registered.client().id();
        add("GET", "/tides/**", "tides.read");
        add("POST", "/tides/readings", "tides.publish");
        gate = new AtTheGate(harbour, clock);
    }

    @AfterEach
    void close() {
        harbour.database.close();
    }

    private void add(String method, String path, String... scopes) {
        Harbour.made(harbour.routes.add(harbour.issuer, Harbour.route(method, path, scopes), null, Harbour.CORIN));
    }

    @ParameterizedTest(name = "{0} is {2} for {1}")
    @CsvSource(nullValues = "absent", textBlock = """
            iss,       https://elsewhere.example,         wrong-issuer
            iss,       absent,                            wrong-issuer
            aud,       https://berths.saltmarsh.example,  wrong-audience
            aud,       absent,                            malformed-token
            exp,       -31,                               expired
            exp,       absent,                            malformed-token
            exp,       -29,                               admitted
            iat,       absent,                            malformed-token
            nbf,       31,                                not-yet-valid
            nbf,       29,                                admitted
            jti,       1,                                 malformed-token
            jti,       absent,                            malformed-token
            sub,       absent,                            malformed-token
            client_id, absent,                            malformed-token
            scope,     tides.publish,                     insufficient-scope
            scope,     absent,                            insufficient-scope
            scope,     tides.readings,                    insufficient-scope
            scope,     tides.read tides.publish,          admitted
            """)
    void everyClaimIsLookedAt(String claim, String value, String verdict) {
        Map<String, Object> claims = gate.claims(client, "tides.read");
        if (value == null) claims.remove(claim);
        else if (value.matches("-?\\d+") && !claim.equals("jti"))
            claims.put(claim, clock.instant().plusSeconds(Long.parseLong(value)).getEpochSecond());
        else claims.put(claim, value);
        assertThat(gate.verdictOn(AtTheGate.signed(claims, gate.issuer().keys().activeAt(clock.instant()), "at+jwt")))
                .isEqualTo(verdict);
    }

    @ParameterizedTest(name = "typ {0}: {1}")
    @CsvSource(nullValues = "absent", textBlock = """
            at+jwt,             admitted
            application/at+jwt, admitted
            AT+JWT,             admitted
            JWT,                wrong-type
            absent,             wrong-type
            admit-proof+jwt,  wrong-type
            """)
    void onlyAccessTokensOpenARoute(String type, String verdict) {
        assertThat(gate.verdictOn(AtTheGate.signed(
                        gate.claims(client, "tides.read"), gate.issuer().keys().activeAt(clock.instant()), type)))
                .isEqualTo(verdict);
    }

    @Test
    void aKeyOfSomebodyElseIsNoKeyUnderTheIdOfOurs() {
        SigningKey theirs = SigningKey.generate(SigningAlgorithm.ES256);
        Map<String, Object> claims = gate.claims(client, "tides.read");
        String[] forged = AtTheGate.signed(claims, theirs, "at+jwt").split("\\.");
        String[] ours = AtTheGate.signed(claims, gate.issuer().keys().activeAt(clock.instant()), "at+jwt")
                .split("\\.");

        assertThat(gate.verdictOn(String.join(".", forged))).isEqualTo("unknown-key");
        assertThat(gate.verdictOn(ours[0] + "." + forged[1] + "." + forged[2])).isEqualTo("bad-signature");
        assertThat(gate.verdictOn(ours[0] + "." + ours[1] + ".")).isEqualTo("bad-signature");
    }

    @Test
    void theHeaderOfARequestIsReadInOneWay() {
        String good = gate.token(client, "tides.read");
        assertThat(gate.verdict("GET", "/tides/x", "bearer " + good)).isEqualTo("admitted");
        assertThat(gate.verdict("GET", "/tides/x", "Bearer " + good, "Bearer " + good))
                .isEqualTo("two-tokens");
        assertThat(gate.verdict("GET", "/tides/x", "Bearer " + good + ", Bearer " + good))
                .isEqualTo("malformed-authorization");
        assertThat(gate.verdict("GET", "/tides/x", "Bearer \"" + good + "\"")).isEqualTo("malformed-authorization");
        assertThat(gate.verdict("GET", "/tides/x", "Basic " + good)).isEqualTo("no-token");
        assertThat(gate.verdict("GET", "/tides/x?access_token=" + good)).isEqualTo("token-in-query");
        assertThat(gate.verdict("GET", "/tides/x?my_access_token=1", "Bearer " + good))
                .isEqualTo("admitted");
    }

    @Test
    void whatWasRememberedIsStillRefusedWhenItsTimeIsOverOrItWasWithdrawn() {
        String early = gate.token(client, "tides.read");
        assertThat(gate.verdictOn(early)).isEqualTo("admitted");
        Approval approval = harbour.approvals.ofClient(client).getFirst();
        Harbour.made(harbour.approving.withdraw(
                harbour.directory.find(client).orElseThrow().client(), approval, "", Harbour.CORIN, Expected.ANY));
        assertThat(gate.verdictOn(early)).isEqualTo("revoked");

        String late = gate.token(client, "tides.read");
        assertThat(gate.verdictOn(late)).isEqualTo("admitted");
        clock.move(Duration.ofSeconds(631));
        assertThat(gate.verdictOn(late)).isEqualTo("expired");
    }

    @Test
    void noChangedTokenPasses() {
        String good = gate.token(client, "tides.read");
        Random random = new Random(SEED);
        for (int i = 0; i < 3_000; i++) {
            String changed = mutated(good, random);
            if (same(good, changed)) continue;
            assertThat(gate.verdictOn(changed))
                    .as("of %s (seed %d)", changed, SEED)
                    .isNotEqualTo("admitted");
        }
        assertThat(gate.verdictOn(good)).isEqualTo("admitted");
    }

    private static String mutated(String token, Random random) {
        int at = random.nextInt(token.length());
        String alphabet = "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789-_.=";
        char other = alphabet.charAt(random.nextInt(alphabet.length()));
        return switch (random.nextInt(5)) {
            case 0 -> token.substring(0, at) + other + token.substring(at + 1);
            case 1 -> token.substring(0, at) + token.substring(at + 1);
            case 2 -> token.substring(0, at) + other + token.substring(at);
            case 3 -> token.substring(0, at);
            default -> token.substring(at) + token.substring(0, at);
        };
    }

    /**
     * Two spellings of the same bytes are the same token: the last character of a part may have bits that count for
     * nothing.
     */
    private static boolean same(String one, String other) {
        String[] mine = one.split("\\.", -1);
        String[] its = other.split("\\.", -1);
        if (mine.length != its.length) return false;
        try {
            for (int i = 0; i < mine.length; i++) {
                if (i < 2
                        ? !mine[i].equals(its[i])
                        : !java.util.Arrays.equals(
                                Base64.getUrlDecoder().decode(mine[i]),
                                Base64.getUrlDecoder().decode(its[i]))) return false;
            }
            return true;
        } catch (IllegalArgumentException notBase64) {
            return false;
        }
    }

    private void bounded(String path, RouteLimits limits) {
        Harbour.made(harbour.routes.add(
                harbour.issuer,
                new RouteWanted(
                        List.of("POST"),
                        path,
                        "tides",
                        List.of("tides.read"),
                        null,
                        null,
                        null,
                        null,
                        null,
                        null,
                        null,
                        null,
                        null,
                        limits),
                null,
                Harbour.CORIN));
    }

    @Test
    void aBodyThatIsTooLargeIsRefusedBeforeItIsCounted() {
        bounded("/narrow", new RouteLimits(List.of("1 per 1h by client"), null, null, 1000L, null));
        String token = "Bearer " + gate.token(client, "tides.read");
        gate.bodyBytes = 1001;
        assertThat(gate.verdict("POST", "/narrow"))
                .as("nothing is told to whom has no token")
                .isEqualTo("no-token");
        assertThat(gate.verdict("POST", "/narrow", token)).isEqualTo("body-too-large");
        gate.bodyBytes = 1000;
        assertThat(gate.verdict("POST", "/narrow", token))
                .as("its room is still there")
                .isEqualTo("admitted");
        assertThat(gate.verdict("POST", "/narrow", token)).isEqualTo("rate-exceeded");
    }

    @Test
    void noRouteTakesALargerBodyThanTheGateway() {
        bounded("/wide", new RouteLimits(null, null, null, 5_000_000L, null));
        String token = "Bearer " + gate.token(client, "tides.read");
        gate.bodyBytes = 1_000_001;
        assertThat(gate.verdict("POST", "/wide", token)).isEqualTo("body-too-large");
        gate.bodyBytes = -1;
        assertThat(gate.verdict("POST", "/wide", token))
                .as("counted while it passes")
                .isEqualTo("admitted");
    }

    @Test
    void roomIsTakenByWhatIsAdmittedAloneAndGivenBackOnce() {
        bounded("/one-at-a-time", new RouteLimits(null, null, 1, null, null));
        String token = "Bearer " + gate.token(client, "tides.read");
        assertThat(gate.verdict("POST", "/one-at-a-time")).isEqualTo("no-token");
        GateOutcome.Admitted first = (GateOutcome.Admitted) gate.decide("POST", "/one-at-a-time", token);
        assertThat(gate.verdict("POST", "/one-at-a-time", token)).isEqualTo("too-many-concurrent");
        first.over().run();
        first.over().run();
        assertThat(gate.verdict("POST", "/one-at-a-time", token)).isEqualTo("admitted");
        assertThat(gate.verdict("POST", "/one-at-a-time", token))
                .as("what is given back twice makes no room for two")
                .isEqualTo("too-many-concurrent");
    }

    @Test
    void whatIsForwardedIsWhatWasMatched() {
        RouteTransform moved =
                new RouteTransform("/v2/{gauge}/heights/**", null, null, null, null, null, null, null, null);
        Harbour.made(harbour.routes.add(
                harbour.issuer,
                new RouteWanted(
                        List.of("GET"),
                        "/moved/{gauge}/**",
                        "tides",
                        List.of("tides.read"),
                        null,
                        null,
                        null,
                        null,
                        null,
                        null,
                        null,
                        moved,
                        null,
                        null),
                null,
                Harbour.CORIN));
        String token = "Bearer " + gate.token(client, "tides.read");
        Random random = new Random(SEED);
        int passed = 0;
        for (int i = 0; i < 20_000; i++) {
            String path = (random.nextBoolean() ? "/tides" : "/moved") + anyPath(random);
            if (!(gate.decide("GET", path, token) instanceof GateOutcome.Admitted admitted)) continue;
            passed++;
            // Read once more, as a backend would: the same segments, below what the route names, and nothing left to
            // resolve.
            RequestPath again =
                    switch (RequestPath.read(admitted.path())) {
                        case RequestPath.Reading.Good(RequestPath good) -> good;
                        case RequestPath.Reading.Unsafe(String received) ->
                            throw new AssertionError("%s was forwarded as %s, which has %s (seed %d)"
                                    .formatted(path, admitted.path(), received, SEED));
                    };
            assertThat(again.encoded()).as("of %s (seed %d)", path, SEED).isEqualTo(admitted.path());
            assertThat(again.segments().getFirst())
                    .as("of %s (seed %d)", path, SEED)
                    .isEqualTo(path.startsWith("/moved") ? "v2" : "tides");
            assertThat(again.segments()).as("of %s (seed %d)", path, SEED).doesNotContain("..", ".");
        }
        assertThat(passed).as("paths that passed, or the test says nothing").isGreaterThan(1_000);
    }

    private static String anyPath(Random random) {
        List<String> pieces = List.of(
                "/",
                "/",
                "a",
                "north-quay",
                ".",
                "..",
                "%2e",
                "%2F",
                "%5c",
                "\\",
                ";v=1",
                "%3b",
                "//",
                "%00",
                "%",
                "%zz",
                "é",
                "%C3%A9",
                "%c3%28",
                " ",
                "+",
                "~",
                "%7E",
                "@",
                ":",
                "%25",
                "%252e",
                "*",
                "?",
                "{",
                "readings");
        List<String> chosen = new ArrayList<>(List.of("/"));
        for (int i = random.nextInt(6); i >= 0; i--) chosen.add(pieces.get(random.nextInt(pieces.size())));
        return String.join("", chosen);
    }

    @Test
    void aDecisionHasEveryCheckInOrder() {
        assertThat(gate.verdict("GET", "/tides/x", "Bearer " + gate.token(client, "tides.read")))
                .isEqualTo("admitted");
        assertThat(gate.last.checks())
                .extracting(CheckResult::check)
                .containsExactly(
                        "route",
                        "bearer",
                        "form",
                        "issuer",
                        "signature",
                        "type",
                        "audience",
                        "lifetime",
                        "revocation",
                        "scope");
    }
}
