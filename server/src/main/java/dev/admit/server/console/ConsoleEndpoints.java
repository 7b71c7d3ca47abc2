package dev.admit.server.console;

import com.fasterxml.jackson.annotation.JsonProperty;
import dev.admit.contract.FaultView;
import dev.admit.contract.PersonWanted;
import dev.admit.contract.Problem;
import dev.admit.core.access.AdminApi;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Page;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.configuration.LiveConfiguration;
import dev.admit.core.decision.Endpoint;
import dev.admit.core.decision.Journal;
import dev.admit.core.decision.Recorder;
import dev.admit.core.grant.FormRequest;
import dev.admit.core.grant.GrantOutcome;
import dev.admit.core.grant.IssueToken;
import dev.admit.core.owner.Owners;
import dev.admit.core.person.People;
import dev.admit.core.person.Person;
import dev.admit.core.signin.PersonRegistration;
import dev.admit.gateway.Gateway;
import dev.admit.server.FirstStart;
import dev.admit.server.PublicOrigin;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.util.Base64;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RestController;

/**
 * What the console asks of its own: who is signed in, the first person of an empty service, and the end of a session.
 */
@RestController
class ConsoleEndpoints {
    private final ConsoleSessions sessions;
    private final LiveConfiguration configuration;
    private final People people;
    private final Owners owners;
    private final IssueToken issue;
    private final PersonRegistration registration;
    private final Journal journal;
    private final PublicOrigin origin;
    private final Gateway gateway;
    private final Clock clock;
    private volatile boolean settled;

    ConsoleEndpoints(
            ConsoleSessions sessions,
            LiveConfiguration configuration,
            People people,
            Owners owners,
            IssueToken issue,
            PersonRegistration registration,
            Journal journal,
            PublicOrigin origin,
            Gateway gateway,
            Clock clock) {
        this.sessions = sessions;
        this.configuration = configuration;
        this.people = people;
        this.owners = owners;
        this.issue = issue;
        this.registration = registration;
        this.journal = journal;
        this.origin = origin;
        this.gateway = gateway;
        this.clock = clock;
    }

    /**
     * Who is signed in.
     *
     * @param all whether they run the whole service, and not one issuer
     * @param adminRole administrator, operator or auditor; null for none
     * @param owns whether they answer for an API or a client
     * @param form to go with each change
     * @param gateway where requests are checked
     */
    record Signed(
            String issuer,
            boolean all,
            String id,
            String email,
            String name,
            @JsonProperty("admin_role") @Nullable String adminRole,
            boolean owns,
            String form,
            String gateway,
            @JsonProperty("public_url") String publicUrl) {
        @Override
        public String toString() {
            return "Signed[" + id + "]";
        }
    }

    /**
     * Nobody is.
     *
     * @param first whether nobody is there yet who could: the service is new
     * @param issuers those that are named to strangers
     */
    record Nobody(boolean first, List<Named> issuers) {}

    /** An issuer at the entrance. */
    record Named(String name, String title) {}

    @GetMapping(ConsoleAddresses.SESSION)
    ResponseEntity<?> session(HttpServletRequest request) {
        Optional<ConsoleSession> session = sessions.of(request);
        Optional<Person> person = session.filter(
                        it -> sessions.accessToken(it, request).isPresent())
                .flatMap(it -> people.find(it.personId()));
        if (person.isEmpty()) return noStore().body(new Nobody(isNew(), named())); // no error: it is what the page asks
        String issuer = session.get().issuer();
        return noStore()
                .body(new Signed(
                        issuer,
                        issuer.equals(AdminApi.ISSUER),
                        person.get().id(),
                        person.get().email(),
                        person.get().name(),
                        person.get().adminRole().map(Object::toString).orElse(null),
                        !owners.ofPerson(person.get().id()).isEmpty(),
                        session.get().formToken(),
                        gateway.url(origin.url().getHost()),
                        origin.toString()));
    }

    private List<Named> named() {
        return configuration.get().issuersByName().values().stream()
                .map(CompiledIssuer::issuer)
                .filter(it -> it.settings().people().listed())
                .map(it -> new Named(it.name(), it.title()))
                .sorted(Comparator.comparing(Named::title))
                .toList();
    }

    private static ResponseEntity.BodyBuilder noStore() {
        return ResponseEntity.ok().header("Cache-Control", "no-store");
    }

    /**
     * New is a service of which nobody could be signed in: no person at all is there, of any issuer. Anybody may ask,
     * so a no is remembered.
     */
    private boolean isNew() {
        if (settled) return false;
        boolean empty = hasNobody();
        settled = !empty;
        return empty;
    }

    private boolean hasNobody() {
        return configuration.get().issuersByName().values().stream()
                .allMatch(it -> people.list(it.issuer().id(), "", "", new Page.Ask(Optional.empty(), 1))
                        .items()
                        .isEmpty());
    }

