package dev.admit.core.route;

import static org.assertj.core.api.Assertions.assertThat;

import dev.admit.core.route.Template.Spelling;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What a route makes of paths and texts: nothing that is filled in becomes more than it is. */
class TransformTest {
    private static PathPattern pattern(String text) {
        return ((PathPattern.Reading.Good) PathPattern.read(text)).pattern();
    }

    private static List<String> segments(String path) {
        return ((RequestPath.Reading.Good) RequestPath.read(path)).path().segments();
    }

    @ParameterizedTest(name = "{0} to {1}: {2} becomes {3}")
    @CsvSource(textBlock = """
            /tides/**,               /v2/**,              /tides/north/heights, /v2/north/heights
            /tides/**,               /v2/**,              /tides,               /v2
            /tides/**,               /v2/**,              /tides/,              /v2/
            /tides/**,               /**,                 /tides/north,         /north
            /tides/**,               /**,                 /tides,               /
            /tides/{gauge}/**,       /g/{gauge}/all/**,   /tides/n1/a/b,        /g/n1/all/a/b
            /berths/{berth}/ship,    /ships/at/{berth},   /berths/n%201/ship,   /ships/at/n%201
            /berths/{berth}/ship,    /ship,               /berths/n1/ship,      /ship
            /berths/{berth},         /b/{berth},          /berths/%C3%A9,       /b/%C3%A9""")
    void aPathBecomes(String route, String to, String received, String became) {
        assertThat(PathRewrite.faultOf(to, pattern(route))).isEmpty();
        assertThat(PathRewrite.of(to)
                        .on(
                                pattern(route).namesIn(segments(received)),
                                pattern(route).restOf(segments(received))))
                .isEqualTo(became);
    }

    @ParameterizedTest(name = "{0} cannot become {1}")
    @CsvSource({
        "/tides/{gauge},/x/{other}",
        "/tides/{gauge},/x/**",
        "/tides/**,no-slash",
        "/tides/**,/a/../b",
        "/tides/**,/x/**/y"
    })
    void whatTheRouteDoesNotKnowItsPathCannotBecome(String route, String to) {
        assertThat(PathRewrite.faultOf(to, pattern(route))).isPresent();
    }

    @ParameterizedTest(name = "{0}: {1} becomes {3}")
    @CsvSource(delimiter = '|', quoteCharacter = '`', textBlock = """
            HEADER | {{claims.sub}}     | cl_1              | cl_1
            HEADER | {{claims.sub}}     | a\\r\\nX: b        | aX: b
            HEADER | {{{claims.sub}}}   | a\\r\\nX: b        | aX: b
            HEADER | {{&claims.sub}}    | a\\r\\nX: b        | aX: b
            HEADER | {{claims.none}}x   | y                 | x
            HEADER | {{claims.sub.length}} | four           | ``
            HEADER | {{claims.sub.class}}  | four           | ``
            JSON   | {"s":"{{claims.sub}}"} | a","admin":"1 | {"s":"a\\",\\"admin\\":\\"1"}
            JSON   | {"s":"{{{claims.sub}}}"} | a","b":"1   | {"s":"a\\",\\"b\\":\\"1"}
            JSON   | {"s":"{{claims.sub}}"} | </script>     | {"s":"\\u003c/script>"}
            HTML   | <p>{{claims.sub}}  | <b>               | <p>&lt;b&gt;
            PLAIN  | {{claims.sub}}     | <b>               | <b>""")
    void whatIsFilledInStaysAText(Spelling spelling, String text, String value, String becomes) {
        String raw = value.replace("\\r", "\r").replace("\\n", "\n");
        String expected = spelling == Spelling.JSON ? becomes.replace("\\\\", "\\") : becomes;
        assertThat(Template.read(text, spelling).on(Map.of("claims", Map.of("sub", raw))))
                .isEqualTo(expected);
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(delimiter = '|', quoteCharacter = '`', textBlock = """
            {{claims.sub}} of {{path.gauge}}        | true
            {{#claims.firm}}of {{claims.firm}}{{/claims.firm}}{{^claims.firm}}nobody{{/claims.firm}} | true
            {{! a remark }}here                     | true
            {"a":{"b":{"c":[{}]}}}                  | true
            {{#open}}                               | false
            {{/closed}}                             | false
            {{claims.sub                            | false
            {{> /etc/passwd}}                       | false
            {{=<% %>=}}<%& claims.sub %>            | false
            {{"a":1}}                               | false
            {{}}                                    | false""")
    void aTextIsATemplateOrIsToldWhenItIsSavedAndStaysAsItIs(String text, boolean good) {
        assertThat(Template.faultOf(text).isEmpty()).isEqualTo(good);
        Template read = Template.read(text, Spelling.PLAIN);
        if (!good || !text.contains("{{"))
            assertThat(read.on(Map.of())).as("kept before there were templates").isEqualTo(text);
        assertThat(read.isFixed()).isEqualTo(!good || !text.contains("{{"));
    }

    @Test
    void aSectionIsThereWhenItsValueIs() {
        Template read = Template.read(
                "{{#claims.firm}}of {{claims.firm}}{{/claims.firm}}{{^claims.firm}}nobody{{/claims.firm}}",
                Spelling.HEADER);
        assertThat(read.on(Map.of("claims", Map.of("firm", "Gullwing")))).isEqualTo("of Gullwing");
        assertThat(read.on(Map.of("claims", Map.of()))).isEqualTo("nobody");
    }

    @Test
    void aConditionSeesWhatItIsGivenAndNothingElse() {
        assertThat(readable("claims.firm == 'Customs' && path.voyage.startsWith('v-') && method == 'GET' && now "
                        + "> 0 && headers['x-shift'] == 'night'"))
                .isTrue();
        assertThat(readable("claims.firm")).as("no yes or no").isTrue(); // its type is known only when it is computed
        assertThat(readable("'a' + 'b'")).isFalse();
        assertThat(readable("secrets.all")).isFalse();
        assertThat(readable("claims.firm ==")).isFalse();
    }

    private static boolean readable(String condition) {
        try {
            RequestCondition.read(condition, "GET /x");
            return true;
        } catch (dev.admit.core.expression.Expression.Senseless fault) {
            return false;
        }
    }
}
