package dev.admit.core.minting;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.admit.core.expression.Expression;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.ClientAuthMethod;
import dev.admit.core.registry.ClientKind;
import dev.admit.core.registry.Minting;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** What an expression of a claim can say, and what it cannot: run for long, grow without end, reach anything else. */
class ClaimExpressionTest {
    private static final Instant NOW = Instant.ofEpochSecond(1_780_000_000);
    private static final Client BUOY = new Client(
            "cl_1",
            "iss_1",
            "tide-buoy-07",
            ClientKind.MACHINE,
            new Client.Texts("Buoy", "", List.of("Corin Ashby"), List.of(), List.of("buoy", "north")),
            Client.Proof.by(ClientAuthMethod.CLIENT_SECRET_BASIC),
            Client.Addresses.NONE,
            Optional.empty(),
            List.of(),
            Client.People.USUAL,
            true,
            1,
            NOW);
    private static final Api TIDES =
            new Api("api_1", "iss_1", "tides", "Tides", "urn:tides", Optional.empty(), Minting.USUAL, 1, NOW);

    private static Object value(String expression) throws Expression.Senseless {
        return ClaimExpression.read("claim", expression)
                .on(BUOY, TIDES, List.of("tides.read", "tides.publish"), "client_credentials", java.util.Map.of(), NOW);
    }

    @ParameterizedTest(name = "{0} is {1}")
    @CsvSource(delimiter = '|', quoteCharacter = '`', textBlock = """
            client.name                                   | tide-buoy-07
            client.contacts[0] + ' of ' + api.name              | Corin Ashby of tides
            client.client_name                            | Buoy
            client.tags                                   | [buoy, north]
            'north' in client.tags ? 'n' : 's'            | n
            scopes.exists(s, s.endsWith('.publish'))      | true
            scopes.filter(s, s.startsWith('tides.')).size() | 2
            now + 60                                      | 1780000060
            grant_type == 'client_credentials'            | true
            {'tier': 1.5, 'who': client.id}               | {tier=1.5, who=cl_1}
            has(client.nothing)                           | false""")
    void itSaysWhatItSees(String expression, String expected) throws Exception {
        assertThat(value(expression)).hasToString(expected);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "",
                "client.",
                "client.name +",
                "nobody",
                "1 + 'x'",
                "system('id')",
                "client.name.getClass()",
                "java.lang.Runtime",
                "((((((((((((((((((((((((((((((((((((((((((((((((((((((1))))))))))))))))))))))))))))))))))))))))))))"
                        + "))))))))))",
                "[1,2,3].map(x, y)",
                "import os"
            })
    void whatIsNoExpressionIsRefused(String expression) {
        assertThatThrownBy(() -> ClaimExpression.read("claim", expression)).isInstanceOf(Expression.Senseless.class);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "client.tags[9]",
                "client.missing",
                "1 / 0",
                "null",
                "b'bytes'",
                "timestamp('2026-01-01T00:00:00Z')",
                "9223372036854775807 + 1",
                "0.0 / 0.0",
                "int('x')",
                "[1,2,3,4,5,6,7,8,9,10].map(a, [1,2,3,4,5,6,7,8,9,10].map(b, [1,2,3,4,5,6,7,8,9,10].map(c, "
                        + "[1,2,3,4,5,6,7,8,9,10].map(d, a + b + c + d))))",
                "[1,2,3,4,5,6,7,8,9,10,11,12,13,14,15,16,17,18,19,20].map(a, 'a long text that is written again and "
                        + "again, and so outgrows what a claim may hold by far, long before it harms')",
                "client.name.matches('(((((a+)+)+)+)+)$') ? 'x' : client.tags[9]"
            })
    void whatComesToNothingThatAClaimCanHoldIsRefusedSoon(String expression) throws Exception {
        ClaimExpression read = ClaimExpression.read("claim", expression);
        long before = System.nanoTime();
        assertThatThrownBy(() -> read.on(BUOY, TIDES, List.of(), "client_credentials", java.util.Map.of(), NOW))
                .isInstanceOf(Expression.Senseless.class);
        assertThat(Duration.ofNanos(System.nanoTime() - before))
                .as("it ends by a bound, not by expiring")
                .isLessThan(Duration.ofSeconds(20));
    }

    @Test
    void anExpressionOfTwoRunsAtOnceComesToTheSame() {
        assertThat(java.util.stream.IntStream.range(0, 200)
                        .parallel()
                        .mapToObj(i -> {
                            try {
                                return value("client.name + string(scopes.size())");
                            } catch (Expression.Senseless broken) {
                                throw new AssertionError(broken);
                            }
                        })
                        .distinct())
                .containsExactly("tide-buoy-072");
    }
}
