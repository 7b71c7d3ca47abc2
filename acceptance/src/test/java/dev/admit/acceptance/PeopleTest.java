package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import dev.admit.acceptance.Visitor.Pkce;
import dev.admit.acceptance.Visitor.Seen;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.parallel.ResourceLock;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;

/**
 * People: signing in and up, passwords and second factors, roles, their own pages; and who tries to be another person.
 */
@ResourceLock(Running.DEMO)
class PeopleTest {
    private static Running demo;
    private static Operator operator;

    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo();
        operator = Operator.of(demo);
    }

    /** Adds a person with a password, for one test. */
    private static String added(String name, String more) throws Exception {
        String email = name + "@saltmarsh.example";
        Wire.Answer answer = operator.harbour(
                "POST",
                "/people",
                "{\"email\":\"%s\",\"profile\":{\"name\":\"%s\"},\"password\":\"four plain words here\"%s}"
                        .formatted(email, name, more));
        assertThat(answer.status()).as(answer.body()).isEqualTo(201);
        return email;
    }

    private static Seen in(Visitor visitor, String email) throws Exception {
        return visitor.get("/harbour/sign-in")
                .send("/harbour/sign-in", "email", email, "password", "four plain words here");
    }

    private static String mailedTo(String email) throws Exception {
        Matcher code = Pattern.compile("(\\d{4}) (\\d{4})").matcher(operator.mailTo(email));
        return code.find() ? code.group(1) + code.group(2) : "none";
    }

    // Signing in.

    @Test
    void anUnknownAddressAndAWrongPasswordLookTheSame() throws Exception {
        Seen page = new Visitor(demo).get("/harbour/sign-in");
        Seen wrong =
                page.send("/harbour/sign-in", "email", "junia.hale@saltmarsh.example", "password", "not the password");
        Seen unknown =
                page.send("/harbour/sign-in", "email", "nobody.here@saltmarsh.example", "password", "not the password");
        assertThat(wrong.status()).isEqualTo(unknown.status()).isEqualTo(401);
        assertThat(wrong.text().replace("junia.hale", "x"))
                .isEqualTo(unknown.text().replace("nobody.here", "x"));
        String off = added("switched-off", "");
        operator.harbour("POST", "/people/" + off + "/off", "{}");
        assertThat(page.send("/harbour/sign-in", "email", off, "password", "wrong all the same")
                        .text())
                .as("who is off shows only to the one who has the password")
                .contains("do not fit together");
        assertThat(in(new Visitor(demo), off).text()).contains("cannot sign in here at present");
    }

    @Test
    void guessingIsSlowedButNobodyIsLockedOut() throws Exception {
        String email = added("often-guessed", "");
        Seen page = new Visitor(demo).get("/harbour/sign-in");
        long before = System.nanoTime();
        for (int i = 0; i < 7; i++) page.send("/harbour/sign-in", "email", email, "password", "guess number " + i);
        assertThat((System.nanoTime() - before) / 1_000_000)
                .as("0.1, 0.2, 0.4 and 0.8 s were waited")
                .isGreaterThan(1_400);
        assertThat(in(new Visitor(demo), email).text())
                .as("the right one is let in at once")
                .contains("Your profile");
    }

    @Test
    void signingInChangesTheCookieAndProtectsIt() throws Exception {
        Visitor victim = new Visitor(demo);
        Seen page = victim.get("/harbour/sign-in");
        assertThat(page.header("Set-Cookie"))
                .contains("HttpOnly")
                .contains("SameSite=Lax")
                .contains("Path=/harbour");
        String planted = victim.cookies.get("admit-harbour");
        in(victim, "junia.hale@saltmarsh.example");
        Seen seen = Visitor.signIn(victim.get("/harbour/sign-in"), demo, "junia");
        assertThat(seen.text()).contains("Your profile");
        assertThat(victim.cookies.get("admit-harbour"))
                .as("the one who put the cookie there does not have the session")
                .isNotEqualTo(planted);
        Visitor attacker = new Visitor(demo);
        attacker.cookies.put("admit-harbour", planted);
        assertThat(attacker.get("/harbour/profile").text()).contains("Sign in").doesNotContain("junia");
    }

    @ParameterizedTest
    @CsvSource({
        "/harbour/sign-in",
        "/harbour/profile",
        "/harbour/approvals",
        "/harbour/sessions",
        "/harbour/password",
        "/harbour/sign-out",
        "/harbour/device",
        "/harbour/sign-up",
        "/harbour/forgotten",
        "/harbour/new-password",
        "/harbour/sign-up/finish",
        "/harbour/second-factor",
        "/harbour/factor",
        "/harbour/approve",
        "/harbour/choose",
        "/harbour/device/answer",
        "/harbour/end-session/confirmed"
    })
    void aFormFromAnotherPlaceIsNotTaken(String path) throws Exception {
        Visitor junia = new Visitor(demo);
        Visitor.signIn(junia.get("/harbour/sign-in"), demo, "junia");
        assertThat(junia.post(path, "session=x&field-name=Evil&all=1&answer=yes")
                        .status())
                .as("without the token of our own page")
                .isEqualTo(403);
        String token = junia.get("/harbour/profile").hidden("form").getFirst();
        assertThat(junia.post(path, "form=" + token, "Origin", "http://evil.example")
                        .status())
                .as("from another origin")
                .isEqualTo(403);
        assertThat(junia.post(
                                path,
                                "form="
                                        + new Visitor(demo)
                                                .get("/harbour/sign-in")
                                                .hidden("form")
                                                .getFirst())
                        .status())
                .as("with a token of another browser")
                .isEqualTo(403);
        assertThat(junia.get("/harbour/profile").body()).contains("value=\"Junia Hale\"");
    }

    @Test
    void pagesCannotBeFramedAndRunNothing() throws Exception {
        Seen page = new Visitor(demo).get("/harbour/sign-in");
        assertThat(page.header("Content-Security-Policy"))
                .contains("default-src 'none'")
                .contains("frame-ancestors 'none'")
                .contains("base-uri 'none'")
                .doesNotContain("script-src");
        assertThat(page.header("X-Frame-Options")).isEqualTo("DENY");
        assertThat(page.header("Referrer-Policy")).isEqualTo("same-origin");
        assertThat(page.header("Cache-Control")).isEqualTo("no-store");
        assertThat(page.body())
                .doesNotContain("<script")
                .doesNotContain("style=")
                .doesNotContain("http://")
                .doesNotContain("https://");
    }

    // Signing up, and passwords.

    @Test
    void aPersonSignsUpByACodeAndGoesOnWhereTheyWere() throws Exception {
        Pkce pkce = Pkce.make();
        Visitor fresh = new Visitor(demo);
        Seen page = fresh.get(Visitor.asking(demo, "quayside-board", pkce, "openid tides.read", "prompt", "create"));
        Seen form = page.send("/harbour/sign-up", "email", "  Fresh.Person@Saltmarsh.example ");
        String code = mailedTo("fresh.person@saltmarsh.example");
        Seen wrong = form.send(
                "/harbour/sign-up/finish",
                "code",
                code,
                "field-name",
                "Fresh",
                "field-licence_no",
                "no licence",
                "password",
                "four plain words here");
        assertThat(wrong.status()).isEqualTo(422);
        assertThat(wrong.text()).contains("fits the pattern");
        Seen next = form.send(
                "/harbour/sign-up/finish",
                "code",
                code,
                "field-name",
                "Fresh",
                "field-licence_no",
                "FP-0001",
                "field-firm",
                "not requested",
                "password",
                "four plain words here");
        Seen back = next.send("/harbour/approve", "answer", "yes");
        assertThat(Visitor.exchange(demo, "quayside-board", back.parameter("code"), pkce, "")
                        .status())
                .isEqualTo(200);
        JsonNode person = operator.harbour("GET", "/people/fresh.person@saltmarsh.example", null)
                .json();
        assertThat(person.path("profile").toString()).contains("FP-0001").doesNotContain("not requested");
        assertThat(person.path("email_verified").asBoolean()).isTrue();
        Seen elsewhere = new Visitor(demo).get("/harbour/sign-up");
        assertThat(elsewhere
                        .send(
                                "/harbour/sign-up/finish",
                                "mailed",
                                form.hidden("mailed").getFirst(),
                                "code",
                                code,
                                "field-name",
                                "Again",
                                "field-licence_no",
                                "FP-0001",
                                "password",
                                "four plain words here")
                        .text())
                .as("a code opens once")
                .contains("Expected the code of the last mail");
    }

    @Test
    void aSignUpTellsNobodyWhoIsHereAndACodeHasFewTries() throws Exception {
        Seen page = new Visitor(demo).get("/harbour/sign-up");
        Seen known = page.send("/harbour/sign-up", "email", "junia.hale@saltmarsh.example");
        Seen unknown = page.send("/harbour/sign-up", "email", "somebody.else@saltmarsh.example");
        assertThat(known.text()).isEqualTo(unknown.text());
        assertThat(operator.harbour("GET", "/outbox?to=junia.hale@saltmarsh.example", null)
                        .body())
                .contains("here already");
        String code = mailedTo("somebody.else@saltmarsh.example");
        for (int i = 0; i < 5; i++)
            unknown.send(
                    "/harbour/sign-up/finish",
                    "code",
                    "00000000",
                    "field-name",
                    "X",
                    "field-licence_no",
                    "XX-0000",
                    "password",
                    "four plain words here");
        Seen late = unknown.send(
                "/harbour/sign-up/finish",
                "code",
                code,
                "field-name",
                "X",
                "field-licence_no",
                "XX-0000",
                "password",
                "four plain words here");
        assertThat(late.text())
                .as("after five tries the right one is too late")
                .contains("Expected the code of the last mail");
        assertThat(new Visitor(demo).get("/gullwing/sign-up").text())
                .as("where nobody signs up by themselves")
                .contains("Ask Gullwing Lines");
    }

    @Test
    void mailDoesNotFloodAnAddress() throws Exception {
        Seen page = new Visitor(demo).get("/harbour/sign-up");
        for (int i = 0; i < 9; i++) page.send("/harbour/sign-up", "email", "flooded@saltmarsh.example");
        assertThat(operator.harbour("GET", "/outbox?to=flooded@saltmarsh.example", null)
                        .json()
                        .path("items")
                        .size())
                .isBetween(1, 5);
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource(delimiter = '|', textBlock = """
            short            | at least 10
            password123456   | tried first
            P4ssw0rd!!!!     | tried first
            iloveyouiloveyou | tried first
            qwertyuiop       | tried first
            1234567890       | tried first
            aaaaaaaaaaaaaaa  | repeats
            junia.hale2026   | made of your address
            harbour12345     | tried first""")
    void aPasswordThatEverybodyTriesIsNotTaken(String password, String said) throws Exception {
        Seen page = new Visitor(demo)
                .get("/harbour/forgotten")
                .send("/harbour/forgotten", "email", "junia.hale@saltmarsh.example");
        Wire.Answer answer = operator.harbour(
                "POST",
                "/people",
                Running.JSON.writeValueAsString(Map.of("email", "junia.hale@saltmarsh.example", "password", password)));
        assertThat(answer.body()).contains(said);
        assertThat(page.status()).isEqualTo(200);
    }

    @Test
    void whoForgotChoosesAnotherAndIsSignedOutEverywhere() throws Exception {
        String email = added("forgetful", "");
        Visitor before = new Visitor(demo);
        in(before, email);
        Seen page = new Visitor(demo).get("/harbour/forgotten");
        assertThat(page.send("/harbour/forgotten", "email", "nobody@saltmarsh.example")
                        .text())
                .isEqualTo(page.send("/harbour/forgotten", "email", email).text());
        Seen form = page.send("/harbour/forgotten", "email", email);
        Seen chosen = form.send("/harbour/new-password", "code", mailedTo(email), "password", "other plain words here");
        assertThat(chosen.text()).contains("Sign in");
        assertThat(before.get("/harbour/profile").text())
                .as("the one who was signed in is not")
                .contains("Sign in");
        assertThat(in(new Visitor(demo), email).text()).as("the old password").contains("do not fit");
        assertThat(chosen.send("/harbour/sign-in", "email", email, "password", "other plain words here")
                        .text())
                .contains("Your profile");
    }

    @Test
    void anInvitationLetsSomebodyChooseTheirFirstPassword() throws Exception {
        Running.Said said = demo.admit("person", "add", "invited@saltmarsh.example", "--name", "Invited One");
        assertThat(said.out()).contains("an invitation was mailed");
        String body = operator.mailTo("invited@saltmarsh.example");
        String link = body.substring(
                body.indexOf("/harbour/new-password"), body.indexOf('\n', body.indexOf("/harbour/new-password")));
        assertThat(new Visitor(demo)
                        .get(link)
                        .send(
                                "/harbour/new-password",
                                "code",
                                mailedTo("invited@saltmarsh.example"),
                                "password",
                                "four plain words here")
                        .text())
                .contains("Sign in");
        assertThat(in(new Visitor(demo), "invited@saltmarsh.example").body()).contains("value=\"Invited One\"");
    }

    // The second factor.

    @Test
    void aSecondFactorIsSetUpAndThenWanted() throws Exception {
        String email = added("two-factors", "");
        Visitor person = new Visitor(demo);
        in(person, email);
        Seen page = person.get("/harbour/factor");
        Matcher seed = Pattern.compile("class=\"seed\">([A-Z2-7]+)<").matcher(page.body());
        assertThat(seed.find()).isTrue();
        assertThat(page.send("/harbour/factor", "code", "000000").text())
                .contains("does not fit")
                .contains(seed.group(1));
        String first = TimeCodes.now(seed.group(1));
        Seen codes = page.send("/harbour/factor", "code", first);
        assertThat(codes.text()).contains("Keep these recovery codes");
        Matcher recovery = Pattern.compile("<li>([a-z0-9]{5}-[a-z0-9]{5})</li>").matcher(codes.body());
        assertThat(recovery.find()).isTrue();

        Pkce pkce = Pkce.make();
        Visitor later = new Visitor(demo);
        Seen asked = later.get(Visitor.asking(demo, "berth-desk", pkce, "openid", "acr_values", "urn:admit:acr:2"))
                .send("/harbour/sign-in", "email", email, "password", "four plain words here");
        assertThat(asked.text()).contains("Second factor");
        assertThat(asked.send("/harbour/second-factor", "code", first).text())
                .as("the code that set it up opens nothing more")
                .contains("does not fit");
        Seen back = asked.send("/harbour/second-factor", "code", recovery.group(1));
        JsonNode tokens = Visitor.exchange(demo, "berth-desk", back.parameter("code"), pkce, "")
                .json();
        assertThat(Visitor.claims(tokens.path("id_token").asString())
                        .path("acr")
                        .asString())
                .isEqualTo("urn:admit:acr:2");
        assertThat(Visitor.claims(tokens.path("id_token").asString())
                        .path("amr")
                        .toString())
                .contains("mfa");
        Visitor again = new Visitor(demo);
        Seen third = again.get(Visitor.asking(demo, "berth-desk", pkce, "openid", "acr_values", "urn:admit:acr:2"))
                .send("/harbour/sign-in", "email", email, "password", "four plain words here");
        assertThat(third.send("/harbour/second-factor", "code", recovery.group(1))
                        .text())
                .as("a recovery code opens once")
                .contains("does not fit");
        assertThat(again.get("/harbour/factor").text())
                .as("the one who has the password alone cannot put another in its place")
                .contains("Type the six digits");
        assertThat(again.get("/harbour/profile").text())
                .as("nor see the profile")
                .contains("Second factor")
                .doesNotContain("Home quay");
        assertThat(in(Visitor.asking(demo, "berth-desk", pkce, "openid"), email).text())
                .as("nor go on to a client, whatever it requests")
                .contains("Type the six digits");
        for (int i = 0; i < 10; i++) third.send("/harbour/second-factor", "code", "00000" + i);
        assertThat(third.send("/harbour/second-factor", "code", "123456").status())
                .as("ten wrong ones an hour")
                .isEqualTo(429);
        assertThat(demo.admit("person", "reset", email, "--factor").out()).contains("no second factor any more");
    }

    @Test
    void aRoleAndAClientCanDemandOne() throws Exception {
        operator.harbour(
                "POST",
                "/apis/berths/roles",
                "{\"name\":\"careful\",\"scopes\":[\"berths.book\"],\"second_factor\":true}");
        String email = added("careful-one", ",\"roles\":[\"careful\"]");
        Seen page = new Visitor(demo)
                .get(Visitor.asking(demo, "berth-desk", Pkce.make(), "openid berths.book"))
                .send("/harbour/sign-in", "email", email, "password", "four plain words here");
        assertThat(page.text()).contains("Set up a second factor");
        JsonNode made = operator.harbour(
                        "POST",
                        "/clients",
                        "{\"name\":\"strict-desk\",\"kind\":\"native\",\"redirect_uris\":[\"http://127.0.0.1/back\"]"
                                + ",\"second_factor\":true}")
                .json();
        Seen strict = Visitor.signIn(
                new Visitor(demo)
                        .get(Visitor.asking(
                                demo,
                                "pilot-tablet",
                                Pkce.make(),
                                "openid",
                                "client_id",
                                made.path("now").path("client_id").asString())),
                demo,
                "junia");
        assertThat(strict.text()).contains("Set up a second factor");
    }

    // Rights.

    @Test
    void aRoleThatIsTakenAwayEndsItsTokensAtOnce() throws Exception {
        String email = added("former-pilot", ",\"roles\":[\"pilot\"]");
        Pkce pkce = Pkce.make();
        Seen back = Visitor.approve(new Visitor(demo)
                .get(Visitor.asking(demo, "pilot-tablet", pkce, "openid berths.book"))
                .send("/harbour/sign-in", "email", email, "password", "four plain words here"));
        JsonNode tokens = Visitor.exchange(demo, "pilot-tablet", back.parameter("code"), pkce, "")
                .json();
        assertThat(book(tokens)).isEqualTo(422);
        assertThat(demo.admit("person", "change", email, "--role", "").exitCode())
                .isZero();
        assertThat(book(tokens)).as("refused with the next request").isEqualTo(401);
        assertThat(Visitor.refresh(
                                demo,
                                "pilot-tablet",
                                tokens.path("refresh_token").asString(),
                                "")
                        .json()
                        .path("scope")
                        .asString())
                .isEqualTo("openid");
        demo.admit("person", "change", email, "--role", "pilot");
        assertThat(book(tokens)).as("given back revives nothing").isEqualTo(401);
    }

    @Test
    void aRoleThatLosesAScopeEndsTheTokensThatLeanOnIt() throws Exception {
        operator.harbour(
                "POST",
                "/apis/berths/roles",
                "{\"name\":\"shrinking\",\"scopes\":[\"berths.book\",\"berths.assign\"]}");
        String email = added("shrunk", ",\"roles\":[\"shrinking\"]");
        Pkce pkce = Pkce.make();
        Seen back = Visitor.approve(new Visitor(demo)
                .get(Visitor.asking(demo, "pilot-tablet", pkce, "openid berths.book"))
                .send("/harbour/sign-in", "email", email, "password", "four plain words here"));
        JsonNode tokens = Visitor.exchange(demo, "pilot-tablet", back.parameter("code"), pkce, "")
                .json();
        assertThat(book(tokens)).isEqualTo(422);
        operator.harbour("PATCH", "/apis/berths/roles/shrinking", "{\"scopes\":[\"berths.assign\"]}");
        assertThat(book(tokens)).isEqualTo(401);
    }

    private static int book(JsonNode tokens) throws Exception {
        return Wire.send(
                        "POST",
                        demo.gateway() + "/berths/n1/bookings",
                        Map.of(
                                "Authorization",
                                "Bearer " + tokens.path("access_token").asString(),
                                "Content-Type",
                                "application/json"),
                        "{}")
                .status();
    }

    @Test
    void whatAPersonTakesBackAndWhereTheySignOutEndsAtOnce() throws Exception {
        String email = added("takes-back", "");
        Visitor person = new Visitor(demo);
        Pkce pkce = Pkce.make();
        Seen back = Visitor.approve(person.get(Visitor.asking(demo, "quayside-board", pkce, "openid tides.read"))
                .send("/harbour/sign-in", "email", email, "password", "four plain words here"));
        String token = Visitor.exchange(demo, "quayside-board", back.parameter("code"), pkce, "")
                .json()
                .path("access_token")
                .asString();
        Seen approvals = person.get("/harbour/approvals");
        assertThat(approvals.text()).contains("Quayside board").contains("See the tide heights");
        approvals.send("/harbour/approvals");
        assertThat(Wire.call("GET", demo.gateway() + "/tides/north-quay", token)
                        .json()
                        .path("reason")
                        .asString())
                .isEqualTo("revoked");
        Seen anew = person.get(Visitor.asking(demo, "quayside-board", pkce, "openid tides.read"));
        assertThat(anew.text()).as("asked anew").contains("Approve");
        String second = Visitor.exchange(
                        demo, "quayside-board", Visitor.approve(anew).parameter("code"), pkce, "")
                .json()
                .path("access_token")
                .asString();
        assertThat(Wire.call("GET", demo.gateway() + "/tides/north-quay", second)
                        .status())
                .isEqualTo(200);
        assertThat(demo.admit("person", "sign-out", email).out()).contains("signed out everywhere");
        assertThat(Wire.call("GET", demo.gateway() + "/tides/north-quay", second)
                        .status())
                .isEqualTo(401);
        assertThat(person.get("/harbour/profile").text()).contains("Sign in");
        assertThat(demo.admit("person", "remove", email).exitCode())
                .as("requests confirmation")
                .isEqualTo(1);
        assertThat(demo.admit("person", "remove", email, "--confirm", email).exitCode())
                .isZero();
    }

    // Profiles.

    @Test
    void aClientSendsAPersonToOneTaskAndGetsThemBack() throws Exception {
        String email = added("sent-to-task", "");
        String desk = demo.ready()
                .path("clients")
                .path("berth-desk")
                .path("client_id")
                .asString();
        String back = "client_id=" + desk + "&back=" + Wire.encoded("http://127.0.0.1:9495/back") + "&state=s7";
        Visitor person = new Visitor(demo);
        Seen page = person.get("/harbour/profile?" + back)
                .send("/harbour/sign-in", "email", email, "password", "four plain words here");
        assertThat(page.text()).contains("Your profile").contains("Back to Berth desk");
        Seen done = page.send("/harbour/profile", "field-name", "Sent", "field-home_quay", "North");
        assertThat(done.location()).startsWith("http://127.0.0.1:9495/back?outcome=changed&state=s7&iss=");
        assertThat(page.send("/harbour/profile", "field-name", "Sent", "field-home_quay", "North")
                        .parameter("outcome"))
                .isEqualTo("unchanged");
        Seen password = person.get("/harbour/password?" + back)
                .send(
                        "/harbour/password",
                        "password",
                        "four plain words here",
                        "new-password",
                        "other plain words here");
        assertThat(password.parameter("outcome")).isEqualTo("changed");
        Seen elsewhere =
                person.get("/harbour/profile?client_id=" + desk + "&back=" + Wire.encoded("http://evil.example/"));
        assertThat(elsewhere.body()).as("no open redirect").doesNotContain("evil.example");
        assertThat(elsewhere
                        .send(
                                "/harbour/profile",
                                "field-name",
                                "Sent",
                                "client_id",
                                desk,
                                "back",
                                "http://evil.example/")
                        .location())
                .isEmpty();
    }

    @Test
    void aPersonEditsOnlyWhatIsTheirsAndTheNextTokenSaysIt() throws Exception {
        String email = added("edits-profile", "");
        Visitor person = new Visitor(demo);
        in(person, email);
        Seen page = person.get("/harbour/profile");
        String hostile = "<script>alert(1)</script>\" onfocus=\"x";
        Seen saved = page.send("/harbour/profile", "field-name", hostile, "field-home_quay", "South");
        assertThat(saved.text()).contains("Saved");
        assertThat(saved.body()).doesNotContain("<script>alert").doesNotContain("\" onfocus=\"x");
        assertThat(page.send("/harbour/profile", "field-name", "Ed", "field-home_quay", "Moon")
                        .text())
                .contains("one of North, South, Fish Quay");
        assertThat(page.send("/harbour/profile", "field-name", "Ed", "field-firm", "My Own")
                        .status())
                .as("a field that administrators set")
                .isEqualTo(422);
        assertThat(page.send("/harbour/profile", "field-name", "line\nbreak").status())
                .isIn(403, 422, 400);
        Pkce pkce = Pkce.make();
        JsonNode tokens = Visitor.exchange(
                        demo,
                        "berth-desk",
                        person.get(Visitor.asking(demo, "berth-desk", pkce, "openid profile"))
                                .parameter("code"),
                        pkce,
                        "")
                .json();
        JsonNode id = Visitor.claims(tokens.path("id_token").asString());
        assertThat(id.path("name").asString()).isEqualTo(hostile);
        assertThat(id.path("home_quay").asString()).isEqualTo("South");
        assertThat(Running.JSON
                        .readTree(operator.harbour("GET", "/people/" + email, null)
                                .body())
                        .path("profile")
                        .has("firm"))
                .isFalse();
        page.send("/harbour/profile", "field-name", "Ed", "field-home_quay", "North");
        Wire.Answer refreshed =
                Visitor.refresh(demo, "berth-desk", tokens.path("refresh_token").asString(), "");
        assertThat(Visitor.claims(refreshed.json().path("id_token").asString())
                        .path("home_quay")
                        .asString())
                .as("what changed is in the next token")
                .isEqualTo("North");
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource(delimiter = '|', textBlock = """
            no name           | {"title":"x"} | /name
            a standard's name | {"name":"email"} | /name
            a claim of tokens | {"name":"quay","claim":"sub"} | /claim
            capitals          | {"name":"Quay"} | /name
            unknown type      | {"name":"quay","type":"colour"} | /type
            choice of none    | {"name":"quay","type":"choice"} | /choices
            a rule that hangs | {"name":"quay","pattern":"(a+)+b"} | /pattern
            no rule at all    | {"name":"quay","pattern":"(["} | /pattern
            a rule on numbers | {"name":"quay","type":"number","pattern":"1"} | /pattern
            a line break      | {"name":"quay","title":"a\\nb"} | /title""")
    void aFieldThatMakesNoSenseIsRefused(String what, String json, String pointer) throws Exception {
        Wire.Answer answer = operator.harbour("POST", "/profile-fields", json);
        assertThat(answer.status()).as(answer.body()).isEqualTo(422);
        assertThat(answer.json().path("faults").toString()).contains(pointer);
    }

    @ParameterizedTest(name = "{0}")
    @CsvSource(delimiter = '|', textBlock = """
            no address        | {"profile":{"name":"x"}} | /email
            no host           | {"email":"x@y"} | /email
            two lines         | {"email":"x@y.example\\nbcc: all"} | /email
            another alphabet  | {"email":"junia.h\\u0430le@saltmarsh.example"} | /email
            unknown field     | {"email":"x@y.example","profile":{"shoe":"44"}} | /profile/shoe
            hidden character  | {"email":"x@y.example","profile":{"name":"a\\u202eb"}} | /profile/name
            too long          | {"email":"x@y.example","profile":{"name":"%s"}} | /profile/name
            unknown role      | {"email":"x@y.example","roles":["admiral"]} | /roles/0
            unknown role      | {"email":"x@y.example","admin_role":"god"} | /admin_role""")
    void aPersonThatMakesNoSenseIsRefused(String what, String json, String pointer) throws Exception {
        Wire.Answer answer = operator.harbour("POST", "/people", json.formatted("x".repeat(201)));
        assertThat(answer.status()).as(answer.body()).isEqualTo(422);
        assertThat(answer.json().path("faults").toString()).contains(pointer);
    }

    @Test
    void twoAdministratorsAtOnceAndIssuersApart() throws Exception {
        String email = added("twice-changed", "");
        Wire.Answer read = operator.harbour("GET", "/people/" + email, null);
        assertThat(operator.send(
                                "PATCH",
                                "/issuers/harbour/people/" + email,
                                read.header("ETag"),
                                "{\"profile\":{\"locale\":\"en\"}}")
                        .status())
                .isEqualTo(200);
        assertThat(operator.send(
                                "PATCH",
                                "/issuers/harbour/people/" + email,
                                read.header("ETag"),
                                "{\"profile\":{\"locale\":\"de\"}}")
                        .status())
                .isEqualTo(412);
        assertThat(operator.get("/issuers/gullwing/people/" + email).status()).isEqualTo(404);
        Visitor here = new Visitor(demo);
        in(here, email);
        assertThat(here.get("/gullwing/profile").text())
                .as("signed in at one issuer is not signed in at another")
                .contains("Sign in")
                .contains("Gullwing Lines");
        assertThat(here.get("/gullwing/sign-in")
                        .send("/gullwing/sign-in", "email", email, "password", "four plain words here")
                        .text())
                .contains("do not fit");
    }

    @Test
    void whatPeopleAreAskedCanBeAnsweredForEveryone() throws Exception {
        JsonNode made = operator.harbour(
                        "POST",
                        "/clients",
                        "{\"name\":\"asks-identity\","
                                + "\"kind\":\"native\",\"redirect_uris\":[\"http://127.0.0.1/back\"],"
                                + "\"openid_scopes\":[\"openid\",\"email\"]}")
                .json();
        String id = made.path("now").path("client_id").asString();
        String email = added("asked-once", "");
        String asking = Visitor.asking(demo, "pilot-tablet", Pkce.make(), "openid email", "client_id", id);
        assertThat(in(asking, email).text()).contains("See your e-mail address");
        assertThat(demo.admit("approval", "openid", "asks-identity").exitCode()).isZero();
        Pkce pkce = Pkce.make();
        Seen back = in(Visitor.asking(demo, "pilot-tablet", pkce, "openid email", "client_id", id), email);
        String token = Wire.form(
                        demo.ready().path("issuers").path("harbour").asString() + "/token",
                        null,
                        "grant_type=authorization_code&code=%s&redirect_uri=%s&code_verifier=%s&client_id=%s"
                                .formatted(
                                        Wire.encoded(back.parameter("code")),
                                        Wire.encoded("http://127.0.0.1:53123/back"),
                                        pkce.verifier(),
                                        id))
                .json()
                .path("access_token")
                .asString();
        String userInfo = demo.ready().path("issuers").path("harbour").asString() + "/userinfo";
        assertThat(Wire.call("GET", userInfo, token).status()).isEqualTo(200);
        assertThat(demo.admit("approval", "openid", "asks-identity", "--withdraw")
                        .exitCode())
                .isZero();
        assertThat(Wire.call("GET", userInfo, token).status())
                .as("taken back: refused with the next request")
                .isEqualTo(401);
        assertThat(in(asking, email).text()).contains("See your e-mail address");
    }

    private static Seen in(String asking, String email) throws Exception {
        return new Visitor(demo)
                .get(asking)
                .send("/harbour/sign-in", "email", email, "password", "four plain words here");
    }

    @Test
    void aRefreshTokenThatLiesIdleIsOfNoMoreUse() throws Exception {
        operator.harbour(
                "POST",
                "/apis",
                "{\"name\":\"idle\",\"audience\":\"https://idle.saltmarsh.example\","
                        + "\"upstream\":\"http://127.0.0.1:9\"}");
        operator.harbour(
                "POST",
                "/apis/idle/scopes",
                "{\"name\":\"idle.read\",\"effect\":\"reads\",\"reach\":\"own\",\"for\":\"people\",\"approver\""
                        + ":\"person\"}");
        Wire.Answer minting = operator.harbour(
                "PATCH",
                "/apis/idle/minting",
                "{\"refresh_idle_timeout\":\"1s\",\"max_refresh_age\":\"2s\","
                        + "\"claims\":[{\"name\":\"rank\",\"expression\":\"person.roles\"}]}");
        assertThat(minting.status()).as(minting.body()).isEqualTo(200);
        String id = operator.harbour(
                        "POST",
                        "/clients",
                        "{\"name\":\"impatient\",\"kind\":\"native\",\"redirect_uris\":[\"http://127.0.0.1/back\"]"
                                + ",\"scopes\":[\"idle.read\"]}")
                .json()
                .path("now")
                .path("client_id")
                .asString();
        String email = added("idles", ",\"roles\":[\"pilot\"]");
        Pkce pkce = Pkce.make();
        Seen back =
                Visitor.approve(in(Visitor.asking(demo, "pilot-tablet", pkce, "idle.read", "client_id", id), email));
        String token = demo.ready().path("issuers").path("harbour").asString() + "/token";
        JsonNode first = Wire.form(
                        token,
                        null,
                        "grant_type=authorization_code&code=%s&redirect_uri=%s&code_verifier=%s&client_id=%s"
                                .formatted(
                                        Wire.encoded(back.parameter("code")),
                                        Wire.encoded("http://127.0.0.1:53123/back"),
                                        pkce.verifier(),
                                        id))
                .json();
        assertThat(Visitor.claims(first.path("access_token").asString())
                        .path("rank")
                        .toString())
                .as("roles are a claim by minting")
                .isEqualTo("[\"pilot\"]");
        Thread.sleep(1_100);
        assertThat(Wire.form(
                                token,
                                null,
                                "grant_type=refresh_token&refresh_token=%s&client_id=%s"
                                        .formatted(first.path("refresh_token").asString(), id))
                        .json()
                        .path("error")
                        .asString())
                .isEqualTo("invalid_grant");
    }

    @Test
    void theCommandLineShowsPeople() throws Exception {
        assertThat(demo.admit("person", "list", "--role", "pilot").out())
                .contains("tobias.wren@saltmarsh.example")
                .doesNotContain("junia");
        assertThat(demo.admit("person", "show", "tobias.wren@saltmarsh.example").out())
                .contains("pilot")
                .contains("licence_no = PL-2041");
        assertThat(demo.admit("person", "show", "nobody@saltmarsh.example").exitCode())
                .isEqualTo(1);
        assertThat(demo.admit("profile-field", "list").out())
                .contains("home_quay")
                .contains("North | South | Fish Quay");
        assertThat(demo.admit("profile-field", "add", "shoe", "--type", "number", "--claim", "shoe")
                        .exitCode())
                .isZero();
        assertThat(demo.admit("profile-field", "change", "shoe", "--editable", "false")
                        .exitCode())
                .isZero();
        assertThat(demo.admit("setup", "export").out())
                .contains("profile_fields:")
                .contains("shoe")
                .contains("sign_up: true")
                .doesNotContain("nell.draper");
        assertThat(demo.admit("profile-field", "remove", "shoe").exitCode()).isZero();
        assertThat(demo.admit("outbox", "list").exitCode()).isZero();
    }
}
