package dev.admit.core.token;

import static org.assertj.core.api.Assertions.assertThat;

import com.nimbusds.jose.JOSEObjectType;
import com.nimbusds.jose.JWSAlgorithm;
import com.nimbusds.jose.JWSHeader;
import com.nimbusds.jose.JWSObject;
import com.nimbusds.jose.Payload;
import com.nimbusds.jose.PlainHeader;
import com.nimbusds.jose.PlainObject;
import com.nimbusds.jose.crypto.MACSigner;
import dev.admit.core.decision.Endpoint;
import dev.admit.core.decision.Recorder;
import dev.admit.core.decision.Refusal;
import dev.admit.core.key.IssuerKeys;
import dev.admit.core.key.SigningAlgorithm;
import dev.admit.core.key.SigningKey;
import dev.admit.core.key.SigningKeys;
import dev.admit.core.tries.Strangers;
import java.net.URI;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Everything that can be wrong with a token, each refused for its own reason. */
class VerifyTokenTest {
    private static final String ISSUER = "http://127.0.0.1:9470/harbour";
    private static final String TIDES = "https://tides.saltmarsh.example";
    private static final Instant NOW = Instant.parse("2026-06-01T12:00:00Z");
    private static final SigningKey KEY = SigningKey.generate(SigningAlgorithm.ES256);
    private static final IssuerKeys KEYS = keys(KEY);
    private static final TokenSource SOURCE = new OwnTokens("iss_h", ISSUER, KEYS);

    private static IssuerKeys keys(SigningKey key) {
        SigningKeys.Stored kept = new SigningKeys.Stored(
                key.kid(),
                "iss_h",
                SigningKeys.Purpose.ACCESS_TOKEN,
                key.algorithm().getName(),
                new byte[0],
                Instant.EPOCH,
                Instant.EPOCH,
                false,
                Optional.empty());
        return IssuerKeys.of(List.of(kept), it -> key, Duration.ofHours(24));
    }

    private final TokenIds ids = new TokenIds(Clock.fixed(NOW, ZoneOffset.UTC), 0);
    private final Revocations revocations = new Revocations();
    private final List<TokenCheck> checks = List.of(
            AudienceCheck.of(TIDES),
            new LifetimeCheck(Duration.ofSeconds(30)),
            new RevocationCheck(revocations),
            ScopeCheck.of(List.of("tides.read"), false));

    private Map<String, Object> claims() {
        Map<String, Object> claims = new LinkedHashMap<>();
        claims.put("iss", ISSUER);
        claims.put("sub", "cl_buoy");
        claims.put("aud", TIDES);
        claims.put("exp", NOW.getEpochSecond() + 900);
        claims.put("iat", NOW.getEpochSecond());
        claims.put("jti", ids.next().toString());
        claims.put("client_id", "cl_buoy");
        claims.put("scope", "tides.read tides.publish");
        return claims;
    }

    private static JWSHeader.Builder header() {
        return new JWSHeader.Builder(JWSAlgorithm.ES256)
                .type(new JOSEObjectType("at+jwt"))
                .keyID(KEY.kid());
    }

    private static String signed(JWSHeader header, Map<String, Object> claims, SigningKey key) {
        try {
            JWSObject token = new JWSObject(header, new Payload(claims));
            token.sign(key.signer());
            return token.serialize();
        } catch (com.nimbusds.jose.JOSEException cause) {
            throw new AssertionError(cause);
        }
    }

    private String tokenWith(Consumer<Map<String, Object>> change) {
        Map<String, Object> claims = claims();
        change.accept(claims);
        return signed(header().build(), claims, KEY);
    }

    private String verdictOn(String token) {
        return refusalOf(token).map(why -> why.reason().toString()).orElse("accepted");
    }

    private Optional<Refusal> refusalOf(String token) {
        Recorder decision = new Recorder(Endpoint.GATEWAY, NOW);
        VerifiedToken verified = VerifyToken.verify(token, List.of(SOURCE), decision);
        if (verified == null) return decision.refusal();
        for (TokenCheck check : checks) {
            if (!decision.passes(check.on(verified, NOW))) return decision.refusal();
        }
        return decision.refusal();
    }

    @Test
    void whatTheAuthorityMintsIsAccepted() {
        String minted = MintAccessToken.mint(
                new MintAccessToken.Grant(
                        ISSUER,
                        "cl_buoy",
                        TIDES,
                        "cl_buoy",
                        List.of("tides.read"),
                        NOW,
                        NOW.plusSeconds(900),
                        ids.next(),
                        Map.of("aud", "urn:other", "tier", "gold"),
                        Optional.empty()),
                KEY);
        assertThat(verdictOn(minted))
                .as("an extra claim replaces none of the standard")
                .isEqualTo("accepted");
        assertThat(verdictOn(tokenWith(claims -> {}))).isEqualTo("accepted");
    }

