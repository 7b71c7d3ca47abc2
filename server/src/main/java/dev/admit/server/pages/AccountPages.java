package dev.admit.server.pages;

import dev.admit.core.approval.PersonalApproval;
import dev.admit.core.approval.PersonalApprovals;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.FieldFault;
import dev.admit.core.clientauth.KnownClients;
import dev.admit.core.person.Person;
import dev.admit.core.person.ProfileField;
import dev.admit.core.registry.Client;
import dev.admit.core.signin.OwnAccount;
import dev.admit.core.signin.PersonRegistration;
import dev.admit.core.signin.ProfileReading;
import dev.admit.core.signin.SecondFactor;
import dev.admit.core.signin.Session;
import dev.admit.core.signin.Sessions;
import dev.admit.core.signin.SignIn;
import dev.admit.core.signin.SignedIn;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.springframework.stereotype.Controller;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;

/**
 * What a person sees and changes of their own: profile, what they approved, where they are signed in, password; and
 * signing out.
 */
@Controller
class AccountPages {
    private static final String PASSWORD_CHANGED = "Your password is changed, and you are signed out everywhere else.";

    private final Visits visits;
    private final Render render;
    private final OwnAccount account;
    private final ProfileReading profiles;
    private final PersonalApprovals approvals;
    private final KnownClients clients;
    private final Sessions sessions;
    private final SignIn signIn;
    private final SecondFactor factor;
    private final SecondFactorPages factorPages;
    private final Flows flows;

    AccountPages(
            Visits visits,
            Render render,
            OwnAccount account,
            ProfileReading profiles,
            PersonalApprovals approvals,
            KnownClients clients,
            Sessions sessions,
            SignIn signIn,
            SecondFactor factor,
            SecondFactorPages factorPages,
            Flows flows) {
        this.visits = visits;
        this.render = render;
        this.account = account;
        this.profiles = profiles;
        this.approvals = approvals;
        this.clients = clients;
        this.sessions = sessions;
        this.signIn = signIn;
        this.factor = factor;
        this.factorPages = factorPages;
        this.flows = flows;
    }

    /** @param value as it is, or as it was just typed */
    public record FieldLine(ProfileField field, String value, String fault) {}

    /** @param lines what was approved */
    public record ClientLine(Client client, List<ApprovePage.Line> lines, java.time.Instant since) {}

    private interface Own {
        void on(Visit visit, SignedIn who) throws IOException;
    }

    private void show(String issuer, HttpServletRequest request, HttpServletResponse response, Own page)
            throws IOException {
        visits.show(issuer, request, response, visit -> {
            Optional<AccountTask> task = AccountTask.read(visit, clients);
            String last =
                    request.getRequestURI().substring(request.getRequestURI().lastIndexOf('/') + 1);
            if (visit.person().isEmpty() && task.isPresent())
                Visits.redirect(
                        visit,
                        visit.path("sign-in?flow="
                                + flows.sealed(
                                        visit,
                                        task.get().flow(last, visit.decision().at()))));
            else signedIn(visit, page);
        });
    }

    private void post(String issuer, HttpServletRequest request, HttpServletResponse response, Own page)
            throws IOException {
        visits.post(issuer, request, response, visit -> signedIn(visit, page));
    }

    private void signedIn(Visit visit, Own page) throws IOException {
        if (visit.person().isEmpty()) Visits.redirect(visit, visit.path("sign-in"));
        // Who has a second factor, or has to, shows it before a password alone opens their own pages.
        else if (!visit.person().get().session().hasSecondFactor()
                && factor.isNeeded(visit.person().get().person(), visit.issuer())) {
            String flow = AccountTask.read(visit, clients)
                    .map(task -> flows.sealed(
                            visit, task.flow("profile", visit.decision().at())))
                    .orElse("");
            factorPages.ask(visit, flow, visit.person().get(), Optional.empty(), Optional.empty());
        } else page.on(visit, visit.person().get());
    }

    @GetMapping("/{issuer}/profile")
    void profile(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response)
            throws IOException {
        show(
                issuer,
                request,
                response,
                (visit, who) -> profile(
                        visit,
                        who.person(),
                        who.person().profile(),
                        Map.of(),
                        "password".equals(request.getParameter("changed")) ? PASSWORD_CHANGED : "",
                        200));
    }

