package dev.admit.server.console;

import dev.admit.core.access.AdminRights;
import dev.admit.core.access.AdminRole;
import dev.admit.core.access.Permission;
import dev.admit.core.authorize.TrialSignIns;
import dev.admit.core.change.Actor;
import dev.admit.core.change.RandomBits;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.configuration.LiveConfiguration;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.grant.GrantOutcome;
import dev.admit.core.person.People;
import dev.admit.core.person.Person;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Clients;
import dev.admit.server.admin.PersonTrials;
import dev.admit.server.admin.TrialTokens;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import org.springframework.stereotype.Controller;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestParam;

/**
 * Has a person sign in for a client that an operator tries, by the protocol as for anybody, and hands what came of it
 * to the page Call, sealed.
 */
@Controller
class ConsoleTrials {
    private final ConsoleSessions sessions;
    private final LiveConfiguration configuration;
    private final Clients clients;
    private final People people;
    private final TrialSignIns signIns;
    private final TrialTokens tokens;
    private final PersonTrials handed;

    ConsoleTrials(
            ConsoleSessions sessions,
            LiveConfiguration configuration,
            Clients clients,
            People people,
            TrialSignIns signIns,
            TrialTokens tokens,
            PersonTrials handed) {
        this.sessions = sessions;
        this.configuration = configuration;
        this.clients = clients;
        this.people = people;
        this.signIns = signIns;
        this.tokens = tokens;
        this.handed = handed;
    }

    /**
     * @param scope space-separated
     * @param resource an audience, where scopes are of several APIs
     * @param back what the page Call was about
     */
    @GetMapping(ConsoleAddresses.TRY)
    void begin(
            @RequestParam String issuer,
            @RequestParam String client,
            @RequestParam(defaultValue = "") String scope,
            @RequestParam(defaultValue = "") String resource,
            @RequestParam(defaultValue = "") String back,
            HttpServletRequest request,
            HttpServletResponse response) {
        Optional<Person> operator = operator(issuer, request);
        Optional<CompiledIssuer> its = configuration.get().issuer(issuer);
        Optional<Client> tried = its.flatMap(it -> clients.named(it.issuer().id(), client));
        if (operator.isEmpty() || tried.isEmpty() || ConsoleDoor.comesFromElsewhere(request)) {
            ConsoleSignIn.back(response, "/?problem=trial");
            return;
        }
        String verifier = RandomBits.text(32);
        Map<String, String> query = new LinkedHashMap<>();
        query.put("response_type", "code");
        query.put("client_id", tried.get().id());
        query.put("redirect_uri", signIns.redirectUri());
        if (!scope.isBlank()) query.put("scope", scope.strip());
        if (!resource.isBlank()) query.put("resource", resource.strip());
        query.put(
                "state",
                signIns.seal(new TrialSignIns.UnderWay(
                        its.get().issuer().name(),
                        tried.get().id(),
                        operator.get().id(),
                        verifier,
                        back.matches("[\\x21\\x22\\x24-\\x7e]{0,500}") ? back : "")));
        query.put("code_challenge", ConsoleSignIn.challenge(verifier));
        query.put("code_challenge_method", "S256");
        query.put("prompt", "select_account");
        ConsoleSignIn.redirect(response, its.get().url() + "/authorize?" + ConsoleSignIn.joined(query));
    }

    @GetMapping(ConsoleAddresses.TRIED)
    void finish(
            @RequestParam(defaultValue = "") String state,
            @RequestParam(defaultValue = "") String code,
            @RequestParam(defaultValue = "") String error,
            @RequestParam(name = "error_description", defaultValue = "") String description,
            HttpServletRequest request,
            HttpServletResponse response) {
        Optional<TrialSignIns.UnderWay> underWay = signIns.open(state);
        Optional<Person> operator = underWay.flatMap(it -> operator(it.issuer(), request))
                .filter(it -> it.id().equals(underWay.get().operatorId()));
        if (operator.isEmpty()) {
            ConsoleSignIn.back(response, "/?problem=trial");
            return;
        }
        TrialSignIns.UnderWay it = underWay.get();
        String page = "/" + it.issuer() + "/call?" + it.back() + (it.back().isEmpty() ? "" : "&");
        if (!error.isEmpty()) {
            ConsoleSignIn.back(
                    response, page + "problem=" + ConsoleSignIn.encoded(description.isEmpty() ? error : description));
            return;
        }
        CompiledIssuer issuer = configuration.get().issuer(it.issuer()).orElseThrow();
        Optional<Client> client = clients.named(issuer.issuer().id(), it.clientId());
        if (client.isEmpty()) {
            ConsoleSignIn.back(response, "/?problem=trial");
            return;
        }
        Map<String, String> form =
                Map.of("code", code, "redirect_uri", signIns.redirectUri(), "code_verifier", it.verifier());
        TrialTokens.Made made = tokens.make(issuer.issuer(), client.get(), form, actor(operator.get(), request));
        ConsoleSignIn.back(
                response,
                switch (made.outcome()) {
                    case GrantOutcome.Issued issued ->
                        page + "who="
                                + ConsoleSignIn.encoded(people.find(issued.subject())
                                        .map(Person::email)
                                        .orElse(issued.subject()))
                                + "&scope=" + ConsoleSignIn.encoded(issued.scope()) + "#"
                                + handed.seal(
                                        issued.accessToken(),
                                        operator.get().id()); // behind the #, so that it is in no log
                    case GrantOutcome.Refused refused ->
                        page + "problem="
                                + ConsoleSignIn.encoded(refused.refusal().sentence()) + "&decision="
                                + made.decision().id();
                });
    }

    private static Actor actor(Person operator, HttpServletRequest request) {
        boolean administrator = operator.adminRole().equals(Optional.of(AdminRole.ADMINISTRATOR));
        return new Actor(
                operator.id(),
                operator.email(),
                request.getRemoteAddr(),
                administrator ? Actor.Power.ADMINISTRATOR : Actor.Power.OPERATOR);
    }

    /** Who is signed in to the console and may try clients of an issuer. */
    private Optional<Person> operator(String issuer, HttpServletRequest request) {
        Optional<ConsoleSession> session = sessions.of(request)
                .filter(it -> sessions.accessToken(it, request).isPresent());
        Optional<Person> person =
                session.flatMap(it -> people.find(it.personId())).filter(Person::enabled);
        // As the endpoint declares that makes trial tokens.
        Permission permission = new Permission(AdminRole.OPERATOR, Permission.Of.ISSUER, Permission.OwnerOf.NOTHING);
        return person.filter(it -> AdminRights.check(
                        new AdminRights.Caller(session.get().issuer(), it.adminRole()), permission, Optional.of(issuer))
                instanceof CheckResult.Passed);
    }
}
