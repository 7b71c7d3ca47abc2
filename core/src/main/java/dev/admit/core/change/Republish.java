package dev.admit.core.change;

/** Makes what is kept the configuration in force. */
public interface Republish {

    /** When this returns, every request that comes is judged by what is kept now. */
    void republish();
}
