package dev.admit.server.pages;

import dev.admit.core.access.AdminRole;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Issuers;
import dev.admit.core.registry.PeopleSettings;
import dev.admit.server.admin.Permitted;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.Base64;
import java.util.HashMap;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.server.ResponseStatusException;
import org.thymeleaf.TemplateEngine;
import org.thymeleaf.context.Context;

/**
 * How an issuer's sign-in page would look: the real page with a look that is not saved yet, which can do nothing. It
 * lies below the admin API's address and so behind its door.
 */
@RestController
class LookPreview {
    private static final Pattern ACCENT = Pattern.compile("#[0-9a-fA-F]{6}");
    private static final Pattern STYLE = Pattern.compile("<link rel=\"stylesheet\"[^>]*>");
    private static final int LONGEST = 200;

    private final Issuers issuers;
    private final TemplateEngine templates;

    LookPreview(Issuers issuers, TemplateEngine templates) {
        this.issuers = issuers;
        this.templates = templates;
    }

    /**
     * @param accent as {@code #1f6f63}; what is left out is as it is saved, as with the next two
     * @param welcome the line of welcome
     * @param title the issuer's title
     */
    @Permitted(AdminRole.AUDITOR)
    @GetMapping("/admin/issuers/{issuer}/look")
    void show(
            @PathVariable String issuer,
            @RequestParam(required = false) String accent,
            @RequestParam(required = false) String welcome,
            @RequestParam(required = false) String title,
            HttpServletResponse response)
            throws IOException {
        Issuer its = issuers.named(issuer)
                .orElseThrow(() -> new ResponseStatusException(
                        HttpStatus.NOT_FOUND, "No issuer of this name is here. Check the address."));
        PeopleSettings.Look saved = its.settings().people().look();
        Optional<String> colour = accent == null
                ? saved.accent()
                : Optional.of(accent).filter(it -> ACCENT.matcher(it).matches());
        Optional<String> words =
                welcome == null ? saved.welcome() : Optional.of(cut(welcome)).filter(it -> !it.isBlank());
        PeopleSettings.Look look = new PeopleSettings.Look(saved.logo(), colour, words, saved.styleSheet());
        Map<String, Object> values = new HashMap<>();
        values.put(
                "issuer",
                title == null
                        ? its
                        : new Issuer(
                                its.id(),
                                its.name(),
                                cut(title),
                                its.description(),
                                its.url(),
                                its.settings(),
                                its.revision(),
                                its.version(),
                                its.createdAt()));
        values.put("look", look);
        values.put("base", "");
        values.put("style", "x");
        values.put("formToken", "");
        values.put("flow", "");
        values.put("fault", null);
        values.put("email", "");
        values.put("again", false);
        String style = StyleSheet.of(look).replace("</", "<\\/"); // what the owner wrote must not end the element
        String html = STYLE.matcher(templates.process("sign-in", new Context(Locale.ENGLISH, values)))
                .replaceFirst(java.util.regex.Matcher.quoteReplacement("<style>" + style + "</style>"))
                .replace(" autofocus=\"autofocus\"", "");
        response.setContentType("text/html;charset=UTF-8");
        response.setHeader("Cache-Control", "no-store");
        response.setHeader(
                "Content-Security-Policy",
                ("sandbox; default-src 'none'; style-src 'sha256-%s'; img-src data:; form-action 'none'; "
                                + "frame-ancestors 'self'; base-uri 'none'")
                        .formatted(hash(style)));
        response.setHeader("X-Content-Type-Options", "nosniff");
        response.getOutputStream().write(html.getBytes(StandardCharsets.UTF_8));
    }

    private static String cut(String text) {
        return text.length() > LONGEST ? text.substring(0, LONGEST) : text;
    }

    private static String hash(String style) {
        try {
            return Base64.getEncoder()
                    .encodeToString(
                            MessageDigest.getInstance("SHA-256").digest(style.getBytes(StandardCharsets.UTF_8)));
        } catch (NoSuchAlgorithmException everyJavaHasIt) {
            throw new IllegalStateException(everyJavaHasIt);
        }
    }
}
