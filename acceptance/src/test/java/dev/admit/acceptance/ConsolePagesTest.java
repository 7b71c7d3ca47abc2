package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.api.parallel.ResourceLock;
import org.openqa.selenium.By;
import org.openqa.selenium.WebElement;
import tools.jackson.databind.JsonNode;

/**
 * Every page of the console: for everybody (WCAG 2.2 AA by axe), in light and dark, wide and narrow, with nothing to
 * complain of in the browser.
 */
@ResourceLock(Running.CONSOLES)
class ConsolePagesTest {
    private static Running demo;

    @TempDir
    Path folder;

    private static final List<String> PAGES = new ArrayList<>(List.of(
            "",
            "/apis",
            "/apis/new",
            "/apis/import",
            "/apis/berths",
            "/clients",
            "/clients/new",
            "/clients/berth-desk",
            "/clients/customs-sync",
            "/approvals",
            "/approvals?status=granted",
            "/approvals?status=ahead",
            "/gateway",
            "/gateway/new",
            "/gateway/revisions",
            "/gateway/try?method=GET&path=/tides/x",
            "/gateway/limits",
            "/gateway/trusted-issuers",
            "/gateway/trusted-issuers/coastguard",
            "/gateway/upstream-credentials",
            "/gateway/upstream-credentials/coastguard-warnings",
            "/tokens",
            "/tokens/issued",
            "/decisions",
            "/decisions?client=nobody-of-this-name",
            "/decisions/watch?client=night-audit",
            "/call?client=tide-buoy-07&path=/tides/x",
            "/people",
            "/people/new",
            "/people/fields",
            "/people/owners",
            "/keys",
            "/review",
            "/review/audit",
            "/settings",
            "/settings/issuer",
            "/settings/look",
            "/settings/setup",
            "/settings/outbox",
            "/settings/display",
            "/clients/nobody-of-this-name",
            "/no/such/page"));

    @BeforeAll
    static void start() throws Exception {
        demo = Running.consoles();
        Operator operator = Operator.of(demo);
        JsonNode routes =
                operator.get("/issuers/harbour/routes?limit=200").json().path("items");
        PAGES.add("/gateway/routes/" + routes.get(0).path("id").asString());
        Wire.Answer refused = Wire.call(
                "POST", demo.gateway() + "/tides/readings", Wire.token(demo, "tide-buoy-07", "&scope=tides.read"));
        operator.decision(refused);
        PAGES.add("/decisions/" + refused.header("Admit-Decision"));
        PAGES.add("/people/"
                + operator.get("/issuers/harbour/people?search=ama")
                        .json()
                        .path("items")
                        .get(0)
                        .path("id")
                        .asString());
    }

    /** Pages where a line waits for what is typed, or for what is there no more. */
    private static final Pattern UNFINISHED = Pattern.compile(
            ".*(/new|/apis/import|/no/such/page|nobody-of-this-name.*|/tokens|/tokens/issued|/people/owners)");

    @Test
    void everyPageIsForEverybody() throws Exception {
        List<String> violations = new ArrayList<>();
        Set<String> lines = new LinkedHashSet<>();
        try (Chromium browser = Chromium.open(false, 1280)) {
            browser.driver.get(demo.server() + "/console");
            inBoth("sign in", browser, violations);
            browser.click("Sign in at Saltmarsh Harbour Authority");
            browser.signIn(Visitor.person(demo, "corin"));
            browser.await(By.id("page"));
            for (String page : PAGES) {
                browser.driver.get(demo.server() + "/console/harbour" + page);
                browser.await(By.cssSelector("main h1"));
                browser.awaitGone(
                        By.xpath("//main//*[@role='status' and starts-with(normalize-space(.), 'Reading ')]"));
                inBoth(page.isEmpty() ? "the access map" : page, browser, violations);
                if (!UNFINISHED.matcher(page).matches()) {
                    browser.driver.findElements(By.cssSelector("main code")).stream()
                            .map(WebElement::getText)
                            .filter(it -> it.startsWith("admit "))
                            .forEach(lines::add);
                }
                browser.elsewhere(demo.server()).forEach(it -> violations.add(page + " asked elsewhere: " + it));
                // A thing that is not there is a 404, which the browser says by itself.
                browser.faults().stream()
                        .filter(it -> !page.contains("nobody-of-this-name") || !it.contains("404"))
                        .forEach(it -> violations.add(page + " in the browser's log: " + it));
            }
        }
        assertThat(violations).isEmpty();
        assertThat(lines).hasSizeGreaterThan(20);
        for (String line : lines) pasted(line);
    }

    @Test
    void whatStandsInSomebodysWayIsFound() {
        List<String> violations = new ArrayList<>();
        try (Chromium browser = Chromium.open(false, 1280)) {
            browser.driver.get("data:text/html,<title>x</title><img src='x'><p style='color:%23eee'>pale</p>");
            browser.check("a page that is not for everybody", violations);
        }
        assertThat(violations.toString())
                .contains("image-alt")
                .contains("color-contrast")
                .contains("html-has-lang");
    }

    /** Runs a line of a page in a shell, as a person would who pastes it. */
    private void pasted(String line) throws Exception {
        String once = line.replace("client watch ", "client watch --once ");
        ProcessBuilder commandLine = demo.commandLine(demo.home, List.of());
        String program = commandLine.command().stream().map("'%s'"::formatted).collect(Collectors.joining(" "));
        Process shell = commandLine
                .command("bash", "-ec", "admit() { %s \"$@\"; }%n%s".formatted(program, once))
                .directory(folder.toFile())
                .redirectErrorStream(true)
                .start();
        String said = new String(shell.getInputStream().readAllBytes());
        // A call may be answered by an upstream that has nothing there.
        assertThat(shell.waitFor())
                .as("%s%n%s", line, said)
                .isLessThanOrEqualTo(line.startsWith("admit call ") ? 1 : 0);
    }

    /** Light and wide, then dark and narrow: both themes, both widths. */
    private static void inBoth(String page, Chromium browser, List<String> violations) {
        browser.check(page + " by day", violations);
        browser.look(true, 390);
        browser.check(page + " by night, narrow", violations);
        browser.look(false, 1280);
    }
}
