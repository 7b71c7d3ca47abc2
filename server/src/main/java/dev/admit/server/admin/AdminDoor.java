package dev.admit.server.admin;

import dev.admit.core.access.AdminApi;
import dev.admit.core.access.AdminRights;
import dev.admit.core.access.AdminRole;
import dev.admit.core.access.Permission;
import dev.admit.core.change.Actor;
import dev.admit.core.clientauth.KnownClients;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.configuration.LiveConfiguration;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Endpoint;
import dev.admit.core.decision.Journal;
import dev.admit.core.decision.Recorder;
import dev.admit.core.decision.Refusal;
import dev.admit.core.owner.OwnerRights;
import dev.admit.core.person.People;
import dev.admit.core.person.Person;
import dev.admit.core.token.AudienceCheck;
import dev.admit.core.token.BearerDoor;
import dev.admit.core.token.BearerKindCheck;
import dev.admit.core.token.CompactJws;
import dev.admit.core.token.NoTrialCheck;
import dev.admit.core.token.ScopeCheck;
import dev.admit.core.token.TokenCheck;
import dev.admit.core.token.VerifiedToken;
import dev.admit.gateway.RefusalAnswer;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.time.Clock;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.springframework.stereotype.Component;
import org.springframework.web.method.HandlerMethod;
import org.springframework.web.servlet.HandlerInterceptor;
import org.springframework.web.servlet.HandlerMapping;
import org.springframework.web.servlet.config.annotation.InterceptorRegistry;
import org.springframework.web.servlet.config.annotation.WebMvcConfigurer;

/**
 * Protects the admin API by Admit's own tokens, as each endpoint declares with {@link Permitted}. It stands before the
 * handlers, not before addresses, because one address has many spellings.
 */
@Component
class AdminDoor implements HandlerInterceptor, WebMvcConfigurer {
    static final String ACTOR = "dev.admit.actor";
    /** The name of the only issuer that the caller may see; not there for the one who runs the service. */
    static final String ONLY = "dev.admit.only-issuer";
    /** The id of a person who does not run Admit: they may see and change what they answer for, and nothing else. */
    static final String OWNED_BY = "dev.admit.owned-by";

    private final LiveConfiguration configuration;
    private final KnownClients directory;
    private final BearerDoor door;
    private final People people;
    private final OwnerRights owners;
    private final Permissions permissions;
    private final Journal journal;
    private final Clock clock;
    private final RefusalAnswer answers = new RefusalAnswer();

    AdminDoor(
            LiveConfiguration configuration,
            KnownClients directory,
            BearerDoor door,
            People people,
            OwnerRights owners,
            Permissions permissions,
            Journal journal,
            Clock clock) {
        this.configuration = configuration;
        this.directory = directory;
        this.door = door;
        this.people = people;
        this.owners = owners;
        this.permissions = permissions;
        this.journal = journal;
        this.clock = clock;
    }

    @Override
    public void addInterceptors(InterceptorRegistry registry) {
        registry.addInterceptor(this);
    }

    @Override
    public boolean preHandle(HttpServletRequest request, HttpServletResponse response, Object handler)
            throws IOException {
        if (!isProtected(request, handler)) return true;
        Optional<CompiledIssuer> service = configuration.get().issuer(AdminApi.ISSUER);
        if (service.isEmpty()) {
            response.sendError(
                    HttpServletResponse.SC_SERVICE_UNAVAILABLE, "The service is starting for the first time.");
            return false;
        }
        Recorder decision = new Recorder(Endpoint.ADMIN, clock.instant())
                .issuer(AdminApi.ISSUER)
                .api(AdminApi.NAME)
                .request(request.getMethod(), request.getRequestURI(), request.getRemoteAddr());
        response.setHeader("Cache-Control", "no-store");
        Permission permission = permissions.of(handler);
        Optional<CompiledIssuer> ofPerson = issuerOfPerson(request);
        boolean passed = ofPerson.isPresent()
                ? passPerson(
                        request,
                        ofPerson.get(),
                        permission,
                        decision.issuer(ofPerson.get().issuer().name()))
                : passClient(request, service.get(), permission, decision);
        if (!passed)
            refuse(
                    decision,
                    ofPerson.isPresent()
                            ? AdminApi.RUN
                            : permission.least() == AdminRole.AUDITOR ? AdminApi.READ : AdminApi.CHANGE,
                    response);
        return passed;
    }

    /** A client of the service's own issuer, on its own, by the scopes of its token. */
    private boolean passClient(
            HttpServletRequest request, CompiledIssuer service, Permission permission, Recorder decision) {
        List<TokenCheck> checks = checks(
                service,
                ScopeCheck.of(
                        permission.least() == AdminRole.AUDITOR
                                ? List.of(AdminApi.READ, AdminApi.CHANGE)
                                : List.of(AdminApi.CHANGE),
                        true));
        checks.add(new BearerKindCheck(false));
        Optional<VerifiedToken> token = pass(request, service, checks, decision);
        if (token.isEmpty()) return false;
        AdminRights.Caller caller =
                AdminRights.Caller.client(Set.copyOf(token.get().scopes()));
        if (decision.add(AdminRights.check(
                        caller, permission, Optional.ofNullable(named(request).get("issuer"))))
                instanceof CheckResult.Refused) return false;
        String name = directory
                .find(token.get().clientId())
                .map(known -> known.client().name())
                .orElse(token.get().clientId());
        request.setAttribute(
                ACTOR,
                new Actor(
                        token.get().clientId(),
                        name,
                        request.getRemoteAddr(),
                        power(caller.role().orElseThrow())));
        return true;
    }

