package dev.admit.core.authorize;

import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Recorder;
import dev.admit.core.person.People;
import dev.admit.core.person.Person;
import dev.admit.core.token.BearerDoor;
import dev.admit.core.token.TokenCheck;
import dev.admit.core.token.VerifiedToken;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * Tells a client what it may know of the person it acts for (OpenID Connect Core §5.3). Any access token of the issuer
 * with {@code openid} is good, whatever its audience.
 */
public final class UserInfo {
    private static final TokenCheck OPENID = (token, now) -> token.scopes().contains(IdentityScopes.OPENID)
            ? CheckResult.passed("scope", IdentityScopes.OPENID, token.scopeText())
            : CheckResult.refused(
                    "scope",
                    Reason.INSUFFICIENT_SCOPE,
                    IdentityScopes.OPENID,
                    token.scopeText(),
                    Fix.of("Request the scope openid when the person signs in."));

    private final BearerDoor door;
    private final People people;

    public UserInfo(BearerDoor door, People people) {
        this.door = door;
        this.people = people;
    }

    /** @return the claims, or empty when a check refused; the decision says which */
    public Optional<Map<String, Object>> of(
            List<String> authorization, String query, CompiledIssuer issuer, Recorder decision) {
        List<TokenCheck> checks = new ArrayList<>(issuer.everywhere());
        checks.add(OPENID);
        Optional<VerifiedToken> token =
                door.pass(authorization, query, BearerDoor.Ways.of(issuer.tokens(), checks), decision);
        if (token.isEmpty()) return Optional.empty();
        Optional<Person> person = people.find(token.get().subject())
                .filter(it ->
                        it.enabled() && it.issuerId().equals(issuer.issuer().id()));
        if (person.isEmpty()) {
            decision.add(CheckResult.refused(
                    "person",
                    Reason.REVOKED,
                    "a person who is here",
                    "one who is not",
                    Fix.of("Have the person sign in again.")));
            return Optional.empty();
        }
        Map<String, Object> claims = new LinkedHashMap<>();
        claims.put("sub", person.get().id());
        claims.putAll(PersonClaims.of(person.get(), token.get().scopes(), issuer));
        return Optional.of(claims);
    }
}
