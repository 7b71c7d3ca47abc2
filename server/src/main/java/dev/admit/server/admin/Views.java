package dev.admit.server.admin;

import dev.admit.contract.ApiView;
import dev.admit.contract.ApprovalView;
import dev.admit.contract.CheckView;
import dev.admit.contract.ClientView;
import dev.admit.contract.DecisionView;
import dev.admit.contract.IssuerView;
import dev.admit.contract.MendView;
import dev.admit.contract.RouteView;
import dev.admit.contract.ScopeView;
import dev.admit.contract.SecretOnce;
import dev.admit.contract.SecretView;
import dev.admit.contract.StandingAnswer;
import dev.admit.core.approval.Approval;
import dev.admit.core.clientauth.KnownClients;
import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.configuration.IssuerInForce;
import dev.admit.core.change.Fields;
import dev.admit.core.grant.IssueToken;
import dev.admit.core.configuration.LiveConfiguration;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Decision;
import dev.admit.core.decision.Mend;
import dev.admit.core.decision.Refusal;
import dev.admit.core.registration.ClientRegistration;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.ClientAuthMethod;
import dev.admit.core.registry.ClientSecret;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.IssuerRules;
import dev.admit.core.registry.Scope;
import dev.admit.core.route.Route;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Instant;
import java.util.Base64;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;

/** The core's objects as the admin API shows them. */
@Component
class Views {
    private final LiveConfiguration configuration;
    private final KnownClients directory;
    private final Clock clock;

    Views(LiveConfiguration configuration, KnownClients directory, Clock clock) {
        this.configuration = configuration;
        this.directory = directory;
        this.clock = clock;
    }

    IssuerView issuer(Issuer it) {
        IssuerRules rules = it.rules();
        List<String> grantTypes = IssueToken.grantTypes(it);
        return new IssuerView(it.id(), it.name(), it.title(), it.description(), it.url().toString(), rules.domains(), rules.keyRotation().map(Fields::written).orElse("none"),
                Fields.written(rules.secretLifetime()), Fields.written(rules.longestSecret()), rules.secretsWithoutEnd(), rules.developmentAddresses(), grantTypes,
                it.revision(), it.version(), it.createdAt());
    }

    ApiView api(Api it) {
        return new ApiView(it.id(), it.name(), it.title(), it.audience(), it.upstream().map(Object::toString).orElse(null), it.version(), it.createdAt());
    }

    ScopeView scope(Api api, Scope it) {
        return new ScopeView(it.id(), it.name(), api.name(), it.effect().toString(), it.reach().toString(), it.holders().toString(), it.words(),
                it.wordsForPerson().orElse(null), it.approver().toString(), it.byRole(), it.life().toString(), it.closesOn().orElse(null),
                it.givenByDefault(), it.inMetadata(), it.version());
    }

    ClientView client(Issuer issuer, Client it) {
        KnownClient known = directory.find(it.id()).orElse(new KnownClient(it, List.of(), List.of()));
        return new ClientView(it.id(), it.name(), it.title(), it.kind().toString(), it.authMethod().toString(), it.owner(), it.enabled(), issuer.name(),
                issuer.url() + "/token", known.secrets().stream().map(Views::secret).toList(),
                known.approvals().stream().map(approval -> approval(issuer, approval)).toList(), known.missing(clock.instant()), it.version(),
                it.createdAt());
    }

    static SecretView secret(ClientSecret it) {
        return new SecretView(it.id(), it.label(), it.createdAt(), it.expiresAt());
    }

