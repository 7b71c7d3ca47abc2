package dev.admit.core.route;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class RequestPathTest {

    @ParameterizedTest(name = "{0} is forwarded as {1}")
    @CsvSource(textBlock = """
            /,                      /
            /tides,                 /tides
            /tides/,                /tides/
            /tides/north-quay,      /tides/north-quay
            /t%69des,               /tides
            /%7Euser,               /~user
            /a%20b,                 /a%20b
            /%c3%a9,                /%C3%A9
            /a+b@c:d!$&'()*,        /a+b@c:d!$&'()*
            /%3Fnot-a-query,        /%3Fnot-a-query
            /a%7bb%7d,              /a%7Bb%7D""")
    void whatIsMatchedIsWhatIsForwarded(String raw, String forwarded) {
        assertThat(RequestPath.read(raw)).isInstanceOfSatisfying(RequestPath.Reading.Good.class, good -> assertThat(
                        good.path().encoded())
                .isEqualTo(forwarded));
    }

    @ParameterizedTest(name = "{0} is refused as {1}")
    @CsvSource(textBlock = """
            tides,              does not begin
            //tides,            doubled slash
            /tides//x,          doubled slash
            /tides/./x,         dot segment
            /tides/../berths,   dot segment
            /tides/..,          dot segment
            /tides/%2e%2e/x,    dot segment
            /tides/.%2E/x,      dot segment
            /tides%2fx,         encoded slash
            /tides%2Fx,         encoded slash
            /tides%5c..,        backslash
            '/tides\\x',        backslash
            /tides;a=b,         path parameter
            /tides%3bx,         path parameter
            /tides/%00,         NUL
            /tides/%0d%0a,      control character
            /tides/%252e%252e,  decoded twice
            /tides/%,           hexadecimal
            /tides/%2,          hexadecimal
            /tides/%zz,         hexadecimal
            /tides/%c3%28,      no UTF-8
            /tides/%c0%ae,      no UTF-8
            /tïdes,             bare character""")
    void whatCouldBeReadTwoWaysIsRefused(String raw, String why) {
        assertThat(RequestPath.read(raw))
                .isInstanceOfSatisfying(RequestPath.Reading.Unsafe.class, unsafe -> assertThat(unsafe.received())
                        .contains(why));
    }

    @Test
    void anEndlessPathIsRefused() {
        assertThat(RequestPath.read("/" + "a".repeat(5000))).isInstanceOf(RequestPath.Reading.Unsafe.class);
    }
}
