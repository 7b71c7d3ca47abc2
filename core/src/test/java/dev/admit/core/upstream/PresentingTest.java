package dev.admit.core.upstream;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.admit.core.trust.FindKeys;
import java.net.URI;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletionException;
import java.util.concurrent.CompletionStage;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What the gateway presents: fetched once for all, renewed in time, never sent elsewhere, and never told. */
class PresentingTest {
    private static final Instant NOW = Instant.parse("2026-11-23T09:00:00Z");
    private static final URI UPSTREAM = URI.create("https://warnings.coastguard.example/v1");
    private static final String SECRET = "kelp:mussel %/";

    private Instant now = NOW;
    private final List<Runnable> elsewhere = new ArrayList<>();
    private final List<String> asked = new ArrayList<>();
    private String answer = "";
    private int status = 200;
    private int tokens;

    private final Clock clock = new Clock() {
        @Override
        public Instant instant() {
            return now;
        }

        @Override
        public java.time.ZoneId getZone() {
            return ZoneOffset.UTC;
        }

        @Override
        public Clock withZone(java.time.ZoneId zone) {
            return this;
        }
    };
    private final Presenting presenting =
            new Presenting(new AskForToken(this::metadata, this::post), elsewhere::add, clock);

    private String metadata(URI address) throws FindKeys.NotFetched {
        if (address.getPath().endsWith("openid-configuration")) throw new FindKeys.NotFetched("no connection");
        return "{\"issuer\":\"https://coastguard.example/a\",\"token_endpoint\":\"https://coastguard.example/token\"}";
    }

    private AskForToken.Answer post(URI address, String authorization, String form) {
        asked.add(address + " " + authorization + " " + form);
        return new AskForToken.Answer(
                status,
                answer.isEmpty()
                        ? "{\"access_token\":\"t%d\",\"token_type\":\"bearer\",\"expires_in\":100}".formatted(++tokens)
                        : answer);
    }

    private Presenting.Ready ready(UpstreamCredential.Shown shown) {
        return presenting.of(
                new UpstreamCredential("uc_1", "iss_h", "warnings", UPSTREAM, shown, 1, NOW), () -> SECRET);
    }

    private static UpstreamCredential.Shown.Token token(boolean inBody) {
        return new UpstreamCredential.Shown.Token(
                Optional.of(URI.create("https://coastguard.example/a")),
                Optional.empty(),
                "harbour office",
                inBody,
                Optional.of("sea.warnings"),
                Map.of("audience", "https://w.example"));
    }

    private void fetch() {
        List.copyOf(elsewhere).forEach(Runnable::run);
        elsewhere.clear();
    }

    private static String value(CompletionStage<Presenting.Presented> stage) {
        return stage.toCompletableFuture().join().value();
    }

    @Test
    void manyWhoWaitCauseOneFetch() {
        Presenting.Ready ready = ready(token(false));
        List<CompletionStage<Presenting.Presented>> waiting = new ArrayList<>();
        for (int i = 0; i < 50; i++) waiting.add(ready.present());
        assertThat(elsewhere).hasSize(1);
        fetch();
        assertThat(waiting).allSatisfy(it -> assertThat(value(it)).isEqualTo("Bearer t1"));
        assertThat(value(ready.present())).isEqualTo("Bearer t1");
        assertThat(asked).hasSize(1);
    }

    @Test
    void itIsRenewedWhileTheOldOneStillServes() {
        Presenting.Ready ready = ready(token(false));
        ready.present();
        fetch();
        now = NOW.plusSeconds(79);
        assertThat(value(ready.present())).isEqualTo("Bearer t1");
        assertThat(elsewhere).isEmpty();
        now = NOW.plusSeconds(81);
        assertThat(value(ready.present())).as("nobody waits").isEqualTo("Bearer t1");
        fetch();
        assertThat(value(ready.present())).isEqualTo("Bearer t2");
        now = NOW.plusSeconds(300);
        assertThat(ready.present().toCompletableFuture())
                .as("the old one is over")
                .isNotDone();
    }

