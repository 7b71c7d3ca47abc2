package dev.admit.core.decision;

/**
 * Why Admit said no. Machines read {@code reason}, which never changes; the one who must act reads the rest.
 *
 * @param expected what would have passed, as a phrase without a full stop
 * @param received what came instead; never a secret, never a claim whose signature was not checked
 */
public record Refusal(Reason reason, String expected, String received, Fix fix) {

    /** The refusal as sentences: what came, what was expected, what to do. */
    public String sentence() {
        return "Expected " + expected + "; received " + received + ". " + fix.sentence();
    }

    /**
     * The same for a header or {@code error_description}: printable ASCII without {@code "} and a backslash (RFC 6749
     * §5.2).
     */
    public String description() {
        StringBuilder plain = new StringBuilder();
        sentence()
                .codePoints()
                .forEach(c -> plain.append(c == '"' ? '\'' : c < 0x20 || c > 0x7e || c == '\\' ? '?' : (char) c));
        return plain.toString();
    }
}
