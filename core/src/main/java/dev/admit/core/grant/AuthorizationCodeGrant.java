package dev.admit.core.grant;

import dev.admit.core.authorization.AuthorizationGrant;
import dev.admit.core.authorization.IssuedCode;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Checked;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import dev.admit.core.decision.Recorder;
import dev.admit.core.registry.SecretHash;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Instant;
import java.util.Base64;
import java.util.Optional;
import java.util.function.BooleanSupplier;
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
    public Result redeem(Redemption asked, Recorder decision) {
        IssuedCode code = decision.take(find(asked));
        if (code == null) return new Result.Refused();
        AuthorizationGrant grant = tokens.grants.find(code.grantId()).orElseThrow();
        if (code.usedAt().isPresent()) return usedTwice(grant, decision);
        if (!decision.passes(inTime(code, asked.now()))) return new Result.Refused();
        if (decision.take(redirect(code, asked.form())) == null) return new Result.Refused();
        if (!decision.passes(verifier(code, asked.form()))) return new Result.Refused();
        TokensForPerson.Wanted wanted = new TokensForPerson.Wanted(
                TYPE,
                Optional.empty(),
                asked.form().all("resource"),
                asked.trial().isEmpty());
        // RFC 6749 §4.1.2: a code works once. Two requests may race, so the store decides, not our earlier read.
        BooleanSupplier claim = () -> tokens.grants.claimCode(code.hash(), asked.now());
        return switch (tokens.issue(grant, wanted, claim, asked, decision)) {
            case TokensForPerson.Outcome.Issued(GrantOutcome.Issued issued) -> new Result.Issued(issued);
            case TokensForPerson.Outcome.Refused refused -> new Result.Refused();
            case TokensForPerson.Outcome.ClaimedBefore another -> usedTwice(grant, decision);
        };
    }

    private Checked<IssuedCode> find(Redemption asked) {
        Optional<String> text = asked.form().one("code");
        // RFC 6749 §5.2: a required parameter that is missing is invalid_request; invalid_grant is for one that came.
        if (text.isEmpty())
            return Checked.refused(
                    "code",
                    Reason.MISSING_PARAMETER,
                    "code",
                    "none",
                    Fix.of("Send the code that came with the redirect."));
        // One sentence for a code that is not there and one of another client, so that nobody learns whose it is.
        return tokens.grants
                .code(SecretHash.of(text.get()))
                .filter(code -> code.clientId().equals(asked.client().client().id()))
                .map(Checked::passed)
                .orElseGet(() -> Checked.refused(unusable("a code that was given to this client", "one that was not")));
    }

    private static CheckResult inTime(IssuedCode code, Instant now) {
        return now.isBefore(code.expiresAt())
                ? CheckResult.passed("code", "a code that was given to this client and is not used", "one")
                : unusable("a code of the last minute", "one that expired");
    }

    private static CheckResult.Refused unusable(String expected, String received) {
        return CheckResult.refused("code", Reason.CODE_UNUSABLE, expected, received, ASK_AGAIN);
    }

    /** RFC 6749 §4.1.3: the redirect URI of the authorization request, character by character. */
    private static Checked<String> redirect(IssuedCode code, FormParameters form) {
        Optional<String> sent = form.one("redirect_uri");
        return sent.equals(Optional.of(code.redirectUri()))
                ? Checked.passed(code.redirectUri())
                : Checked.refused(
                        "redirect",
                        Reason.REDIRECT_DIFFERS,
                        "the redirect_uri of the authorization request",
                        sent.isEmpty() ? "none" : "another",
                        Fix.of("Send the same redirect_uri again, character by character."));
    }

    private static CheckResult verifier(IssuedCode code, FormParameters form) {
        Optional<String> sent = form.one("code_verifier");
        String expected = "the code_verifier that the code_challenge is of";
        return sent.filter(verifier -> VERIFIER.matcher(verifier).matches() && fits(verifier, code.challenge()))
                        .isPresent()
                ? CheckResult.passed("pkce", expected, "one that fits")
                : CheckResult.refused(
                        "pkce",
                        Reason.VERIFIER_WRONG,
                        expected,
                        sent.isEmpty() ? "none" : "one that does not fit",
                        Fix.of("Send the code_verifier that this very request was begun with."));
    }

    private static Result usedTwice(AuthorizationGrant grant, Recorder decision) {
        decision.add(CheckResult.refused(
                "code",
                Reason.CODE_USED_TWICE,
                "a code that is not used",
                "one that was; what it gave is ended",
                ASK_AGAIN));
        return new Result.Misused(grant);
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
