package dev.admit.gateway;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatCode;

import java.net.URI;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class UpstreamQueryTest {

    @ParameterizedTest(name = "{0} goes on as {1}")
    @CsvSource(delimiter = ' ', quoteCharacter = '\0', textBlock = """
            a=b&c=d a=b&c=d
            a=%20b a=%20b
            a=%zz a=%25zz
            a=% a=%25
            a=%4 a=%254
            a=b|c a=b%7Cc
            a="b" a=%22b%22
            a=<b> a=%3Cb%3E
            a[0]=b a%5B0%5D=b
            a={b} a=%7Bb%7D
            a=b^c`d a=b%5Ec%60d
            a=é a=%C3%A9
            /?:@!$'()*+,; /?:@!$'()*+,;""")
    void whatNoUriAllowsIsEncodedAndNothingElse(String query, String spelt) {
        assertThat(UpstreamQuery.spell(query)).isEqualTo(spelt);
        assertThatCode(() -> URI.create("http://127.0.0.1/?" + spelt)).doesNotThrowAnyException();
        assertThat(UpstreamQuery.spell(spelt)).as("spelt once is spelt").isEqualTo(spelt);
    }
}
