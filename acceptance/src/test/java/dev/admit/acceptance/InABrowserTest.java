package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.sun.net.httpserver.HttpServer;
import java.io.InputStream;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.parallel.ResourceLock;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.chrome.ChromeDriver;
import org.openqa.selenium.support.ui.ExpectedConditions;
import org.openqa.selenium.support.ui.WebDriverWait;
import tools.jackson.databind.JsonNode;

/**
 * The pages in a real browser: what its own rules about forms, cookies, scripts and origins make of them, with the
 * keyboard alone, in light and dark.
 */
@ResourceLock(Running.DEMO)
class InABrowserTest {
    private static Running demo;
    private static HttpServer board;
    private static String origin;
    private Chromium chromium;
    private ChromeDriver browser;

    /** The harbour's single-page application, on a port of its own: several demos may run on this machine. */
    @BeforeAll
    static void start() throws Exception {
        demo = Running.demo();
        board = HttpServer.create(new InetSocketAddress("127.0.0.1", 0), 0);
        origin = "http://127.0.0.1:" + board.getAddress().getPort();
        JsonNode made = Operator.of(demo)
                .harbour(
                        "POST",
                        "/clients",
                        ("{\"name\":\"tested-board\",\"kind\":\"browser\",\"client_name\":\"Tested "
                                        + "board\",\"redirect_uris\":[\"%s/back\"],"
                                        + "\"origins\":[\"%s\"],\"post_logout_redirect_uris\":[\"%s/\"],\"scopes\":"
                                        + "[\"tides.rea"
                                        + "d\",\"berths.read\"]}")
                                .formatted(origin, origin, origin))
                .json();
        String config = ("const config = {issuer: '%s', gateway: '%s', clientId: '%s', audiences: "
                        + "['https://tides.saltmarsh.example', 'https://berths.saltmarsh.example']};")
                .formatted(
                        demo.ready().path("issuers").path("harbour").asString(),
                        demo.gateway(),
                        made.path("now").path("client_id").asString());
        board.createContext("/", exchange -> {
            try (exchange) {
                String path = exchange.getRequestURI().getPath();
                byte[] body = path.equals("/config.js")
                        ? config.getBytes(StandardCharsets.UTF_8)
                        : file(path.equals("/") || path.equals("/back") ? "board.html" : path.substring(1));
                exchange.getResponseHeaders()
                        .set(
                                "Content-Type",
                                path.endsWith(".js")
                                        ? "text/javascript"
                                        : path.endsWith(".css") ? "text/css" : "text/html;charset=UTF-8");
                exchange.sendResponseHeaders(200, body.length);
                exchange.getResponseBody().write(body);
            }
        });
        board.start();
    }

    private static byte[] file(String name) throws java.io.IOException {
        try (InputStream in = InABrowserTest.class.getResourceAsStream("/apps/" + name)) {
            return in == null ? new byte[] {' '} : in.readAllBytes();
        }
    }

    @AfterAll
    static void stop() {
        board.stop(0);
    }

    @AfterEach
    void close() {
        if (chromium != null) chromium.close();
    }

    private ChromeDriver open(boolean dark, int width) {
        chromium = Chromium.open(dark, width);
        browser = chromium.driver;
        return browser;
    }

    private WebElement await(By what) {
        return chromium.await(what);
    }

    private void type(CharSequence... keys) {
        chromium.type(keys);
    }

    private void tabTo(String text) {
        chromium.tabTo(text);
    }

    private List<String> faults() {
        return chromium.faults();
    }

    @Test
    void aPageSignsAPersonInWithTheKeyboardAloneCallsAndSignsOut() throws Exception {
        open(false, 1280).get(origin + "/");
        JsonNode junia = Visitor.person(demo, "junia");
        tabTo("Sign in");
        type(Keys.ENTER);
        await(By.id("email"));
        type(junia.path("login").asString(), Keys.TAB);
        type(junia.path("password").asString(), Keys.ENTER);
        await(By.xpath("//button[normalize-space(.)='Approve']"));
        tabTo("Approve");
        type(Keys.ENTER);
        await(By.id("tides"));
        new WebDriverWait(browser, Duration.ofSeconds(20))
                .until(ExpectedConditions.textToBePresentInElementLocated(By.id("berth"), "Grey Heron"));
        assertThat(browser.getCurrentUrl())
                .as("neither code nor token stays in the address bar")
                .isEqualTo(origin + "/");
        assertThat(browser.findElement(By.id("fault")).getText()).isEmpty();
        browser.findElement(By.id("out")).click();
        await(By.id("in"));
        assertThat(browser.getCurrentUrl()).isEqualTo(origin + "/");
        assertThat(faults()).as("the browser had nothing to say").isEmpty();
    }

