package dev.admit.core.grant;

import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.configuration.IssuerInForce;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Decision;
import dev.admit.core.decision.Mend;
import dev.admit.core.decision.Reason;
import dev.admit.core.family.Family;
import dev.admit.core.family.RefreshToken;
import dev.admit.core.registry.SecretHash;
import dev.admit.core.token.TokenId;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;

/**
 * Takes a refresh token for the next pair of tokens (RFC 6749 §6). Each is good once; one that comes again ends its
 * family (RFC 9700 §4.14.2).
 */
final class RefreshTokenGrant implements Grant {
    static final String TYPE = "refresh_token";
    /** Of a client with a credential: its answer may have been lost on the way. */
    private static final Duration GRACE = Duration.ofSeconds(10);

    private static final Mend SIGN_IN = Mend.of("Have the person sign in again.");

    private final TokensForPerson tokens;

    RefreshTokenGrant(TokensForPerson tokens) {
        this.tokens = tokens;
    }

    @Override
    public String type() {
        return TYPE;
    }

    @Override
    public Result redeem(
            FormParameters form,
            IssuerInForce issuer,
            KnownClient client,
            TokenId id,
            Instant now,
            Decision.Builder decision) {
        if (form.one("refresh_token").isEmpty()) {
            decision.add(CheckResult.refused(
                    "refresh-token",
                    Reason.MISSING_PARAMETER,
                    "refresh_token",
                    "none",
                    Mend.of("Send the refresh token.")));
            return new Result.Refused();
        }
        Optional<RefreshToken> found =
                form.one("refresh_token").flatMap(text -> tokens.families.refreshToken(SecretHash.of(text)));
        if (found.filter(token -> token.clientId().equals(client.client().id())).isEmpty()) {
            return refused("a refresh token that was given to this client", "one that was not", decision);
        }
        RefreshToken token = found.get();
        Family family = tokens.families.find(token.familyId()).orElseThrow();
        boolean again = token.usedAt().isPresent();
        if (again && !isLostAnswer(token, client, now)) return usedTwice(family, decision);
        if (!now.isBefore(token.expiresAt()))
            return refused("a refresh token that was used in time", "one that ran out", decision);
        decision.add(CheckResult.passed(
                "refresh-token",
                "a refresh token that was given to this client and is not used",
                again ? "one whose answer was lost a moment ago" : "one"));
        TokensForPerson.Wanted wanted = new TokensForPerson.Wanted(TYPE, form.one("scope"), form.all("resource"), true);
        Optional<GrantOutcome.Issued> issued =
                tokens.issue(family, wanted, () -> claim(token, again, now), issuer, client, id, now, decision);
        if (issued.isPresent()) return new Result.Issued(issued.get());
        return decision.refusal().isPresent() ? new Result.Refused() : usedTwice(family, decision);
    }

    /** Two that race are a lost answer and its repetition at most: the one that comes second finds it used. */
    private boolean claim(RefreshToken token, boolean again, Instant now) {
        return again
                ? tokens.families.supersede(token.familyId()) > 0
                : tokens.families.claimRefreshToken(token.hash(), now);
    }

    /** A client that can keep a credential, a moment after, and nobody has used what came in place of it. */
    private boolean isLostAnswer(RefreshToken token, KnownClient client, Instant now) {
        Instant used = token.usedAt().orElseThrow();
        return client.client().kind().confidential()
                && now.isBefore(used.plus(GRACE))
                && !tokens.families.isSuccessorUsed(token.familyId(), used);
    }

    private static Result usedTwice(Family family, Decision.Builder decision) {
        decision.add(CheckResult.refused(
                "refresh-token",
                Reason.REFRESH_TOKEN_USED_TWICE,
                "a refresh token that is not used",
                "one that was; everything of that sign-in is ended",
                SIGN_IN));
        return new Result.Misused(family);
    }

    private static Result refused(String expected, String came, Decision.Builder decision) {
        decision.add(CheckResult.refused("refresh-token", Reason.REFRESH_TOKEN_UNUSABLE, expected, came, SIGN_IN));
        return new Result.Refused();
    }
}
