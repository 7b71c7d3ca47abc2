package dev.admit.core.grant;

import dev.admit.core.authorization.AuthorizationGrant;
import dev.admit.core.authorization.RefreshToken;
import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Checked;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Recorder;
import dev.admit.core.registry.SecretHash;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;

/**
 * Takes a refresh token for the next pair of tokens (RFC 6749 §6). Each is good once; one that comes again ends its
 * grant (RFC 9700 §4.14.2).
 */
final class RefreshTokenGrant implements Grant {
    static final String TYPE = "refresh_token";
    /** Of a client with a credential: its answer may have been lost on the way. */
    private static final Duration GRACE = Duration.ofSeconds(10);

    private static final Fix SIGN_IN = Fix.of("Have the person sign in again.");

    private final TokensForPerson tokens;

    RefreshTokenGrant(TokensForPerson tokens) {
        this.tokens = tokens;
    }

    @Override
    public String type() {
        return TYPE;
    }

    @Override
    public Result redeem(Redemption asked, Recorder decision) {
        Instant now = asked.now();
        RefreshToken token = decision.take(find(asked));
        if (token == null) return new Result.Refused();
        AuthorizationGrant grant = tokens.grants.find(token.grantId()).orElseThrow();
        boolean again = token.usedAt().isPresent();
        if (again && !isLostAnswer(token, asked.client(), now)) return usedTwice(grant, decision);
        if (!decision.passes(inTime(token, again, now))) return new Result.Refused();
        TokensForPerson.Wanted wanted = new TokensForPerson.Wanted(
                TYPE, asked.form().one("scope"), asked.form().all("resource"), true);
        return switch (tokens.issue(grant, wanted, () -> claim(token, again, now), asked, decision)) {
            case TokensForPerson.Outcome.Issued(GrantOutcome.Issued issued) -> new Result.Issued(issued);
            case TokensForPerson.Outcome.Refused refused -> new Result.Refused();
            case TokensForPerson.Outcome.ClaimedBefore another -> usedTwice(grant, decision);
        };
    }

    private Checked<RefreshToken> find(Redemption asked) {
        Optional<String> text = asked.form().one("refresh_token");
        if (text.isEmpty())
            return Checked.refused(
                    "refresh-token",
                    Reason.MISSING_PARAMETER,
                    "refresh_token",
                    "none",
                    Fix.of("Send the refresh token."));
        return tokens.grants
                .refreshToken(SecretHash.of(text.get()))
                .filter(token -> token.clientId().equals(asked.client().client().id()))
                .map(Checked::passed)
                .orElseGet(() ->
                        Checked.refused(unusable("a refresh token that was given to this client", "one that was not")));
    }

    /** @param again whether it comes a second time, because its answer was lost */
    private static CheckResult inTime(RefreshToken token, boolean again, Instant now) {
        return now.isBefore(token.expiresAt())
                ? CheckResult.passed(
                        "refresh-token",
                        "a refresh token that was given to this client and is not used",
                        again ? "one whose answer was lost a moment ago" : "one")
                : unusable("a refresh token that was used in time", "one that expired");
    }

    private static CheckResult.Refused unusable(String expected, String received) {
        return CheckResult.refused("refresh-token", Reason.REFRESH_TOKEN_UNUSABLE, expected, received, SIGN_IN);
    }

    /** Two that race are a lost answer and its repetition at most: the one that comes second finds it used. */
    private boolean claim(RefreshToken token, boolean again, Instant now) {
        return again
                ? tokens.grants.supersede(token.grantId()) > 0
                : tokens.grants.claimRefreshToken(token.hash(), now);
    }

    /** A client that can keep a credential, a moment after, and nobody has used what came in place of it. */
    private boolean isLostAnswer(RefreshToken token, KnownClient client, Instant now) {
        Instant used = token.usedAt().orElseThrow();
        return client.client().kind().confidential()
                && now.isBefore(used.plus(GRACE))
                && !tokens.grants.isSuccessorUsed(token.grantId(), used);
    }

    private static Result usedTwice(AuthorizationGrant grant, Recorder decision) {
        decision.add(CheckResult.refused(
                "refresh-token",
                Reason.REFRESH_TOKEN_USED_TWICE,
                "a refresh token that is not used",
                "one that was; everything of that sign-in is ended",
                SIGN_IN));
        return new Result.Misused(grant);
    }
}
