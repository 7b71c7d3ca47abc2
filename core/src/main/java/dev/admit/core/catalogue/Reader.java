package dev.admit.core.catalogue;

/** Who looks at the catalogue. */
public sealed interface Reader {
    /** Not signed in. */
    record Stranger() implements Reader {}

    /** @param id of a person of the issuer */
    record SignedIn(String id) implements Reader {}

    /** An owner who wants to see what such a reader sees. */
    record Preview(Readers as) implements Reader {}
}
