package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.concurrent.Executors;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.api.parallel.ResourceLock;
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;
import org.openqa.selenium.support.ui.WebDriverWait;
import tools.jackson.databind.JsonNode;

/**
 * The console in a real browser, on the harbour: each place's main act, and what happens when something comes between.
 */
@ResourceLock(Running.CONSOLES)
class ConsoleTest {
    private static Running demo;
    private static Operator operator;
    private static Chromium browser;

    @BeforeAll
    static void start() throws Exception {
        demo = Running.consoles();
        operator = Operator.of(demo);
        browser = Chromium.open(false, 1280);
        signIn(browser, "corin");
    }

    @AfterAll
    static void stop() {
        if (browser != null) browser.close();
    }

    private static void signIn(Chromium chromium, String name) {
        chromium.driver.get(demo.server() + "/console");
        chromium.click("Sign in at Saltmarsh Harbour Authority");
        chromium.signIn(Visitor.person(demo, name));
        chromium.await(By.id("page"));
    }

    @Test
    void aPersonWithoutAnAdminRoleIsToldSoAndSignsOut() throws Exception {
        try (Chromium other = Chromium.open(false, 1280)) {
            other.driver.get(demo.server() + "/console");
            // A neighbour may give itself anybody's title, and nobody's name.
            other.await(By.xpath("//main//p[normalize-space(.)='The issuer harbour on this service.']"));
            other.await(By.tagName("summary")).click();
            other.fill("Issuer", "harbour");
            other.click("Sign in at its page");
            other.signIn(Visitor.person(demo, "tobias"));
            other.awaitText("You may see nothing here");
            List<String> violations = new ArrayList<>();
            other.check("without an admin role", violations);
            assertThat(violations).isEmpty();
            other.click("Sign out");
            other.awaitHeading("Sign out?");
        }
    }

    private static void open(String path) {
        browser.driver.get(demo.server() + "/console" + path);
    }

    private static void quiet() {
        assertThat(browser.faults()).as("the browser had nothing to say").isEmpty();
        assertThat(browser.elsewhere(demo.server()))
                .as("no request to another host")
                .isEmpty();
    }

    @Test
    void theAccessMapShowsWhoCanCallWhatAndDimsTheRest() throws Exception {
        String token = Wire.token(demo, "tide-buoy-07", "&scope=tides.read");
        for (int i = 0; i < 3; i++) Wire.call("GET", demo.gateway() + "/tides/north-quay", token);
        open("/harbour");
        browser.awaitHeading("Access map");
        browser.click("tides.read");
        browser.awaitText("tide-buoy-07: tides.read is granted");
        browser.await(By.xpath("//li[contains(., 'quayside-board: tides.read is waiting')]"));
        String far = browser.driver
                .findElement(By.xpath("//button[contains(., 'manifests.inspect')]"))
                .getCssValue("opacity");
        String near = browser.driver
                .findElement(By.xpath("//button[contains(., 'tide-buoy-07')]"))
                .getCssValue("opacity");
        assertThat(Double.parseDouble(far)).isLessThan(Double.parseDouble(near));
        Object stored = browser.driver.executeScript(
                "return document.cookie + JSON.stringify({...localStorage}) + JSON.stringify({...sessionStorage})");
        assertThat(String.valueOf(stored))
                .as("no token, and no cookie that a script could read")
                .doesNotContain("eyJ")
                .doesNotContain("admit_console=");
        quiet();
    }

    @Test
    void aRefusalIsFollowedToItsFixAndThenPasses() throws Exception {
        operator.harbour("POST", "/clients", "{\"name\":\"late-approved\",\"scopes\":[\"manifests.inspect\"]}");
        open("/harbour/call?method=GET&path=/manifests/v-204&client=late-approved&scope=manifests.inspect");
        browser.click("Send it");
        browser.awaitText("No token was given, so nothing was sent");
        browser.awaitText("scope-not-approved");
        browser.click("Answer it in Approvals");
        browser.awaitHeading("Approvals");
        browser.click("Grant manifests.inspect to late-approved");
        browser.awaitText("late-approved may use manifests.inspect.");
        open("/harbour/call?method=GET&path=/manifests/v-204&client=late-approved&scope=manifests.inspect");
        browser.click("Send it");
        browser.await(By.xpath("//p[contains(., 'Admitted') and contains(., 'answered 200')]"));
        browser.click("Open the decision");
        browser.awaitHeading("Admitted: late-approved called GET /manifests/v-204");
        browser.awaitText("came with a trial token that corin.ashby@saltmarsh.example had made");
        quiet();
    }

