package dev.admit.core.authorize;

import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.registry.Client;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * An authorization request that can be answered (RFC 6749 §4.1.1, OpenID Connect Core §3.1.2.1).
 *
 * @param reply where and how the answer goes
 * @param scopes requested, and requested by the client's registration
 * @param resources audiences, the usual one first; never empty
 * @param challenge of PKCE
 * @param acr the strength of sign-in that is wanted; empty for any
 */
public record AuthorizationRequest(
        KnownClient client,
        Reply reply,
        List<String> scopes,
        List<String> resources,
        String challenge,
        Optional<String> nonce,
        Set<Prompt> prompts,
        Optional<Duration> maxAge,
        Optional<String> loginHint,
        Optional<String> acr) {

    /** {@code prompt} (OpenID Connect Core §3.1.2.1, Prompt Create). */
    public enum Prompt {
        NONE,
        LOGIN,
        CONSENT,
        SELECT_ACCOUNT,
        CREATE
    }

    /** How an answer travels. */
    public enum Mode {
        QUERY,
        FORM_POST
    }

    /**
     * @param redirectUri one that is registered, as it came
     * @param state as it came
     * @param client who gets it
     */
    public record Reply(String redirectUri, Mode mode, Optional<String> state, Client client) {}

    boolean wantsSecondFactor() {
        return acr.filter("urn:admit:acr:2"::equals).isPresent();
    }
}
