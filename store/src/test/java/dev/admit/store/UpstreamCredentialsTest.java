package dev.admit.store;

import static org.assertj.core.api.Assertions.assertThat;

import dev.admit.contract.ApiWanted;
import dev.admit.contract.RouteTransform;
import dev.admit.contract.RouteWanted;
import dev.admit.contract.UpstreamCredentialWanted;
import dev.admit.core.change.Change;
import dev.admit.core.change.Expected;
import dev.admit.core.registration.UpstreamCredentialRegistration;
import dev.admit.core.upstream.UpstreamCredential;
import dev.admit.core.upstream.UpstreamCredential.Shown;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Upstream credentials as records: what can be one, that the secret is sealed, and that it cannot be led elsewhere. */
class UpstreamCredentialsTest {
    private static final String SECRET = "kelp-and-mussels-77";

    @TempDir
    Path folder;

    private Harbour harbour;
    private UpstreamCredentialRegistration registration;

    @BeforeEach
    void open() {
        harbour = new Harbour(folder);
        harbour.readScope();
        registration = harbour.upstreamCredentials;
    }

    @AfterEach
    void close() {
        harbour.database.close();
    }

    private static UpstreamCredentialWanted token(String name, String issuer, String endpoint, String secret) {
        return new UpstreamCredentialWanted(
                name,
                "https://warnings.example/v1",
                null,
                null,
                "harbour-office",
                secret,
                issuer,
                endpoint,
                "body",
                "sea.warnings",
                Map.of("audience", "https://warnings.example"));
    }

    private static UpstreamCredentialWanted header(String name, String upstream, String header, String secret) {
        return new UpstreamCredentialWanted(name, upstream, header, null, null, secret, null, null, null, null, null);
    }

    private UpstreamCredential add(UpstreamCredentialWanted wanted) {
        return Harbour.made(registration.add(harbour.issuer, wanted, Harbour.CORIN));
    }

    private static String faults(Change<UpstreamCredential> change) {
        return change instanceof Change.Invalid<UpstreamCredential>(var faults)
                ? faults.toString()
                : "came to " + change;
    }

    @Test
    void everyFormComesBackAsItWasSaved() {
        add(token("warned", "https://coastguard.example", null, SECRET));
        add(token("by-hand", null, "https://coastguard.example/token", SECRET));
        add(header("keyed", "https://keys.example", "X-Key", SECRET));
        add(new UpstreamCredentialWanted(
                "desk", "https://desk.example", null, "desk", null, SECRET, null, null, null, null, null));

        assertThat(harbour.credentials.of(harbour.issuer.id()))
                .extracting(it -> it.credential().name())
                .containsExactly("by-hand", "desk", "keyed", "warned");
        Shown.Token warned = (Shown.Token) harbour.credentials
                .named(harbour.issuer.id(), "warned")
                .orElseThrow()
                .credential()
                .shown();
        assertThat(warned.inBody()).isTrue();
        assertThat(warned.scope()).contains("sea.warnings");
        assertThat(warned.parameters()).containsEntry("audience", "https://warnings.example");
        assertThat(((Shown.Token) harbour.credentials
                                .named(harbour.issuer.id(), "by-hand")
                                .orElseThrow()
                                .credential()
                                .shown())
                        .tokenEndpoint())
                .isPresent();
        assertThat(harbour.credentials
                        .named(harbour.issuer.id(), "keyed")
                        .orElseThrow()
                        .credential()
                        .shown())
                .isEqualTo(new Shown.Header("X-Key"));
        assertThat(harbour.credentials
                        .named(harbour.issuer.id(), "desk")
                        .orElseThrow()
                        .credential()
                        .shown())
                .isEqualTo(new Shown.Login("desk"));
    }

    @Test
    void theSecretIsNowhereInTheFileButSealed() throws Exception {
        UpstreamCredential it = add(header("keyed", "https://keys.example", "X-Key", SECRET));
        byte[] sealed = harbour.credentials
                .named(harbour.issuer.id(), "keyed")
                .orElseThrow()
                .sealed();
        assertThat(new String(Harbour.MASTER_KEY.open(sealed, it.sealedAs()), StandardCharsets.UTF_8))
                .isEqualTo(SECRET);
        try (Stream<Path> files = Files.list(folder)) {
            for (Path file : files.toList())
                assertThat(new String(Files.readAllBytes(file), StandardCharsets.ISO_8859_1))
                        .as(file.toString())
                        .doesNotContain(SECRET);
        }
        assertThat(header("keyed", "https://keys.example", "X-Key", SECRET).toString())
                .doesNotContain(SECRET);
    }