    @Test
    void aRecordedRequestIsSentAgainWithOneThingChanged() throws Exception {
        Wire.Answer refused = Wire.call(
                "POST", demo.gateway() + "/tides/readings", Wire.token(demo, "tide-buoy-07", "&scope=tides.read"));
        open("/harbour/decisions/" + refused.header("Admit-Decision"));
        browser.awaitHeading("Refused: tide-buoy-07 called POST /tides/readings");
        browser.awaitText("the scope tides.publish");
        browser.click("Send it again, with a change");
        browser.awaitHeading("Call a route");
        browser.fill("Scope", "tides.publish");
        browser.fill("Body", "{\"gauge\":\"north-quay\",\"metres\":2.5}");
        browser.click("Send it");
        browser.await(By.xpath("//p[contains(., 'Admitted') and contains(., 'answered 201')]"));
        quiet();
    }

    @Test
    void aPersonSignsInForAClientThatIsTried() {
        try (Chromium other = Chromium.open(false, 1280)) {
            signIn(other, "corin");
            other.driver.get(demo.server()
                    + "/console/harbour/call?method=GET&path=/tides/north-quay&client=quayside-board&scope=tides.read");
            other.await(By.xpath("//label[contains(., 'a person who signs in')]"))
                    .click();
            other.click("Sign in for quayside-board");
            other.await(By.xpath("//button[normalize-space(.)='Continue']")).click();
            other.await(By.xpath("//button[normalize-space(.)='Approve']")).click();
            other.await(By.xpath("//p[contains(., 'corin.ashby@saltmarsh.example signed in for quayside-board')]"));
            other.click("Send it");
            other.await(By.xpath("//p[contains(., 'Admitted') and contains(., 'answered 200')]"));
            assertThat(String.valueOf(other.driver.executeScript("return location.hash")))
                    .as("sealed, no token")
                    .doesNotContain("eyJ")
                    .hasSizeGreaterThan(100);
            assertThat(other.faults()).isEmpty();
        }
    }

    @Test
    void ofTwoEditorsNeitherOverwritesTheOtherUnseen() throws Exception {
        operator.harbour(
                "POST",
                "/clients",
                "{\"name\":\"edited-twice\",\"client_name\":\"As it was\",\"contacts\":[\"Nobody\"]}");
        open("/harbour/clients/edited-twice");
        browser.click("Change details");
        browser.fill("Client name", "Mine");
        operator.harbour("PATCH", "/clients/edited-twice", "{\"client_name\":\"Theirs\",\"contacts\":[\"Edda\"]}");
        browser.click("Save");
        browser.awaitText("Another person changed it meanwhile");
        browser.await(By.xpath("//td[normalize-space(.)='Theirs']"));
        browser.click("Put mine on top");
        browser.awaitHeading("Mine");
        JsonNode now = operator.get("/issuers/harbour/clients/edited-twice").json();
        assertThat(now.path("client_name").asString()).isEqualTo("Mine");
        assertThat(now.path("contacts").path(0).asString())
                .as("what only they changed stays")
                .isEqualTo("Edda");

        browser.click("Change details");
        browser.fill("Client name", "Mine again");
        operator.harbour("PATCH", "/clients/edited-twice", "{\"client_name\":\"Theirs again\"}");
        browser.click("Save");
        browser.awaitText("Another person changed it meanwhile");
        browser.click("Keep theirs");
        browser.awaitHeading("Theirs again");
        browser.faults(); // the two refusals are said there, as they have to be
    }

