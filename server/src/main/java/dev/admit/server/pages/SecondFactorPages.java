package dev.admit.server.pages;

import com.google.zxing.BarcodeFormat;
import com.google.zxing.EncodeHintType;
import com.google.zxing.WriterException;
import com.google.zxing.common.BitMatrix;
import com.google.zxing.qrcode.QRCodeWriter;
import dev.admit.core.signin.SecondFactor;
import dev.admit.core.signin.SignIn;
import dev.admit.core.signin.SignedIn;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.springframework.stereotype.Controller;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;

/** Requests the code of an authenticator, and sets one up where the person has none. */
@Controller
class SecondFactorPages {
    private final Visits visits;
    private final Render render;
    private final SecondFactor factor;
    private final SignIn signIn;
    private final Flows flows;

    SecondFactorPages(Visits visits, Render render, SecondFactor factor, SignIn signIn, Flows flows) {
        this.visits = visits;
        this.render = render;
        this.factor = factor;
        this.signIn = signIn;
        this.flows = flows;
    }

    /** The page that is next for a person who needs a second factor now. */
    void ask(Visit visit, String flow, SignedIn who, Optional<String> leadsTo, Optional<String> fault)
            throws IOException {
        if (factor.has(who.person())) code(visit, flow, who, leadsTo, fault);
        else
            setUp(
                    visit,
                    flow,
                    who,
                    factor.offer(who.person(), visit.issuer().issuer().title()),
                    leadsTo,
                    fault);
    }

    private void code(Visit visit, String flow, SignedIn who, Optional<String> leadsTo, Optional<String> fault)
            throws IOException {
        Map<String, Object> values = new LinkedHashMap<>(Map.of(
                "flow", flow, "who", who.person(), "session", who.session().id()));
        fault.ifPresent(it -> values.put("fault", it));
        int status =
                visit.decision().refusal().map(why -> why.reason().status()).orElse(200);
        render.page(visit, status, "second-factor", values, leadsTo);
    }

    private void setUp(
            Visit visit,
            String flow,
            SignedIn who,
            SecondFactor.Offer offer,
            Optional<String> leadsTo,
            Optional<String> fault)
            throws IOException {
        Map<String, Object> values = new LinkedHashMap<>(Map.of(
                "flow",
                flow,
                "who",
                who.person(),
                "session",
                who.session().id(),
                "offer",
                offer,
                "picture",
                picture(offer.uri()),
                "replaces",
                factor.has(who.person())));
        fault.ifPresent(it -> values.put("fault", it));
        render.page(visit, fault.isPresent() ? 401 : 200, "factor-set-up", values, leadsTo);
    }

    /** From one's own pages. */
    @GetMapping("/{issuer}/factor")
    void own(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response) throws IOException {
        visits.show(issuer, request, response, visit -> {
            if (visit.person().isEmpty()) Visits.redirect(visit, visit.path("sign-in"));
            // The one who has one must show it before another can take its place.
            else if (factor.has(visit.person().get().person())
                    && !visit.person().get().session().hasSecondFactor())
                code(visit, "", visit.person().get(), Optional.empty(), Optional.empty());
            else
                setUp(
                        visit,
                        "",
                        visit.person().get(),
                        factor.offer(
                                visit.person().get().person(),
                                visit.issuer().issuer().title()),
                        Optional.empty(),
                        Optional.empty());
        });
    }

    @PostMapping("/{issuer}/second-factor")
    void checked(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response)
            throws IOException {
        visits.post(issuer, request, response, visit -> {
            Optional<SignedIn> who = who(visit);
            if (who.isEmpty()) {
                Visits.redirect(visit, visit.path("sign-in"));
                return;
            }
            if (!factor.check(who.get().person(), visit.form().one("code").orElse(""), visit.decision())) {
                int status = visit.decision().refusal().orElseThrow().reason().status();
                visits.decided(visit, status);
                code(
                        visit,
                        visit.form().one("flow").orElse(""),
                        who.get(),
                        leadsTo(visit),
                        Optional.of(
                                status == 429
                                        ? "Too many wrong codes. Wait an hour, or ask "
                                                + visit.issuer().issuer().title() + "."
                                        : "This code does not fit. Wait for the next one, and check the clock of "
                                                + "your authenticator."));
                return;
            }
            strengthen(visit, who.get());
            visits.decided(visit, 303);
        });
    }

