package dev.admit.server.pages;

import dev.admit.core.registry.PeopleSettings;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.Base64;
import java.util.HashMap;
import java.util.HexFormat;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.springframework.stereotype.Component;
import org.thymeleaf.TemplateEngine;
import org.thymeleaf.context.Context;

/** Writes pages: a template, the look of the issuer, and headers that let the page do nothing but what it is for. */
@Component
class Render {
    static final String SUBMIT = "document.forms[0].submit()";
    private final TemplateEngine templates;
    private final BrowserCookie cookies;

    Render(TemplateEngine templates, BrowserCookie cookies) {
        this.templates = templates;
        this.cookies = cookies;
    }

    void page(Visit visit, String template, Map<String, Object> values) throws IOException {
        page(visit, 200, template, values, Optional.empty());
    }

    /**
     * @param leadsTo an address outside that a form of the page may end at: browsers hold redirects against form-action
     */
    void page(Visit visit, int status, String template, Map<String, Object> values, Optional<String> leadsTo)
            throws IOException {
        Map<String, Object> all = new HashMap<>(values);
        PeopleSettings.Look look = visit.issuer().issuer().settings().people().look();
        all.put("issuer", visit.issuer().issuer());
        all.put("look", look);
        all.put("base", "/" + visit.issuer().issuer().name());
        all.put("style", visit.path("pages.css?v=" + version(look)));
        visit.person().ifPresent(it -> all.put("me", it.person()));
        all.putIfAbsent("fault", null);
        all.putIfAbsent("flow", "");
        all.put(
                "formToken",
                cookies.formToken(
                        visit.issuer(), visit.browser().cookie().orElseThrow(), String.valueOf(all.get("flow"))));
        // A template that takes the place of the layout's html element leaves its document type behind.
        String page = "<!doctype html>\n" + templates.process(template, new Context(Locale.ENGLISH, all));
        byte[] html = page.getBytes(StandardCharsets.UTF_8);
        HttpServletResponse response = visit.response();
        response.setStatus(status);
        response.setContentType("text/html;charset=UTF-8");
        protect(response, leadsTo, template.equals("form-post"));
        response.setContentLength(html.length);
        response.getOutputStream().write(html);
    }

    /** A page that says one thing. */
    void message(Visit visit, int status, String title, String sentence) throws IOException {
        page(visit, status, "message", Map.of("title", title, "sentence", sentence), Optional.empty());
    }

    private static void protect(HttpServletResponse response, Optional<String> leadsTo, boolean submits) {
        response.setHeader(
                "Content-Security-Policy",
                "default-src 'none'; style-src 'self'; img-src 'self' data:; form-action 'self'"
                        + leadsTo.map(to -> " " + source(to)).orElse("")
                        + (submits
                                ? "; script-src 'sha256-" + Base64.getEncoder().encodeToString(sha256(SUBMIT)) + "'"
                                : "")
                        + "; frame-ancestors 'none'; base-uri 'none'");
        response.setHeader("X-Frame-Options", "DENY");
        response.setHeader("X-Content-Type-Options", "nosniff");
        response.setHeader(
                "Referrer-Policy", "same-origin"); // a form without a referrer has Origin: null, which anybody can have
        response.setHeader("Cross-Origin-Opener-Policy", "same-origin");
        response.setHeader("Cache-Control", "no-store");
    }

    /**
     * As a source of CSP: the origin, or the scheme alone of an application on the machine. It was checked when it was
     * registered.
     */
    private static String source(String address) {
        URI uri = URI.create(address);
        return uri.getHost() == null
                ? uri.getScheme() + ":"
                : uri.getScheme() + "://" + uri.getHost() + (uri.getPort() < 0 ? "" : ":" + uri.getPort());
    }

    static String version(PeopleSettings.Look look) {
        return HexFormat.of().formatHex(sha256(StyleSheet.of(look)), 0, 6);
    }

    private static byte[] sha256(String text) {
        try {
            return MessageDigest.getInstance("SHA-256").digest(text.getBytes(StandardCharsets.UTF_8));
        } catch (NoSuchAlgorithmException everyJavaHasIt) {
            throw new IllegalStateException(everyJavaHasIt);
        }
    }
}
