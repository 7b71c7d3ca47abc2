package dev.admit.server.admin;

import dev.admit.core.change.Actor;
import dev.admit.core.clientauth.KnownClients;
import dev.admit.core.configuration.IssuerInForce;
import dev.admit.core.configuration.LiveConfiguration;
import com.nimbusds.jwt.JWTParser;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Decision;
import dev.admit.core.decision.Journal;
import dev.admit.core.decision.Plane;
import dev.admit.core.decision.Refusal;
import dev.admit.core.token.BearerDoor;
import dev.admit.core.owner.OwnerRights;
import dev.admit.core.registry.Api;
import dev.admit.core.person.People;
import dev.admit.core.person.Person;
import dev.admit.core.signin.RunningRights;
import dev.admit.core.token.AudienceCheck;
import dev.admit.core.token.ScopeCheck;
import dev.admit.core.token.TokenCheck;
import dev.admit.core.token.VerifiedToken;
import dev.admit.gateway.RefusalAnswer;
import dev.admit.server.FirstStart;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.text.ParseException;
import java.time.Clock;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.springframework.stereotype.Component;
import org.springframework.web.method.HandlerMethod;
import org.springframework.web.servlet.HandlerInterceptor;
import org.springframework.web.servlet.config.annotation.InterceptorRegistry;
import org.springframework.web.servlet.config.annotation.WebMvcConfigurer;

/**
 * Protects the admin API by Admit's own tokens: reading wants {@code admin.read}, everything else
 * {@code admin.change}. It stands before the handlers, not before addresses, because one address has many spellings.
 */
@Component
class AdminDoor implements HandlerInterceptor, WebMvcConfigurer {
    static final String ACTOR = "dev.admit.actor";
    /** The name of the only issuer that the caller may see; not there for whoever runs the service. */
    static final String ONLY = "dev.admit.only-issuer";
    /** The id of a person who does not run Admit: they may see and change what they answer for, and nothing else. */
    static final String OWNED_BY = "dev.admit.owned-by";
    private static final Set<String> READING = Set.of("GET", "HEAD", "OPTIONS");

    private final LiveConfiguration configuration;
    private final KnownClients directory;
    private final BearerDoor door;
    private final People people;
    private final OwnerRights owners;
    private final Journal journal;
    private final Clock clock;
    private final RefusalAnswer answers = new RefusalAnswer();

    AdminDoor(LiveConfiguration configuration, KnownClients directory, BearerDoor door, People people, OwnerRights owners, Journal journal, Clock clock) {
        this.configuration = configuration;
        this.directory = directory;
        this.door = door;
        this.people = people;
        this.owners = owners;
        this.journal = journal;
        this.clock = clock;
    }

    @Override public void addInterceptors(InterceptorRegistry registry) {
        registry.addInterceptor(this);
    }

    @Override public boolean preHandle(HttpServletRequest request, HttpServletResponse response, Object handler) throws IOException {
        if (!isProtected(request, handler)) return true;
        Optional<IssuerInForce> issuer = configuration.get().issuer(FirstStart.OPERATOR_ISSUER);
        if (issuer.isEmpty()) {
            response.sendError(HttpServletResponse.SC_SERVICE_UNAVAILABLE, "The service is starting for the first time.");
            return false;
        }
        Decision.Builder decision = new Decision.Builder(Plane.ADMIN, clock.instant()).issuer(FirstStart.OPERATOR_ISSUER).api(FirstStart.ADMIN_API)
                .request(request.getMethod(), request.getRequestURI(), request.getRemoteAddr());
        response.setHeader("Cache-Control", "no-store");
        Optional<IssuerInForce> ofPerson = issuerOfPerson(request);
        if (ofPerson.isPresent()) return passPerson(request, response, ofPerson.get(), decision.issuer(ofPerson.get().issuer().name()));
        String needed = READING.contains(request.getMethod()) ? FirstStart.READ : FirstStart.CHANGE;
        Optional<VerifiedToken> token = door.pass(Collections.list(request.getHeaders("Authorization")), request.getQueryString(), BearerDoor.Ways.of(issuer.get().tokens(), checks(issuer.get(), needed)), decision);
        if (token.isEmpty()) {
            refuse(decision, needed, response);
            return false;
        }
        request.setAttribute(ACTOR, actor(token.get(), request.getRemoteAddr()));
        return true;
    }

