package dev.admit.core.grant;

import dev.admit.core.audit.AuditLine;
import dev.admit.core.change.Known;
import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.decision.Action;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Checked;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.expression.Expression;
import dev.admit.core.key.SigningKey;
import dev.admit.core.minting.MintingInForce;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Scope;
import dev.admit.core.registry.SecretHash;
import dev.admit.core.token.MintAccessToken;
import dev.admit.core.token.OpaqueToken;
import dev.admit.core.token.TokenId;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Applies an API's minting to what was entitled, and mints. */
public final class MintFor {
    private MintFor() {}

    /**
     * What a token would be, before it is one.
     *
     * @param claims as a JWT would carry them, or as introspection would tell
     */
    public record Planned(MintingInForce.Applied applied, MintAccessToken.Grant grant, Map<String, Object> claims) {}

    /**
     * For whom a token is, when it is not for the client itself.
     *
     * @param subject the person's id
     * @param seen what expressions see of the person
     */
    record ForPerson(String subject, MintAccessToken.OnBehalf onBehalf, Map<String, Object> seen) {}

    /** For the client itself. */
    static Checked<GrantOutcome.Issued> client(Redemption asked, String grantType, GrantedScopes entitled) {
        return mint(asked, grantType, entitled, Optional.empty());
    }

    /** @param person where it is for one */
    static Checked<GrantOutcome.Issued> mint(
            Redemption asked, String grantType, GrantedScopes entitled, Optional<ForPerson> person) {
        Planned planned;
        try {
            planned =
                    plan(asked.client().client(), grantType, entitled, person, asked.issuer(), asked.id(), asked.now());
        } catch (Expression.Senseless broken) {
            return Checked.refused(
                    "minting",
                    Reason.CLAIM_NOT_COMPUTED,
                    "claims that can be computed",
                    broken.phrase(),
                    Fix.of(
                                    "Have the expression corrected.",
                                    Action.of("api", "minting", entitled.api().name()))
                            .by("an operator"));
        }
        return Checked.passed(
                issued(planned, asked),
                CheckResult.passed(
                        "minting",
                        planned.applied().reasons(),
                        planned.applied().format().toString()));
    }

    private static GrantOutcome.Issued issued(Planned planned, Redemption asked) {
        MintAccessToken.Grant grant = planned.grant();
        long lifetime = grant.expiresAt().getEpochSecond() - grant.issuedAt().getEpochSecond();
        String scope = String.join(" ", grant.scopes());
        AuditLine.Token noted = new AuditLine.Token(asked.id().toString(), grant.expiresAt());
        return switch (planned.applied().format()) {
            case JWT -> {
                SigningKey key = asked.issuer().keys().activeAt(asked.now());
                yield new GrantOutcome.Issued(
                        MintAccessToken.mint(grant, key),
                        lifetime,
                        scope,
                        noted,
                        grant.audience(),
                        Optional.empty(),
                        key.kid(),
                        grant.subject(),
                        grant.onBehalf(),
                        Map.of());
            }
            case OPAQUE -> {
                String text = OpaqueToken.text();
                OpaqueToken kept = new OpaqueToken(
                        SecretHash.of(text),
                        asked.id(),
                        asked.issuer().issuer().id(),
                        asked.client().client().id(),
                        grant.subject(),
                        grant.audience(),
                        grant.scopes(),
                        MintAccessToken.claimsBesideStandard(grant),
                        grant.issuedAt(),
                        grant.expiresAt());
                yield new GrantOutcome.Issued(
                        text,
                        lifetime,
                        scope,
                        noted,
                        grant.audience(),
                        Optional.of(kept),
                        "",
                        grant.subject(),
                        grant.onBehalf(),
                        Map.of());
            }
        };
    }

    /** @throws Expression.Senseless when a claim cannot be computed */
    static Planned plan(
            Client client,
            String grantType,
            GrantedScopes entitled,
            Optional<ForPerson> person,
            CompiledIssuer issuer,
            TokenId id,
            Instant now)
            throws Expression.Senseless {
        MintingInForce minting = Known.in(issuer.mintings(), entitled.api().id());
        MintingInForce.Applied applied = minting.applied(client, grantType);
        List<String> scopes = entitled.scopeNames();
        Map<String, Object> extra = new HashMap<>(minting.claims(
                applied,
                client,
                entitled.scopeNames(),
                grantType,
                person.map(ForPerson::seen).orElse(Map.of()),
                now));
        extra.putAll(entitled.marks()); // after what minting adds, which must not hide them
        Instant issuedAt = now.truncatedTo(ChronoUnit.SECONDS);
        Duration lifetime = applied.lifetime();
        // A token never outlives the approval it leans on; with the second cut off it may end a moment earlier.
        Instant usual = issuedAt.plus(lifetime);
        Instant expiresAt = entitled.until().isBefore(usual) ? entitled.until().truncatedTo(ChronoUnit.SECONDS) : usual;
        MintAccessToken.Grant grant = new MintAccessToken.Grant(
                issuer.url(),
                person.map(ForPerson::subject).orElse(client.id()),
                entitled.api().audience(),
                client.id(),
                scopes,
                issuedAt,
                expiresAt,
                id,
                extra,
                person.map(ForPerson::onBehalf));
        return new Planned(applied, grant, MintAccessToken.claims(grant));
    }

    /**
     * What a client on its own would get for an API now, with every scope of it that it may hold; empty when it may
     * hold none.
     */
    public static Optional<Planned> wouldBe(KnownClient known, Api api, CompiledIssuer issuer, TokenId id, Instant now)
            throws Expression.Senseless {
        List<Scope> scopes = known.approvals().stream()
                .filter(it -> it.isGrantedAt(now))
                .map(it -> issuer.scopesByName().get(it.scopeName()))
                .filter(scope -> scope != null
                        && scope.apiId().equals(api.id())
                        && scope.isGrantedAt(now)
                        && scope.forWhom().clients())
                .toList();
        if (scopes.isEmpty()) return Optional.empty();
        return Optional.of(plan(
                known.client(),
                "client_credentials",
                new GrantedScopes(api, scopes.stream().map(Scope::name).toList(), Instant.MAX),
                Optional.empty(),
                issuer,
                id,
                now));
    }
}
