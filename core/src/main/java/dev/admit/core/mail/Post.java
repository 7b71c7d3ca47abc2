package dev.admit.core.mail;

/**
 * Takes a mail that is in the outbox on its way. Where no mail server is set there is none, and the outbox is where it
 * stays.
 */
public interface Post {
    /** Returns at once; what became of it is noted in the outbox. */
    void send(Mail mail);
}
