package dev.admit.gateway;

import static org.assertj.core.api.Assertions.assertThat;

import dev.admit.core.browser.ReservedCookies;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import org.eclipse.jetty.http.HttpField;
import org.eclipse.jetty.http.HttpFields;
import org.eclipse.jetty.http.HttpHeader;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Which headers of a caller's never reach a backend. */
class PassedHeadersTest {
    private static final long SEED = 20261123L;

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(textBlock = """
            Admit-Person,       true
            admit_person,       true
            ADMIT-PASSAGE,      true
            Admit,              true
            Admittance,         false
            X-Admit-Person,     false
            Authorization,      true
            Proxy-Authorization, true
            Forwarded,          true
            X-Forwarded-For,    true
            X-Real-IP,          true
            X-Forwarded-Server, true
            X-Forward,          false
            Accept,             false
            Cookie,             false
            X_Forwarded_For,    true
            X.Forwarded.For,    true
            X-Forwarded_Proto,  true
            Proxy_Authorization, true
            Content_Length,     true
            Transfer_Encoding,  true
            X_Tenant,           true
            X-Tenant,           true
            x~tenant,           true
            X_Tenants,          false
            X_Api_Key,          true
            X-Api-Key,          true
            Accept_Language,    false
            """)
    void whatLooksLikeOursIsDropped(String name, boolean ours) {
        assertThat(isOurs(name)).isEqualTo(ours);
        assertThat(isOurs(name.toUpperCase(Locale.ROOT))).isEqualTo(ours);
        assertThat(isOurs(name.toLowerCase(Locale.ROOT))).isEqualTo(ours);
    }

    /** At a route that sets X-Tenant, before an upstream to which the gateway presents X-Api-Key. */
    private static boolean isOurs(String name) {
        return PassedHeaders.isOurs(new HttpField(name, "x"), Set.of("x-tenant"), Optional.of("X-Api-Key"));
    }

    @Test
    void howeverItIsSpelledNoCallerNamesTheCaller() {
        Random random = new Random(SEED);
        List<String> tails =
                List.of("Person", "Caller", "Proof", "Scopes", "Issuer", "Token-Issuer", "Decision", "x", "");
        for (int i = 0; i < 5_000; i++) {
            StringBuilder name = new StringBuilder();
            for (char c : "admit".toCharArray()) name.append(random.nextBoolean() ? c : Character.toUpperCase(c));
            name.append(random.nextBoolean() ? '-' : '_').append(tails.get(random.nextInt(tails.size())));
            assertThat(isOurs(name.toString())).as("%s (seed %d)", name, SEED).isTrue();
        }
    }

    @ParameterizedTest(name = "{0} → {1}")
    @CsvSource(delimiter = '|', nullValues = "none", textBlock = """
            a=1                                              | a=1
            admit_session_0d1e2f=x                           | none
            __Host-admit_session_0d1e2f=x; a=1               | a=1
            a=1;admit_sign_in=y ;b=2                         | a=1; b=2
            admitted=yes; admit=no                           | admitted=yes; admit=no
            a=admit_session_0d1e2f=x                         | a=admit_session_0d1e2f=x
            ; ;admit_session_x=1;;                           | none
            admit-harbour=x; admit_console=y; a=1            | a=1
            __Secure-admit_console=y; __HOST-Admit-harbour=x | none
            __Host-theirs=1                                  | __Host-theirs=1
            """)
    void whatABrowserKeepsForTheGatewayStaysThere(String sent, String passed) {
        HttpFields.Mutable headers = HttpFields.build().add(HttpHeader.COOKIE, sent);
        PassedHeaders.withoutOurCookies(headers);
        assertThat(headers.get(HttpHeader.COOKIE)).isEqualTo(passed);
    }

    @Test
    void noCookieOfOursIsLeftAmongAnyOthers() {
        Random random = new Random(SEED);
        List<String> pieces = List.of(
                "a=1",
                "admit_session_00ff00=secret",
                "__Host-admit_session_00ff00=secret",
                "admit_sign_in=secret",
                "__Host-admit_sign_in=secret",
                " ",
                "",
                "b=\"q\"",
                "c",
                "=",
                "d=admit");
        for (int i = 0; i < 2_000; i++) {
            HttpFields.Mutable headers = HttpFields.build();
            for (int lines = 1 + random.nextInt(3); lines > 0; lines--) {
                List<String> chosen = new ArrayList<>();
                for (int n = random.nextInt(6); n >= 0; n--) chosen.add(pieces.get(random.nextInt(pieces.size())));
                headers.add(HttpHeader.COOKIE, String.join(random.nextBoolean() ? "; " : ";", chosen));
            }
            PassedHeaders.withoutOurCookies(headers);
            assertThat(headers.getValuesList(HttpHeader.COOKIE).toString())
                    .as("seed %d, %d", SEED, i)
                    .doesNotContain("secret");
        }
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(delimiter = '|', textBlock = """
            admit-harbour=planted; Path=/harbour          | true
            admit_console=planted                         | true
            __Host-admit_session_0=planted; Secure        | true
            ADMIT_SIGN_IN=planted                         | true
            =admit_console=planted                        | true
            ==admit_console=planted                       | true
            admit_console                                 | true
            session=1; Path=/admit-harbour                | false
            theirs=admit_console                          | false
            admitted=1                                    | false""")
    void noUpstreamSetsACookieOfOurs(String setCookie, boolean planted) {
        assertThat(ReservedCookies.sets(setCookie)).isEqualTo(planted);
        assertThat(ReservedCookies.sets("  " + setCookie)).isEqualTo(planted);
    }
}
