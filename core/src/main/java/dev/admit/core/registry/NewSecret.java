package dev.admit.core.registry;

import dev.admit.core.change.RandomBits;

/** A client secret just made, to be shown once. Only its hash is kept. */
public final class NewSecret {
    private final String text;

    private NewSecret(String text) {
        this.text = text;
    }

    /** 256 random bits, with a prefix by which scanners find a secret that was committed by mistake. */
    public static NewSecret make() {
        return new NewSecret("admsec_" + RandomBits.text(32));
    }

    /** The secret itself, for the one answer that shows it. */
    public String reveal() {
        return text;
    }

    public SecretHash hash() {
        return SecretHash.of(text);
    }

    @Override
    public String toString() {
        return "NewSecret[hidden]";
    }
}
