package dev.admit.server.pages;

import dev.admit.core.authorize.AuthorizationRequest;
import dev.admit.core.clientauth.KnownClients;
import dev.admit.core.person.Person;
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

/** Address and password; then on to where the person wanted to go. */
@Controller
class SignInPages {
    private final Visits visits;
    private final Render render;
    private final SignIn signIn;
    private final KnownClients clients;
    private final Flows flows;
    private final KnownBrowser known;

    SignInPages(Visits visits, Render render, SignIn signIn, KnownClients clients, Flows flows, KnownBrowser known) {
        this.visits = visits;
        this.render = render;
        this.signIn = signIn;
        this.clients = clients;
        this.flows = flows;
        this.known = known;
    }

    /** The form, for a client. */
    static void form(
            Render render,
            Visit visit,
            String flow,
            AuthorizationRequest request,
            Optional<SignedIn> again,
            Optional<String> fault)
            throws IOException {
        Map<String, Object> values = new LinkedHashMap<>();
        values.put("flow", flow);
        values.put("client", request.client().client());
        values.put("where", ApprovePage.where(request));
        values.put(
                "email",
                again.map(it -> it.person().email()).or(request::loginHint).orElse(""));
        values.put("again", again.isPresent());
        fault.ifPresent(it -> values.put("fault", it));
        render.page(visit, 200, "sign-in", values, Optional.of(request.reply().redirectUri()));
    }

    /** For oneself: to one's own profile. */
    @GetMapping("/{issuer}/sign-in")
    void show(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response)
            throws IOException {
        visits.show(issuer, request, response, visit -> {
            Map<String, Object> values = new LinkedHashMap<>();
            values.put("flow", visit.form().one("flow").orElse(""));
            values.put("email", "");
            values.put("again", false);
            render.page(visit, 200, "sign-in", values, flows.leadsTo(visit));
        });
    }

    @PostMapping("/{issuer}/sign-in")
    void signIn(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response)
            throws IOException {
        visits.post(issuer, request, response, visit -> {
            String email = visit.form().one("email").orElse("");
            String password = visit.form().one("password").orElse("");
            Optional<Person> person = password.length() > 1000
                    ? Optional.empty()
                    : signIn.byPassword(
                            visit.issuer().issuer(),
                            email,
                            password,
                            known.of(visit.issuer(), visit.request(), email),
                            visit.decision());
            if (person.isEmpty()) {
                refused(visit, email);
                return;
            }
            begin(visit, person.get());
            visits.decided(visit, 303);
        });
    }

    /** Signs the person in and sends them on; the page for a second factor comes where one is wanted. */
    private void begin(Visit visit, Person person) {
        SignIn.Begun begun = signIn.begin(
                visit.issuer().issuer(),
                person,
                visit.browser(),
                List.of("pwd"),
                visit.decision().at());
        visits.give(visit.issuer(), begun.cookie(), visit.response());
        visit.response().addHeader("Set-Cookie", known.knowing(visit.issuer(), visit.request(), person.email()));
        onwards(visit, begun.signedIn(), flows);
    }

    /** To where the person wanted to go: back into the flow, as the one who just signed in, or to their own pages. */
    static void onwards(Visit visit, SignedIn who, Flows flows) {
        Optional<Flow> flow = flows.of(visit);
        if (flow.isEmpty()) Visits.redirect(visit, visit.path("profile"));
        else if (AccountTask.pathOf(flow.get()).isPresent())
            Visits.redirect(visit, visit.path(AccountTask.pathOf(flow.get()).get()));
        else if (!flow.get().userCode().isEmpty())
            Visits.redirect(visit, visit.path("device?user_code=" + flow.get().userCode()));
        else
            Visits.redirect(
                    visit,
                    visit.path("continue?flow="
                            + flows.sealed(visit, flow.get().with(who.session().id()))));
    }

    private void refused(Visit visit, String email) throws IOException {
        int status =
                visit.decision().refusal().map(why -> why.reason().status()).orElse(401);
        visits.decided(visit, status);
        Map<String, Object> values = new LinkedHashMap<>();
        values.put("flow", visit.form().one("flow").orElse(""));
        values.put("email", email.length() > 200 ? "" : email);
        values.put("again", false);
        Optional<Flow> flow = flows.of(visit);
        flow.flatMap(Flow::clientId).flatMap(clients::find).ifPresent(client -> values.put("client", client.client()));
        values.put(
                "fault",
                switch (status) {
                    case 429 ->
                        "Too many tries were made. Wait an hour, sign in with a browser that you have used here "
                                + "before, or choose another password.";
                    case 400 ->
                        "You cannot sign in here at present. Ask "
                                + visit.issuer().issuer().title() + ".";
                    default -> "Address and password do not fit together. Check both, or choose another password.";
                });
        if (status == 429) visit.response().setHeader("Retry-After", "3600");
        render.page(visit, status, "sign-in", values, flow.flatMap(Flow::leadsTo));
    }
}
