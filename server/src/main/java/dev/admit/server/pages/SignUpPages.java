package dev.admit.server.pages;

import dev.admit.core.change.Change;
import dev.admit.core.change.FieldFault;
import dev.admit.core.person.Person;
import dev.admit.core.signin.PersonRegistration;
import dev.admit.core.signin.SignIn;
import dev.admit.core.signin.SignUp;
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

/** Signing up, and choosing another password: an address first, then the code that was mailed there. */
@Controller
class SignUpPages {
    private final Visits visits;
    private final Render render;
    private final SignUp signUp;
    private final SignIn signIn;
    private final Flows flows;

    SignUpPages(Visits visits, Render render, SignUp signUp, SignIn signIn, Flows flows) {
        this.visits = visits;
        this.render = render;
        this.signUp = signUp;
        this.signIn = signIn;
        this.flows = flows;
    }

    @GetMapping("/{issuer}/sign-up")
    void begin(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response)
            throws IOException {
        visits.show(issuer, request, response, visit -> {
            if (visit.issuer().issuer().settings().people().signUp()) address(visit, "sign-up", "", Optional.empty());
            else
                render.message(
                        visit,
                        403,
                        "Nobody signs up here by themselves",
                        "Ask " + visit.issuer().issuer().title() + " for an invitation.");
        });
    }

    @PostMapping("/{issuer}/sign-up")
    void send(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response)
            throws IOException {
        visits.post(issuer, request, response, visit -> {
            String email = visit.form().one("email").orElse("");
            switch (signUp.begin(
                    visit.issuer().issuer(),
                    email,
                    visit.browser().from(),
                    visit.decision().at())) {
                case Change.Made<String> made -> details(visit, made.value(), Map.of(), Map.of(), 200);
                case Change.Invalid<String> invalid ->
                    address(visit, "sign-up", email, Optional.of("This is no e-mail address. Check it."));
                default ->
                    render.message(
                            visit,
                            403,
                            "Nobody signs up here by themselves",
                            "Ask " + visit.issuer().issuer().title() + " for an invitation.");
            }
        });
    }

    @PostMapping("/{issuer}/sign-up/finish")
    void finish(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response)
            throws IOException {
        visits.post(issuer, request, response, visit -> {
            Map<String, String> profile = Visits.asMap(visit.form(), "field-");
            String mailed = visit.form().one("mailed").orElse("");
            Change<Person> change = signUp.finish(
                    visit.issuer().issuer(),
                    mailed,
                    visit.form().one("code").orElse(""),
                    profile,
                    new PersonRegistration.ChosenPassword(
                            visit.form().one("password").orElse("")),
                    visit.browser().from(),
                    visit.decision().at());
            switch (change) {
                case Change.Made<Person>(Person person, List<String> notes) -> {
                    SignIn.Begun begun = signIn.begin(
                            visit.issuer().issuer(),
                            person,
                            visit.browser(),
                            List.of("pwd"),
                            visit.decision().at());
                    visits.give(visit.issuer(), begun.cookie(), visit.response());
                    SignInPages.onwards(visit, begun.signedIn(), flows);
                }
                case Change.Invalid<Person>(List<FieldFault> faults) -> {
                    Map<String, String> byField = new LinkedHashMap<>();
                    faults.forEach(fault -> byField.put(
                            fault.pointer().replaceFirst("^/(profile/)?", ""),
                            fault.pointer().equals("/password")
                                    ? fault.fix()
                                    : "Expected " + fault.expected() + ". " + fault.fix()));
                    details(visit, mailed, profile, byField, 422);
                }
                default -> render.message(visit, 409, "You cannot sign up with this", "Begin again, or sign in.");
            }
        });
    }

    @GetMapping("/{issuer}/forgotten")
    void forgot(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response)
            throws IOException {
        visits.show(issuer, request, response, visit -> address(visit, "forgotten", "", Optional.empty()));
    }

    @PostMapping("/{issuer}/forgotten")
    void sendForgotten(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response)
            throws IOException {
        visits.post(
                issuer,
                request,
                response,
                visit -> password(
                        visit,
                        signUp.forgotten(
                                visit.issuer().issuer(),
                                visit.form().one("email").orElse(""),
                                visit.browser().from(),
                                visit.decision().at()),
                        true,
                        Map.of(),
                        200));
    }

    /** From the mail of an invitation. */
    @GetMapping("/{issuer}/new-password")
    void invited(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response)
            throws IOException {
        visits.show(
                issuer,
                request,
                response,
                visit -> password(visit, visit.form().one("mailed").orElse(""), false, Map.of(), 200));
    }

    @PostMapping("/{issuer}/new-password")
    void choose(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response)
            throws IOException {
        visits.post(issuer, request, response, visit -> {
            String mailed = visit.form().one("mailed").orElse("");
            Change<Person> change = signUp.choosePassword(
                    visit.issuer().issuer(),
                    mailed,
                    visit.form().one("code").orElse(""),
                    new PersonRegistration.ChosenPassword(
                            visit.form().one("password").orElse("")),
                    visit.browser().from(),
                    visit.decision().at());
            if (change instanceof Change.Made<Person>) {
                // Not signed in by it: who has a second factor still has to show it, and the new password is typed once
                // while it is fresh.
                Visits.redirect(
                        visit,
                        visit.path("sign-in?flow=" + visit.form().one("flow").orElse("")));
                return;
            }
            FieldFault fault = change instanceof Change.Invalid<Person>(List<FieldFault> faults)
                    ? faults.getFirst()
                    : new FieldFault("/code", "a code", "none", "Begin again.");
            password(
                    visit,
                    mailed,
                    false,
                    Map.of(
                            fault.pointer().substring(1),
                            fault.pointer().equals("/password")
                                    ? fault.fix()
                                    : "This code does not fit, or came too late. " + fault.fix()),
                    422);
        });
    }

    private void address(Visit visit, String purpose, String email, Optional<String> fault) throws IOException {
        Map<String, Object> values = new LinkedHashMap<>(Map.of(
                "flow",
                visit.form().one("flow").orElse(""),
                "purpose",
                purpose,
                "email",
                email.length() > 200 ? "" : email));
        fault.ifPresent(it -> values.put("fault", it));
        render.page(visit, fault.isPresent() ? 422 : 200, "address", values, Optional.empty());
    }

    private void details(Visit visit, String mailed, Map<String, String> typed, Map<String, String> faults, int status)
            throws IOException {
        List<AccountPages.FieldLine> lines = signUp.fields(visit.issuer().issuer()).stream()
                .map(field -> new AccountPages.FieldLine(
                        field, typed.getOrDefault(field.name(), ""), faults.getOrDefault(field.name(), "")))
                .toList();
        render.page(
                visit,
                status,
                "sign-up-details",
                Map.of(
                        "flow",
                        visit.form().one("flow").orElse(""),
                        "mailed",
                        mailed,
                        "lines",
                        lines,
                        "faults",
                        faults,
                        "code",
                        visit.form().one("code").orElse("")),
                flows.leadsTo(visit));
    }

    private void password(Visit visit, String mailed, boolean sent, Map<String, String> faults, int status)
            throws IOException {
        render.page(
                visit,
                status,
                "new-password",
                Map.of("flow", visit.form().one("flow").orElse(""), "mailed", mailed, "sent", sent, "faults", faults),
                Optional.empty());
    }
}