    @Test
    void oneChangedBitAnywhereIsRefused() {
        String token = tokenWith(claims -> {});
        List<String> accepted = new ArrayList<>();
        for (int i = 0; i < token.length(); i++) {
            // The last digit of each part has bits that base64 does not use; those change nothing in what was signed.
            boolean spare = i + 1 == token.length() || token.charAt(i + 1) == '.';
            if (token.charAt(i) == '.' || spare) continue;
            char other = token.charAt(i) == 'A' ? 'B' : 'A';
            String changed = token.substring(0, i) + other + token.substring(i + 1);
            if (verdictOn(changed).equals("accepted")) accepted.add("at " + i);
        }
        assertThat(accepted).isEmpty();
    }

    @ParameterizedTest(name = "typ {0}: {1}")
    @CsvSource(nullValues = "absent", textBlock = """
            at+jwt,                accepted
            application/at+jwt,    accepted
            AT+JWT,                accepted
            JWT,                   wrong-type
            id+jwt,                wrong-type
            absent,                wrong-type""")
    void onlyAccessTokensOpenARoute(String type, String verdict) {
        JWSHeader header = new JWSHeader.Builder(JWSAlgorithm.ES256)
                .type(type == null ? null : new JOSEObjectType(type))
                .keyID(KEY.kid())
                .build();
        assertThat(verdictOn(signed(header, claims(), KEY))).isEqualTo(verdict);
    }

    @Test
    void noneIsNoAlgorithm() {
        PlainHeader none = new PlainHeader.Builder()
                .type(new JOSEObjectType("at+jwt"))
                .customParam("kid", KEY.kid())
                .build();
        assertThat(verdictOn(new PlainObject(none, new Payload(claims())).serialize()))
                .isEqualTo("wrong-algorithm");
        assertThat(verdictOn(new PlainObject(none, new Payload(claims())).serialize() + "AAAA"))
                .isEqualTo("wrong-algorithm");
    }

    @Test
    void thePublicKeyIsNoSharedSecret() throws Exception {
        JWSHeader header = new JWSHeader.Builder(JWSAlgorithm.HS256)
                .type(new JOSEObjectType("at+jwt"))
                .keyID(KEY.kid())
                .build();
        JWSObject forged = new JWSObject(header, new Payload(claims()));
        forged.sign(new MACSigner(KEY.published().toECKey().toECPublicKey().getEncoded()));
        assertThat(verdictOn(forged.serialize())).isEqualTo("wrong-algorithm");
    }

    @Test
    void anotherKeyUnderOurIdIsRefused() {
        assertThat(verdictOn(signed(header().build(), claims(), SigningKey.generate(SigningAlgorithm.ES256))))
                .isEqualTo("bad-signature");
    }

    @Test
    void aKeyInTheHeaderIsNeverFollowed() {
        SigningKey attackers = SigningKey.generate(SigningAlgorithm.ES256);
        JWSHeader header = header().jwk(attackers.published())
                .jwkURL(URI.create("http://127.0.0.1:1/keys"))
                .build();
        assertThat(verdictOn(signed(header, claims(), attackers))).isEqualTo("bad-signature");
    }

    @Test
    void whatIsCriticalAndUnknownIsRefused() {
        JWSHeader header =
                header().criticalParams(Set.of("exp2")).customParam("exp2", 1).build();
        assertThat(verdictOn(signed(header, claims(), KEY))).isEqualTo("unknown-critical-header");
    }

    @ParameterizedTest(name = "kid {0}: {1}")
    @CsvSource(nullValues = "absent", textBlock = """
            absent,     unknown-key
            key_other,  unknown-key
            ../../keys, unknown-key""")
    void theKeyIsChosenByItsIdAlone(String kid, String verdict) {
        assertThat(verdictOn(signed(header().keyID(kid).build(), claims(), KEY)))
                .isEqualTo(verdict);
    }

    @ParameterizedTest(name = "iss {0}")
    @CsvSource({
        "http://127.0.0.1:9470/gullwing",
        "http://127.0.0.1:9470/harbour/",
        "HTTP://127.0.0.1:9470/harbour",
        "http://127.0.0.1:9470/harbour#x"
    })
    void theIssuerIsComparedAsAnExactString(String issuer) {
        assertThat(verdictOn(tokenWith(claims -> claims.put("iss", issuer)))).isEqualTo("wrong-issuer");
    }

