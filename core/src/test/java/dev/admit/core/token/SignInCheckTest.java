package dev.admit.core.token;

import static org.assertj.core.api.Assertions.assertThat;

import dev.admit.core.decision.CheckResult;
import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What a token must say of people, clients and roles, and how a refusal is fixed. */
class SignInCheckTest {
    private static final Instant NOW = Instant.parse("2026-11-23T09:00:00Z");

    private static VerifiedToken token(String subject, Map<String, Object> extra) {
        return new VerifiedToken(
                Optional.empty(),
                "iss_h",
                "iss_h",
                "https://h.example/harbour",
                subject,
                "cl_1",
                List.of("https://tides.example"),
                "https://tides.example",
                List.of(),
                "",
                TokenId.elsewhere(NOW.getEpochSecond(), 7),
                NOW.getEpochSecond(),
                0,
                NOW.getEpochSecond() + 60,
                extra,
                "");
    }

    private static String verdict(TokenCheck check, VerifiedToken token) {
        return switch (check.on(token, NOW)) {
            case CheckResult.Passed passed -> "passed";
            case CheckResult.Skipped skipped -> "skipped";
            case CheckResult.Refused refused -> refused.refusal().reason().toString();
        };
    }

    @ParameterizedTest(name = "signed in {0} s ago with {1}, wanted within {2} and {3}: {4}")
    @CsvSource(nullValues = "-", textBlock = """
            60,   urn:admit:acr:1, 2m, -,               passed
            151,  urn:admit:acr:1, 2m, -,               sign-in-too-old
            149,  urn:admit:acr:1, 2m, -,               passed
            60,   urn:admit:acr:1, -,  urn:admit:acr:2, sign-in-not-strong-enough
            60,   -,               -,  urn:admit:acr:2, sign-in-not-strong-enough
            60,   urn:admit:acr:2, -,  urn:admit:acr:2, passed
            9999, urn:admit:acr:1, 2m, urn:admit:acr:2, sign-in-not-strong-enough
            9999, urn:admit:acr:2, 2m, urn:admit:acr:2, sign-in-too-old
            -,    urn:admit:acr:2, 2m, -,               sign-in-too-old
            """)
    void aSignInIsFreshAndStrongEnough(Long ago, String acr, String within, String strength, String verdict) {
        Map<String, Object> extra = new HashMap<>();
        if (ago != null) extra.put("auth_time", NOW.getEpochSecond() - ago);
        if (acr != null) extra.put("acr", acr);
        SignInCheck check = new SignInCheck(
                Optional.ofNullable(within).map(it -> Duration.parse("PT" + it)), Optional.ofNullable(strength));
        assertThat(verdict(check, token("pe_1", extra))).isEqualTo(verdict);
        // RFC 9470 §3: the challenge says what to request, and requesting it is the fix.
        if (within != null) assertThat(check.challenge()).contains("max_age=120");
        if (strength != null) assertThat(check.challenge()).contains("acr_values=\"" + strength + "\"");
        if (check.on(token("pe_1", extra), NOW) instanceof CheckResult.Refused refused) {
            assertThat(refused.refusal().fix().sentence())
                    .contains(strength != null ? "acr_values=" + strength : "max_age=120");
            assertThat(verdict(
                            check,
                            token(
                                    "pe_1",
                                    Map.of(
                                            "auth_time",
                                            NOW.getEpochSecond(),
                                            "acr",
                                            strength == null ? "urn:admit:acr:1" : strength))))
                    .as("after that sign-in")
                    .isEqualTo("passed");
        }
    }

    @Test
    void somebodysTokenIsTheirsAndAClientsIsItsOwn() {
        assertThat(verdict(new BearerKindCheck(true), token("cl_1", Map.of()))).isEqualTo("person-wanted");
        assertThat(verdict(new BearerKindCheck(true), token("pe_1", Map.of()))).isEqualTo("passed");
        assertThat(verdict(new BearerKindCheck(false), token("pe_1", Map.of()))).isEqualTo("client-wanted");
        assertThat(verdict(new BearerKindCheck(false), token("cl_1", Map.of()))).isEqualTo("passed");
    }

    @Test
    void aRoleIsAmongThoseTheTokenHas() {
        RoleCheck check = new RoleCheck(List.of("pilot", "harbour-master"), "berths");
        assertThat(verdict(check, token("pe_1", Map.of("roles", List.of("clerk", "pilot")))))
                .isEqualTo("passed");
        assertThat(verdict(check, token("pe_1", Map.of("roles", List.of("clerk")))))
                .isEqualTo("role-missing");
        assertThat(verdict(check, token("pe_1", Map.of("roles", List.of())))).isEqualTo("role-missing");
        assertThat(verdict(check, token("pe_1", Map.of("roles", "pilot"))))
                .as("a text is no list of roles")
                .isEqualTo("role-missing");
        CheckResult.Refused none = (CheckResult.Refused) check.on(token("pe_1", Map.of()), NOW);
        assertThat(none.refusal().fix().command()).contains("admit api minting berths --add-claim roles=person.roles");
        CheckResult.Refused other =
                (CheckResult.Refused) check.on(token("pe_1", Map.of("roles", List.of("clerk"))), NOW);
        assertThat(other.refusal().fix().command()).contains("admit person change pe_1 --add-role pilot");
    }

    @Test
    void namesOfOtherClientsAreNotToldToWhoeverIsNotNamed() {
        NamedClientCheck check = new NamedClientCheck(java.util.Set.of("cl_2", "cl_3"), "GET /tides/**");
        CheckResult.Refused refused = (CheckResult.Refused) check.on(token("cl_1", Map.of()), NOW);
        assertThat(refused.refusal().sentence()).doesNotContain("cl_2").doesNotContain("cl_3");
        assertThat(verdict(new NamedClientCheck(java.util.Set.of("cl_1"), "GET /x"), token("cl_1", Map.of())))
                .isEqualTo("passed");
    }

    @Test
    void aTokenFromElsewhereIsOlderThanAnythingOfItsSecond() {
        TokenId theirs = TokenId.elsewhere(NOW.getEpochSecond(), 7);
        assertThat(theirs.order()).isLessThan(NOW.toEpochMilli() << 16);
        assertThat(theirs)
                .isEqualTo(TokenId.elsewhere(NOW.getEpochSecond(), 7))
                .isNotEqualTo(TokenId.elsewhere(NOW.getEpochSecond(), 8L << 20));
        assertThat(TokenId.elsewhere(-5, 1).order()).isPositive();
        assertThat(TokenId.elsewhere(Long.MAX_VALUE, 1).order())
                .as("a time that no clock has")
                .isPositive();
    }
}
