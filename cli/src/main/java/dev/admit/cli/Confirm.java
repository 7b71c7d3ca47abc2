package dev.admit.cli;

/** The word that goes with a change that breaks something. */
final class Confirm {
    private Confirm() {}

    /** As the query of an address; nothing when it was not said. */
    static String query(String word) {
        return word == null ? "" : "?confirm=" + Http.encoded(word);
    }
}
