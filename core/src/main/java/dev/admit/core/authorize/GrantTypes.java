package dev.admit.core.authorize;

import dev.admit.core.decision.Action;
import dev.admit.core.decision.Fix;
import dev.admit.core.registry.Client;
import dev.admit.core.registry.Issuer;

/** What lets a client use a grant type that it may not use yet. */
public final class GrantTypes {
    private static final String CLIENT_CREDENTIALS = "client_credentials"; // RFC 6749 §4.4

    private GrantTypes() {}

    /**
     * One step at a time: the issuer's, then the client's; a sentence alone where no change of this client would do.
     */
    public static Fix fix(Issuer issuer, Client client, String type) {
        if (!issuer.settings().allows(type))
            return Fix.of(
                            "Have it switched on for this issuer.",
                            Action.of("issuer", "change", issuer.name()).with("add-grant-type", type))
                    .by("an operator");
        if (!client.kind().confidential() && type.equals(CLIENT_CREDENTIALS)) {
            return Fix.of("A client of kind %s acts for people only; register kind machine for a program on its own."
                    .formatted(client.kind()));
        }
        return Fix.of(
                        "Have it switched on for this client.",
                        Action.of("client", "change", client.name()).with("add-grant-type", type))
                .by("an operator");
    }
}
