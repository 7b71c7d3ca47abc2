package dev.admit.store;

import static org.assertj.core.api.Assertions.assertThat;

import com.nimbusds.jose.jwk.JWKSet;
import dev.admit.contract.RouteWanted;
import dev.admit.contract.RouteWho;
import dev.admit.contract.TrustedIssuerWanted;
import dev.admit.core.change.Change;
import dev.admit.core.change.Expected;
import dev.admit.core.decision.Fix;
import dev.admit.core.gate.GateOutcome;
import dev.admit.core.key.SigningAlgorithm;
import dev.admit.core.key.SigningKey;
import dev.admit.core.route.Route;
import dev.admit.core.token.VerifiedToken;
import dev.admit.core.trust.TrustedIssuer;
import java.net.URI;
import java.nio.file.Path;
import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Tokens of an issuer elsewhere: what passes, whom it counts as, and how its keys are found. */
class TrustTest {
    private static final String URL = "https://coastguard.example";
    private static final URI METADATA = URI.create(URL + "/.well-known/openid-configuration");
    private static final URI KEYS = URI.create(URL + "/jwks");

    @TempDir
    Path folder;

    private final SettableClock clock = new SettableClock("2026-11-23T09:00:00Z");
    private final SigningKey theirs = SigningKey.generate(SigningAlgorithm.RS256);
    private Harbour harbour;
    private AtTheGate gate;
    private String buoy;
    private Route route;

    @BeforeEach
    void open() {
        harbour = new Harbour(folder, clock);
        harbour.readScope();
        buoy = harbour.client("tide-buoy-07").client().id();
        publish(theirs);
        Harbour.made(harbour.trust.add(
                harbour.issuer,
                wanted(Map.of("sea.heights", "tides.read"), Map.of("launch-3", "tide-buoy-07")),
                Harbour.CORIN));
        route = Harbour.made(harbour.routes.add(
                        harbour.issuer, route(List.of("harbour", "coastguard")), null, Harbour.CORIN))
                .route();
        gate = new AtTheGate(harbour, clock);
    }

    @AfterEach
    void close() {
        harbour.database.close();
    }

    private void publish(SigningKey... keys) {
        harbour.elsewhere.put(METADATA, "{\"issuer\":\"%s\",\"jwks_uri\":\"%s\"}".formatted(URL, KEYS));
        harbour.elsewhere.put(
                KEYS,
                new JWKSet(java.util.Arrays.stream(keys)
                                .map(SigningKey::published)
                                .toList())
                        .toString());
    }

    private static TrustedIssuerWanted wanted(Map<String, String> scopes, Map<String, String> clients) {
        return new TrustedIssuerWanted(
                "coastguard",
                URL,
                null,
                null,
                null,
                List.of("RS256"),
                List.of("JWT"),
                null,
                "scp",
                "/harbour/roles",
                null,
                "azp",
                scopes,
                clients);
    }

    private static RouteWanted route(List<String> issuers) {
        return new RouteWanted(
                List.of("GET"),
                "/tides/**",
                "tides",
                List.of("tides.read"),
                null,
                null,
                null,
                null,
                null,
                null,
                new RouteWho(issuers, null, null, null, null, null, null, null, null),
                null,
                null,
                null);
    }

    private Map<String, Object> claims() {
        long now = clock.instant().getEpochSecond();
        Map<String, Object> claims = new LinkedHashMap<>();
        claims.put("iss", URL);
        claims.put("sub", "pilot-3");
        claims.put("azp", "patrol-boat");
        claims.put("aud", harbour.tides.audience());
        claims.put("scp", List.of("sea.heights", "sea.wide"));
        claims.put("harbour", Map.of("roles", List.of("lookout")));
        claims.put("iat", now);
        claims.put("exp", now + 600);
        return claims;
    }

    private String verdict(Map<String, Object> claims) {
        return gate.verdictOn(AtTheGate.signed(claims, theirs, "JWT"));
    }

