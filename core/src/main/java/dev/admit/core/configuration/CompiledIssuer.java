package dev.admit.core.configuration;

import dev.admit.core.access.AdminApi;
import dev.admit.core.key.IssuerKeys;
import dev.admit.core.minting.MintingInForce;
import dev.admit.core.person.Person;
import dev.admit.core.person.ProfileField;
import dev.admit.core.registry.Api;
import dev.admit.core.registry.ApiSecret;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Minting;
import dev.admit.core.registry.Role;
import dev.admit.core.registry.Scope;
import dev.admit.core.token.OwnTokens;
import dev.admit.core.token.TokenCheck;
import dev.admit.core.token.TokenSource;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * One issuer with what token requests ask of it.
 *
 * @param url the issuer identifier as tokens carry it
 * @param mintings by the id of the API
 * @param apiSecrets by the id of the API
 * @param fields what people have beside the standard fields
 * @param own the issuer as an audience, for tokens that are for no API
 * @param admin the admin API, whose audience tokens with {@code admit:run} have, alone
 * @param everywhere what must hold of a verified token wherever it is shown, in order, beside its audience
 * @param registersClients whether clients may register themselves
 * @param waryOfUnknown whether an administrator approves all that a client requests that registered itself
 */
public record CompiledIssuer(
        Issuer issuer,
        String url,
        IssuerKeys keys,
        Map<String, Api> apisById,
        Map<String, Api> apisByAudience,
        Map<String, Scope> scopesByName,
        Map<String, MintingInForce> mintings,
        Map<String, List<ApiSecret>> apiSecrets,
        Map<String, Role> rolesById,
        List<ProfileField> fields,
        Api own,
        Api admin,
        List<TokenCheck> everywhere,
        boolean registersClients,
        boolean waryOfUnknown) {

    /** The issuer as the audience of tokens that are for no API: with {@code openid} and the like alone. */
    static Api ownOf(Issuer issuer) {
        return new Api(
                issuer.id(),
                issuer.id(),
                issuer.name(),
                issuer.title(),
                issuer.url().toString(),
                Optional.empty(),
                Minting.USUAL,
                1,
                issuer.createdAt());
    }

    /** The admin API as an issuer that does not hold it mints tokens for it. */
    static Api adminApiAt(Issuer issuer, String audience) {
        return new Api(
                issuer.id() + "/" + AdminApi.NAME,
                issuer.id(),
                AdminApi.NAME,
                "Admin API",
                audience,
                Optional.empty(),
                Minting.USUAL,
                1,
                issuer.createdAt());
    }

    /** The API that an audience stands for, the issuer itself and the admin API among them. */
    public Optional<Api> forAudience(String audience) {
        if (audience.equals(url)) return Optional.of(own);
        if (!audience.contains(":")) return Optional.empty(); // RFC 8707 §2: a resource is an absolute URI
        return audience.equals(admin.audience())
                ? Optional.of(admin)
                : Optional.ofNullable(apisByAudience.get(audience));
    }

    /** Whether a role that the person has is for those with a second factor only. */
    public boolean roleNeedsSecondFactor(Person person) {
        return person.roles().stream().map(rolesById::get).anyMatch(role -> role != null && role.secondFactor());
    }

    public TokenSource tokens() {
        return new OwnTokens(issuer.id(), url, keys);
    }
}
