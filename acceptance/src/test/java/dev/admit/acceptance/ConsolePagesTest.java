package dev.admit.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.parallel.ResourceLock;
import org.openqa.selenium.By;
import tools.jackson.databind.JsonNode;

/**
 * Every page of the console: for everybody (WCAG 2.2 AA by axe), in light and dark, wide and narrow, with nothing to
 * complain of in the browser.
 */
@ResourceLock(Running.CONSOLES)
class ConsolePagesTest {
    private static Running demo;
    private static final List<String> PAGES = new ArrayList<>(List.of(
            "",
            "/apis",
            "/apis/new",
            "/apis/berths",
            "/clients",
            "/clients/new",
            "/clients/berth-desk",
            "/clients/customs-sync",
            "/approvals",
            "/approvals?status=given",
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
                + operator.get("/issuers/harbour/people?holding=ama")
                        .json()
                        .path("items")
                        .get(0)
                        .path("id")
                        .asString());
    }

    @Test
    void everyPageIsForEverybody() {
        List<String> violations = new ArrayList<>();
        try (Chromium browser = Chromium.open(false, 1280)) {
            browser.driver.get(demo.authority() + "/console");
            inBoth("sign in", browser, violations);
            browser.fill("Issuer", "harbour");
            browser.click("Sign in at its page");
            browser.signIn(Visitor.person(demo, "corin"));
            browser.await(By.id("page"));
            for (String page : PAGES) {
                browser.driver.get(demo.authority() + "/console/harbour" + page);
                browser.await(By.cssSelector("main h1"));
                browser.awaitGone(
                        By.xpath("//main//*[@role='status' and starts-with(normalize-space(.), 'Reading ')]"));
                inBoth(page.isEmpty() ? "the crossing" : page, browser, violations);
                browser.elsewhere(demo.authority()).forEach(it -> violations.add(page + " asked elsewhere: " + it));
                // A thing that is not there is a 404, which the browser says by itself.
                browser.faults().stream()
                        .filter(it -> !page.contains("nobody-of-this-name") || !it.contains("404"))
                        .forEach(it -> violations.add(page + " in the browser's log: " + it));
            }
        }
        assertThat(violations).isEmpty();
    }

    /** Light and wide, then dark and narrow: both themes, both widths. */
    private static void inBoth(String page, Chromium browser, List<String> violations) {
        browser.check(page + " by day", violations);
        browser.look(true, 390);
        browser.check(page + " by night, narrow", violations);
        browser.look(false, 1280);
    }
}
