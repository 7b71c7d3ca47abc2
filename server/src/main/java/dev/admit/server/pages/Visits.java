package dev.admit.server.pages;

import dev.admit.core.authorization.OneTimeSecret;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.configuration.LiveConfiguration;
import dev.admit.core.decision.Endpoint;
import dev.admit.core.decision.Journal;
import dev.admit.core.decision.Recorder;
import dev.admit.core.grant.FormParameters;
import dev.admit.core.person.PasswordHashing;
import dev.admit.core.signin.SignIn;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.time.Clock;
import java.time.Duration;
import java.util.Map;
import java.util.Optional;
import org.springframework.stereotype.Component;
import org.springframework.web.server.ResponseStatusException;

/**
 * What every page has in common: whose it is, which browser asks, that a form was sent from our own page, and what
 * becomes of the decision.
 */
@Component
class Visits {
    private static final int LARGEST_FORM = 64 * 1024;
    private static final int LONGEST_QUERY = 16 * 1024;

    private final LiveConfiguration configuration;
    private final SignIn signIn;
    private final Journal journal;
    private final Render render;
    private final BrowserCookie cookies;
    private final Clock clock;

    Visits(
            LiveConfiguration configuration,
            SignIn signIn,
            Journal journal,
            Render render,
            BrowserCookie cookies,
            Clock clock) {
        this.configuration = configuration;
        this.signIn = signIn;
        this.journal = journal;
        this.render = render;
        this.cookies = cookies;
        this.clock = clock;
    }

    /** What a page does. */
    interface Page {
        void on(Visit visit) throws IOException;
    }

    /** A page that changes nothing. */
    void show(String issuerName, HttpServletRequest request, HttpServletResponse response, Page page)
            throws IOException {
        Optional<FormParameters> query = read(
                Optional.ofNullable(request.getQueryString()).orElse("").getBytes(StandardCharsets.UTF_8),
                LONGEST_QUERY);
        handle(issuerName, request, response, query, page);
    }

    /** A form that was posted; from a page of another place it is not taken (cross-site request forgery). */
    void post(String issuerName, HttpServletRequest request, HttpServletResponse response, Page page)
            throws IOException {
        Optional<FormParameters> form = isForm(request)
                ? read(request.getInputStream().readNBytes(LARGEST_FORM + 1), LARGEST_FORM)
                : Optional.empty();
        handle(issuerName, request, response, form, visit -> {
            boolean ours = visit.form()
                    .one("form")
                    .filter(token -> MessageDigest.isEqual(
                            token.getBytes(StandardCharsets.UTF_8),
                            expected(visit).getBytes(StandardCharsets.UTF_8)))
                    .isPresent();
            if (!ours || isFromElsewhere(request, visit.issuer())) {
                render.message(
                        visit,
                        403,
                        "This form cannot be taken",
                        "It was sent from another place, or the page was open for too long. Go back, open the page "
                                + "again, and send it once more.");
                return;
            }
            page.on(visit);
        });
    }

    /** What the page gave that this form is on: for this browser, and for the sign-in that the form carries. */
    private String expected(Visit visit) {
        return cookies.formToken(
                visit.issuer(),
                visit.browser().cookie().orElseThrow(),
                visit.form().one("flow").orElse(""));
    }

    /** A form that another site may post: an authorization request (OpenID Connect Core §3.1.2.1). */
    void postFromAnywhere(String issuerName, HttpServletRequest request, HttpServletResponse response, Page page)
            throws IOException {
        handle(
                issuerName,
                request,
                response,
                isForm(request)
                        ? read(request.getInputStream().readNBytes(LARGEST_FORM + 1), LARGEST_FORM)
                        : Optional.empty(),
                page);
    }