    @PostMapping("/{issuer}/profile")
    void edit(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response)
            throws IOException {
        post(issuer, request, response, (visit, who) -> {
            Map<String, String> wanted = Visits.asMap(visit.form(), "field-");
            // An empty field is not in the form as it is read; on this page it means that the value is taken away.
            for (ProfileField field : profiles.fieldsOf(visit.issuer().issuer()))
                if (field.editable() && field.onProfilePage() && !field.name().equals("name"))
                    wanted.putIfAbsent(field.name(), "");
            switch (account.editProfile(visit.issuer().issuer(), who.person(), wanted, actor(visit, who))) {
                case Change.Made<Person> made -> {
                    Optional<AccountTask> task = AccountTask.read(visit, clients);
                    if (task.isPresent())
                        Visits.redirect(
                                visit,
                                task.get()
                                        .returning(
                                                visit,
                                                made.value().version()
                                                                == who.person().version()
                                                        ? "unchanged"
                                                        : "changed"));
                    else
                        profile(
                                visit,
                                made.value(),
                                made.value().profile(),
                                Map.of(),
                                "Saved. Applications learn it with the next token.",
                                200);
                }
                case Change.Invalid<Person>(List<FieldFault> faults) -> {
                    Map<String, String> byField = new LinkedHashMap<>();
                    faults.forEach(fault -> byField.put(
                            fault.pointer().substring("/profile/".length()),
                            "Expected " + fault.expected() + ". " + fault.fix()));
                    profile(visit, who.person(), wanted, byField, "", 422);
                }
                default ->
                    render.message(visit, 409, "That cannot be changed", "Open the page again, and try once more.");
            }
        });
    }

    private void profile(
            Visit visit, Person person, Map<String, String> values, Map<String, String> faults, String said, int status)
            throws IOException {
        List<FieldLine> lines = new ArrayList<>();
        for (ProfileField field : profiles.fieldsOf(visit.issuer().issuer())) {
            String value = values.getOrDefault(field.name(), person.profile().getOrDefault(field.name(), ""));
            if (field.onProfilePage() && (field.editable() || !value.isEmpty()))
                lines.add(new FieldLine(field, value, faults.getOrDefault(field.name(), "")));
        }
        page(
                visit,
                status,
                "profile",
                new LinkedHashMap<>(Map.of(
                        "person",
                        person,
                        "lines",
                        lines,
                        "said",
                        said,
                        "hasFactor",
                        factor.has(person),
                        "codesLeft",
                        factor.recoveryCodesLeft(person))));
    }

    /** With the way back, where a client sent the person here. */
    private void page(Visit visit, int status, String template, Map<String, Object> values) throws IOException {
        Optional<AccountTask> task = AccountTask.read(visit, clients);
        task.ifPresent(it -> {
            values.put("task", it);
            values.put("leave", it.returning(visit, "unchanged"));
        });
        render.page(visit, status, template, values, task.map(AccountTask::back));
    }

    @GetMapping("/{issuer}/approvals")
    void approvals(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response)
            throws IOException {
        show(issuer, request, response, (visit, who) -> {
            Map<String, List<PersonalApproval>> byClient = new LinkedHashMap<>();
            for (PersonalApproval it : approvals.ofPerson(who.person().id()))
                byClient.computeIfAbsent(it.clientId(), fresh -> new ArrayList<>())
                        .add(it);
            List<ClientLine> lines = new ArrayList<>();
            byClient.forEach((clientId, its) -> clients.find(clientId)
                    .ifPresent(client -> lines.add(new ClientLine(
                            client.client(),
                            its.stream()
                                    .map(it -> ApprovePage.line(visit, it.scope()))
                                    .toList(),
                            its.stream()
                                    .map(PersonalApproval::grantedAt)
                                    .min(java.util.Comparator.naturalOrder())
                                    .orElseThrow()))));
            render.page(visit, "approvals", Map.of("lines", lines));
        });
    }