    @Test
    void oneThatWasRefusedIsNotShownAgain() {
        Presenting.Ready ready = ready(token(false));
        ready.present();
        fetch();
        Presenting.Presented refused = ready.present().toCompletableFuture().join();
        assertThat(ready.refused(refused)).isTrue();
        CompletionStage<Presenting.Presented> next = ready.present();
        fetch();
        assertThat(value(next)).isEqualTo("Bearer t2");
        ready.refused(refused);
        assertThat(value(ready.present()))
                .as("an old refusal does not take the new one away")
                .isEqualTo("Bearer t2");
        assertThat(ready(new UpstreamCredential.Shown.Login("a")).refused(refused))
                .as("there is no other password")
                .isFalse();
    }

    @Test
    void idAndSecretAreSpelledAsTheStandardWants() {
        ready(token(false)).present();
        fetch();
        // RFC 6749 §2.3.1: each is form-encoded, then joined, then base64.
        String basic = java.util.Base64.getEncoder().encodeToString("harbour+office:kelp%3Amussel+%25%2F".getBytes());
        assertThat(asked.getFirst())
                .isEqualTo("https://coastguard.example/token Basic " + basic
                        + " grant_type=client_credentials&scope=sea.warnings&audience=https%3A%2F%2Fw.example");

        new Presenting(new AskForToken(this::metadata, this::post), Runnable::run, clock)
                .of(new UpstreamCredential("uc_2", "iss_h", "w", UPSTREAM, token(true), 1, NOW), () -> SECRET)
                .present();
        assertThat(asked.getLast())
                .contains(" null ")
                .contains("client_id=harbour+office&client_secret=kelp%3Amussel+%25%2F");
    }

    @ParameterizedTest(name = "{0} {1}: {2}")
    @CsvSource(delimiter = '|', quoteCharacter = '`', textBlock = """
            401 | {"error":"invalid_client","error_description":"no"}                     | answered 401, \
            'invalid_client': 'no'
            302 | moved                                                                   | answered 302
            200 | {"access_token":"t","token_type":"mac"}                                 | no bearer token
            200 | {"access_token":"a\\r\\nAdmit-Person: x","token_type":"bearer"}           | no bearer token
            200 | {}                                                                      | no bearer token
            200 | not json                                                                | no bearer token""")
    void whatIsNoTokenIsToldAndNotTriedAtOnceAgain(int answered, String body, String said) {
        status = answered;
        answer = body;
        Presenting.Ready ready = ready(token(false));
        CompletionStage<Presenting.Presented> waiting = ready.present();
        fetch();
        assertThatThrownBy(() -> waiting.toCompletableFuture().join())
                .isInstanceOf(CompletionException.class)
                .hasMessageContaining(said)
                .hasMessageNotContaining(SECRET);
        assertThatThrownBy(() -> ready.present().toCompletableFuture().join()).hasMessageContaining(said);
        assertThat(asked).hasSize(1);
        now = NOW.plus(Duration.ofSeconds(3));
        ready.present();
        fetch();
        assertThat(asked).hasSize(2);
    }

    @Test
    void aHeaderAndALoginAreAtHandAtOnce() {
        assertThat(value(ready(new UpstreamCredential.Shown.Header("X-Key")).present()))
                .isEqualTo(SECRET);
        Presenting.Presented login = presenting
                .of(
                        new UpstreamCredential(
                                "uc_3", "iss_h", "w", UPSTREAM, new UpstreamCredential.Shown.Login("desk"), 1, NOW),
                        () -> "p")
                .present()
                .toCompletableFuture()
                .join();
        assertThat(login.value()).isEqualTo("Basic ZGVzazpw");
        assertThat(login.toString() + ready(token(false)))
                .doesNotContain("ZGVzazpw")
                .doesNotContain(SECRET);
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(textBlock = """
            https://warnings.coastguard.example/v1,       true
            https://warnings.coastguard.example/v1/x,     true
            https://WARNINGS.coastguard.example/v1,       true
            https://warnings.coastguard.example/v10,      false
            https://warnings.coastguard.example,          false
            https://warnings.coastguard.example:8443/v1,  false
            http://warnings.coastguard.example/v1,        false
            https://warnings.coastguard.example.evil.example/v1, false
            """)
    void itGoesWhereItIsMeantToAndNowhereElse(String address, boolean may) {
        assertThat(ready(token(false)).credential().isFor(URI.create(address))).isEqualTo(may);
    }
}
