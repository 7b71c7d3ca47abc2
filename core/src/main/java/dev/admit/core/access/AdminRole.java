package dev.admit.core.access;

import java.util.Locale;

/** What a person may do at Admit itself. Each role may do what the one before it may. */
public enum AdminRole {
    /** Sees everything, changes nothing. */
    AUDITOR,
    /** Changes what is configured; grants no rights. */
    OPERATOR,
    /** Grants rights: approves, names roles and owners, holds keys. */
    ADMINISTRATOR;

    public boolean isAtLeast(AdminRole other) {
        return compareTo(other) >= 0;
    }

    @Override
    public String toString() {
        return name().toLowerCase(Locale.ROOT);
    }
}
