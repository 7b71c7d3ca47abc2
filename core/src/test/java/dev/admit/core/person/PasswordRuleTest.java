package dev.admit.core.person;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class PasswordRuleTest {
    @ParameterizedTest
    @ValueSource(
            strings = {
                "four plain words here",
                "Fünf schöne Wörter",
                "tern-quay-lamp-oar",
                "x9#kQ!mm2&Lp",
                "passwords are for people who wait",
                "潮の満ち引きを見る人たち"
            })
    void lengthIsEnough(String password) {
        assertThat(PasswordRule.faultOf(password, "tobias.wren@saltmarsh.example", "harbour"))
                .isEmpty();
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource({
        "short, at least",
        "password123456, tried first",
        "PASSWORD123456, tried first",
        "p@ssw0rd2026!, tried first",
        "  p a s s w o r d, tried first",
        "qwertyuiop12, tried first",
        "1234567890, tried first",
        "welcomewelcome, tried first",
        "abababababab, repeats",
        "tobias.wren99, made of your address",
        "tobias.wren@saltmarsh.example, made of your address",
        "harbourharbour, tried first"
    })
    void whatIsTriedFirstIsNotTaken(String password, String said) {
        assertThat(PasswordRule.faultOf(password, "tobias.wren@saltmarsh.example", "harbour")
                        .orElseThrow())
                .contains(said)
                .doesNotContain(password);
    }
}
