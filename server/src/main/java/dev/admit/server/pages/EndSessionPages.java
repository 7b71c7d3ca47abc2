package dev.admit.server.pages;

import com.nimbusds.jose.JOSEException;
import com.nimbusds.jose.JOSEObjectType;
import com.nimbusds.jwt.SignedJWT;
import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.clientauth.KnownClients;
import dev.admit.core.key.SigningKey;
import dev.admit.core.signin.SignIn;
import dev.admit.core.signin.SignedIn;
import dev.admit.core.token.CompactJws;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.text.ParseException;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.springframework.stereotype.Controller;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;

/**
 * A client has a person signed out (OpenID Connect RP-Initiated Logout 1.0). Without a good {@code id_token_hint} the
 * person is asked first.
 */
@Controller
class EndSessionPages {
    private static final List<String> CARRIED =
            List.of("client_id", "post_logout_redirect_uri", "state", "id_token_hint");

    private final Visits visits;
    private final Render render;
    private final SignIn signIn;
    private final KnownClients clients;

    EndSessionPages(Visits visits, Render render, SignIn signIn, KnownClients clients) {
        this.visits = visits;
        this.render = render;
        this.signIn = signIn;
        this.clients = clients;
    }

    /** What the hint says, when it is one of ours; that it expired does not matter (§2). */
    private record Hint(String clientId, String subject) {}

    @GetMapping("/{issuer}/end-session")
    void asked(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response)
            throws IOException {
        visits.show(issuer, request, response, this::begin);
    }

    @PostMapping("/{issuer}/end-session")
    void posted(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response)
            throws IOException {
        visits.postFromAnywhere(issuer, request, response, this::begin);
    }

    private void begin(Visit visit) throws IOException {
        Optional<Hint> hint = visit.form().one("id_token_hint").flatMap(text -> read(visit, text));
        boolean sure = hint.isPresent()
                && visit.people().stream()
                        .allMatch(it -> it.person().id().equals(hint.get().subject()));
        if (sure || visit.people().isEmpty()) {
            end(visit, hint);
            return;
        }
        Map<String, String> carried = new LinkedHashMap<>();
        CARRIED.forEach(name -> visit.form().one(name).ifPresent(value -> carried.put(name, value)));
        render.page(
                visit,
                200,
                "sign-out",
                Map.of("people", visit.people(), "action", "/end-session/confirmed", "carried", carried),
                target(visit, hint).filter(it -> !it.client().selfRegistered()).map(LeavePage.To::address));
    }

    @PostMapping("/{issuer}/end-session/confirmed")
    void confirmed(@PathVariable String issuer, HttpServletRequest request, HttpServletResponse response)
            throws IOException {
        visits.post(
                issuer,
                request,
                response,
                visit -> end(visit, visit.form().one("id_token_hint").flatMap(text -> read(visit, text))));
    }

    private void end(Visit visit, Optional<Hint> hint) throws IOException {
        for (SignedIn it : visit.people()) signIn.end(it.session(), it.person().email(), AccountPages.actor(visit, it));
        Optional<LeavePage.To> to = target(visit, hint);
        if (to.isEmpty()) {
            render.message(
                    visit,
                    200,
                    "You are signed out",
                    "Tokens that applications held while you were signed in here are refused from now on.");
            return;
        }
        String target = to.get().address();
        String state = visit.form()
                .one("state")
                .map(it ->
                        (target.contains("?") ? "&" : "?") + "state=" + URLEncoder.encode(it, StandardCharsets.UTF_8))
                .orElse("");
        if (to.get().client().selfRegistered())
            LeavePage.show(
                    render, visit, 200, new LeavePage.To(to.get().client(), target + state), "You are signed out.");
        else Visits.redirect(visit, target + state);
    }

    /** Only an address that the client registered, and only when it is known which client asks (§3). */
    private Optional<LeavePage.To> target(Visit visit, Optional<Hint> hint) {
        Optional<String> said = visit.form().one("client_id");
        if (hint.isPresent()
                && said.filter(id -> !id.equals(hint.get().clientId())).isPresent()) return Optional.empty();
        Optional<KnownClient> client = hint.map(Hint::clientId)
                .or(() -> said)
                .flatMap(clients::find)
                .filter(it ->
                        it.client().issuerId().equals(visit.issuer().issuer().id()));
        return visit.form().one("post_logout_redirect_uri").flatMap(to -> client.map(KnownClient::client)
                .filter(it -> it.people().postLogoutRedirectUris().contains(to))
                .map(it -> new LeavePage.To(it, to)));
    }

    private static Optional<Hint> read(Visit visit, String text) {
        try {
            if (CompactJws.read(text).isEmpty()) return Optional.empty();
            SignedJWT token = SignedJWT.parse(text);
            // An access token names a person as well, and is no ID token (RFC 8725 §3.11).
            if (token.getHeader().getType() != null
                    && !token.getHeader().getType().equals(JOSEObjectType.JWT)) return Optional.empty();
            Optional<SigningKey> key = Optional.ofNullable(token.getHeader().getKeyID())
                    .flatMap(kid ->
                            visit.issuer().keys().withId(kid, visit.decision().at()));
            boolean good = key.isPresent()
                    && token.getHeader().getAlgorithm().equals(key.get().algorithm())
                    && token.verify(key.get().verifier())
                    && visit.issuer().url().equals(token.getJWTClaimsSet().getIssuer())
                    && token.getJWTClaimsSet().getAudience().size() == 1;
            return good
                    ? Optional.of(new Hint(
                            token.getJWTClaimsSet().getAudience().getFirst(),
                            token.getJWTClaimsSet().getSubject()))
                    : Optional.empty();
        } catch (ParseException | JOSEException none) {
            return Optional.empty();
        }
    }
}
