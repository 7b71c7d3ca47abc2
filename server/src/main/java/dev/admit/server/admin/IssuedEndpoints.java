package dev.admit.server.admin;

import dev.admit.contract.ActiveTokensView;
import dev.admit.contract.Changed;
import dev.admit.contract.IssuedView;
import dev.admit.contract.PageView;
import dev.admit.contract.RevokeWanted;
import dev.admit.core.access.AdminRole;
import dev.admit.core.audit.AuditLine;
import dev.admit.core.audit.AuditTrail;
import dev.admit.core.audit.TokenEvents;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Fields;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.configuration.LiveConfiguration;
import dev.admit.core.issued.ActiveTokens;
import dev.admit.core.issued.RevokeToken;
import dev.admit.core.registry.Issuer;
import dev.admit.core.token.IssuedToken;
import dev.admit.core.token.TokenId;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestAttribute;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** The tokens that were issued: which, how many may still be active, and their end before their time. */
@RestController
@RequestMapping("/admin/issuers/{issuer}/tokens")
class IssuedEndpoints {
    private final LiveConfiguration configuration;
    private final AuditTrail trail;
    private final TokenEvents events;
    private final ActiveTokens active;
    private final RevokeToken revoke;
    private final Lookup lookup;
    private final Clock clock;

    IssuedEndpoints(
            LiveConfiguration configuration,
            AuditTrail trail,
            TokenEvents events,
            ActiveTokens active,
            RevokeToken revoke,
            Lookup lookup,
            Clock clock) {
        this.configuration = configuration;
        this.trail = trail;
        this.events = events;
        this.active = active;
        this.revoke = revoke;
        this.lookup = lookup;
        this.clock = clock;
    }

    @Permitted(AdminRole.AUDITOR)
    @GetMapping
    PageView<IssuedView> list(
            @PathVariable String issuer,
            @RequestParam(required = false) Integer limit,
            @RequestParam(required = false) String after,
            @RequestParam(required = false) String client,
            @RequestParam(defaultValue = "") String api,
            @RequestParam(name = "active", defaultValue = "false") boolean onlyActive) {
        Issuer owner = lookup.issuer(issuer);
        events.flush();
        Instant now = clock.instant();
        CompiledIssuer inForce = inForce(owner);
        String clientId = client == null ? "" : lookup.client(owner, client).id();
        return Answers.page(
                trail.issued(
                        owner.id(),
                        clientId,
                        api,
                        onlyActive ? Optional.of(now) : Optional.empty(),
                        Answers.ask(limit, after)),
                line -> view(line, inForce, now));
    }

    @Permitted(AdminRole.AUDITOR)
    @GetMapping("/active")
    ActiveTokensView count(@PathVariable String issuer) {
        events.flush();
        ActiveTokens.Counts counts = active.count(inForce(lookup.issuer(issuer)), clock.instant());
        return new ActiveTokensView(
                counts.counts().stream()
                        .map(it -> new ActiveTokensView.Count(it.client(), it.api(), it.tokens()))
                        .toList(),
                counts.counts().stream().mapToLong(ActiveTokens.Count::tokens).sum(),
                counts.exact());
    }

    /** From the next request on they are refused; the clients can fetch new ones. */
    @Permitted(AdminRole.OPERATOR)
    @PostMapping("/revoke")
    ResponseEntity<Changed<String>> revoke(
            @PathVariable String issuer,
            @RequestBody RevokeWanted wanted,
            @RequestAttribute(AdminDoor.ACTOR) Actor actor) {
        Issuer owner = lookup.issuer(issuer);
        long named = Stream.of(wanted.token(), wanted.client(), wanted.api(), wanted.approval())
                .filter(it -> it != null && !it.isBlank())
                .count();
        if (named != 1) {
            throw new Answers.Refused(Answers.invalid(List.of(new FieldFault(
                    "/", "one of token, client, api, approval", named + " of them", "Say which tokens are to end."))));
        }
        return Answers.changed(end(owner, wanted, actor), it -> 1L, Changed::new);
    }

    private Change<String> end(Issuer owner, RevokeWanted wanted, Actor actor) {
        if (wanted.client() != null) {
            var client = lookup.client(owner, wanted.client());
            Lockout.refuseForOneself(client.id(), actor);
            return revoke.ofClient(client, actor);
        }
        if (wanted.api() != null) return revoke.forApi(lookup.api(owner, wanted.api()), actor);
        if (wanted.approval() != null) return revoke.leaningOn(lookup.approval(owner, wanted.approval()), actor);
        TokenId id = TokenId.read(wanted.token() == null ? "" : wanted.token().strip())
                .orElseThrow(() -> new Answers.Refused(Answers.invalid(List.of(new FieldFault(
                        "/token",
                        "the id (jti) of a token",
                        Fields.quoted(wanted.token()),
                        "Send the id, not the token itself.")))));
        return revoke.one(id, inForce(owner), clock.instant(), actor);
    }

    private CompiledIssuer inForce(Issuer owner) {
        return configuration.get().issuer(owner.name()).orElseThrow(Lookup.absent("issuer", owner.name()));
    }

    private IssuedView view(AuditLine it, CompiledIssuer issuer, Instant now) {
        String scope = IssuedToken.read(
                        it.issuerId(), it.whoId(), it.token().orElseThrow().id(), it.after())
                .map(token -> String.join(" ", token.scopes()))
                .orElse("");
        return new IssuedView(
                it.token().orElseThrow().id(),
                it.who(),
                it.whoId(),
                it.on(),
                scope,
                it.at(),
                it.token().orElseThrow().expiresAt(),
                it.from(),
                active.ending(it, issuer, now).orElse(null));
    }
}
