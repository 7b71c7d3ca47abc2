package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.deque.html.axecore.results.Rule;
import com.deque.html.axecore.selenium.AxeBuilder;
import com.sun.net.httpserver.HttpServer;
import java.io.InputStream;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.logging.Level;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.openqa.selenium.By;
import org.openqa.selenium.Dimension;
import org.openqa.selenium.Keys;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.chrome.ChromeDriver;
import org.openqa.selenium.chrome.ChromeDriverService;
import org.openqa.selenium.chrome.ChromeOptions;
import org.openqa.selenium.logging.LogEntry;
import org.openqa.selenium.logging.LogType;
import org.openqa.selenium.logging.LoggingPreferences;
import org.openqa.selenium.support.ui.ExpectedConditions;
import org.openqa.selenium.support.ui.WebDriverWait;
import tools.jackson.databind.JsonNode;

/** The pages in a real browser: what its own rules about forms, cookies, scripts and origins make of them, with the keyboard alone, in light and dark. */
class InABrowserTest {
    private static Running demo;
    private static HttpServer board;
    private static String origin;
    private ChromeDriver browser;

    /** The harbour's single-page application, on a port of its own: several demos may run on this machine. */
    @BeforeAll static void start() throws Exception {
        demo = Running.demo();
        board = HttpServer.create(new InetSocketAddress("127.0.0.1", 0), 0);
        origin = "http://127.0.0.1:" + board.getAddress().getPort();
        JsonNode made = Operator.of(demo).harbour("POST", "/clients", "{\"name\":\"tested-board\",\"kind\":\"browser\",\"title\":\"Tested board\",\"redirect_uris\":[\"%s/back\"],\"origins\":[\"%s\"],\"after_sign_out\":[\"%s/\"],\"asks\":[\"tides.read\",\"berths.read\"]}"
                .formatted(origin, origin, origin)).json();
        String config = "const config = {issuer: '%s', gateway: '%s', clientId: '%s', audiences: ['https://tides.saltmarsh.example', 'https://berths.saltmarsh.example']};"
                .formatted(demo.ready().path("issuers").path("harbour").asString(), demo.gateway(), made.path("now").path("client_id").asString());
        board.createContext("/", exchange -> {
            try (exchange) {
                String path = exchange.getRequestURI().getPath();
                byte[] body = path.equals("/config.js") ? config.getBytes(StandardCharsets.UTF_8) : file(path.equals("/") || path.equals("/back") ? "board.html" : path.substring(1));
                exchange.getResponseHeaders().set("Content-Type", path.endsWith(".js") ? "text/javascript" : path.endsWith(".css") ? "text/css" : "text/html;charset=UTF-8");
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

    @AfterAll static void stop() {
        board.stop(0);
    }

    @AfterEach void close() {
        if (browser != null) browser.quit();
    }

    private ChromeDriver open(boolean dark, int width) {
        LoggingPreferences logs = new LoggingPreferences();
        logs.enable(LogType.BROWSER, Level.ALL);
        ChromeOptions options = new ChromeOptions().setBinary("/usr/bin/chromium").addArguments("--headless=new", "--no-sandbox", "--disable-gpu", "--disable-dev-shm-usage", "--disable-background-networking");
        options.setCapability("goog:loggingPrefs", logs);
        browser = new ChromeDriver(new ChromeDriverService.Builder().usingDriverExecutable(new java.io.File("/usr/bin/chromedriver")).build(), options);
        browser.manage().window().setSize(new Dimension(width, 900));
        browser.executeCdpCommand("Emulation.setEmulatedMedia", Map.of("features", List.of(Map.of("name", "prefers-color-scheme", "value", dark ? "dark" : "light"))));
        return browser;
    }

    private WebElement await(By what) {
        return new WebDriverWait(browser, Duration.ofSeconds(20)).until(ExpectedConditions.visibilityOfElementLocated(what));
    }

    /** To whatever has the keyboard. */
    private void type(CharSequence... keys) {
        browser.switchTo().activeElement().sendKeys(keys);
    }

    private void tabTo(String text) {
        for (int i = 0; i < 25; i++) {
            if (browser.switchTo().activeElement().getText().equals(text)) return;
            type(Keys.TAB);
        }
        throw new AssertionError("the keyboard does not reach " + text);
    }

    private List<String> faults() {
        return browser.manage().logs().get(LogType.BROWSER).getAll().stream().filter(it -> it.getLevel().intValue() >= Level.WARNING.intValue()).map(LogEntry::getMessage)
                .filter(it -> !it.contains("favicon")).toList();
    }

    @Test void aPageSignsAPersonInWithTheKeyboardAloneCallsAndSignsOut() throws Exception {
        open(false, 1280).get(origin + "/");
        JsonNode junia = Visitor.person(demo, "junia");
        tabTo("Sign in");
        type(Keys.ENTER);
        await(By.id("email"));
        type(junia.path("login").asString(), Keys.TAB);
        type(junia.path("password").asString(), Keys.ENTER);
        await(By.xpath("//button[text()='Approve']"));
        tabTo("Approve");
        type(Keys.ENTER);
        await(By.id("tides"));
        new WebDriverWait(browser, Duration.ofSeconds(20)).until(ExpectedConditions.textToBePresentInElementLocated(By.id("berth"), "Grey Heron"));
        assertThat(browser.getCurrentUrl()).as("neither code nor token stays in the address bar").isEqualTo(origin + "/");
        assertThat(browser.findElement(By.id("fault")).getText()).isEmpty();
        browser.findElement(By.id("out")).click();
        await(By.id("in"));
        assertThat(browser.getCurrentUrl()).isEqualTo(origin + "/");
        assertThat(faults()).as("the browser had nothing to say").isEmpty();
    }

    @Test void aFormThatIsPostedBackArrivesWithoutAClick() throws Exception {
        open(false, 1280);
        Visitor.Pkce pkce = Visitor.Pkce.make();
        browser.get(demo.authority() + Visitor.asking(demo, "berth-desk", pkce, "openid", "response_mode", "form_post"));
        JsonNode isolde = Visitor.person(demo, "isolde");
        await(By.id("email")).sendKeys(isolde.path("login").asString());
        browser.findElement(By.id("password")).sendKeys(isolde.path("password").asString(), Keys.ENTER);
        new WebDriverWait(browser, Duration.ofSeconds(20)).until(ExpectedConditions.urlToBe(Visitor.redirect("berth-desk")));
    }

    @ParameterizedTest(name = "dark {0}, {1} px")
    @CsvSource({"false, 1280", "true, 1280", "false, 390", "true, 390"})
    void everyPageIsForEverybody(boolean dark, int width) throws Exception {
        open(dark, width);
        List<String> violations = new ArrayList<>();
        String issuer = demo.authority() + "/harbour/";
        for (String page : List.of("sign-in", "sign-up", "forgotten", "new-password?mailed=x", "device", "continue?flow=x", "authorize?client_id=x")) look(issuer + page, violations);
        browser.get(issuer + "sign-in");
        browser.findElement(By.id("email")).sendKeys("nobody@saltmarsh.example");
        browser.findElement(By.id("password")).sendKeys("not a password", Keys.ENTER);
        await(By.id("fault"));
        check("sign-in refused", violations);
        browser.get(demo.authority() + Visitor.asking(demo, "pilot-tablet", Visitor.Pkce.make(), "openid offline_access tides.read berths.book", "resource", "https://tides.saltmarsh.example", "resource", "https://berths.saltmarsh.example",
                "prompt", "consent"));
        JsonNode junia = Visitor.person(demo, "junia");
        await(By.id("email")).sendKeys(junia.path("login").asString());
        browser.findElement(By.id("password")).sendKeys(junia.path("password").asString(), Keys.ENTER);
        await(By.xpath("//button[text()='Decline']"));
        check("approve", violations);
        for (String page : List.of("profile", "approvals", "sessions", "password", "factor", "sign-out")) look(issuer + page, violations);
        assertThat(violations).isEmpty();
    }

    private void look(String address, List<String> violations) {
        browser.get(address);
        check(address, violations);
    }

    private void check(String page, List<String> violations) {
        for (Rule rule : new AxeBuilder().withTags(List.of("wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice")).analyze(browser).getViolations()) {
            violations.add(page + ": " + rule.getId() + " " + rule.getNodes().getFirst().getHtml());
        }
        Object wider = browser.executeScript("return document.documentElement.scrollWidth > document.documentElement.clientWidth");
        if (Boolean.TRUE.equals(wider)) violations.add(page + ": wider than the window");
    }
}
