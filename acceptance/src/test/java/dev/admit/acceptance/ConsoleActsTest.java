package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.nimbusds.jose.jwk.Curve;
import com.nimbusds.jose.jwk.gen.ECKeyGenerator;
import java.util.List;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.parallel.ResourceLock;
import org.openqa.selenium.By;
import org.openqa.selenium.JavascriptExecutor;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.support.ui.Select;
import tools.jackson.databind.JsonNode;

/** What the command line can do, done on the pages: each place's acts, and what the service has then. */
@ResourceLock(Running.CONSOLES)
class ConsoleActsTest {
    private static Running demo;
    private static Operator operator;
    private static Chromium browser;

    @BeforeAll
    static void start() throws Exception {
        demo = Running.consoles();
        operator = Operator.of(demo);
        browser = Chromium.open(true, 1280);
        signIn(browser, "harbour", Visitor.person(demo, "corin"));
    }

    @AfterAll
    static void stop() {
        if (browser != null) browser.close();
    }

    private static void signIn(Chromium chromium, String issuer, JsonNode person) {
        chromium.driver.get(demo.server() + "/console?issuer=" + issuer);
        chromium.click("Sign in at its page");
        chromium.signIn(person);
        chromium.await(By.id("page"));
    }

    private static void open(String path) {
        browser.driver.get(demo.server() + "/console/harbour" + path);
        browser.await(By.cssSelector("main h1"));
    }

    private static JsonNode harbour(String path) throws Exception {
        return operator.get("/issuers/harbour" + path).json();
    }

    /** A checkbox or radio button by the beginning of what stands beside it. */
    private static void tick(String label) {
        browser.revealed(By.xpath("//label[starts-with(normalize-space(.), '%s')]".formatted(label)))
                .click();
    }

    private static void said(String text) {
        browser.await(By.xpath(
                "//li[@role='status' or @data-state]//*[contains(normalize-space(.), \"%s\")]".formatted(text)));
    }

    private static void dialog(String button) {
        browser.await(By.xpath("//div[@role='dialog']//button[normalize-space(.)='%s']".formatted(button)))
                .click();
    }

    private static String line(String begins) {
        return browser.await(By.xpath("//code[starts-with(normalize-space(.), '%s')]".formatted(begins)))
                .getText();
    }

    @Test
    void anApiFromItsOwnDocument() throws Exception {
        open("/apis/import");
        browser.fill("API", "fog-lamps");
        browser.fill("Paths at the gateway begin with", "/fog");
        browser.labelled("The OpenAPI document, in JSON or YAML").sendKeys("""
                {"openapi":"3.0.3","info":{"title":"Fog lamps","version":"1"},
                "servers":[{"url":"http://127.0.0.1:9"}],
                "paths":{"/lamps":{"get":{"security":[{"s":["fog-lamps.read"]}],
                "responses":{"200":{"description":"ok"}}}}},
                "components":{"securitySchemes":{"s":{"type":"openIdConnect","openIdConnectUrl":"https://x.example"}}}}
                """);
        assertThat(line("admit api import fog-lamps FILE")).contains("--prefix /fog");
        browser.click("Show what would change");
        browser.await(By.xpath("//h2[text()='4 things would change']"));
        browser.await(By.xpath("//li[contains(., 'added: route GET /fog/lamps')]"));
        assertThat(operator.get("/issuers/harbour/apis/fog-lamps").status()).isEqualTo(404);
        browser.click("Load it");
        browser.awaitHeading("Fog lamps");
        assertThat(harbour("/apis/fog-lamps").path("openapi").path("operations").asInt())
                .isEqualTo(1);
        browser.click("Check the routes");
        browser.await(By.xpath("//p[text()='The routes and the document agree.']"));
        browser.click("As callers see it");
        browser.await(By.xpath("//summary[text()='fog-lamps.json']"));
    }

