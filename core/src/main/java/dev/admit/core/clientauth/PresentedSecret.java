package dev.admit.core.clientauth;

import dev.admit.core.registry.SecretHash;

/** A client secret as it arrived. It can be matched against a stored hash, and nothing else. */
public final class PresentedSecret {
    private final SecretHash hash;

    public PresentedSecret(String text) {
        this.hash = SecretHash.of(text);
    }

    public boolean matches(SecretHash stored) {
        return hash.matches(stored);
    }

    @Override
    public String toString() {
        return "PresentedSecret[hidden]";
    }
}
