package dev.admit.core.trust;

import dev.admit.core.key.VerifyingKey;
import dev.admit.core.token.ReadClaims;
import dev.admit.core.token.TokenId;
import dev.admit.core.token.TokenSource;
import dev.admit.core.token.VerifiedToken;
import java.time.Instant;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.concurrent.CompletionStage;

/**
 * The tokens of a trusted issuer. Its people and clients get its name before their ids, {@code coastguard:pilot-3}, so
 * that nobody elsewhere can be taken for anybody here; a client that is linked to one here counts as that.
 */
public final class TrustedTokens implements TokenSource {
    private final TrustedIssuer issuer;
    private final TrustedKeys.Live keys;
    private final ClaimAt scope;
    private final ClaimAt roles;
    private final ClaimAt person;
    private final ClaimAt client;

    public TrustedTokens(TrustedIssuer issuer, TrustedKeys.Live keys) {
        this.issuer = issuer;
        this.keys = keys;
        this.scope = ClaimAt.of(issuer.claims().scope());
        this.roles = ClaimAt.of(issuer.claims().roles());
        this.person = ClaimAt.of(issuer.claims().person());
        this.client = ClaimAt.of(issuer.claims().client());
    }

    public TrustedIssuer issuer() {
        return issuer;
    }

    @Override
    public String id() {
        return issuer.id();
    }

    @Override
    public String url() {
        return issuer.url();
    }

    @Override
    public Optional<? extends VerifyingKey> keyNamed(String kid, Instant now) {
        return keys.named(kid);
    }

    @Override
    public boolean isGood(VerifyingKey key, Instant now) {
        return keys.isGood(key);
    }

    @Override
    public List<String> types() {
        return issuer.types();
    }

    @Override
    public Optional<CompletionStage<?>> lookForKeys(Instant now) {
        return keys.lookWhereWorthWhile(now);
    }

    @Override
    public VerifiedToken read(Map<String, Object> claims, VerifyingKey key, long print) throws UnusableClaim {
        Optional<String> theirClient = client.idIn(claims);
        Optional<String> theirPerson = person.idIn(claims);
        if (theirClient.isEmpty() && theirPerson.isEmpty())
            throw new UnusableClaim(issuer.claims().client());
        String clientId = theirClient
                .map(it -> issuer.clients().getOrDefault(it, issuer.name() + ":" + it))
                .orElse(issuer.name() + ":");
        boolean own = theirPerson.isEmpty() || theirPerson.equals(theirClient);
        List<String> audiences = ReadClaims.audiences(claims);
        List<String> scopes = scope.wordsIn(claims).stream()
                .map(it -> issuer.scopes().isEmpty() ? it : issuer.scopes().get(it))
                .filter(Objects::nonNull)
                .distinct()
                .toList();
        long issuedAt = ReadClaims.seconds(claims, "iat");
        return new VerifiedToken(
                Optional.of(key),
                issuer.id(),
                issuer.issuerId(),
                ReadClaims.text(claims, "iss"),
                own ? clientId : issuer.name() + ":" + theirPerson.get(),
                clientId,
                audiences,
                String.join(" ", audiences),
                scopes,
                String.join(" ", scopes),
                TokenId.elsewhere(issuedAt, print),
                issuedAt,
                claims.containsKey("nbf") ? ReadClaims.seconds(claims, "nbf") : 0,
                ReadClaims.seconds(claims, "exp"),
                extra(claims),
                issuer.scopes().isEmpty() ? "" : String.join(" ", scope.wordsIn(claims)));
    }

    /** All that they say, and their roles where ours stand; what Admit itself says in a token nobody else can say. */
    private Map<String, Object> extra(Map<String, Object> claims) {
        Map<String, Object> extra = new LinkedHashMap<>(claims);
        extra.keySet()
                .removeAll(List.of(
                        "iss",
                        "sub",
                        "client_id",
                        "aud",
                        "scope",
                        "iat",
                        "nbf",
                        "exp",
                        "sid",
                        dev.admit.core.token.MintAccessToken.FAMILY));
        extra.put("roles", roles.wordsIn(claims));
        return Collections.unmodifiableMap(extra);
    }
}
