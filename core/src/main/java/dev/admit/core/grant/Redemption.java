package dev.admit.core.grant;

import dev.admit.core.clientauth.KnownClient;
import dev.admit.core.configuration.CompiledIssuer;
import dev.admit.core.token.TokenId;
import java.time.Instant;
import java.util.Optional;

/**
 * A token request whose client is known, on its way through its grant.
 *
 * @param trial where an operator tries the client, for itself or for a person
 * @param client read after the id was drawn, as all that the token leans on
 * @param id of the token to be: see {@link dev.admit.core.token.MintingOrder}
 */
record Redemption(
        FormParameters form,
        Optional<Trial> trial,
        CompiledIssuer issuer,
        KnownClient client,
        TokenId id,
        Instant now) {

    /** What was granted, within the bounds of a trial where this is one. */
    GrantedScopes limited(GrantedScopes granted) {
        return trial.map(it -> it.limiting(granted, now)).orElse(granted);
    }
}