    @Test
    void whatWasDoneIsTakenBack() throws Exception {
        operator.approvedClient("switched-by-hand", "tides.read");
        open("/harbour/clients/switched-by-hand");
        browser.click("Switch off");
        browser.awaitText("switched-by-hand is off; its tokens are refused");
        assertThat(operator.get("/issuers/harbour/clients/switched-by-hand")
                        .json()
                        .path("enabled")
                        .asBoolean())
                .isFalse();
        browser.click("Undo");
        browser.awaitText("switched-by-hand is on again.");
        assertThat(operator.get("/issuers/harbour/clients/switched-by-hand")
                        .json()
                        .path("enabled")
                        .asBoolean())
                .isTrue();
        browser.click("Change details");
        browser.fill("Client name", "For a moment");
        browser.click("Save");
        browser.awaitHeading("For a moment");
        browser.awaitText("switched-by-hand is changed.");
        new WebDriverWait(browser.driver, Duration.ofSeconds(20)).until(it -> {
            it.findElements(By.xpath("//li[contains(., 'switched-by-hand is changed.')]//button[.='Undo']"))
                    .forEach(org.openqa.selenium.WebElement::click);
            return operator(() -> operator.get("/issuers/harbour/clients/switched-by-hand")
                    .json()
                    .path("client_name")
                    .asString()
                    .equals("switched-by-hand"));
        });
        quiet();
    }

    private static boolean operator(Callable<Boolean> asked) {
        try {
            return asked.call();
        } catch (Exception broken) {
            throw new AssertionError(broken);
        }
    }

    @Test
    void whatWouldBreakIsSaidAndItsWordHasToBeTyped() throws Exception {
        operator.harbour("POST", "/clients", "{\"name\":\"to-be-removed\"}");
        open("/harbour/clients/to-be-removed");
        browser.click("Remove");
        browser.await(By.xpath("//h2[normalize-space(.)='Remove to-be-removed']"));
        browser.await(By.xpath("//div[@role='dialog']//button[normalize-space(.)='Remove']"))
                .click();
        browser.awaitText("its secrets, requested scopes, approvals and every token it holds");
        assertThat(browser.driver
                        .findElement(By.xpath("//div[@role='dialog']//button[normalize-space(.)='Remove']"))
                        .isEnabled())
                .isFalse();
        browser.await(By.xpath("//div[@role='dialog']//input")).sendKeys("to-be-removed", Keys.ENTER);
        browser.awaitHeading("Clients");
        assertThat(operator.get("/issuers/harbour/clients/to-be-removed").status())
                .isEqualTo(404);
        browser.faults(); // the refusal that requested the word
    }

    @Test
    void whatOthersDoShowsByItself() throws Exception {
        open("/harbour/approvals");
        browser.awaitHeading("Approvals");
        operator.harbour("POST", "/clients", "{\"name\":\"came-by-itself\",\"scopes\":[\"berths.read\"]}");
        browser.await(By.xpath("//tr[contains(., 'came-by-itself')]"));
        open("/harbour/decisions?verdict=refused");
        browser.awaitHeading("Decisions");
        Wire.get(demo.gateway() + "/nowhere/at/all");
        browser.await(By.xpath("//tr[contains(., '/nowhere/at/all') and contains(., 'no-route')]"));
        quiet();
    }

    @Test
    void aClientIsWatchedUntilItsFirstCall() throws Exception {
        JsonNode client = operator.approvedClient("watched-here", "tides.read");
        open("/harbour/decisions/watch?client=watched-here");
        browser.awaitHeading("Watching watched-here");
        String token = Wire.form(
                        demo.server() + "/harbour/token",
                        Wire.basic(client),
                        "grant_type=client_credentials&scope=tides.read")
                .json()
                .path("access_token")
                .asString();
        Wire.call("GET", demo.gateway() + "/tides/north-quay", token);
        browser.awaitText("Its first request was admitted.");
        quiet();
    }

