package dev.admit.core.registry;

/** Who runs a client, and so how it can prove itself. More kinds come with the grants that they need. */
public enum ClientKind {
    /** A program on a server, acting for nobody but itself. */
    SERVICE;

    @Override public String toString() {
        return name().toLowerCase(java.util.Locale.ROOT);
    }
}