    /** Reads the issuer from the unverified token, only to pick the keys. The signature is verified later. */
    private Optional<CompiledIssuer> issuerOfPerson(HttpServletRequest request) {
        String header = request.getHeader("Authorization");
        if (header == null || !header.regionMatches(true, 0, "Bearer ", 0, 7)) return Optional.empty();
        // One that cannot be read is nobody's: the door says what is wrong with it.
        Optional<Map<String, Object>> claims =
                CompactJws.read(header.substring(7).strip()).map(CompactJws::payload);
        boolean runs = claims.filter(it -> it.get("scope") instanceof String scope
                        && List.of(scope.split(" ")).contains(AdminApi.RUN))
                .isPresent();
        return runs
                ? configuration.get().issuersByName().values().stream()
                        .filter(it -> it.url().equals(claims.get().get("iss")))
                        .findFirst()
                : Optional.empty();
    }

    /**
     * A person comes by the issuer's own protocol; what they may do is looked up each time, so that a role that is
     * taken away is gone at once.
     */
    private boolean passPerson(
            HttpServletRequest request, CompiledIssuer issuer, Permission permission, Recorder decision) {
        Optional<VerifiedToken> token =
                pass(request, issuer, checks(issuer, ScopeCheck.of(List.of(AdminApi.RUN), false)), decision);
        if (token.isEmpty()) return false;
        Optional<Person> person = token.filter(it -> !it.isClientsOwn())
                .flatMap(it -> people.find(it.subject()))
                .filter(it -> it.issuerId().equals(issuer.issuer().id()) && it.enabled());
        String own = issuer.issuer().name();
        Map<String, String> named = named(request);
        AdminRights.Caller caller = new AdminRights.Caller(own, person.flatMap(Person::adminRole));
        CheckResult byRole = AdminRights.check(caller, permission, Optional.ofNullable(named.get("issuer")));
        // What their admin role refuses they may still do where they own the thing.
        boolean here = named.getOrDefault("issuer", own).equals(own);
        Optional<CheckResult> asOwner = byRole instanceof CheckResult.Refused && here
                ? person.flatMap(it -> owners.check(it.id(), issuer.issuer(), permission.owner(), objects(named)))
                : Optional.empty();
        if (decision.add(asOwner.orElse(byRole)) instanceof CheckResult.Refused) return false;
        Person who = person.orElseThrow();
        request.setAttribute(
                ACTOR,
                new Actor(
                        who.id(),
                        who.email(),
                        request.getRemoteAddr(),
                        asOwner.isPresent()
                                ? Actor.Power.OWNER
                                : power(who.adminRole().orElseThrow())));
        if (asOwner.isPresent()) request.setAttribute(OWNED_BY, who.id());
        if (!own.equals(AdminApi.ISSUER) || asOwner.isPresent()) request.setAttribute(ONLY, own);
        return true;
    }

    private Optional<VerifiedToken> pass(
            HttpServletRequest request, CompiledIssuer issuer, List<TokenCheck> checks, Recorder decision) {
        return door.pass(
                Collections.list(request.getHeaders("Authorization")),
                request.getQueryString(),
                BearerDoor.Ways.of(issuer.tokens(), checks),
                decision);
    }

    private static Actor.Power power(AdminRole role) {
        return switch (role) {
            case AUDITOR -> Actor.Power.AUDITOR;
            case OPERATOR -> Actor.Power.OPERATOR;
            case ADMINISTRATOR -> Actor.Power.ADMINISTRATOR;
        };
    }

    /**
     * What the address names, as the handler was matched: the same values that the endpoint works with, however they
     * were spelt.
     */
    @SuppressWarnings("unchecked")
    private static Map<String, String> named(HttpServletRequest request) {
        Object named = request.getAttribute(HandlerMapping.URI_TEMPLATE_VARIABLES_ATTRIBUTE);
        return named == null ? Map.of() : (Map<String, String>) named;
    }

    private static OwnerRights.Named objects(Map<String, String> named) {
        return new OwnerRights.Named(
                Optional.ofNullable(named.get("api")),
                Optional.ofNullable(named.get("client")),
                Optional.ofNullable(named.get("route")),
                Optional.ofNullable(named.get("approval")),
                Optional.ofNullable(named.get("plan")),
                Optional.ofNullable(named.get("subscription")));
    }

    /**
     * Whatever a class of this package would answer, however its address was spelt; and all else below /admin, but for
     * the description of the API, which holds nothing that is not in this source.
     */
    private static boolean isProtected(HttpServletRequest request, Object handler) {
        if (handler instanceof HandlerMethod method
                && method.getBeanType().getPackage().equals(AdminDoor.class.getPackage())) return true;
        String path = request.getServletPath();
        return (path.equals("/admin") || path.startsWith("/admin/")) && !path.equals("/admin/openapi.json");
    }

    /** The audience of the admin API, what holds of every token, no trial token, and one of the scopes. */
    private static List<TokenCheck> checks(CompiledIssuer issuer, TokenCheck scope) {
        List<TokenCheck> checks =
                new ArrayList<>(List.of(AudienceCheck.of(issuer.admin().audience())));
        checks.addAll(issuer.everywhere());
        checks.add(new NoTrialCheck());
        checks.add(scope);
        return checks;
    }

    private void refuse(Recorder decision, String needed, HttpServletResponse response) throws IOException {
        Refusal refusal = decision.refusal().orElseThrow();
        int status = refusal.reason().status();
        response.setStatus(status);
        response.setHeader("Admit-Decision", decision.id());
        response.setHeader("WWW-Authenticate", RefusalAnswer.challenge(refusal, AdminApi.NAME, needed));
        response.setContentType("application/problem+json");
        response.getOutputStream().write(answers.body(refusal, decision.id()));
        journal.write(decision, status);
    }
}