    @Test
    void whereItGoesIsChangedOnlyByWhoeverKnowsIt() {
        add(token("warned", "https://coastguard.example", null, SECRET));
        String[][] moves = {
            {"https://elsewhere.example", null, null},
            {null, "https://elsewhere.example", null},
            {null, null, "https://elsewhere.example/token"}
        };
        for (String[] move : moves) {
            UpstreamCredentialWanted without = new UpstreamCredentialWanted(
                    null, move[0], null, null, null, null, move[1], move[2], null, null, null);
            assertThat(faults(registration.change(harbour.issuer, "warned", without, Expected.ANY, Harbour.CORIN)))
                    .contains("/secret");
            UpstreamCredentialWanted with = new UpstreamCredentialWanted(
                    null, move[0], null, null, null, SECRET, move[1], move[2], null, null, null);
            Harbour.made(registration.change(harbour.issuer, "warned", with, Expected.ANY, Harbour.CORIN));
        }
        UpstreamCredentialWanted scope =
                new UpstreamCredentialWanted(null, null, null, null, null, null, null, null, null, "sea.other", null);
        UpstreamCredential after =
                Harbour.made(registration.change(harbour.issuer, "warned", scope, Expected.ANY, Harbour.CORIN));
        assertThat(((Shown.Token) after.shown()).scope())
                .as("what stays where it is needs no secret")
                .contains("sea.other");
        assertThat(((Shown.Token) after.shown()).tokenEndpoint().orElseThrow())
                .hasToString("https://elsewhere.example/token");
        assertThat(((Shown.Token) after.shown()).issuer())
                .as("the endpoint by hand is in its place")
                .isEmpty();
    }

    @ParameterizedTest(name = "{0} = {1}: {2}")
    @CsvSource(nullValues = "-", textBlock = """
            header,     Host,                      /header
            header,     Content-Length,            /header
            header,     Admit-Person,              /header
            header,     X Key,                     /header
            upstream,   ftp://keys.example,        /upstream
            upstream,   https://a:b@keys.example,  /upstream
            secret,     -,                         /secret
            secret,     'two\u0009words',          /secret
            name,       Not A Name,                /name
            """)
    void whatCannotBeOneIsToldByItsField(String member, String value, String pointer) {
        UpstreamCredentialWanted wanted = header(
                member.equals("name") ? value : "keyed",
                member.equals("upstream") ? value : "https://keys.example",
                member.equals("header") ? value : "X-Key",
                member.equals("secret") ? value : SECRET);
        assertThat(faults(registration.add(harbour.issuer, wanted, Harbour.CORIN)))
                .contains(pointer)
                .doesNotContain(SECRET);
    }

    @Test
    void aTokenIsAskedForAtOnePlaceAndOverHttps() {
        assertThat(faults(registration.add(harbour.issuer, token("a", null, null, SECRET), Harbour.CORIN)))
                .contains("/issuer");
        assertThat(faults(registration.add(
                        harbour.issuer,
                        token("a", "https://x.example", "https://x.example/token", SECRET),
                        Harbour.CORIN)))
                .contains("/issuer");
        assertThat(faults(
                        registration.add(harbour.issuer, token("a", "http://x.example", null, SECRET), Harbour.CORIN)))
                .contains("/issuer")
                .contains("secret is sent there");
        UpstreamCredentialWanted both = new UpstreamCredentialWanted(
                "a", "https://x.example", "X-Key", "desk", null, SECRET, null, null, null, null, null);
        assertThat(faults(registration.add(harbour.issuer, both, Harbour.CORIN)))
                .contains("one of header, user and client_id");
        UpstreamCredentialWanted own = new UpstreamCredentialWanted(
                "a",
                "https://x.example",
                null,
                null,
                "c",
                SECRET,
                "https://x.example",
                null,
                null,
                null,
                Map.of("client_secret", "x"));
        assertThat(faults(registration.add(harbour.issuer, own, Harbour.CORIN))).contains("/parameters/client_secret");
    }

    @Test
    void aRoutePresentsItWhereItIsMeantToGoAndAnApiThatMovesDoesNotTakeItAlong() {
        add(header("keyed", "http://127.0.0.1:9481", "X-Key", SECRET)); // where the API tides is
        RouteTransform transform = new RouteTransform(null, null, null, null, null, null, "keyed", null, null);
        RouteWanted route = new RouteWanted(
                List.of("GET"),
                "/keyed",
                "tides",
                List.of("tides.read"),
                null,
                null,
                null,
                null,
                null,
                null,
                null,
                transform,
                null,
                null);
        Harbour.made(harbour.routes.add(harbour.issuer, route, null, Harbour.CORIN));
        assertThat(guarded().mayPresent()).isTrue();
        assertThat(registration.remove(harbour.issuer, "keyed", Expected.ANY, Harbour.CORIN))
                .isInstanceOf(Change.Refused.class);

        Harbour.made(harbour.apis.change(
                harbour.issuer,
                "tides",
                new ApiWanted(null, null, null, "http://127.0.0.1:9999"),
                Expected.ANY,
                null,
                Harbour.CORIN));
        assertThat(guarded().mayPresent()).as("the API leads elsewhere now").isFalse();
    }

    private dev.admit.core.configuration.GuardedRoute guarded() {
        return harbour.configuration.get().routes().match("GET", "", List.of("keyed"))
                        instanceof
                        dev.admit.core.route.RouteTable.Match.Found<dev.admit.core.configuration.GuardedRoute>(
                                var found)
                ? found
                : null;
    }
}
