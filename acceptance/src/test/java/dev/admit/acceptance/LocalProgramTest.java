package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.parallel.ResourceLock;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/**
 * A program on the person's own machine that passes for a native client (RFC 8252 §8.6): the browser is signed in, the
 * person did not start anything.
 */
@ResourceLock(Running.DEMO)
class LocalProgramTest {
    private static Running demo;

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo();
    }

    private static Visitor signedIn(String name) throws Exception {
        Visitor visitor = new Visitor(demo);
        Visitor.signIn(visitor.get("/harbour/sign-in"), demo, name);
        return visitor;
    }

    @ParameterizedTest(name = "{0} as {1} for {2}: {3}")
    @CsvSource(nullValues = "code", textBlock = """
            admit-command-line, corin,  openid admit:run,            access_denied
            pilot-tablet,       tobias, openid offline_access,       access_denied
            pilot-tablet,       tobias, openid berths.book,          access_denied""")
    void nothingThatMattersIsGivenWithoutAQuestion(String client, String person, String scope, String error)
            throws Exception {
        Visitor visitor = signedIn(person);
        Visitor.Pkce pkce = Visitor.Pkce.make();
        // The person approved it before, or an administrator did for everyone.
        Visitor.Seen first = visitor.get(Visitor.asking(demo, client, pkce, scope));
        assertThat(Visitor.approve(first).parameter("code")).isNotEmpty();
        Visitor.Seen silent = visitor.get(Visitor.asking(demo, client, Visitor.Pkce.make(), scope, "prompt", "none"));
        assertThat(silent.parameter("code")).isEmpty();
        assertThat(silent.parameter("error")).isEqualTo("consent_required");
        assertThat(silent.parameter("state")).isEqualTo("the-state");
        Visitor.Seen again = visitor.get(Visitor.asking(demo, client, Visitor.Pkce.make(), scope));
        assertThat(again.location()).as("nor without prompt=none").isEmpty();
        assertThat(again.body()).contains("/harbour/approve\"");
        assertThat(again.body())
                .as("what is given stands open")
                .contains("Continue only if you started this yourself.")
                .contains("<details open")
                .contains(scope.split(" ")[1]);
        assertThat(again.send("/harbour/approve", "answer", "no").parameter("error"))
                .isEqualTo(error);
    }

    @Test
    void whatOnlyReadsIsNotAskedForTwice() throws Exception {
        Visitor visitor = signedIn("tobias");
        assertThat(Visitor.approve(visitor.get(
                                Visitor.asking(demo, "pilot-tablet", Visitor.Pkce.make(), "openid tides.read")))
                        .parameter("code"))
                .isNotEmpty();
        assertThat(visitor.get(Visitor.asking(
                                demo, "pilot-tablet", Visitor.Pkce.make(), "openid tides.read", "prompt", "none"))
                        .parameter("code"))
                .isNotEmpty();
    }

    @Test
    void aClientWithACredentialIsProvenByIt() throws Exception {
        assertThat(signedIn("isolde")
                        .get(Visitor.asking(
                                demo,
                                "berth-desk",
                                Visitor.Pkce.make(),
                                "openid offline_access berths.book",
                                "prompt",
                                "none"))
                        .parameter("code"))
                .isNotEmpty();
    }
}
