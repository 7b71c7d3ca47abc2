package dev.admit.acceptance;

import com.deque.html.axecore.selenium.AxeBuilder;
import java.io.File;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.logging.Level;
import org.openqa.selenium.By;
import org.openqa.selenium.Dimension;
import org.openqa.selenium.JavascriptException;
import org.openqa.selenium.Keys;
import org.openqa.selenium.StaleElementReferenceException;
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

/** A real browser without a window, and what a test asks of it again and again. */
final class Chromium implements AutoCloseable {
    private static final Duration PATIENCE = Duration.ofSeconds(20);
    final ChromeDriver driver;

    private Chromium(ChromeDriver driver) {
        this.driver = driver;
    }

    static Chromium open(boolean dark, int width) {
        LoggingPreferences logs = new LoggingPreferences();
        logs.enable(LogType.BROWSER, Level.ALL);
        ChromeOptions options = new ChromeOptions()
                .setBinary("/usr/bin/chromium")
                .addArguments(
                        "--headless=new",
                        "--no-sandbox",
                        "--disable-gpu",
                        "--disable-dev-shm-usage",
                        "--disable-background-networking");
        options.setCapability("goog:loggingPrefs", logs);
        Chromium chromium = new Chromium(new ChromeDriver(
                new ChromeDriverService.Builder()
                        .usingDriverExecutable(new File("/usr/bin/chromedriver"))
                        .build(),
                options));
        chromium.look(dark, width);
        return chromium;
    }

    void look(boolean dark, int width) {
        driver.manage().window().setSize(new Dimension(width, 900));
        driver.executeCdpCommand(
                "Emulation.setDeviceMetricsOverride",
                Map.of("width", width, "height", 900, "deviceScaleFactor", 1, "mobile", false));
        driver.executeCdpCommand(
                "Emulation.setEmulatedMedia",
                Map.of("features", List.of(Map.of("name", "prefers-color-scheme", "value", dark ? "dark" : "light"))));
    }

    WebElement await(By what) {
        return new WebDriverWait(driver, PATIENCE)
                .ignoring(StaleElementReferenceException.class)
                .until(ExpectedConditions.visibilityOfElementLocated(what));
    }

    void awaitGone(By what) {
        new WebDriverWait(driver, PATIENCE).until(ExpectedConditions.invisibilityOfElementLocated(what));
    }

    /** Waits until the page says it. */
    WebElement awaitText(String text) {
        return await(
                By.xpath("//*[not(self::script)][text()[contains(normalize-space(.), %s)]]".formatted(quoted(text))));
    }

    void awaitHeading(String text) {
        await(By.xpath("//h1[starts-with(normalize-space(.), %s)]".formatted(quoted(text))));
    }

    /** Clicks a button by what it says or is called, as soon as it can be. */
    void click(String name) {
        By button = By.xpath("//button[normalize-space(.)=%1$s or @aria-label=%1$s] | //a[normalize-space(.)=%1$s]"
                .formatted(quoted(name)));
        new WebDriverWait(driver, PATIENCE)
                .ignoring(StaleElementReferenceException.class)
                .until(it -> {
                    WebElement found = it.findElements(button).stream()
                            .filter(one -> one.isDisplayed() && one.isEnabled())
                            .findFirst()
                            .orElse(null);
                    if (found == null) return null;
                    driver.executeScript("arguments[0].scrollIntoView({block: 'center'})", found);
                    found.click();
                    return found;
                });
    }

    /** The control that a label belongs to. */
    WebElement labelled(String label) {
        return revealed(
                By.xpath(("//*[@id=//label[normalize-space(.)=%1$s]/@for] | //label[starts-with(normalize-space(.), "
                                + "%1$s)]//*[self::input or self::select or self::textarea] | //*[@aria-label=%1$s]")
                        .formatted(quoted(label))));
    }