    /** With the keyboard: to a field by its id. */
    private void typeInto(String id, String text) {
        for (int i = 0; i < 40; i++) {
            if (id.equals(browser.switchTo().activeElement().getAttribute("id"))) {
                type(Keys.chord(Keys.CONTROL, "a"), text);
                return;
            }
            type(Keys.TAB);
        }
        throw new AssertionError("the keyboard does not reach #" + id + " of " + browser.getCurrentUrl());
    }

    private void press(String text) {
        tabTo(text);
        type(Keys.ENTER);
    }

    private void awaitHeading(String text) {
        chromium.awaitHeading(text);
    }

    private static String mailedCode(String address) throws Exception {
        java.util.regex.Matcher code = java.util.regex.Pattern.compile("\\b(\\d{4}) (\\d{4})\\b")
                .matcher(Operator.of(demo).mailTo(address));
        assertThat(code.find()).isTrue();
        return code.group(1) + code.group(2);
    }

    /** From signing up to signing out, no mouse. */
    @Test
    void everythingAPersonDoesCanBeDoneWithTheKeyboardAlone() throws Exception {
        String issuer = demo.server() + "/harbour/";
        String address = "keys.only@saltmarsh.example";
        open(false, 1280).get(issuer + "sign-up");
        typeInto("email", address);
        type(Keys.ENTER);
        await(By.id("code"));
        typeInto("code", mailedCode(address));
        typeInto("field-name", "Keys Only");
        typeInto("field-licence_no", "KO-0001");
        typeInto("password", "quiet harbour morning");
        type(Keys.ENTER);
        awaitHeading("Your profile");
        typeInto("field-name", "Keys Alone");
        press("Save");
        assertThat(await(By.cssSelector("[role=status]")).getText()).startsWith("Saved");

        browser.get(issuer + "device");
        JsonNode kiosk = demo.ready().path("clients").path("ferry-kiosk");
        JsonNode device = Wire.form(
                        issuer + "device_authorization",
                        null,
                        "client_id=" + kiosk.path("client_id").asString() + "&scope=tides.read")
                .json();
        typeInto("user_code", device.path("user_code").asString());
        type(Keys.ENTER);
        awaitHeading("May Ferry kiosk act for you?");
        press("Approve");
        awaitHeading("The device goes on");
        browser.get(issuer + "approvals");
        press("Withdraw");
        await(By.xpath("//p[contains(., 'No application acts for you')]"));

        browser.get(issuer + "factor");
        typeInto("code", TimeCodes.now(await(By.cssSelector(".seed")).getText().replaceAll("\\s", "")));
        type(Keys.ENTER);
        awaitHeading("Keep these recovery codes");
        String recovery = browser.findElement(By.cssSelector("ol.codes li")).getText();
        press("I have them; go on");
        browser.get(issuer + "password");
        typeInto("password", "quiet harbour morning");
        typeInto("new-password", "another harbour morning");
        type(Keys.ENTER);
        assertThat(await(By.cssSelector("[role=status]")).getText()).contains("password is changed");

        browser.get(issuer + "sessions");
        press("End all, and what applications do while I am away");
        browser.get(issuer + "profile");
        await(By.id("email"));
        typeInto("email", address);
        typeInto("password", "another harbour morning");
        type(Keys.ENTER);
        awaitHeading("Second factor");
        typeInto("code", recovery);
        type(Keys.ENTER);
        awaitHeading("Your profile");
        browser.get(issuer + "sign-out");
        press("Sign out");
        awaitHeading("You are signed out");
        browser.get(issuer + "profile");
        await(By.id("email"));
        browser.get(issuer + "forgotten");
        typeInto("email", address);
        type(Keys.ENTER);
        await(By.id("code"));
        typeInto("code", mailedCode(address));
        typeInto("password", "a third harbour morning");
        type(Keys.ENTER);
        awaitHeading("Sign in");
        assertThat(faults()).isEmpty();
    }

