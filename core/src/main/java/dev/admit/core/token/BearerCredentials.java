package dev.admit.core.token;

import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Checked;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** Reads the bearer token of a request (RFC 6750 §2.1), from the Authorization header and nowhere else. */
public final class BearerCredentials {
    private static final String EXPECTED = "one header 'Authorization: Bearer TOKEN'";
    private static final CheckResult PASSED = CheckResult.passed("bearer", EXPECTED, "one");

    private BearerCredentials() {}

    /**
     * @param authorization every Authorization header of the request
     * @param query the raw query, or null
     * @return the token as it came
     */
    public static Checked<String> read(List<String> authorization, @Nullable String query) {
        // RFC 6750 §2.3 allows the query; RFC 9700 §4.3.2 forbids it, because queries end up in logs.
        if (query != null && hasToken(query))
            return refused(
                    Reason.TOKEN_IN_QUERY,
                    "a token in the query",
                    "Move it to the Authorization header, and have it revoked: queries are written to logs.");
        if (authorization.isEmpty())
            return refused(Reason.NO_TOKEN, "no Authorization header", "Fetch an access token and send it so.");
        if (authorization.size() > 1)
            return refused(Reason.TWO_TOKENS, authorization.size() + " Authorization headers", "Send one.");
        String header = authorization.getFirst();
        int space = header.indexOf(' ');
        String scheme = space < 0 ? header : header.substring(0, space);
        if (!scheme.equalsIgnoreCase("Bearer"))
            return refused(
                    Reason.NO_TOKEN,
                    "an Authorization header of another scheme",
                    "Fetch an access token and send it so.");
        // RFC 9110 §11.4: spaces before it may be several; nothing else is around it, so that a token has one spelling.
        String token = space < 0 ? "" : header.substring(space + 1).replaceFirst("^ +", "");
        if (!isB64Token(token))
            return refused(
                    Reason.MALFORMED_AUTHORIZATION,
                    token.isEmpty()
                            ? "Bearer without a token"
                            : token.indexOf(',') >= 0 || token.indexOf(' ') >= 0
                                    ? "more than one word after Bearer"
                                    : "characters that no token has",
                    "Send the token whole, without quotes, commas or line breaks.");
        return Checked.passed(token, PASSED);
    }

    private static Checked<String> refused(Reason reason, String received, String fix) {
        return Checked.refused("bearer", reason, EXPECTED, received, Fix.of(fix));
    }

    private static boolean hasToken(String query) {
        for (int at = query.indexOf("access_token"); at >= 0; at = query.indexOf("access_token", at + 1)) {
            boolean begins = at == 0 || query.charAt(at - 1) == '&';
            int end = at + "access_token".length();
            if (begins && (end == query.length() || query.charAt(end) == '=' || query.charAt(end) == '&')) return true;
        }
        return false;
    }

    /** The b64token of RFC 6750 §2.1. */
    private static boolean isB64Token(String token) {
        int end = token.length();
        while (end > 0 && token.charAt(end - 1) == '=') end--;
        for (int i = 0; i < end; i++) {
            char c = token.charAt(i);
            if (c >= 128 || !B64_TOKEN[c]) return false;
        }
        return end > 0;
    }

    private static final boolean[] B64_TOKEN = new boolean[128];

    static {
        for (char c : "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789-._~+/".toCharArray())
            B64_TOKEN[c] = true;
    }
}