    /** As a person does: a folded section is opened first. */
    WebElement revealed(By what) {
        new WebDriverWait(driver, PATIENCE)
                .ignoring(StaleElementReferenceException.class, JavascriptException.class)
                .until(it -> it.findElements(what).stream()
                        .findFirst()
                        .map(there -> {
                            driver.executeScript(
                                    "const folded = arguments[0].closest('details'); if (folded) folded.open = true",
                                    there);
                            return there;
                        })
                        .orElse(null));
        return await(what);
    }

    void fill(String label, String text) {
        // A page that is still being drawn may put another field in the place of the one that was found.
        new WebDriverWait(driver, PATIENCE)
                .ignoring(StaleElementReferenceException.class)
                .until(it -> {
                    labelled(label).sendKeys(Keys.chord(Keys.CONTROL, "a"), text.isEmpty() ? Keys.BACK_SPACE : text);
                    return true;
                });
    }

    /** To whatever has the keyboard. */
    void type(CharSequence... keys) {
        driver.switchTo().activeElement().sendKeys(keys);
    }

    void tabTo(String text) {
        tabTo(text, 25);
    }

    void tabTo(String text, int most) {
        for (int i = 0; i < most; i++) {
            if (driver.switchTo().activeElement().getText().equals(text)) return;
            type(Keys.TAB);
        }
        throw new AssertionError("the keyboard does not reach " + text);
    }

    /** What the browser found wrong. */
    List<String> faults() {
        return driver.manage().logs().get(LogType.BROWSER).getAll().stream()
                .filter(it -> it.getLevel().intValue() >= Level.WARNING.intValue())
                .map(LogEntry::getMessage)
                .filter(it -> !it.contains("favicon"))
                .toList();
    }

    private static final String AXE = axe();
    private static final String RUN_AXE = """
            const done = arguments[0];
            axe.run(document, {
              runOnly: ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"],
              resultTypes: ["violations"],
            }).then(
              (found) => done(found.violations.map((it) => it.id + " " + it.nodes[0].html)),
              (fault) => done(["axe failed: " + fault]));""";

    private static String axe() {
        try (InputStream in = AxeBuilder.class.getResourceAsStream("/axe.min.js")) {
            return new String(Objects.requireNonNull(in).readAllBytes(), StandardCharsets.UTF_8);
        } catch (IOException broken) {
            throw new UncheckedIOException(broken);
        }
    }

    /**
     * What stands in the way of a person: by axe, and by width. Run once per page and told what is wrong alone: the
     * library's builder sends the program and all that is right for each look.
     */
    void check(String page, List<String> violations) {
        if (!Boolean.TRUE.equals(driver.executeScript("return 'axe' in window"))) driver.executeScript(AXE);
        for (Object found : (List<?>) driver.executeAsyncScript(RUN_AXE)) violations.add(page + ": " + found);
        Object wider = driver.executeScript(
                "return document.documentElement.scrollWidth > document.documentElement.clientWidth");
        if (Boolean.TRUE.equals(wider)) violations.add(page + ": wider than the window");
    }

    /** Signs in at an issuer's own page, wherever that came up. */
    void signIn(JsonNode person) {
        await(By.id("email")).sendKeys(person.path("login").asString());
        driver.findElement(By.id("password")).sendKeys(person.path("password").asString(), Keys.ENTER);
    }

    /** Addresses that were fetched and are not of this service. */
    List<String> elsewhere(String server) {
        List<String> others = new ArrayList<>();
        Object names = driver.executeScript("return performance.getEntriesByType('resource').map(it => it.name)");
        if (names instanceof List<?> all)
            all.forEach(name -> {
                if (!name.toString().startsWith(server + "/")) others.add(name.toString());
            });
        return others;
    }

    private static String quoted(String text) {
        return text.contains("'") ? "\"" + text + "\"" : "'" + text + "'";
    }

    @Override
    public void close() {
        driver.quit();
    }
}