    @Test
    void aFormThatIsPostedBackArrivesWithoutAClick() throws Exception {
        open(false, 1280);
        Visitor.Pkce pkce = Visitor.Pkce.make();
        browser.get(demo.server() + Visitor.asking(demo, "berth-desk", pkce, "openid", "response_mode", "form_post"));
        JsonNode isolde = Visitor.person(demo, "isolde");
        await(By.id("email")).sendKeys(isolde.path("login").asString());
        browser.findElement(By.id("password")).sendKeys(isolde.path("password").asString(), Keys.ENTER);
        new WebDriverWait(browser, Duration.ofSeconds(20))
                .until(ExpectedConditions.urlToBe(Visitor.redirect("berth-desk")));
    }

    @ParameterizedTest(name = "dark {0}, {1} px")
    @CsvSource({"false, 1280", "true, 1280", "false, 390", "true, 390"})
    void everyPageIsForEverybody(boolean dark, int width) throws Exception {
        open(dark, width);
        List<String> violations = new ArrayList<>();
        String issuer = demo.server() + "/harbour/";
        for (String page : List.of(
                "sign-in",
                "sign-up",
                "forgotten",
                "new-password?mailed=x",
                "device",
                "continue?flow=x",
                "authorize?client_id=x")) look(issuer + page, violations);
        browser.get(issuer + "sign-in");
        browser.findElement(By.id("email")).sendKeys("nobody@saltmarsh.example");
        browser.findElement(By.id("password")).sendKeys("not a password", Keys.ENTER);
        await(By.id("fault"));
        check("sign-in refused", violations);
        browser.get(demo.server()
                + Visitor.asking(
                        demo,
                        "pilot-tablet",
                        Visitor.Pkce.make(),
                        "openid offline_access tides.read berths.book",
                        "resource",
                        "https://tides.saltmarsh.example",
                        "resource",
                        "https://berths.saltmarsh.example",
                        "prompt",
                        "consent"));
        JsonNode junia = Visitor.person(demo, "junia");
        await(By.id("email")).sendKeys(junia.path("login").asString());
        browser.findElement(By.id("password")).sendKeys(junia.path("password").asString(), Keys.ENTER);
        await(By.xpath("//button[normalize-space(.)='Decline']"));
        check("approve", violations);
        for (String page : List.of("profile", "approvals", "sessions", "password", "factor", "sign-out"))
            look(issuer + page, violations);
        browser.get(demo.server()
                + Visitor.asking(demo, "pilot-tablet", Visitor.Pkce.make(), "openid", "prompt", "select_account"));
        await(By.xpath("//button[normalize-space(.)='Continue']"));
        check("choose", violations);
        JsonNode device = Wire.form(
                        issuer + "device_authorization",
                        null,
                        "client_id="
                                + demo.ready()
                                        .path("clients")
                                        .path("ferry-kiosk")
                                        .path("client_id")
                                        .asString() + "&scope=tides.read")
                .json();
        browser.get(device.path("verification_uri_complete").asString());
        await(By.xpath("//button[normalize-space(.)='Approve']"));
        check("approve a device", violations);
        look(issuer + "sign-in", violations);
        JsonNode ama = Visitor.person(demo, "ama");
        browser.findElement(By.id("email")).sendKeys(ama.path("login").asString());
        browser.findElement(By.id("password")).sendKeys(ama.path("password").asString(), Keys.ENTER);
        await(By.id("code")).sendKeys("000000", Keys.ENTER);
        await(By.id("fault"));
        check("second factor refused", violations);
        assertThat(violations).isEmpty();
    }

    private void look(String address, List<String> violations) {
        browser.get(address);
        check(address, violations);
    }

    private void check(String page, List<String> violations) {
        chromium.check(page, violations);
    }
}