    private VerifiedToken admitted(Map<String, Object> claims) {
        GateOutcome outcome = gate.decide("GET", "/tides/x", "Bearer " + AtTheGate.signed(claims, theirs, "JWT"));
        assertThat(outcome).isInstanceOf(GateOutcome.Admitted.class);
        return ((GateOutcome.Admitted) outcome).token().orElseThrow();
    }

    @Test
    void whoeverIsElsewhereIsNobodyHere() {
        VerifiedToken token = admitted(claims());

        assertThat(token.subject()).isEqualTo("coastguard:pilot-3");
        assertThat(token.clientId()).isEqualTo("coastguard:patrol-boat");
        assertThat(token.scopes()).containsExactly("tides.read");
        assertThat(token.extra().get("roles")).isEqualTo(List.of("lookout"));
        assertThat(token.isClientsOwn()).isFalse();
    }

    @Test
    void aTokenOlderThanWhatIsRememberedOfWithdrawalsIsRefused() {
        Map<String, Object> claims = claims();
        claims.put("exp", clock.instant().plus(Duration.ofDays(30)).getEpochSecond());
        claims.put(
                "iat",
                clock.instant().minus(Duration.ofHours(24)).plusSeconds(1).getEpochSecond());
        assertThat(verdict(claims)).isEqualTo("admitted");
        clock.move(Duration.ofSeconds(1));
        assertThat(verdict(claims)).isEqualTo("too-old");
    }

    @Test
    void aClientOfTheirsThatIsLinkedCountsAsOurs() {
        Map<String, Object> claims = claims();
        claims.put("azp", "launch-3");
        claims.put("sub", "launch-3");

        VerifiedToken token = admitted(claims);
        assertThat(token.clientId()).isEqualTo(buoy);
        assertThat(token.isClientsOwn()).isTrue();

        Harbour.made(harbour.clients.switchTo(harbour.issuer, "tide-buoy-07", false, Expected.ANY, Harbour.CORIN));
        assertThat(verdict(claims)).isEqualTo("revoked");
        clock.move(Duration.ofMinutes(5));
        claims.put("iat", clock.instant().getEpochSecond());
        assertThat(verdict(claims)).as("one that was minted after the switch").isEqualTo("linked-client-off");
    }

    @ParameterizedTest(name = "{0} is {2} for {1}")
    @CsvSource(nullValues = "absent", textBlock = """
            iss, https://coastguard.example/,     wrong-issuer
            aud, https://berths.saltmarsh.example, wrong-audience
            exp, absent,                          malformed-token
            iat, absent,                          malformed-token
            scp, sea.wide,                        insufficient-scope
            scp, sea.wide sea.heights,            admitted
            scp, tides.read,                      insufficient-scope
            azp, absent,                          admitted
            sub, absent,                          admitted
            jti, x,                               admitted
            """)
    void theirClaimsAreReadAsTheyAre(String claim, String value, String verdict) {
        Map<String, Object> claims = claims();
        if (value == null) claims.remove(claim);
        else claims.put(claim, value);
        assertThat(verdict(claims)).isEqualTo(verdict);
    }

    @Test
    void aFixNamesTheirIssuerAndNotAClientOfOurs() {
        Map<String, Object> claims = claims();
        claims.put("scp", "sea.wide");
        Fix scope = fixOf(claims);
        assertThat(scope.sentence()).contains(URL);
        assertThat(scope.command().orElseThrow())
                .startsWith("admit trusted-issuer change ti_")
                .endsWith("--add-scope sea.wide=tides.read --issuer harbour");
        TrustedIssuer it = harbour.trusted
                .named(harbour.issuer.id(), scope.command().get().split(" ")[3])
                .orElseThrow();
        Harbour.made(harbour.trust.change(
                harbour.issuer,
                it.name(),
                wanted(Map.of("sea.wide", "tides.read"), null),
                Expected.ANY,
                Harbour.CORIN));
        assertThat(verdict(claims)).as("after the fix").isEqualTo("admitted");

        claims.put("aud", "https://tides.coastguard.example");
        assertThat(fixOf(claims).command())
                .as("another audience would hold for every route")
                .isEmpty();
        Harbour.made(harbour.trust.change(
                harbour.issuer,
                it.name(),
                new TrustedIssuerWanted(
                        null,
                        null,
                        null,
                        null,
                        null,
                        null,
                        null,
                        "https://tides.coastguard.example",
                        null,
                        null,
                        null,
                        null,
                        null,
                        null),
                Expected.ANY,
                Harbour.CORIN));
        assertThat(verdict(claims)).as("after that fix").isEqualTo("admitted");
    }