    @Test
    void anApiIsPublishedAndGetsANote() throws Exception {
        operator.harbour("POST", "/apis", "{\"name\":\"fog-signals\",\"title\":\"Fog signals\"}");
        open("/apis/fog-signals");
        browser.click("Change catalogue");
        browser.labelled("Who finds it").sendKeys("everybody");
        browser.fill("Description", "Signals in **fog**.");
        assertThat(line("admit catalogue publish fog-signals")).contains("--readers public");
        browser.click("Save");
        browser.await(By.xpath("//*[text()='Everybody finds fog-signals in the catalogue.']"));
        browser.click("Add a note");
        browser.fill("What changed", "It is new.");
        browser.click("Add the note");
        browser.await(By.xpath("//li[contains(., 'It is new.')]"));
        assertThat(Wire.get(demo.server() + "/harbour/catalogue/fog-signals").body())
                .contains("Signals in <strong>fog</strong>.", "It is new.");
    }

    @Test
    void anInitialAccessTokenIsMadeShownOnceAndRemoved() throws Exception {
        open("/settings/registration");
        browser.await(
                By.xpath("//*[text()='No client registers itself; people with an admin role and setup files do.']"));
        browser.click("Make a token");
        browser.fill("What it is for", "fog-tables");
        assertThat(line("admit registration token add fog-tables")).contains("--uses 1");
        browser.click("Make the token");
        browser.awaitText("is shown this once");
        assertThat(harbour("/registration/tokens").toString()).contains("fog-tables");
        browser.click("Remove the token fog-tables");
        browser.awaitText("None yet.");
        assertThat(harbour("/registration/tokens").path("items")).isEmpty();
    }

    @Test
    void aFormSaysWhatWouldBeInForceWhileOneTypes() {
        open("/clients/new");
        browser.fill("Name", "fog-buoy");
        browser.await(
                By.xpath("//section[@aria-label='What this means']//*[text()='It proves itself with a secret.']"));
        open("/apis/new");
        browser.fill("Name", "fog-api");
        browser.await(
                By.xpath("//section[@aria-label='What this means']//*[contains(text(),'/harbour/apis/fog-api.')]"));
    }

    @Test
    void anApiWithItsScopeItsRoleAndItsMinting() throws Exception {
        open("/apis/new");
        browser.fill("Name", "foghorn");
        browser.fill("Upstream", "http://127.0.0.1:1");
        assertThat(line("admit api add foghorn"))
                .contains("--upstream http://127.0.0.1:1")
                .endsWith(" --issuer harbour");
        browser.click("Add it");
        browser.awaitHeading("foghorn");
        browser.click("Add a scope");
        browser.fill("Name", "foghorn.sound");
        browser.labelled("What it does").sendKeys("changes");
        browser.click("Add the scope");
        browser.await(By.xpath("//section//span[text()='foghorn.sound']"));
        assertThat(harbour("/apis/foghorn/scopes")
                        .path("items")
                        .get(0)
                        .path("effect")
                        .asString())
                .isEqualTo("changes");

        browser.click("Change foghorn.sound");
        tick("Listed");
        assertThat(line("admit scope change foghorn foghorn.sound")).contains(" --no-listed");
        dialog("Save");
        browser.await(By.xpath("//*[text()='not listed']"));

        browser.click("Change details");
        browser.labelled("Default scopes").sendKeys("foghorn.sound");
        assertThat(line("admit api change foghorn")).contains(" --default-scope foghorn.sound");
        browser.click("Save");
        browser.await(By.xpath("//*[text()='by default']"));

        browser.click("Add a role");
        browser.fill("Name", "keeper");
        tick("foghorn.sound");
        dialog("Save");
        browser.await(By.xpath("//li//span[text()='keeper']"));
        assertThat(harbour("/apis/foghorn/roles")
                        .path("items")
                        .get(0)
                        .path("scopes")
                        .get(0)
                        .asString())
                .isEqualTo("foghorn.sound");

        browser.click("Change how its tokens are made");
        browser.fill("Lifetime", "5m");
        browser.fill("Extra claims, in CEL", "quay = client.name");
        browser.click("Save");
        browser.await(By.xpath("//dd[normalize-space(.)='5m']"));
        JsonNode minting = harbour("/apis/foghorn/minting");
        assertThat(minting.path("lifetime").asString()).isEqualTo("5m");
        assertThat(minting.path("claims").get(0).path("expression").asString()).isEqualTo("client.name");

        browser.click("Add an exception");
        browser.fill("Name", "kiosks");
        browser.fill("Lifetime, at most", "1m");
        browser.fill("Tags", "kiosk");
        dialog("Add it");
        browser.await(By.xpath("//li[contains(., 'kiosks') and contains(., 'the tag kiosk')]"));
        browser.click("Show values and code");
        browser.await(By.xpath("//summary[contains(., '.env')]"));

        browser.click("Name a person");
        browser.fill("Their address", "junia.hale@saltmarsh.example");
        dialog("Name them");
        browser.await(By.xpath("//li[contains(., 'junia.hale@saltmarsh.example')]"));
        assertThat(harbour("/apis/foghorn").path("owners").toString()).contains("junia.hale");
    }

