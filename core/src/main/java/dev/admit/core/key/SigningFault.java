package dev.admit.core.key;

import org.jspecify.annotations.Nullable;

/** Signing, sealing or opening a key did not work. Retrying does not help; the sentence says what is broken. */
public final class SigningFault extends RuntimeException {
    public SigningFault(String sentence, @Nullable Throwable cause) {
        super(sentence, cause);
    }
}
