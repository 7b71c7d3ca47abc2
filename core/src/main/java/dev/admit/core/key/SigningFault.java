package dev.admit.core.key;

/** Signing, sealing or opening a key did not work. Retrying does not help; the sentence says what is broken. */
public final class SigningFault extends RuntimeException {
    public SigningFault(String sentence, Throwable cause) {
        super(sentence, cause);
    }
}