    private void handle(
            String issuerName,
            HttpServletRequest request,
            HttpServletResponse response,
            Optional<FormParameters> form,
            Page page)
            throws IOException {
        CompiledIssuer issuer = configuration
                .get()
                .issuer(issuerName)
                .orElseThrow(() -> new ResponseStatusException(
                        org.springframework.http.HttpStatus.NOT_FOUND,
                        "No issuer of this name is here. Check the address."));
        Recorder decision = new Recorder(Endpoint.SIGN_IN, clock.instant())
                .request(request.getMethod(), request.getRequestURI(), request.getRemoteAddr())
                .issuer(issuerName);
        SignIn.Browser browser = browser(issuer, request, response);
        Visit visit = new Visit(
                issuer,
                browser,
                signIn.in(browser, issuer.issuer(), decision.at()),
                form.orElse(FormParameters.NONE),
                decision,
                request,
                response);
        if (form.isEmpty()) {
            render.message(
                    visit,
                    400,
                    "This request cannot be read",
                    "It is too long, or not in percent-encoded UTF-8. Begin again from the application.");
            return;
        }
        try {
            page.on(visit);
        } catch (PasswordHashing.Busy busy) {
            response.setHeader("Retry-After", "5");
            render.message(visit, 503, "Many people sign in just now", "Wait a few seconds, and send it again.");
        }
    }

    private static boolean isForm(HttpServletRequest request) {
        return request.getContentType() != null
                && request.getContentType()
                        .toLowerCase(java.util.Locale.ROOT)
                        .startsWith("application/x-www-form-urlencoded");
    }

    private static Optional<FormParameters> read(byte[] text, int longest) {
        if (text.length > longest) return Optional.empty();
        return FormParameters.read(text) instanceof FormParameters.Reading.Good(FormParameters good)
                ? Optional.of(good)
                : Optional.empty();
    }

    private SignIn.Browser browser(CompiledIssuer issuer, HttpServletRequest request, HttpServletResponse response) {
        Optional<String> cookie = cookies.read(issuer, request);
        if (cookie.isEmpty()) {
            cookie = Optional.of(OneTimeSecret.browser());
            give(issuer, cookie.get(), response);
        }
        return new SignIn.Browser(
                cookie,
                request.getRemoteAddr(),
                Optional.ofNullable(request.getHeader("User-Agent")).orElse(""));
    }

    void give(CompiledIssuer issuer, String text, HttpServletResponse response) {
        response.addHeader("Set-Cookie", cookies.give(issuer, text));
    }

    /**
     * Fetch Metadata says whose page sent a form; a browser too old for that says its origin. A program that says
     * neither holds no browser's cookie.
     */
    private static boolean isFromElsewhere(HttpServletRequest request, CompiledIssuer issuer) {
        String site = request.getHeader("Sec-Fetch-Site");
        if (site != null) return !site.equals("same-origin") && !site.equals("none");
        String origin = request.getHeader("Origin");
        String ours = issuer.url().substring(0, issuer.url().lastIndexOf('/'));
        return origin != null
                && !origin.equals(ours)
                && !origin.equals(request.getScheme() + "://" + request.getHeader("Host"));
    }

    /** Keeps the decision, and makes the one who guesses wait. */
    void decided(Visit visit, int status) {
        visit.decision().decided();
        Duration wait = visit.decision().heldBack();
        if (wait.isPositive()) {
            try {
                Thread.sleep(wait);
            } catch (InterruptedException stopping) {
                Thread.currentThread().interrupt();
            }
        }
        journal.write(visit.decision(), status);
    }

    static void redirect(Visit visit, String to) {
        visit.response()
                .setStatus(HttpServletResponse.SC_SEE_OTHER); // RFC 9700 §4.12: never one that sends the form on
        visit.response().setHeader("Location", to);
        visit.response().setHeader("Cache-Control", "no-store");
        visit.response().setHeader("Referrer-Policy", "no-referrer");
    }

    static Map<String, String> asMap(FormParameters form, String prefix) {
        Map<String, String> values = new java.util.LinkedHashMap<>();
        form.names().stream()
                .filter(name -> name.startsWith(prefix))
                .forEach(name -> values.put(
                        name.substring(prefix.length()), form.one(name).orElse("")));
        return values;
    }
}