    @Test
    void badInputIsSaidBesideItsField() throws Exception {
        open("/apis/new");
        browser.fill("Name", "No Such Name!");
        browser.fill("Upstream", "nowhere");
        browser.click("Add it");
        WebElement name = browser.await(By.xpath("//input[@aria-invalid='true'][@id=//label[.='Name']/@for]"));
        assertThat(browser.driver
                        .findElement(By.id(name.getAttribute("aria-describedby").split(" ")[1]))
                        .getText())
                .startsWith("Expected ");
        browser.await(By.xpath("//input[@aria-invalid='true'][@id=//label[.='Upstream']/@for]"));
        browser.faults(); // the refusal itself
    }

    @Test
    void aClientsSecretsAsksAndCopy() throws Exception {
        operator.harbour("POST", "/clients", "{\"name\":\"acted-upon\",\"client_name\":\"Acted upon\"}");
        open("/clients/acted-upon");
        browser.click("Request more");
        tick("tides.read");
        dialog("Ask");
        browser.await(By.xpath("//li[contains(., 'tides.read') and contains(., 'waiting')]"));
        browser.click("Drop");
        browser.awaitText("It requests nothing");
        browser.click("Undo");
        browser.await(By.xpath("//li[contains(., 'tides.read') and contains(., 'waiting')]"));
        browser.click("Replace");
        browser.fill("The others expire after", "1h");
        assertThat(line("admit secret replace acted-upon")).contains("--overlap 1h");
        dialog("Replace");
        browser.awaitText("The secret is shown this one time");
        String secret = browser.await(By.xpath("//dt[contains(., 'The secret')]/following-sibling::dd"))
                .getText();
        dialog("Done");
        assertThat(Wire.form(
                                demo.server() + "/harbour/introspect",
                                "Basic "
                                        + java.util.Base64.getEncoder()
                                                .encodeToString((harbour("/clients/acted-upon")
                                                                        .path("client_id")
                                                                        .asString()
                                                                + ":" + Wire.encoded(secret))
                                                        .getBytes()),
                                "token=x")
                        .status())
                .isEqualTo(200);
        assertThat(browser.driver.getPageSource()).doesNotContain(secret);
        assertThat(harbour("/clients/acted-upon").path("secrets").size()).isEqualTo(2);
        browser.click("Copy");
        browser.fill("Its name", "acted-upon-too");
        dialog("Copy");
        dialog("Done");
        browser.awaitHeading("Acted upon");
        assertThat(harbour("/clients/acted-upon-too")
                        .path("scopes")
                        .get(0)
                        .path("status")
                        .asString())
                .isEqualTo("waiting");
    }

