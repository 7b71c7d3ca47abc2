package dev.admit.core.catalogue;

import java.util.Locale;

/** Who finds an API in the catalogue. */
public enum Readers {
    NONE,
    PUBLIC,
    SIGNED_IN,
    NAMED;

    @Override
    public String toString() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }
}
