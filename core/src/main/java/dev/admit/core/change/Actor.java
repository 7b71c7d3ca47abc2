package dev.admit.core.change;

/** Who makes a change. @param id the client id, @param name what people call it, @param from the address it came from; empty for Admit itself */
public record Actor(String id, String name, String from) {
    /** Admit itself: the first start, the demo's setup. */
    public static final Actor ADMIT = new Actor("admit", "admit", "");
}
