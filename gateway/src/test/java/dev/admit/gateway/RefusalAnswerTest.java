package dev.admit.gateway;

import static org.assertj.core.api.Assertions.assertThat;

import dev.admit.core.decision.Action;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Refusal;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

class RefusalAnswerTest {
    private final RefusalAnswer answers = new RefusalAnswer();

    @ParameterizedTest
    @EnumSource(Reason.class)
    void everyReasonBecomesProblemDetailsThatParse(Reason reason) {
        Refusal refusal = new Refusal(
                reason,
                "a \"quoted\" thing",
                "back\\slash and \u2028",
                Fix.of("Do é.", Action.of("x", "y")).by("an operator"));
        JsonNode problem = new JsonMapper().readTree(answers.body(refusal, "dec_1"));
        assertThat(problem.path("type").asString()).isEqualTo("urn:admit:refusal:" + reason);
        assertThat(problem.path("status").asInt()).isEqualTo(reason.status()).isBetween(400, 499);
        assertThat(problem.path("expected").asString()).isEqualTo("a \"quoted\" thing");
        assertThat(problem.path("received").asString()).isEqualTo("back\\slash and \u2028");
        assertThat(problem.path("fix").path("command").asString()).isEqualTo("admit x y");
        assertThat(problem.path("decision").asString()).isEqualTo("dec_1");
        assertThat(Reason.of(reason.toString())).hasValue(reason);
    }

    @Test
    void twoRefusalsAlikeShareEverythingButTheirDecision() {
        Refusal refusal = new Refusal(Reason.NO_TOKEN, "a", "b", Fix.of("c"));
        String first = new String(answers.body(refusal, "dec_1"), java.nio.charset.StandardCharsets.UTF_8);
        String second = new String(
                answers.body(
                        new Refusal(Reason.NO_TOKEN, "a", "b", new Fix("c", Optional.empty(), Optional.empty())),
                        "dec_2"),
                java.nio.charset.StandardCharsets.UTF_8);
        assertThat(second).isEqualTo(first.replace("dec_1", "dec_2"));
    }

    @Test
    void aChallengeIsOneHeaderWhateverItQuotes() {
        Refusal hostile = new Refusal(Reason.WRONG_AUDIENCE, "x", "y\"\r\nSet-Cookie: a=b\\\u00e9", Fix.of("z"));
        String challenge = RefusalAnswer.challenge(hostile, "tides", "");
        assertThat(challenge).doesNotContain("\r").doesNotContain("\n").matches("[\\x20-\\x7e]+");
        assertThat(challenge.chars().filter(c -> c == '"').count())
                .as("three quoted values")
                .isEqualTo(6);
    }

    @Test
    void onlyTheStandardsCasesNameAnErrorOrScopes() {
        assertThat(RefusalAnswer.challenge(new Refusal(Reason.NO_TOKEN, "a", "b", Fix.of("c")), "tides", "tides.read"))
                .isEqualTo("Bearer realm=\"tides\"");
        assertThat(RefusalAnswer.challenge(new Refusal(Reason.EXPIRED, "a", "b", Fix.of("c")), "tides", "tides.read"))
                .contains("error=\"invalid_token\"")
                .doesNotContain("scope=");
        assertThat(RefusalAnswer.challenge(
                        new Refusal(Reason.INSUFFICIENT_SCOPE, "a", "b", Fix.of("c")), "tides", "tides.read"))
                .endsWith("scope=\"tides.read\"");
    }
}