    @Test
    void aClientOfItsOwnKeysIsTakenOutAsAPiece() throws Exception {
        String keys = "{\"keys\":[%s]}"
                .formatted(new ECKeyGenerator(Curve.P_256)
                        .keyID("buoy")
                        .generate()
                        .toPublicJWK()
                        .toJSONString());
        open("/clients/new");
        browser.fill("Name", "keyed");
        new Select(browser.labelled("How it proves itself")).selectByValue("private_key_jwt");
        browser.fill("Or its public keys themselves, as a key set", "these are no keys");
        browser.click("Register it");
        browser.await(
                By.xpath("//textarea[@aria-invalid='true'][@id=//label[starts-with(., 'Or its public keys')]/@for]"));
        browser.faults(); // the refusal itself
        browser.fill("Or its public keys themselves, as a key set", keys);
        browser.click("Register it");
        browser.awaitHeading("keyed");
        assertThat(harbour("/clients/keyed")
                        .path("jwks")
                        .path("keys")
                        .get(0)
                        .path("kid")
                        .asString())
                .isEqualTo("buoy");

        String piece = (String) ((JavascriptExecutor) browser.driver)
                .executeAsyncScript(
                        "fetch(arguments[0]).then(it => it.text()).then(arguments[1])",
                        browser.await(By.xpath("//a[normalize-space(.)='Export as a setup file']"))
                                .getAttribute("href"));
        assertThat(piece).contains("keyed", "buoy").doesNotContain("tide-buoy-07");
    }

    @Test
    void decisionsAreCountedByWhatIsAsked() throws Exception {
        Wire.get(demo.gateway() + "/counted/nowhere");
        open("/decisions");
        new Select(browser.labelled("Counted by")).selectByVisibleText("verdict");
        browser.await(By.xpath("//figure[.//figcaption[starts-with(., 'All, by')]]//li[contains(., 'refused')]"));
    }

    @Test
    void whatWaitsIsDeclinedGivenForATimeAndWithdrawn() throws Exception {
        operator.harbour("POST", "/clients", "{\"name\":\"answered\",\"scopes\":[\"berths.read\",\"tides.read\"]}");
        open("/approvals?client=answered");
        browser.click("Decline berths.read for answered");
        browser.fill("Reason", "Not yet needed");
        dialog("Decline");
        browser.awaitGone(By.xpath("//tr[contains(., 'berths.read')]"));
        browser.click("Grant tides.read to answered for a time");
        browser.fill("Until", "30d");
        dialog("Grant");
        browser.awaitText("Nothing waits");
        browser.click("Granted");
        browser.click("Withdraw tides.read from answered");
        dialog("Withdraw");
        browser.awaitText("There is none");
        JsonNode requested = harbour("/clients/answered").path("scopes");
        assertThat(requested.get(0).path("status").asString()).isEqualTo("declined");
        assertThat(requested.get(0).path("reason").asString()).isEqualTo("Not yet needed");
        assertThat(requested.get(1).path("status").asString()).isEqualTo("withdrawn");
    }

    @Test
    void aRouteIsAddedChangedWithAReasonTriedAndBroughtBack() throws Exception {
        open("/gateway/new");
        tick("GET");
        browser.fill("Path", "/acted/{thing}");
        tick("Open");
        tick("A fixed response");
        browser.fill("Body, a Mustache template", "first");
        browser.fill("Why", "for the harbour's feast");
        browser.click("Add it");
        browser.awaitHeading("GET /acted/{thing}");
        assertThat(Wire.get(demo.gateway() + "/acted/a").body()).isEqualTo("first");
        long before = harbour("").path("revision").asLong();

        browser.click("Change where it goes");
        browser.fill("Body, a Mustache template", "second");
        browser.fill("Why", "a better word");
        browser.click("Save");
        browser.awaitText("is changed, and live.");
        assertThat(Wire.get(demo.gateway() + "/acted/a").body()).isEqualTo("second");
        assertThat(harbour("/revisions").path("items").get(0).path("why").asString())
                .isEqualTo("a better word");
        browser.click("Change limits");
        browser.fill("Rates", "2 per 1h by address");
        browser.click("Save");
        browser.await(By.xpath("//aside//li[contains(., 'At most 2 per')]"));

        open("/gateway/try?method=GET&path=/acted/a");
        browser.await(By.xpath("//p[contains(., 'Answered by') and contains(., 'GET /acted/{thing}')]"));
        open("/gateway/revisions");
        browser.click("Look at revision " + before);
        browser.fill("Why it comes back", "the first was better");
        dialog("Restore revision %d".formatted(before));
        browser.awaitText("No rate limit of 2 per 1h by address any more.");
        browser.fill("Type " + before + " to go on", String.valueOf(before));
        dialog("Change it");
        browser.awaitGone(By.xpath("//div[@role='dialog']"));
        assertThat(Wire.get(demo.gateway() + "/acted/a").body()).isEqualTo("first");
        open("/gateway/limits");
        assertThat(browser.driver.findElements(By.xpath("//tr[contains(., '/acted/')]")))
                .as("the limit came later")
                .isEmpty();
    }

