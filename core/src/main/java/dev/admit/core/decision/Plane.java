package dev.admit.core.decision;

/** Where a decision was made: at the token endpoint, at the gateway, or at the door of the admin API. */
public enum Plane {
    TOKEN, GATEWAY, ADMIN;

    @Override public String toString() {
        return name().toLowerCase(java.util.Locale.ROOT);
    }
}