    @ParameterizedTest(name = "exp {0} s, iat {1} s from now: {2}")
    @CsvSource(textBlock = """
            900,   0,  accepted
              1,   0,  accepted
            -29,   -900, accepted
            -30,   -900, expired
            -900,  -1800, expired
            900,   30, accepted
            900,   31, not-yet-valid""")
    void aTokenHoldsInItsLifetimeAndThirtySecondsAround(long exp, long iat, String verdict) {
        assertThat(verdictOn(tokenWith(claims -> {
                    claims.put("exp", NOW.getEpochSecond() + exp);
                    claims.put("iat", NOW.getEpochSecond() + iat);
                })))
                .isEqualTo(verdict);
    }

    @Test
    void notBeforeIsHonoured() {
        assertThat(verdictOn(tokenWith(claims -> claims.put("nbf", NOW.getEpochSecond() + 60))))
                .isEqualTo("not-yet-valid");
    }

    @Test
    void aRefusalShowsBothAudiences() {
        Refusal refusal = refusalOf(tokenWith(claims -> claims.put("aud", "https://berths.saltmarsh.example")))
                .orElseThrow();
        assertThat(refusal.reason()).hasToString("wrong-audience");
        assertThat(refusal.expected()).contains(TIDES);
        assertThat(refusal.received()).contains("https://berths.saltmarsh.example");
        assertThat(refusal.fix().sentence()).contains("resource=" + TIDES);
    }

    @Test
    void oneOfSeveralAudiencesIsEnough() {
        assertThat(verdictOn(tokenWith(claims -> claims.put("aud", List.of("https://x.example", TIDES)))))
                .isEqualTo("accepted");
    }

    @ParameterizedTest(name = "scope {0}: {1}")
    @CsvSource(nullValues = "absent", textBlock = """
            tides.read,              accepted
            tides.publish,           insufficient-scope
            tides.readx tides.rea,   insufficient-scope
            absent,                  insufficient-scope""")
    void theScopeMustBeThere(String scope, String verdict) {
        assertThat(verdictOn(tokenWith(claims -> claims.compute("scope", (name, before) -> scope))))
                .isEqualTo(verdict);
    }

    @ParameterizedTest(name = "without {0}")
    @CsvSource({"sub", "aud", "exp", "iat", "jti", "client_id"})
    void everyClaimOfTheProfileIsNeeded(String claim) {
        assertThat(verdictOn(tokenWith(claims -> claims.remove(claim)))).isEqualTo("malformed-token");
        assertThat(verdictOn(tokenWith(claims -> claims.put(claim, Map.of("a", 1)))))
                .isEqualTo("malformed-token");
    }

    @ParameterizedTest
    @CsvSource({"x", "a.b", "a.b.c", "a.b.c.d", "..", "e30.e30.", "!!.!!.!!"})
    void whatIsNoTokenIsToldApart(String text) {
        assertThat(verdictOn(text)).isIn("malformed-token", "wrong-algorithm");
    }

    @Test
    void aRevocationMeansWhatWasMintedBeforeItAndNothingAfter() {
        String before = tokenWith(claims -> {});
        revocations.add(new Revocation(
                new Revocation.Meant.OfClient("cl_buoy", Optional.of("tides.publish")),
                ids.next().order(),
                NOW.plusSeconds(1000)));
        String after = tokenWith(claims -> {});
        assertThat(verdictOn(before)).isEqualTo("revoked");
        assertThat(verdictOn(after))
                .as("minted within the same millisecond, after the withdrawal")
                .isEqualTo("accepted");
        assertThat(verdictOn(tokenWith(claims -> claims.put("scope", "tides.read"))))
                .isEqualTo("accepted");
    }

    @Test
    void aRememberedTokenIsForgottenWithItsKey() {
        RememberedTokens remembered = new RememberedTokens(10, null, new Strangers());
        String token = tokenWith(claims -> {});
        IssuerKeys withoutIt = keys(SigningKey.generate(SigningAlgorithm.ES256));
        assertThat(remembered.verify(token, SOURCE, new Recorder(Endpoint.GATEWAY, NOW)))
                .isPresent();
        assertThat(remembered.verify(token, SOURCE, new Recorder(Endpoint.GATEWAY, NOW)))
                .isPresent();
        Recorder decision = new Recorder(Endpoint.GATEWAY, NOW);
        assertThat(remembered.verify(token, new OwnTokens("iss_h", ISSUER, withoutIt), decision))
                .isEmpty();
        assertThat(decision.refusal().orElseThrow().reason()).hasToString("unknown-key");
        assertThat(remembered.verify(
                        token,
                        new OwnTokens("iss_g", "http://127.0.0.1:9470/gullwing", KEYS),
                        new Recorder(Endpoint.GATEWAY, NOW)))
                .isEmpty();
    }
}