    @Test
    void whatIsElsewhereIsLookedForAndPresented() {
        open("/gateway/trusted-issuers/coastguard");
        browser.click("Look for them");
        browser.await(By.xpath("//ol/li[contains(., 'usable keys')]"));
        open("/gateway/upstream-credentials/coastguard-warnings");
        browser.fill("A path at the upstream", "/warnings");
        browser.click("Present it now");
        browser.await(By.xpath("//ol[@aria-live]/li"));
        assertThat(browser.driver.findElements(By.xpath("//ol[@aria-live]/li[contains(., 'did not go well')]")))
                .isEmpty();
    }

    @Test
    void anUpstreamCredentialIsSealedWhenItIsAdded() throws Exception {
        open("/gateway/upstream-credentials");
        browser.click("Add an upstream credential");
        browser.fill("Name", "harbour-depot");
        browser.fill("For this upstream, and what lies below it", "http://127.0.0.1:1/depot");
        browser.fill("The name of a header", "X-Depot-Key");
        browser.fill("The secret", "depot-secret-0000");
        dialog("Add it");
        browser.await(By.xpath("//h2[text()='harbour-depot']"));
        JsonNode kept = harbour("/upstream-credentials/harbour-depot");
        assertThat(kept.path("header").asString()).isEqualTo("X-Depot-Key");
        assertThat(kept.toString() + browser.driver.getPageSource()).doesNotContain("depot-secret-0000");
    }

    @Test
    void aTokenIsMadeReadTriedAndEnded() throws Exception {
        open("/tokens");
        browser.labelled("As").sendKeys("tide-buoy-07");
        browser.fill("Scope", "tides.read");
        browser.click("Make it");
        browser.await(By.xpath("//li[contains(., 'acts on its own')]"));
        browser.await(By.xpath("//li[contains(., 'It may do: tides.read')]"));
        browser.await(By.xpath("//li[contains(., 'trial token, had made by corin.ashby@saltmarsh.example')]"));
        browser.await(By.xpath("//figcaption[contains(., 'good by its times')]"));
        String token = browser.await(By.id("token")).getAttribute("value");
        assertThat(Wire.call("GET", demo.gateway() + "/tides/north-quay", token).status())
                .isEqualTo(200);
        browser.fill("Path", "/berths/n1");
        browser.click("Run the checks");
        browser.await(By.xpath("//p[contains(., 'It would be refused: wrong-audience')]"));
        browser.click("Revoke it");
        dialog("Revoke it");
        browser.awaitText("The token is refused from the next request on.");
        assertThat(Wire.call("GET", demo.gateway() + "/tides/north-quay", token).status())
                .isEqualTo(401);
        browser.await(By.id("token")).clear();
        browser.await(By.id("token")).sendKeys("not.a.token");
        browser.await(By.xpath("//*[contains(text(), 'no JSON in base64url')]"));
        open("/tokens/issued?client=tide-buoy-07");
        browser.await(By.xpath("//tr[contains(., 'tide-buoy-07')]"));
    }

