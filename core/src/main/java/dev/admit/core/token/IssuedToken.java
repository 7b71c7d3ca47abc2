package dev.admit.core.token;

import com.nimbusds.jose.util.JSONObjectUtils;
import java.text.ParseException;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What the audit knows of a token that was issued.
 *
 * @param kid of the key that signed it; empty for an opaque one
 */
public record IssuedToken(
        String issuerId,
        String clientId,
        TokenId id,
        List<String> audiences,
        List<String> scopes,
        String kid,
        String subject,
        String sessionId,
        String grantId)
        implements Revocations.Revocable {

    /**
     * @param noted the note of the token's issue, as JSON.
     * @return empty when it is none
     */
    public static Optional<IssuedToken> read(String issuerId, String clientId, String tokenId, String noted) {
        try {
            Map<String, Object> members = JSONObjectUtils.parse(noted);
            String scope = String.valueOf(members.getOrDefault("scope", ""));
            return TokenId.read(tokenId)
                    .map(id -> new IssuedToken(
                            issuerId,
                            clientId,
                            id,
                            List.of(String.valueOf(members.get("audience"))),
                            scope.isEmpty() ? List.of() : List.of(scope.split(" ")),
                            String.valueOf(members.getOrDefault("kid", "")),
                            String.valueOf(members.getOrDefault("sub", clientId)),
                            String.valueOf(members.getOrDefault("sid", "")),
                            String.valueOf(members.getOrDefault("grant", ""))));
        } catch (ParseException none) {
            return Optional.empty();
        }
    }
}