    /** A secret with the lines to paste: the only answer it is ever part of. */
    SecretOnce secretOnce(Issuer issuer, Client client, ClientRegistration.IssuedSecret it) {
        String secret = it.secret().reveal();
        // RFC 6749 §2.3.1: form-encoded before base64.
        String basic = "Basic " + Base64.getEncoder().encodeToString((formEncoded(client.id()) + ":" + formEncoded(secret)).getBytes(StandardCharsets.UTF_8));
        String endpoint = issuer.url() + "/token";
        String proof = client.authMethod() == ClientAuthMethod.CLIENT_SECRET_BASIC ? "-u '%s:%s'".formatted(client.id(), secret)
                : "-d client_id=%s -d client_secret=%s".formatted(client.id(), secret);
        String scopes = String.join(" ", directory.find(client.id()).map(KnownClient::approvals).orElse(List.of()).stream()
                .map(Approval::scopeName).toList());
        String scope = scopes.isEmpty() ? "" : " -d 'scope=%s'".formatted(scopes);
        return new SecretOnce(it.kept().id(), it.kept().label(), secret, it.kept().expiresAt(), basic,
                "curl -s %s -d grant_type=client_credentials%s %s".formatted(proof, scope, endpoint),
                "ISSUER=%s\nTOKEN_ENDPOINT=%s\nCLIENT_ID=%s\nCLIENT_SECRET=%s\n".formatted(issuer.url(), endpoint, client.id(), secret));
    }

    private static String formEncoded(String text) {
        return URLEncoder.encode(text, StandardCharsets.UTF_8);
    }

    ApprovalView approval(Issuer issuer, Approval it) {
        Optional<IssuerInForce> inForce = configuration.get().issuer(issuer.name());
        Optional<Scope> scope = inForce.map(found -> found.scopesByName().get(it.scopeName()));
        String api = scope.flatMap(found -> inForce.map(in -> in.apisById().get(found.apiId()))).map(Api::name).orElse("");
        Instant now = clock.instant();
        return new ApprovalView(it.id(), it.clientId(), directory.find(it.clientId()).map(known -> known.client().name()).orElse(""), api,
                it.scopeName(), scope.map(Scope::words).orElse(""), it.statusAt(now).toString(), it.askedAt(), it.askedBy(),
                it.decidedAt().orElse(null), it.decidedBy().orElse(null), it.expiresAt().orElse(null), it.reason(), it.version());
    }

    RouteView route(Issuer issuer, Route it) {
        Optional<Route.Guard.Token> token = it.guard() instanceof Route.Guard.Token guard ? Optional.of(guard) : Optional.empty();
        String api = token.flatMap(guard -> configuration.get().issuer(issuer.name()).map(in -> in.apisById().get(guard.apiId()))).map(Api::name).orElse(null);
        String upstream = it.target() instanceof Route.Target.Upstream(var base) ? base.map(Object::toString).orElse(null) : null;
        StandingAnswer answer = it.target() instanceof Route.Target.StandingAnswer(int status, String type, String body)
                ? new StandingAnswer(status, type, body) : null;
        return new RouteView(it.id(), List.copyOf(it.methods()), it.pattern().toString(), api, token.map(Route.Guard.Token::scopes).orElse(List.of()),
                token.map(guard -> guard.any() ? "any-of" : "all-of").orElse(null), token.isEmpty(),
                token.map(guard -> guard.scopes().isEmpty()).orElse(false), upstream, answer, it.version(), it.createdAt());
    }

    static DecisionView decision(Decision it) {
        Decision.About about = it.about();
        Optional<Refusal> refusal = it.refusal();
        return new DecisionView(it.id(), it.at(), it.plane().toString(), about.issuer(), about.clientId(), about.clientName(), about.subject(),
                about.api(), about.route(), about.revision(), about.method(), about.path(), about.scopes(), about.from(), it.verdict().toString(),
                refusal.map(why -> why.reason().toString()).orElse(null), refusal.map(why -> why.reason().error()).filter(error -> !error.isEmpty()).orElse(null),
                it.answered(), it.micros(), it.checks().stream().map(Views::check).toList(), refusal.map(why -> mend(why.mend())).orElse(null), it.done());
    }

    private static CheckView check(CheckResult check) {
        return switch (check) {
            case CheckResult.Passed it -> new CheckView(it.check(), "passed", it.expected(), it.came(), null);
            case CheckResult.Refused it -> new CheckView(it.check(), "refused", it.refusal().expected(), it.refusal().came(), null);
            case CheckResult.Skipped it -> new CheckView(it.check(), "skipped", null, null, it.why());
        };
    }

    private static MendView mend(Mend it) {
        return new MendView(it.sentence(), it.command().orElse(null), it.who().orElse(null));
    }
}
