package dev.admit.core.change;

/**
 * Who makes a change.
 *
 * @param id    the client or person id
 * @param name  what people call it
 * @param from  the address it came from; empty for Admit itself
 * @param owner whether they act as one who answers for the thing, and not by running Admit
 */
public record Actor(String id, String name, String from, boolean owner) {
    /** Admit itself: the first start, the demo's setup. */
    public static final Actor ADMIT = new Actor("admit", "admit", "");

    public Actor(String id, String name, String from) {
        this(id, name, from, false);
    }
}