    @PostMapping("/{issuer}/factor")
    void enrolled(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response)
            throws IOException {
        visits.post(issuer, request, response, visit -> {
            Optional<SignedIn> who = who(visit);
            boolean mustShowFirst = who.isPresent()
                    && factor.has(who.get().person())
                    && !who.get().session().hasSecondFactor();
            if (who.isEmpty() || mustShowFirst) {
                Visits.redirect(visit, visit.path(mustShowFirst ? "factor" : "sign-in"));
                return;
            }
            String sealed = visit.form().one("offer").orElse("");
            Optional<List<String>> codes = factor.enrol(
                    who.get().person(), sealed, visit.form().one("code").orElse(""), visit.decision());
            if (codes.isEmpty()) {
                visits.decided(visit, 401);
                setUp(
                        visit,
                        visit.form().one("flow").orElse(""),
                        who.get(),
                        factor.again(
                                sealed,
                                who.get().person(),
                                visit.issuer().issuer().title()),
                        leadsTo(visit),
                        Optional.of("This code does not fit. Wait for the next one, and check the clock of your "
                                + "authenticator."));
                return;
            }
            SignIn.Begun begun = signIn.begin(
                    visit.issuer().issuer(),
                    who.get().person(),
                    visit.browser(),
                    List.of("pwd", "otp", "mfa"),
                    visit.decision().at());
            visits.give(visit.issuer(), begun.cookie(), visit.response());
            visits.decided(visit, 200);
            String next = flows.of(visit)
                    .map(flow -> visit.path("continue?flow="
                            + flows.sealed(
                                    visit, flow.with(begun.signedIn().session().id()))))
                    .orElse(visit.path("profile"));
            render.page(visit, 200, "recovery-codes", Map.of("codes", codes.get(), "next", next), Optional.empty());
        });
    }

    private Optional<String> leadsTo(Visit visit) {
        return flows.leadsTo(visit);
    }

    /** Which of the people in this browser. */
    private static Optional<SignedIn> who(Visit visit) {
        String session = visit.form().one("session").orElse("");
        return visit.people().stream()
                .filter(it -> it.session().id().equals(session))
                .findFirst();
    }

    private void strengthen(Visit visit, SignedIn who) {
        SignIn.Begun begun = signIn.begin(
                visit.issuer().issuer(),
                who.person(),
                visit.browser(),
                List.of("pwd", "otp", "mfa"),
                visit.decision().at());
        visits.give(visit.issuer(), begun.cookie(), visit.response());
        SignInPages.onwards(visit, begun.signedIn(), flows);
    }

    /**
     * The path of a picture for a camera: one square for each dark module. No picture file is needed, and no script.
     */
    public record Picture(int size, String path) {}

    static Picture picture(String text) {
        try {
            BitMatrix dark =
                    new QRCodeWriter().encode(text, BarcodeFormat.QR_CODE, 0, 0, Map.of(EncodeHintType.MARGIN, 2));
            StringBuilder path = new StringBuilder();
            for (int y = 0; y < dark.getHeight(); y++)
                for (int x = 0; x < dark.getWidth(); x++)
                    if (dark.get(x, y))
                        path.append('M').append(x).append(' ').append(y).append("h1v1h-1z");
            return new Picture(dark.getWidth(), path.toString());
        } catch (WriterException tooLong) {
            throw new IllegalStateException("a picture of " + text.length() + " characters", tooLong);
        }
    }
}
