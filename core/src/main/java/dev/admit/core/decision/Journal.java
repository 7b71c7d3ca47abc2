package dev.admit.core.decision;

/** Takes a finished decision without making the request wait. */
public interface Journal {

    /** @param answered the HTTP status that was sent */
    void write(Recorder decision, int answered);
}
