package dev.admit.core.clientauth;

import dev.admit.core.decision.Reason;
import dev.admit.core.registry.ClientAuthMethod;
import java.net.URLDecoder;
import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.util.Base64;
import java.util.List;
import java.util.Optional;

/** How a client showed itself in a request (RFC 6749 §2.3). */
public sealed interface PresentedClient {

    /** @param id as it came, not yet known to exist */
    record WithSecret(String id, PresentedSecret secret, ClientAuthMethod method) implements PresentedClient {}

    /** @param triedBasic whether the answer owes a Basic challenge */
    record Unusable(Reason reason, String came, String mend, boolean triedBasic) implements PresentedClient {}

    /** @param authorization every Authorization header, @param id and @param secret the form's, where there */
    static PresentedClient read(List<String> authorization, Optional<String> id, Optional<String> secret) {
        boolean basic = authorization.stream().anyMatch(header -> header.regionMatches(true, 0, "Basic", 0, 5));
        if (authorization.size() > 1) {
            return new Unusable(Reason.TWO_AUTHENTICATIONS, authorization.size() + " Authorization headers", "Send one.", basic);
        }
        if (basic && secret.isPresent()) {
            return new Unusable(Reason.TWO_AUTHENTICATIONS, "a secret in the header and another in the form",
                    "Authenticate one way (RFC 6749 section 2.3).", true);
        }
        if (basic) return readBasic(authorization.getFirst().substring(5).strip(), id);
        if (!authorization.isEmpty()) {
            return new Unusable(Reason.NO_CLIENT_AUTHENTICATION, "an Authorization header of another scheme",
                    "Authenticate by Basic, or with client_id and client_secret in the form.", false);
        }
        if (id.isEmpty() || secret.isEmpty()) {
            return new Unusable(Reason.NO_CLIENT_AUTHENTICATION, id.isEmpty() ? "no client authentication" : "client_id without client_secret",
                    "Authenticate by Basic, or with client_id and client_secret in the form.", false);
        }
        return new WithSecret(id.get(), new PresentedSecret(secret.get()), ClientAuthMethod.CLIENT_SECRET_POST);
    }

    private static PresentedClient readBasic(String encoded, Optional<String> idInForm) {
        try {
            String pair = StandardCharsets.UTF_8.newDecoder().decode(ByteBuffer.wrap(Base64.getDecoder().decode(encoded))).toString();
            int colon = pair.indexOf(':');
            if (colon > 0) {
                // RFC 6749 §2.3.1: both halves were form-encoded before base64, so that : + % and spaces survive.
                String id = URLDecoder.decode(pair.substring(0, colon), StandardCharsets.UTF_8);
                String secret = URLDecoder.decode(pair.substring(colon + 1), StandardCharsets.UTF_8);
                if (idInForm.isPresent() && !idInForm.get().equals(id)) {
                    return new Unusable(Reason.TWO_AUTHENTICATIONS, "one client in the header and another in the form", "Name one.", true);
                }
                return new WithSecret(id, new PresentedSecret(secret), ClientAuthMethod.CLIENT_SECRET_BASIC);
            }
        } catch (IllegalArgumentException | CharacterCodingException notDecodable) {
            // told below: what came is not quoted, because it may hold a secret
        }
        return new Unusable(Reason.CLIENT_NOT_AUTHENTICATED, "Basic credentials that cannot be decoded",
                "Form-encode id and secret, join them with a colon, and base64-encode that.", true);
    }
}
