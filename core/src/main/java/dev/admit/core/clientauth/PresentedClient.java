package dev.admit.core.clientauth;

import com.nimbusds.jwt.SignedJWT;
import dev.admit.core.decision.Reason;
import dev.admit.core.registry.ClientAuthMethod;
import dev.admit.core.token.CompactJws;
import java.net.URLDecoder;
import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.text.ParseException;
import java.util.Base64;
import java.util.List;
import java.util.Optional;

/** How a client showed itself in a request (RFC 6749 §2.3, RFC 7523 §2.2). */
public sealed interface PresentedClient {
    String ASSERTION_TYPE = "urn:ietf:params:oauth:client-assertion-type:jwt-bearer";

    /** As it came, not yet known to exist; empty where none could be read. */
    String id();

    record WithSecret(String id, PresentedSecret secret, ClientAuthMethod method) implements PresentedClient {}

    /** @param id as the assertion or the form has it; neither is known to be true */
    record WithAssertion(String id, SignedJWT assertion) implements PresentedClient {
        @Override
        public String toString() {
            return "WithAssertion[" + id + "]";
        }
    }

    /** A client that proves nothing and only says who it is. */
    record Named(String id) implements PresentedClient {}

    record Unusable(Reason reason, String received, String fix) implements PresentedClient {
        @Override
        public String id() {
            return "";
        }
    }

    /** What of a form says who the client is; each where it is there. */
    record InForm(
            Optional<String> id, Optional<String> secret, Optional<String> assertionType, Optional<String> assertion) {
        @Override
        public String toString() {
            return "InForm[" + id + "]";
        }
    }

    /** @param authorization every Authorization header */
    static PresentedClient read(List<String> authorization, InForm form) {
        boolean basic = authorization.stream().anyMatch(header -> header.regionMatches(true, 0, "Basic", 0, 5));
        if (authorization.size() > 1) {
            return new Unusable(
                    Reason.TWO_AUTHENTICATIONS, authorization.size() + " Authorization headers", "Send one.");
        }
        int ways = (basic ? 1 : 0)
                + (form.secret().isPresent() ? 1 : 0)
                + (form.assertion().isPresent() || form.assertionType().isPresent() ? 1 : 0);
        if (ways > 1) {
            return new Unusable(
                    Reason.TWO_AUTHENTICATIONS,
                    "two ways of authentication at once",
                    "Authenticate one way (RFC 6749 section 2.3).");
        }
        if (basic) return readBasic(authorization.getFirst().substring(5).strip(), form.id());
        if (!authorization.isEmpty()) {
            return new Unusable(
                    Reason.NO_CLIENT_AUTHENTICATION,
                    "an Authorization header of another scheme",
                    "Authenticate by Basic, with client_id and client_secret in the form, or with an assertion.");
        }
        if (form.assertion().isPresent() || form.assertionType().isPresent()) return readAssertion(form);
        if (form.id().isEmpty()) {
            return new Unusable(
                    Reason.NO_CLIENT_AUTHENTICATION,
                    form.secret().isPresent() ? "client_secret without client_id" : "no client authentication",
                    "Authenticate by Basic, with client_id and client_secret in the form, or with an assertion.");
        }
        if (form.secret().isEmpty()) return new Named(form.id().get());
        return new WithSecret(
                form.id().get(), new PresentedSecret(form.secret().get()), ClientAuthMethod.CLIENT_SECRET_POST);
    }

    private static PresentedClient readAssertion(InForm form) {
        if (!form.assertionType().equals(Optional.of(ASSERTION_TYPE))
                || form.assertion().isEmpty()) {
            return new Unusable(
                    Reason.NO_CLIENT_AUTHENTICATION,
                    form.assertion().isEmpty()
                            ? "client_assertion_type without client_assertion"
                            : "an assertion without that type",
                    "Send client_assertion with client_assertion_type=%s.".formatted(ASSERTION_TYPE));
        }
        try {
            if (CompactJws.read(form.assertion().get()).isEmpty())
                throw new ParseException("no signed JWT in its one spelling", 0);
            SignedJWT assertion = SignedJWT.parse(form.assertion().get());
            String subject = assertion.getJWTClaimsSet().getSubject();
            // RFC 7521 §4.2: client_id is not needed beside the assertion, but must not differ from it.
            if (subject == null || form.id().filter(id -> !id.equals(subject)).isPresent()) {
                return new Unusable(
                        Reason.CLIENT_NOT_AUTHENTICATED,
                        "an assertion whose sub is not the client",
                        "Put the client id into iss and sub.");
            }
            return new WithAssertion(subject, assertion);
        } catch (ParseException | RuntimeException unreadable) {
            return new Unusable(
                    Reason.CLIENT_NOT_AUTHENTICATED,
                    "an assertion that cannot be read",
                    "Send a signed JWT (RFC 7523 section 3).");
        }
    }

    private static PresentedClient readBasic(String encoded, Optional<String> idInForm) {
        try {
            String pair = StandardCharsets.UTF_8
                    .newDecoder()
                    .decode(ByteBuffer.wrap(Base64.getDecoder().decode(encoded)))
                    .toString();
            int colon = pair.indexOf(':');
            if (colon > 0) {
                // RFC 6749 §2.3.1: both halves were form-encoded before base64, so that : + % and spaces survive.
                String id = URLDecoder.decode(pair.substring(0, colon), StandardCharsets.UTF_8);
                String secret = URLDecoder.decode(pair.substring(colon + 1), StandardCharsets.UTF_8);
                if (idInForm.isPresent() && !idInForm.get().equals(id)) {
                    return new Unusable(
                            Reason.TWO_AUTHENTICATIONS,
                            "one client in the header and another in the form",
                            "Name one.");
                }
                return new WithSecret(id, new PresentedSecret(secret), ClientAuthMethod.CLIENT_SECRET_BASIC);
            }
        } catch (IllegalArgumentException | CharacterCodingException notDecodable) {
            // told below: what came is not quoted, because it may hold a secret
        }
        return new Unusable(
                Reason.CLIENT_NOT_AUTHENTICATED,
                "Basic credentials that cannot be decoded",
                "Form-encode id and secret, join them with a colon, and base64-encode that.");
    }
}