    @Test
    void aPersonIsAddedGivenARoleAndSignedOut() throws Exception {
        open("/people/new");
        browser.fill("E-mail address", "by.page@saltmarsh.example");
        browser.fill("A password, or none for an invitation", "a quiet morning tide");
        browser.fill("Name", "By Page");
        browser.click("Add them");
        browser.awaitHeading("By Page");
        browser.click("Change what they may do");
        tick("pilot");
        assertThat(line("admit person change by.page@saltmarsh.example")).contains("--role pilot");
        browser.click("Save");
        browser.await(By.xpath("//aside//li[contains(., 'the role pilot')]"));
        Visitor visitor = new Visitor(demo);
        visitor.get("/harbour/sign-in")
                .send("/harbour/sign-in", "email", "by.page@saltmarsh.example", "password", "a quiet morning tide");
        browser.driver.navigate().refresh();
        browser.click("Sign them out everywhere");
        dialog("Sign out");
        browser.awaitText("By Page is signed out everywhere.");
        assertThat(visitor.get("/harbour/profile").text()).contains("Sign in");
        browser.click("Mail a code for another password");
        dialog("Mail it");
        open("/settings/outbox?to=by.page@saltmarsh.example");
        browser.await(By.xpath("//tr[contains(., 'by.page@saltmarsh.example')]//button"))
                .click();
        browser.await(By.xpath("//div[@role='dialog']//pre"));
        open("/people/fields");
        browser.click("Add a field");
        browser.fill("Name", "boat_name");
        browser.fill("Title", "Boat");
        dialog("Save");
        browser.await(By.xpath("//tr[contains(., 'boat_name')]"));
        assertThat(harbour("/people/by.page@saltmarsh.example")
                        .path("roles")
                        .get(0)
                        .asString())
                .isEqualTo("pilot");
    }

    @Test
    void theNextKeyIsMadeAndShownOnItsLineOfTime() throws Exception {
        open("/keys");
        browser.click("Make the next key");
        browser.labelled("Algorithm").sendKeys("ES256");
        dialog("Make it");
        browser.await(By.xpath("//li[contains(., 'upcoming')]"));
        assertThat(browser.await(By.cssSelector("svg[role=img]")).getAttribute("aria-label"))
                .contains("upcoming");
        assertThat(harbour("/keys").toString()).contains("upcoming");
    }

    @Test
    void theSetupFileIsTakenOutComparedAndLoaded() throws Exception {
        open("/settings/setup");
        browser.click("Show the file");
        assertThat(browser.await(By.cssSelector("pre")).getText()).contains("issuer: harbour");
        WebElement file = browser.await(By.id("setup-file"));
        file.sendKeys("issuer: harbour\nclients:\n  from-a-file:\n    client_name: From a file\n");
        browser.click("Compare with what runs");
        browser.await(By.xpath("//h3[contains(., 'would change')]"));
        browser.await(By.xpath("//li[contains(., 'added') and contains(., 'from-a-file')]"));
        assertThat(operator.get("/issuers/harbour/clients/from-a-file").status())
                .as("comparing changes nothing")
                .isEqualTo(404);
        browser.click("Load it");
        dialog("Load it");
        browser.awaitText("things changed.");
        assertThat(harbour("/clients/from-a-file").path("client_name").asString())
                .isEqualTo("From a file");
        browser.driver.navigate().refresh();
        browser.await(By.id("setup-file")).sendKeys("issuer: gullwing\ntitle: Taken over\n");
        browser.click("Compare with what runs");
        browser.await(By.xpath("//*[@role='alert'][contains(., 'received')]"));
        browser.faults(); // the refusal, and a file that is of another issuer
    }

    @Test
    void theLookOfAnIssuersPagesIsTriedBeforeItIsSaved() throws Exception {
        open("/settings/look");
        browser.fill("A sentence above the form", "Mind the tide.");
        browser.fill("Accent", "#7a2f5d");
        browser.driver.switchTo().frame(browser.await(By.cssSelector("iframe")));
        browser.await(By.xpath("//p[text()='Mind the tide.']"));
        browser.driver.switchTo().defaultContent();
        assertThat(Wire.get(demo.server() + "/harbour/sign-in").body()).doesNotContain("Mind the tide.");
        browser.click("Save the look");
        browser.awaitText("The pages of harbour look so from now on.");
        assertThat(Wire.get(demo.server() + "/harbour/sign-in").body()).contains("Mind the tide.");
        browser.click("Undo");
        browser.awaitText("Taken back.");
        assertThat(Wire.get(demo.server() + "/harbour/sign-in").body()).doesNotContain("Mind the tide.");
    }

