package dev.admit.server.pages;

import dev.admit.core.authorize.AuthorizationRequest;
import dev.admit.core.authorize.Authorize;
import dev.admit.core.authorize.Authorize.Step;
import dev.admit.core.authorize.RequestParameters;
import dev.admit.core.change.Known;
import dev.admit.core.decision.Refusal;
import dev.admit.core.grant.FormParameters;
import dev.admit.core.signin.SignedIn;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.springframework.stereotype.Controller;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;

/**
 * The authorization endpoint (RFC 6749 §3.1) and the way through the pages: each step is a page, or the answer to the
 * client.
 */
@Controller
class AuthorizePages {
    private final Visits visits;
    private final Render render;
    private final Authorize authorize;
    private final ApprovePage approvePage;
    private final SecondFactorPages secondFactor;
    private final Flows flows;

    AuthorizePages(
            Visits visits,
            Render render,
            Authorize authorize,
            ApprovePage approvePage,
            SecondFactorPages secondFactor,
            Flows flows) {
        this.visits = visits;
        this.render = render;
        this.authorize = authorize;
        this.approvePage = approvePage;
        this.secondFactor = secondFactor;
        this.flows = flows;
    }

    @GetMapping("/{issuer}/authorize")
    void asked(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response)
            throws IOException {
        visits.show(issuer, request, response, this::begin);
    }

    @PostMapping("/{issuer}/authorize")
    void posted(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response)
            throws IOException {
        visits.postFromAnywhere(issuer, request, response, this::begin);
    }

    private void begin(Visit visit) throws IOException {
        RequestParameters asked = new RequestParameters(everything(visit.form()));
        go(visit, Flow.begun(asked, visit.decision().at()), Optional.empty());
    }

    private static Map<String, List<String>> everything(FormParameters form) {
        Map<String, List<String>> all = new LinkedHashMap<>();
        form.names().forEach(name -> all.put(name, form.all(name)));
        return all;
    }

    /** Comes after each page, and asks from the start what comes next. */
    @GetMapping("/{issuer}/continue")
    void onwards(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response)
            throws IOException {
        visits.show(issuer, request, response, visit -> {
            Optional<Flow> flow = flows.of(visit);
            if (flow.isEmpty()) tooOld(visit);
            else go(visit, flow.get(), Optional.empty());
        });
    }

    @PostMapping("/{issuer}/choose")
    void chosen(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response)
            throws IOException {
        visits.post(issuer, request, response, visit -> {
            Optional<Flow> flow = flows.of(visit);
            if (flow.isEmpty()) tooOld(visit);
            else go(visit, flow.get().with(visit.form().one("session").orElse("")), Optional.empty());
        });
    }

    @PostMapping("/{issuer}/approve")
    void answered(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response)
            throws IOException {
        visits.post(issuer, request, response, visit -> {
            Optional<Flow> flow = flows.of(visit);
            if (flow.isEmpty()) tooOld(visit);
            else
                go(
                        visit,
                        flow.get(),
                        Optional.of(new Authorize.Said(
                                visit.form().one("answer").filter("yes"::equals).isPresent(),
                                visit.form().all("shown"))));
        });
    }

    private void tooOld(Visit visit) throws IOException {
        render.message(
                visit,
                400,
                "This page is no longer good",
                "It was open for too long. Go back to the application, and begin again.");
    }

    private void go(Visit visit, Flow flow, Optional<Authorize.Said> said) throws IOException {
        Step step = authorize.next(
                flow.parameters(), visit.issuer(), visit.people(), flow.progress(), said, visit.decision());
        switch (step) {
            case Step.ForThePage(Refusal refusal) -> {
                visits.decided(visit, 400);
                visit.response().setHeader("Admit-Decision", visit.decision().id());
                render.page(
                        visit,
                        400,
                        "refused",
                        Map.of(
                                "title",
                                "The application sent something that does not fit",
                                "refusal",
                                refusal,
                                "decision",
                                visit.decision().id()),
                        Optional.empty());
            }
            case Step.Answer(AuthorizationRequest.Reply reply, Map<String, String> parameters) ->
                answer(visit, reply, parameters);
            case Step.AnswerByPerson(Step.Answer(AuthorizationRequest.Reply reply, Map<String, String> parameters)) -> {
                visits.decided(visit, 400);
                visit.response().setHeader("Admit-Decision", visit.decision().id());
                LeavePage.show(
                        render,
                        visit,
                        400,
                        new LeavePage.To(reply.client(), with(reply.redirectUri(), parameters)),
                        "It could not go on: " + Known.in(parameters, "error_description"));
            }
            case Step.SignIn(AuthorizationRequest request, boolean create, Optional<SignedIn> again) -> {
                String sealed = flows.sealed(visit, flow);
                if (create) Visits.redirect(visit, visit.path("sign-up?flow=" + sealed));
                else SignInPages.form(render, visit, sealed, request, again, Optional.empty());
            }
            case Step.Choose(AuthorizationRequest request, List<SignedIn> people) ->
                render.page(
                        visit,
                        200,
                        "choose",
                        Map.of(
                                "flow",
                                flows.sealed(visit, flow),
                                "client",
                                request.client().client(),
                                "people",
                                people),
                        Optional.of(request.reply().redirectUri()));
            case Step.SecondFactor(AuthorizationRequest request, SignedIn who) ->
                secondFactor.ask(
                        visit,
                        flows.sealed(visit, flow.with(who.session().id())),
                        who,
                        Optional.of(request.reply().redirectUri()),
                        Optional.empty());
            case Step.Approve(AuthorizationRequest request, SignedIn who, var rights) ->
                approvePage.show(
                        visit, flows.sealed(visit, flow.with(who.session().id())), request, who, rights);
        }
    }

    private void answer(Visit visit, AuthorizationRequest.Reply reply, Map<String, String> parameters)
            throws IOException {
        if (reply.mode() == AuthorizationRequest.Mode.FORM_POST) {
            visits.decided(visit, 200);
            render.page(
                    visit,
                    200,
                    "form-post",
                    Map.of("action", reply.redirectUri(), "parameters", parameters, "script", Render.SUBMIT),
                    Optional.of(reply.redirectUri()));
            return;
        }
        visits.decided(visit, 303);
        visit.response().setHeader("Admit-Decision", visit.decision().id());
        Visits.redirect(visit, with(reply.redirectUri(), parameters));
    }

    private static String with(String address, Map<String, String> parameters) {
        StringBuilder to = new StringBuilder(address);
        char before = address.contains("?") ? '&' : '?';
        for (Map.Entry<String, String> it : parameters.entrySet()) {
            to.append(before)
                    .append(it.getKey())
                    .append('=')
                    .append(URLEncoder.encode(it.getValue(), StandardCharsets.UTF_8));
            before = '&';
        }
        return to.toString();
    }
}