    @PostMapping(ConsoleAddresses.SIGN_OUT)
    ResponseEntity<Map<String, String>> signOut(HttpServletRequest request, HttpServletResponse response) {
        Optional<ConsoleSession> session = sessions.of(request);
        if (session.isEmpty()) return ResponseEntity.ok(Map.of("to", ConsoleAddresses.CONSOLE));
        if (!ConsoleDoor.isOurs(session.get(), request))
            return ResponseEntity.status(403).build();
        return ResponseEntity.ok(
                Map.of("to", sessions.end(session.get(), request, response).orElse(ConsoleAddresses.CONSOLE)));
    }

    /** The two members of the file that the first start wrote, and who the first person is. */
    record FirstWanted(
            @JsonProperty("client_id") String clientId,
            @JsonProperty("client_secret") String clientSecret,
            String email,
            String name,
            String password) {
        @Override
        public String toString() {
            return "FirstWanted[hidden]";
        }
    }

    /**
     * Adds the first person of a new service, its administrator; the one who does that proves to have what the first
     * start handed over.
     */
    @PostMapping(ConsoleAddresses.FIRST)
    ResponseEntity<?> first(@RequestBody FirstWanted wanted, HttpServletRequest request) {
        if (ConsoleDoor.comesFromElsewhere(request))
            return ResponseEntity.status(403).build();
        CompiledIssuer admit = configuration.get().issuer(AdminApi.ISSUER).orElseThrow();
        if (!isNew())
            return problem(
                    409,
                    "not-new",
                    "The service is not new any more",
                    "a service without people",
                    "one with",
                    "Sign in; or have a person add you: admit person add ADDRESS --admin-role administrator --issuer "
                            + "admit",
                    null);
        if (!proves(wanted, admit, request)) {
            return problem(
                    403,
                    "not-the-operator",
                    "The credential is not the operator's",
                    "what the first start wrote to operator-credential.json",
                    "something else",
                    "Copy the whole file, or the client id and secret in it.",
                    List.of(new FaultView(
                            "/client_secret", "the operator's secret", "another", "Copy it from the file.")));
        }
        Change<Person> added = registration.add(
                admit.issuer(),
                new PersonWanted(
                        wanted.email(),
                        Map.of(
                                "name",
                                wanted.name() == null || wanted.name().isBlank()
                                        ? String.valueOf(wanted.email())
                                        : wanted.name().strip()),
                        List.of(),
                        "administrator"),
                Optional.of(new PersonRegistration.ChosenPassword(wanted.password())),
                new Actor(wanted.clientId(), FirstStart.OPERATOR, request.getRemoteAddr(), Actor.Power.ADMINISTRATOR));
        return switch (added) {
            case Change.Made<Person> made -> ResponseEntity.ok(Map.of("issuer", AdminApi.ISSUER));
            case Change.Invalid<Person>(List<FieldFault> faults) ->
                problem(
                        422,
                        "invalid",
                        "Some fields cannot be taken",
                        faults.getFirst().expected(),
                        faults.getFirst().received(),
                        faults.getFirst().fix(),
                        faults.stream()
                                .map(it -> new FaultView(it.pointer(), it.expected(), it.received(), it.fix()))
                                .toList());
            default ->
                problem(
                        409,
                        "not-new",
                        "The service is not new any more",
                        "a service without people",
                        "one with",
                        "Sign in.",
                        null);
        };
    }

    /** By the token endpoint's own checks, slowed guessing included; the token itself is let go. */
    private boolean proves(FirstWanted wanted, CompiledIssuer admit, HttpServletRequest request) {
        String pair = form(wanted.clientId()) + ":" + form(wanted.clientSecret());
        String basic = "Basic " + Base64.getEncoder().encodeToString(pair.getBytes(StandardCharsets.UTF_8));
        Recorder decision = new Recorder(Endpoint.TOKEN, clock.instant())
                .issuer(AdminApi.ISSUER)
                .request("POST", ConsoleAddresses.FIRST, request.getRemoteAddr());
        GrantOutcome outcome = issue.issue(
                new FormRequest(
                        "POST",
                        "application/x-www-form-urlencoded",
                        List.of(basic),
                        "",
                        ("grant_type=client_credentials&scope=" + AdminApi.CHANGE).getBytes(StandardCharsets.US_ASCII),
                        request.getRemoteAddr(),
                        false),
                admit,
                decision);
        decision.decided();
        try {
            Thread.sleep(decision.heldBack());
        } catch (InterruptedException stopping) {
            Thread.currentThread().interrupt();
        }
        boolean proves = outcome instanceof GrantOutcome.Issued;
        journal.write(decision, proves ? 200 : 401);
        return proves;
    }

    /** RFC 6749 §2.3.1: form-encoded before base64. */
    private static String form(String text) {
        return ConsoleSignIn.encoded(text == null ? "" : text.strip());
    }

    private static ResponseEntity<Problem> problem(
            int status,
            String reason,
            String title,
            String expected,
            String received,
            String fix,
            @Nullable List<FaultView> faults) {
        return ResponseEntity.status(status)
                .contentType(MediaType.APPLICATION_PROBLEM_JSON)
                .body(new Problem(
                        "urn:admit:problem:" + reason,
                        title,
                        status,
                        "Expected %s; received %s. %s".formatted(expected, received, fix),
                        reason,
                        expected,
                        received,
                        null,
                        faults,
                        null,
                        null,
                        null));
    }
}