    @PostMapping("/{issuer}/approvals")
    void withdraw(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response)
            throws IOException {
        post(issuer, request, response, (visit, who) -> {
            String clientId = visit.form().one("client").orElse("");
            String name = clients.find(clientId).map(it -> it.client().name()).orElse(clientId);
            account.withdraw(who.person(), clientId, name, visit.form().one("scope"), actor(visit, who));
            Visits.redirect(visit, visit.path("approvals"));
        });
    }

    @GetMapping("/{issuer}/sessions")
    void sessions(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response)
            throws IOException {
        show(
                issuer,
                request,
                response,
                (visit, who) -> render.page(
                        visit,
                        "sessions",
                        Map.of(
                                "sessions",
                                sessions.ofPerson(
                                        who.person().id(), visit.decision().at()),
                                "current",
                                who.session().id())));
    }

    @PostMapping("/{issuer}/sessions")
    void end(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response) throws IOException {
        post(issuer, request, response, (visit, who) -> {
            if (visit.form().one("all").isPresent()) {
                account.endSessions(who.person(), actor(visit, who));
                Visits.redirect(visit, visit.path("sign-in"));
                return;
            }
            String wanted = visit.form().one("session").orElse("");
            Optional<Session> session = sessions
                    .ofPerson(who.person().id(), visit.decision().at())
                    .stream()
                    .filter(it -> it.id().equals(wanted))
                    .findFirst();
            session.ifPresent(it -> signIn.end(it, who.person().email(), actor(visit, who)));
            Visits.redirect(visit, visit.path("sessions"));
        });
    }

    @GetMapping("/{issuer}/password")
    void password(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response)
            throws IOException {
        show(
                issuer,
                request,
                response,
                (visit, who) -> page(visit, 200, "password", new LinkedHashMap<>(Map.of("person", who.person()))));
    }

    @PostMapping("/{issuer}/password")
    void changePassword(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response)
            throws IOException {
        post(issuer, request, response, (visit, who) -> {
            if (signIn.byPassword(
                            visit.issuer().issuer(),
                            who.person().email(),
                            visit.form().one("password").orElse(""),
                            Optional.of(who.session().id()),
                            visit.decision())
                    .isEmpty()) {
                visits.decided(visit, 401);
                page(
                        visit,
                        401,
                        "password",
                        new LinkedHashMap<>(
                                Map.of("person", who.person(), "fault", "This is not your present password.")));
                return;
            }
            Change<Person> change = account.setPassword(
                    visit.issuer().issuer(),
                    who.person(),
                    new PersonRegistration.ChosenPassword(
                            visit.form().one("new-password").orElse("")),
                    actor(visit, who));
            if (change instanceof Change.Invalid<Person>(List<FieldFault> faults)) {
                page(
                        visit,
                        422,
                        "password",
                        new LinkedHashMap<>(Map.of(
                                "person",
                                who.person(),
                                "newFault",
                                faults.getFirst().fix())));
                return;
            }
            // Signed out everywhere, they are signed in again here, with the strength they had.
            SignIn.Begun begun = signIn.begin(
                    visit.issuer().issuer(),
                    who.person(),
                    visit.browser(),
                    who.session().methods(),
                    visit.decision().at());
            visits.give(visit.issuer(), begun.cookie(), visit.response());
            visits.decided(visit, 303);
            Visits.redirect(
                    visit,
                    AccountTask.read(visit, clients)
                            .map(task -> task.returning(visit, "changed"))
                            .orElse(visit.path("profile?changed=password")));
        });
    }

    @GetMapping("/{issuer}/sign-out")
    void askSignOut(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response)
            throws IOException {
        show(
                issuer,
                request,
                response,
                (visit, who) -> render.page(visit, "sign-out", Map.of("people", visit.people())));
    }

    @PostMapping("/{issuer}/sign-out")
    void signOut(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response)
            throws IOException {
        visits.post(issuer, request, response, visit -> {
            for (SignedIn it : visit.people())
                signIn.end(it.session(), it.person().email(), actor(visit, it));
            render.message(
                    visit,
                    200,
                    "You are signed out",
                    "Tokens that applications held while you were signed in here are refused from now on.");
        });
    }

    static Actor actor(Visit visit, SignedIn who) {
        return new Actor(
                who.person().id(), who.person().email(), visit.browser().from());
    }
}
