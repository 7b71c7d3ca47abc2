package dev.admit.core.change;

/**
 * Who makes a change, and with what power. Use cases ask for the power where it matters which right a change grants;
 * whether the caller may use an endpoint at all was checked before.
 *
 * @param id the client or person id
 * @param name what people call it
 * @param from the address it came from; empty for Admit itself
 * @param power what they act as
 */
public record Actor(String id, String name, String from, Power power) {
    /** Admit itself: the first start, the demo's setup. */
    public static final Actor ADMIT = new Actor("admit", "admit", "", Power.ADMIT);

    public enum Power {
        /** A person or client who changes what is their own. */
        THEMSELVES,
        /** A person who owns the thing, without an admin role. */
        OWNER,
        AUDITOR,
        OPERATOR,
        ADMINISTRATOR,
        /** The service itself. */
        ADMIT
    }

    /** A person who changes what is their own: the least power. */
    public Actor(String id, String name, String from) {
        this(id, name, from, Power.THEMSELVES);
    }

    public boolean isOwner() {
        return power == Power.OWNER;
    }

    /** Whether they may grant rights: an administrator, or Admit itself. */
    public boolean isAdministrator() {
        return power == Power.ADMINISTRATOR || power == Power.ADMIT;
    }
}
