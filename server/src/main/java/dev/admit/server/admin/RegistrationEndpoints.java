package dev.admit.server.admin;

import dev.admit.contract.Changed;
import dev.admit.contract.InitialAccessTokenMade;
import dev.admit.contract.InitialAccessTokenView;
import dev.admit.contract.InitialAccessTokenWanted;
import dev.admit.contract.PageView;
import dev.admit.contract.RegistrationView;
import dev.admit.contract.RegistrationWanted;
import dev.admit.core.access.AdminRole;
import dev.admit.core.change.Actor;
import dev.admit.core.decision.Command;
import dev.admit.core.registry.Issuer;
import dev.admit.core.selfregistration.InitialAccessToken;
import dev.admit.core.selfregistration.RegistrationPolicy;
import dev.admit.core.selfregistration.RegistrationSentences;
import dev.admit.core.selfregistration.SelfRegistrations;
import dev.admit.core.selfregistration.SetRegistration;
import java.util.List;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PatchMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestAttribute;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Whether clients may register themselves, and with which initial access tokens. */
@RestController
@RequestMapping("/admin/issuers/{issuer}/registration")
class RegistrationEndpoints {
    private final SetRegistration set;
    private final SelfRegistrations registrations;
    private final Lookup lookup;

    RegistrationEndpoints(SetRegistration set, SelfRegistrations registrations, Lookup lookup) {
        this.set = set;
        this.registrations = registrations;
        this.lookup = lookup;
    }

    /** Whether clients may register themselves at an issuer. */
    @Permitted(AdminRole.AUDITOR)
    @GetMapping
    ResponseEntity<RegistrationView> show(@PathVariable String issuer) {
        Issuer its = lookup.issuer(issuer);
        RegistrationPolicy policy = set.of(its);
        return Answers.found(view(its, policy), policy.version());
    }

    @Permitted(AdminRole.ADMINISTRATOR)
    @PatchMapping
    ResponseEntity<Changed<RegistrationView>> change(
            @PathVariable String issuer,
            @RequestBody RegistrationWanted wanted,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer its = lookup.issuer(issuer);
        Lockout.refuseForOperatorIssuer(its);
        return Answers.changed(
                set.change(its, wanted, Answers.required(ifMatch), actor),
                RegistrationPolicy::version,
                (changed, notes) -> new Changed<>(view(its, changed), notes));
    }

    private RegistrationView view(Issuer issuer, RegistrationPolicy it) {
        return new RegistrationView(
                it.mode().toString(),
                SetRegistration.said(it.limits()),
                it.approver().toString(),
                issuer.url() + "/register",
                registrations.unused(issuer.id()),
                RegistrationSentences.of(it));
    }

    /** All of them: an issuer has few enough for one page. */
    @Permitted(AdminRole.AUDITOR)
    @GetMapping("/tokens")
    PageView<InitialAccessTokenView> tokens(@PathVariable String issuer) {
        return new PageView<>(
                registrations.tokensOf(lookup.issuer(issuer).id()).stream()
                        .map(RegistrationEndpoints::view)
                        .toList(),
                null);
    }

    private static InitialAccessTokenView view(InitialAccessToken it) {
        return new InitialAccessTokenView(
                it.id(),
                it.label(),
                it.uses(),
                SetRegistration.said(it.limits()),
                it.expiresAt(),
                it.madeBy(),
                it.madeAt());
    }

    /** Makes a token with which clients register themselves; it is shown this once. */
    @ResponseStatus(HttpStatus.CREATED)
    @Permitted(AdminRole.OPERATOR)
    @PostMapping("/tokens")
    ResponseEntity<InitialAccessTokenMade> addToken(
            @PathVariable String issuer,
            @RequestBody InitialAccessTokenWanted wanted,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer its = lookup.issuer(issuer);
        Lockout.refuseForOperatorIssuer(its);
        return Answers.created(
                set.addToken(its, wanted, actor),
                made -> 1L,
                made -> "/admin/issuers/%s/registration/tokens".formatted(its.name()),
                (made, notes) -> new InitialAccessTokenMade(
                        view(made.kept()),
                        made.secret().reveal(),
                        curl(its, made.secret().reveal()),
                        notes));
    }

    private static String curl(Issuer issuer, String token) {
        return "curl -s "
                + String.join(
                        " ",
                        List.of(
                                        "-H",
                                        "Authorization: Bearer " + token,
                                        "-H",
                                        "Content-Type: application/json",
                                        "-d",
                                        "{\"client_name\":\"Chart table\","
                                                + "\"redirect_uris\":[\"http://127.0.0.1/back\"],"
                                                + "\"token_endpoint_auth_method\":\"none\"}",
                                        issuer.url() + "/register")
                                .stream()
                                .map(Command::quoted)
                                .toList());
    }

    /** @param token its id or its label */
    @ResponseStatus(HttpStatus.NO_CONTENT)
    @Permitted(AdminRole.OPERATOR)
    @DeleteMapping("/tokens/{token}")
    ResponseEntity<Void> removeToken(
            @PathVariable String issuer, @PathVariable String token, @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        return Answers.removed(set.removeToken(lookup.issuer(issuer), token, actor));
    }
}