    @Test
    void everythingIsFoundAndDoneWithTheKeyboardAlone() throws Exception {
        open("/harbour/apis");
        browser.awaitHeading("APIs");
        browser.type(Keys.chord(Keys.CONTROL, "k"));
        browser.await(By.xpath("//input[@role='combobox']"));
        browser.type("register a client");
        browser.await(By.xpath("//li[@role='option' and @aria-selected='true' and contains(., 'Register a client')]"));
        browser.type(Keys.ENTER);
        browser.awaitHeading("Register a client");
        browser.driver.executeScript("document.activeElement.blur()");
        for (int i = 0; i < 40 && !"Name".equals(labelOfFocus()); i++) browser.type(Keys.TAB);
        browser.type("keys-only");
        for (int i = 0; i < 40 && !String.valueOf(focusText()).contains("tides.read"); i++) browser.type(Keys.TAB);
        browser.type(Keys.SPACE);
        browser.tabTo("Register it", 40);
        browser.type(Keys.ENTER);
        browser.awaitText("The secret is shown this one time");
        browser.tabTo("Done", 25);
        browser.type(Keys.ENTER);
        browser.awaitHeading("keys-only");
        assertThat(operator.get("/issuers/harbour/clients/keys-only")
                        .json()
                        .path("scopes")
                        .get(0)
                        .path("scope")
                        .asString())
                .isEqualTo("tides.read");
        browser.type(Keys.chord(Keys.CONTROL, "k"));
        browser.await(By.xpath("//input[@role='combobox']"));
        browser.type("keys-only");
        browser.await(By.xpath("//li[@role='option' and contains(., 'client') and contains(., 'keys-only')]"));
        browser.type(Keys.ESCAPE);
        browser.awaitGone(By.xpath("//input[@role='combobox']"));
        quiet();
    }

    private static String labelOfFocus() {
        Object label = browser.driver.executeScript(
                "const it = document.activeElement; return it && it.labels && it.labels[0] ? "
                        + "it.labels[0].textContent : ''");
        return String.valueOf(label);
    }

    private static Object focusText() {
        return browser.driver.executeScript(
                "const it = document.activeElement; return it && it.type === 'checkbox' && it.labels[0] ? "
                        + "it.labels[0].textContent : ''");
    }

    @Test
    void aThousandRowsAreDrawnOnlyWhereTheyAreSeen() throws Exception {
        try (var callers = Executors.newFixedThreadPool(8)) {
            List<Callable<Integer>> calls = new ArrayList<>();
            for (int i = 0; i < 1_000; i++) {
                String json =
                        "{\"name\":\"flock-%04d\",\"kind\":\"device\",\"tags\":[\"flock\"],\"scopes\":[\"tides.read\"]}"
                                .formatted(i);
                calls.add(() -> operator.harbour("POST", "/clients", json).status());
            }
            for (var one : callers.invokeAll(calls)) assertThat(one.get()).isEqualTo(201);
        }
        try {
            open("/harbour/clients?search=flock");
            browser.awaitHeading("Clients");
            browser.await(By.xpath("//tr[contains(., 'flock-0000')]"));
            for (int i = 0;
                    i < 60
                            && browser.driver
                                    .findElements(By.xpath("//tr[contains(., 'flock-0999')]"))
                                    .isEmpty();
                    i++) {
                browser.driver.executeScript(
                        "const it = document.querySelector('[role=region][aria-label=Clients]'); it.scrollTop = "
                                + "it.scrollHeight");
                Thread.sleep(200);
            }
            browser.await(By.xpath("//tr[contains(., 'flock-0999')]"));
            assertThat(browser.driver.findElements(By.cssSelector("tbody tr")).size())
                    .isLessThan(120);
            browser.awaitText("1,000 in all");

            open("/harbour?search=flock");
            browser.await(By.xpath("//button[contains(., '1000 of kind device')]"))
                    .click();
            browser.await(By.xpath("//button[normalize-space(.)='Show them one by one']"));
            quiet();
        } finally {
            try (var callers = Executors.newFixedThreadPool(8)) {
                List<Callable<Integer>> calls = new ArrayList<>();
                for (int i = 0; i < 1_000; i++) {
                    String name = "flock-%04d".formatted(i);
                    calls.add(() -> operator.harbour("DELETE", "/clients/" + name + "?confirm=" + name, null)
                            .status());
                }
                callers.invokeAll(calls);
            }
        }
    }