    private Fix fixOf(Map<String, Object> claims) {
        GateOutcome outcome = gate.decide("GET", "/tides/x", "Bearer " + AtTheGate.signed(claims, theirs, "JWT"));
        return ((GateOutcome.Refused) outcome).refusal().fix();
    }

    @Test
    void nothingOfTheirsGoesIntoAHeaderThatCouldNotStandThere() {
        Map<String, Object> claims = claims();
        claims.put("azp", "patrol\r\nAdmit-Person: corin");
        claims.put("sub", "pilot 3");
        assertThat(verdict(claims)).isEqualTo("malformed-token");
    }

    @Test
    void theirTypeAndAlgorithmsAreTheOnesThatWereNamed() {
        assertThat(gate.verdictOn(AtTheGate.signed(claims(), theirs, "at+jwt"))).isEqualTo("wrong-type");
        SigningKey other = SigningKey.generate(SigningAlgorithm.ES256);
        publish(theirs, other);
        clock.move(Duration.ofSeconds(11));
        assertThat(gate.verdictOn(AtTheGate.signed(claims(), other, "JWT"))).isEqualTo("unknown-key");
    }

    @Test
    void aTokenOfTheirsIsNoneOfOurs() {
        Map<String, Object> claims = claims();
        claims.put("iss", gate.issuer().url());
        assertThat(verdict(claims)).isEqualTo("unknown-key");
        Harbour.made(harbour.routes.replace(
                harbour.issuer, route.id(), route(null), Expected.ANY, "/tides/**", null, Harbour.CORIN));
        assertThat(verdict(claims())).isEqualTo("wrong-issuer");
    }

    @Test
    void aRouteMayBeForTheirsAlone() {
        String ours = gate.token(buoy, "tides.read");
        assertThat(gate.verdictOn(ours)).isEqualTo("admitted");
        Harbour.made(harbour.routes.replace(
                harbour.issuer,
                route.id(),
                route(List.of("coastguard")),
                Expected.ANY,
                "/tides/**",
                null,
                Harbour.CORIN));
        assertThat(gate.verdictOn(ours)).isEqualTo("wrong-issuer");
        assertThat(verdict(claims())).isEqualTo("admitted");
    }

    @Test
    void aNewKeyIsLookedForOnceAndNotForEveryStranger() {
        assertThat(verdict(claims())).isEqualTo("admitted");
        int before = harbour.looks.get();
        SigningKey fresh = SigningKey.generate(SigningAlgorithm.RS256);
        publish(fresh);
        clock.move(Duration.ofSeconds(11));

        assertThat(gate.verdictOn(AtTheGate.signed(claims(), fresh, "JWT"))).isEqualTo("admitted");
        assertThat(harbour.looks.get()).as("metadata and keys").isEqualTo(before + 2);
        assertThat(verdict(claims()))
                .as("the old key is theirs no longer, remembered or not")
                .isEqualTo("unknown-key");
        for (int i = 0; i < 50; i++)
            assertThat(gate.verdictOn(AtTheGate.signed(claims(), SigningKey.generate(SigningAlgorithm.ES256), "JWT")))
                    .isEqualTo("unknown-key");
        assertThat(harbour.looks.get()).as("after fifty keys that nobody has").isEqualTo(before + 2);
    }

    @Test
    void anIssuerThatIsAwayStopsNoTokenWhoseKeyIsKnown() {
        assertThat(verdict(claims())).isEqualTo("admitted");
        harbour.elsewhere.clear();
        clock.move(Duration.ofHours(1));
        assertThat(verdict(claims())).isEqualTo("admitted");

        harbour.database.close();
        harbour = new Harbour(folder, clock); // as after a restart
        harbour.configuration.republish();
        gate = new AtTheGate(harbour, clock);
        assertThat(verdict(claims())).isEqualTo("admitted");
    }

