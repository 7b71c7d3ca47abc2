package dev.admit.core.grant;

import dev.admit.core.authorization.AuthorizationGrant;
import dev.admit.core.authorization.IssuedCode;
import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Decision;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.registry.SecretHash;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Instant;
import java.util.Base64;
import java.util.Optional;
import java.util.regex.Pattern;

/** Redeems an authorization code: RFC 6749 §4.1.3 for the exchange, RFC 7636 §4.6 for the verifier. */
final class AuthorizationCodeGrant implements Grant {
    static final String TYPE = "authorization_code";
    private static final Pattern VERIFIER = Pattern.compile("[A-Za-z0-9._~-]{43,128}");
    private static final Fix ASK_AGAIN =
            Fix.of("Send another authorization request; a code is good once, for a minute, for the client that asked.");

    private final TokensForPerson tokens;

    AuthorizationCodeGrant(TokensForPerson tokens) {
        this.tokens = tokens;
    }

    @Override
    public String type() {
        return TYPE;
    }

    @Override
    public Result redeem(Redemption asked, Decision.Builder decision) {
        FormParameters form = asked.form();
        KnownClient client = asked.client();
        Instant now = asked.now();
        // RFC 6749 §5.2: a required parameter that is missing is invalid_request; invalid_grant is for one that came.
        if (form.one("code").isEmpty())
            return refused(
                    "code",
                    Reason.MISSING_PARAMETER,
                    "code",
                    "none",
                    Fix.of("Send the code that came with the redirect."),
                    decision);
        Optional<IssuedCode> found = form.one("code").flatMap(text -> tokens.grants.code(SecretHash.of(text)));
        // One sentence for a code that is not there and one of another client, so that nobody learns whose it is.
        if (found.filter(code -> code.clientId().equals(client.client().id())).isEmpty()) {
            return refused(
                    "code",
                    Reason.CODE_UNUSABLE,
                    "a code that was given to this client",
                    "one that was not",
                    ASK_AGAIN,
                    decision);
        }
        IssuedCode code = found.get();
        AuthorizationGrant grant = tokens.grants.find(code.grantId()).orElseThrow();
        if (code.usedAt().isPresent()) return usedTwice(grant, decision);
        if (!now.isBefore(code.expiresAt()))
            return refused(
                    "code", Reason.CODE_UNUSABLE, "a code of the last minute", "one that expired", ASK_AGAIN, decision);
        decision.add(CheckResult.passed("code", "a code that was given to this client and is not used", "one"));
        if (!form.one("redirect_uri").equals(Optional.of(code.redirectUri()))) {
            return refused(
                    "redirect",
                    Reason.REDIRECT_DIFFERS,
                    "the redirect_uri of the authorization request",
                    form.one("redirect_uri").isEmpty() ? "none" : "another",
                    Fix.of("Send the same redirect_uri again, character by character."),
                    decision);
        }
        if (form.one("code_verifier")
                .filter(verifier -> VERIFIER.matcher(verifier).matches() && fits(verifier, code.challenge()))
                .isEmpty()) {
            return refused(
                    "pkce",
                    Reason.VERIFIER_WRONG,
                    "the code_verifier that the code_challenge is of",
                    form.one("code_verifier").isEmpty() ? "none" : "one that does not fit",
                    Fix.of("Send the code_verifier that this very request was begun with."),
                    decision);
        }
        decision.add(CheckResult.passed("pkce", "the code_verifier that the code_challenge is of", "one that fits"));
        TokensForPerson.Wanted wanted = new TokensForPerson.Wanted(
                TYPE, Optional.empty(), form.all("resource"), asked.trial().isEmpty());
        // RFC 6749 §4.1.2: a code works once. Two requests may race, so the store decides, not our earlier read.
        return switch (tokens.issue(grant, wanted, () -> tokens.grants.claimCode(code.hash(), now), asked, decision)) {
            case TokensForPerson.Outcome.Issued(GrantOutcome.Issued issued) -> new Result.Issued(issued);
            case TokensForPerson.Outcome.Refused refused -> new Result.Refused();
            case TokensForPerson.Outcome.ClaimedBefore another -> usedTwice(grant, decision);
        };
    }

    private static Result usedTwice(AuthorizationGrant grant, Decision.Builder decision) {
        decision.add(CheckResult.refused(
                "code",
                Reason.CODE_USED_TWICE,
                "a code that is not used",
                "one that was; what it gave is ended",
                ASK_AGAIN));
        return new Result.Misused(grant);
    }

    private static Result refused(
            String check, Reason reason, String expected, String received, Fix fix, Decision.Builder decision) {
        decision.add(CheckResult.refused(check, reason, expected, received, fix));
        return new Result.Refused();
    }

    /** RFC 7636 §4.6, S256. */
    private static boolean fits(String verifier, String challenge) {
        try {
            byte[] hash = MessageDigest.getInstance("SHA-256").digest(verifier.getBytes(StandardCharsets.US_ASCII));
            String of = Base64.getUrlEncoder().withoutPadding().encodeToString(hash);
            return MessageDigest.isEqual(
                    of.getBytes(StandardCharsets.US_ASCII), challenge.getBytes(StandardCharsets.US_ASCII));
        } catch (NoSuchAlgorithmException everyJavaHasIt) {
            throw new IllegalStateException(everyJavaHasIt);
        }
    }
}