    @Test
    void theAuditIsSearchedAndProven() {
        open("/review/audit?what=client&since=1d");
        browser.await(By.xpath("//tr[contains(., 'client.')]"));
        browser.click("Prove that it is whole");
        browser.await(By.xpath("//*[starts-with(normalize-space(.), 'Whole: lines')]"));
        open("/review");
        browser.await(By.xpath("//li[contains(., 'GET /status') and contains(., 'Anyone may call it')]"));
        open("/people/owners");
        browser.await(By.xpath("//tr[contains(., 'isolde.marrin') and contains(., 'berths')]"));
    }

    @Test
    void lightAndDarkAndTheTimeZoneAreAPersonsOwn() {
        open("/settings/display");
        tick("light");
        assertThat(browser.driver.findElement(By.cssSelector("html")).getAttribute("data-theme"))
                .isEqualTo("light");
        assertThat(browser.driver.findElement(By.cssSelector("html")).getCssValue("background-color"))
                .contains("247, 245, 240");
        browser.fill("Time zone", "Pacific/Kiritimati");
        String far = browser.await(By.xpath("//p[contains(., 'Times read like this')]/time"))
                .getText();
        browser.fill("Time zone", "Pacific/Pago_Pago");
        assertThat(browser.await(By.xpath("//p[contains(., 'Times read like this')]/time"))
                        .getText())
                .as("a day earlier there")
                .isNotEqualTo(far);
        browser.driver.navigate().refresh();
        assertThat(browser.labelled("Time zone").getAttribute("value")).isEqualTo("Pacific/Pago_Pago");
        browser.driver.executeScript("localStorage.clear()");
    }

    @Test
    void theServiceAsAWholeIsForItsOwnPeople() throws Exception {
        JsonNode corin = null;
        for (JsonNode it : demo.ready().path("people"))
            if (it.path("issuer").asString().equals("admit")) corin = it;
        try (Chromium other = Chromium.open(false, 1280)) {
            signIn(other, "admit", corin);
            other.awaitHeading("Access map");
            other.driver.get(demo.server() + "/console/~/clients");
            other.await(By.xpath("//tr[contains(., 'tide-buoy-07') and contains(., 'harbour')]"));
            other.await(By.xpath("//tr[contains(., 'operator') and contains(., 'admit')]"));
            other.driver.get(demo.server() + "/console/~/settings");
            other.click("Add an issuer");
            other.fill("Name, the last part of its URL", "lightship");
            other.await(By.xpath("//div[@role='dialog']//button[normalize-space(.)='Add it']"))
                    .click();
            other.await(By.xpath("//h2[contains(., 'What lightship is')]"));
            assertThat(operator.get("/issuers/lightship").status()).isEqualTo(200);
            other.driver.get(demo.server() + "/console/admit/settings/service");
            other.click("Check");
            other.awaitText("Every record and every line of the audits is whole.");
            other.driver.get(demo.server() + "/console/~/settings");
            other.await(By.xpath("//li[contains(., 'lightship')]//button[normalize-space(.)='Remove']"))
                    .click();
            other.await(By.xpath("//div[@role='dialog']//button[normalize-space(.)='Remove']"))
                    .click();
            other.await(By.xpath("//div[@role='dialog']//input")).sendKeys("lightship", org.openqa.selenium.Keys.ENTER);
            other.awaitGone(By.xpath("//li[contains(., 'lightship')]"));
            assertThat(operator.get("/issuers/lightship").status()).isEqualTo(404);
            assertThat(other.faults().stream().filter(it -> !it.contains("409")).toList())
                    .isEqualTo(List.of());
        }
    }
}
