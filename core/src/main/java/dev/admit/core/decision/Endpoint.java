package dev.admit.core.decision;

/**
 * Where a decision was made: at the token endpoint, at the gateway, at the door of the admin API, or where people sign
 * in.
 */
public enum Endpoint {
    TOKEN,
    GATEWAY,
    ADMIN,
    SIGN_IN;

    @Override
    public String toString() {
        return name().toLowerCase(java.util.Locale.ROOT).replace('_', '-');
    }
}