    /** Whose person the token is of, as it says itself; that is checked when its signature is. */
    private Optional<IssuerInForce> issuerOfPerson(HttpServletRequest request) {
        String header = request.getHeader("Authorization");
        if (header == null || !header.regionMatches(true, 0, "Bearer ", 0, 7)) return Optional.empty();
        try {
            var claims = JWTParser.parse(header.substring(7).strip()).getJWTClaimsSet();
            boolean runs = List.of(String.valueOf(claims.getStringClaim("scope")).split(" ")).contains(RunningRights.SCOPE);
            return runs ? configuration.get().issuersByName().values().stream().filter(it -> it.url().equals(claims.getIssuer())).findFirst() : Optional.empty();
        } catch (ParseException none) {
            return Optional.empty(); // the door says what is wrong with it
        }
    }

    /** A person comes by the issuer's own protocol; what they may do is looked up each time, so that a rank that is taken away is gone at once. */
    private boolean passPerson(HttpServletRequest request, HttpServletResponse response, IssuerInForce issuer, Decision.Builder decision) throws IOException {
        List<TokenCheck> checks = new ArrayList<>(issuer.everywhere());
        checks.add(ScopeCheck.of(List.of(RunningRights.SCOPE), false));
        Optional<VerifiedToken> token = door.pass(Collections.list(request.getHeaders("Authorization")), request.getQueryString(), BearerDoor.Ways.of(issuer.tokens(), checks), decision);
        Optional<Person> person = token.filter(it -> !it.isClientsOwn()).flatMap(it -> people.find(it.subject())).filter(it -> it.issuerId().equals(issuer.issuer().id()));
        boolean all = issuer.issuer().name().equals(FirstStart.OPERATOR_ISSUER);
        // The path as it is matched, not as it was spelt: %2e or a parameter must not lead past the rule.
        String path = (request.getServletPath() + Optional.ofNullable(request.getPathInfo()).orElse("")).replaceAll("/+$", "");
        CheckResult byRank = RunningRights.check(person, issuer.issuer().name(), all, request.getMethod(), path);
        // What their rank refuses they may still do where they answer for the thing.
        Optional<CheckResult> asOwner = byRank instanceof CheckResult.Refused ? person.filter(Person::enabled).flatMap(it -> owners.check(it.id(), issuer.issuer(), request.getMethod(), path)) : Optional.empty();
        if (token.isEmpty() || decision.add(asOwner.orElse(byRank)) instanceof CheckResult.Refused) {
            refuse(decision, RunningRights.SCOPE, response);
            return false;
        }
        request.setAttribute(ACTOR, new Actor(person.orElseThrow().id(), person.get().email(), request.getRemoteAddr(), asOwner.isPresent()));
        if (asOwner.isPresent()) request.setAttribute(OWNED_BY, person.get().id());
        if (!all || asOwner.isPresent()) request.setAttribute(ONLY, issuer.issuer().name());
        return true;
    }

    /**
     * Whatever a class of this package would answer, however its address was spelt; and all else below /admin, but for the
     * description of the API, which holds nothing that is not in this source.
     */
    private static boolean isProtected(HttpServletRequest request, Object handler) {
        if (handler instanceof HandlerMethod method && method.getBeanType().getPackage().equals(AdminDoor.class.getPackage())) return true;
        String path = request.getServletPath();
        return (path.equals("/admin") || path.startsWith("/admin/")) && !path.equals("/admin/openapi.json");
    }

    private List<TokenCheck> checks(IssuerInForce issuer, String needed) {
        String audience = issuer.apisById().values().stream().filter(api -> api.name().equals(FirstStart.ADMIN_API)).map(Api::audience)
                .findFirst().orElse("");
        List<TokenCheck> checks = new ArrayList<>(List.of(AudienceCheck.of(audience)));
        checks.addAll(issuer.everywhere());
        checks.add(ScopeCheck.of(List.of(needed), false));
        return checks;
    }

    private Actor actor(VerifiedToken token, String from) {
        String name = directory.find(token.clientId()).map(known -> known.client().name()).orElse(token.clientId());
        return new Actor(token.clientId(), name, from);
    }

    private void refuse(Decision.Builder decision, String needed, HttpServletResponse response) throws IOException {
        Refusal refusal = decision.refusal().orElseThrow();
        int status = refusal.reason().status();
        response.setStatus(status);
        response.setHeader("Admit-Decision", decision.id());
        response.setHeader("WWW-Authenticate", RefusalAnswer.challenge(refusal, FirstStart.ADMIN_API, needed));
        response.setContentType("application/problem+json");
        response.getOutputStream().write(answers.body(refusal, decision.id()));
        journal.write(decision, status);
    }
}
