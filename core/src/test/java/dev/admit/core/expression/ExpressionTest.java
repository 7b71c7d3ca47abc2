package dev.admit.core.expression;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.cel.common.types.ListType;
import dev.cel.common.types.MapType;
import dev.cel.common.types.SimpleType;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class ExpressionTest {
    private static final Expression.Reader READER = new Expression.Reader(
            Map.of(
                    "client",
                    MapType.create(SimpleType.STRING, SimpleType.DYN),
                    "scopes",
                    ListType.create(SimpleType.STRING),
                    "n",
                    SimpleType.INT),
            null);

    private static Object value(String expression) throws Exception {
        return READER.read(expression)
                .on(Map.of(
                        "client",
                        Map.of("name", "tide-buoy-07", "tags", List.of("quay", "north")),
                        "scopes",
                        List.of("tides.read", "tides.publish"),
                        "n",
                        3L));
    }

    @ParameterizedTest
    @ValueSource(strings = {"a + a", "[a, a]", "[a, [a]]", "{'x': a, 'y': a}", "a + a + a", "[a].map(b, [b, b])[0]"})
    void whatDoublesAgainAndAgainIsRefusedWhenItIsRead(String turn) {
        StringBuilder chain = new StringBuilder("[client.name]");
        for (int i = 0; i < 12; i++) chain.append(".map(a, ").append(turn).append(')');
        assertThatThrownBy(() -> READER.read(chain.toString()))
                .isInstanceOf(Expression.Senseless.class)
                .hasMessageContaining("copies");
        assertThatThrownBy(() -> READER.read("size(" + chain + ") > 0"))
                .as("nor where only a number comes of it")
                .isInstanceOf(Expression.Senseless.class);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "scopes.map(s, s + '!')",
                "client.name + ' at ' + client.name",
                "scopes.filter(s, s.startsWith('tides.')).map(s, s + s)",
                "client.tags.exists(t, t == 'quay') && scopes.all(s, s != client.name)",
                "{'name': client.name, 'tags': client.tags}",
                "n > 2 ? client.name : 'none'",
                "scopes.exists_one(s, s == 'tides.read')",
                "[1, 2, 3].map(x, x * n)",
                "has(client.name) && size(client.tags) == 2"
            })
    void whatIsUsualIsTaken(String expression) throws Exception {
        value(expression);
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(delimiter = '|', textBlock = """
            client.name + client.name         | tide-buoy-07tide-buoy-07
            [1] + [2]                       | [1, 2]
            1 + 2                           | 3
            scopes.map(s, s + s)            | [tides.readtides.read, tides.publishtides.publish]
            1.5 + 1.5                       | 3.0""")
    void addingIsAsTheStandardHasIt(String expression, String comes) throws Exception {
        assertThat(value(expression)).hasToString(comes);
    }

    @Test
    void whatItMakesIsCountedEachTime() throws Exception {
        Expression joined = READER.read("scopes.map(s, s + s + s + s + s + s + s + s)");
        List<String> long1 = Collections.nCopies(400, "x".repeat(2_000));
        assertThatThrownBy(() -> joined.on(Map.of("client", Map.of(), "scopes", long1, "n", 0L)))
                .isInstanceOf(Expression.Senseless.class)
                .hasMessageContaining("2000000 characters");
        assertThat(joined.on(Map.of("client", Map.of(), "scopes", List.of("a"), "n", 0L)))
                .as("and anew the next time")
                .hasToString("[aaaaaaaa]");
    }

    @Test
    void manyTurnsComeToAnEnd() throws Exception {
        Expression nested = READER.read("scopes.all(a, scopes.all(b, scopes.all(c, a != 'never')))");
        assertThatThrownBy(
                        () -> nested.on(Map.of("client", Map.of(), "scopes", Collections.nCopies(200, "x"), "n", 0L)))
                .isInstanceOf(Expression.Senseless.class);
    }
}