    @Test
    void keysOfSomebodyElseAreNotTaken() {
        harbour.elsewhere.put(
                METADATA, "{\"issuer\":\"https://elsewhere.example\",\"jwks_uri\":\"%s\"}".formatted(KEYS));
        TrustedIssuer it =
                harbour.trusted.named(harbour.issuer.id(), "coastguard").orElseThrow();

        assertThat(harbour.trust.look(it).fault().orElseThrow()).contains("it names 'https://elsewhere.example'");
        assertThat(harbour.trust.state(it).kids()).doesNotContain(theirs.kid());
        assertThat(verdict(claims())).isEqualTo("unknown-key");
    }

    @Test
    void whatARouteNamesStays() {
        assertThat(harbour.trust.remove(harbour.issuer, "coastguard", Expected.ANY, Harbour.CORIN))
                .isInstanceOf(Change.Refused.class);
        Harbour.made(harbour.routes.remove(harbour.issuer, route.id(), Expected.ANY, null, Harbour.CORIN));
        Harbour.made(harbour.trust.remove(harbour.issuer, "coastguard", Expected.ANY, Harbour.CORIN));
        assertThat(harbour.trusted.of(harbour.issuer.id())).isEmpty();
    }

    @ParameterizedTest(name = "{0} {1}")
    @CsvSource(textBlock = """
            url,      http://coastguard.example,       /url
            url,      coastguard,                      /url
            url,      https://a:b@coastguard.example,  /url
            metadata, ftp://coastguard.example,        /metadata
            jwksUri,  http://10.0.0.1/jwks,            /jwks_uri
            jwks,     {},                              /jwks
            jwks,     '{"keys":[{"kty":"oct",\
            "k":"AyM1SysPpbyDfgZld3umj1qzKObwVMkoqQ-EstJQLr_T-1qS0gZH75aKtMN3Yj0iPS4hcgUuTwjAzZr1Z9CAow"}]}', /jwks
            algorithm, HS256,                          /algorithms/0
            client,    nobody,                         /clients/x
            """)
    void whatCannotBeTrustedIsToldByItsField(String member, String value, String pointer) {
        TrustedIssuerWanted wanted = new TrustedIssuerWanted(
                "lights",
                member.equals("url") ? value : "https://lights.example",
                member.equals("metadata") ? value : null,
                member.equals("jwksUri") ? value : null,
                member.equals("jwks") ? value : null,
                member.equals("algorithm") ? List.of(value) : null,
                null,
                null,
                null,
                null,
                null,
                null,
                null,
                member.equals("client") ? Map.of("x", value) : null);
        Change<TrustedIssuer> change = harbour.trust.add(harbour.issuer, wanted, Harbour.CORIN);
        assertThat(change).isInstanceOfSatisfying(Change.Invalid.class, it -> assertThat(
                        it.faults().toString())
                .contains(pointer));
    }

    @Test
    void aPastedKeySetLosesWhatIsPrivate() {
        String whole = new JWKSet(com.nimbusds.jose.jwk.JWK.class.cast(privatePair())).toString(false);
        TrustedIssuer it = Harbour.made(harbour.trust.add(
                harbour.issuer,
                new TrustedIssuerWanted(
                        "lights",
                        "https://lights.example",
                        null,
                        null,
                        whole,
                        null,
                        null,
                        null,
                        null,
                        null,
                        null,
                        null,
                        null,
                        null),
                Harbour.CORIN));
        assertThat(((TrustedIssuer.Keys.Pasted) it.keys()).jwks())
                .contains("\"kty\"")
                .doesNotContain("\"d\"");
    }

    private static com.nimbusds.jose.jwk.JWK privatePair() {
        try {
            return new com.nimbusds.jose.jwk.gen.ECKeyGenerator(com.nimbusds.jose.jwk.Curve.P_256)
                    .keyID("a")
                    .generate();
        } catch (com.nimbusds.jose.JOSEException broken) {
            throw new AssertionError(broken);
        }
    }
}
