package dev.admit.store;

/**
 * The data folder cannot be used. The message is a sentence for the one who started the service: what is wrong, what to
 * do.
 */
public final class CannotOpen extends RuntimeException {
    public CannotOpen(String sentence) {
        super(sentence);
    }

    public CannotOpen(String sentence, Throwable cause) {
        super(sentence, cause);
    }
}
