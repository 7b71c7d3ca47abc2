package dev.admit.core.registry;

import java.security.SecureRandom;
import java.util.Base64;

/** A client secret just made, to be shown once. Only its hash is kept. */
public final class NewSecret {
    private static final SecureRandom RANDOM = new SecureRandom();
    private final String text;

    private NewSecret(String text) {
        this.text = text;
    }

    /** 256 random bits, with a prefix by which scanners find a secret that was committed by mistake. */
    public static NewSecret make() {
        byte[] bytes = new byte[32];
        RANDOM.nextBytes(bytes);
        return new NewSecret("admsec_" + Base64.getUrlEncoder().withoutPadding().encodeToString(bytes));
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