    @Test
    void whoeverMayOnlyLookIsOfferedNothingElse() {
        try (Chromium other = Chromium.open(true, 1280)) {
            signIn(other, "nell");
            other.driver.get(demo.server() + "/console/harbour/clients/tide-buoy-07");
            other.awaitHeading("Tide buoy 7");
            assertThat(other.driver.findElements(By.xpath(
                            "//main//button[contains(., 'Change') or contains(., 'Remove') or contains(., 'Switch')]")))
                    .isEmpty();
        }
        try (Chromium other = Chromium.open(true, 1280)) {
            signIn(other, "isolde");
            other.awaitHeading("APIs");
            other.click("berths");
            other.awaitHeading("Ship berths");
            other.await(By.xpath("//button[@aria-label='Change details']"));
            assertThat(other.driver.findElements(By.xpath("//nav[@aria-label='Places']//a")).stream()
                            .map(org.openqa.selenium.WebElement::getText)
                            .toList())
                    .containsExactly("APIs", "Clients", "Approvals", "Decisions");
            assertThat(other.faults()).isEmpty();
        }
    }

    @Test
    void aLossOfConnectionIsSaidAndEndsByItself(@TempDir Path folder) throws Exception {
        int[] port = new int[1];
        try (CutLine line = new CutLine(() -> port[0])) {
            port[0] = Running.freePort();
            try (Running own = Running.demo(
                            folder, port[0], Running.freePort(), "--public-url", "http://127.0.0.1:" + line.port());
                    Chromium other = Chromium.open(false, 1280)) {
                other.driver.get("http://127.0.0.1:%d/console?issuer=harbour".formatted(line.port()));
                other.click("Sign in at its page");
                other.signIn(Visitor.person(own, "corin"));
                other.awaitHeading("Access map");
                other.driver.get("http://127.0.0.1:%d/console/harbour/clients".formatted(line.port()));
                other.awaitHeading("Clients");
                line.cut();
                other.awaitText("No connection; trying");
                String tokens = Wire.form(
                                "http://127.0.0.1:%d/admit/token".formatted(port[0]),
                                Wire.basic(own.ready().path("operator")),
                                "grant_type=client_credentials")
                        .json()
                        .path("access_token")
                        .asString();
                new Operator("http://127.0.0.1:%d/admin".formatted(port[0]), tokens)
                        .harbour("POST", "/clients", "{\"name\":\"while-nobody-looked\"}");
                line.fix();
                other.awaitGone(By.xpath("//*[contains(text(), 'No connection')]"));
                other.await(By.xpath("//tr[contains(., 'while-nobody-looked')]"));
            }
        }
    }

    @Test
    void anEmptyServiceIsLedToItsFirstAdmittedCall(@TempDir Path folder) throws Exception {
        try (Running fresh = Running.service(folder, folder.resolve("data"));
                Chromium other = Chromium.open(false, 1280)) {
            other.driver.get(fresh.server() + "/console");
            other.awaitHeading("This service is new");
            other.fill("Your name", "Corin Ashby");
            other.fill("Your e-mail address", "corin.ashby@saltmarsh.example");
            other.fill("A password", "a quiet morning tide");
            other.fill(
                    "The credential of the first start",
                    Files.readString(folder.resolve("data/operator-credential.json"))
                            .strip());
            other.click("Make me the administrator");
            other.await(By.id("email")).sendKeys("corin.ashby@saltmarsh.example");
            other.driver.findElement(By.id("password")).sendKeys("a quiet morning tide", Keys.ENTER);
            other.awaitHeading("The first protected API");
            other.fill("Name of the new issuer", "harbour");
            other.fill("Name of the API", "lighthouse");
            other.click("Add the API and its scope");
            other.fill("Name of the client", "night-watch");
            other.click("Register the client");
            other.click("Done");
            other.click("Grant it");
            other.click("Put the route in front");
            other.click("Call it, twice");
            other.await(By.xpath(
                    "//div[h3[contains(., 'As night-watch')]]/p[contains(., 'admitted') and contains(., '200')]"));
            other.await(By.xpath("//div[h3[contains(., 'Without a token')]]/p[contains(., 'refused: no-token') and "
                    + "contains(., '401')]"));
            other.awaitText("\"gate\"");
            other.click("See the access map");
            other.awaitHeading("Access map");
            other.await(By.xpath("//button[contains(., 'night-watch')]"));
            assertThat(other.faults()).isEmpty();
            assertThat(other.elsewhere(fresh.server())).isEmpty();
        }
    }
}
