package dev.admit.core.decision;

import java.util.Optional;

/**
 * What would turn a refusal into a pass.
 *
 * @param sentence what to do, as a sentence
 * @param command the command that does it, ready to run
 * @param who who must act when it is not the caller: {@code an administrator}
 */
public record Fix(String sentence, Optional<String> command, Optional<String> who) {

    public static Fix of(String sentence) {
        return new Fix(sentence, Optional.empty(), Optional.empty());
    }

    public static Fix of(String sentence, String command) {
        return new Fix(sentence, Optional.of(command), Optional.empty());
    }

    /**
     * The same, with the issuer in its command.
     *
     * @param issuer empty for none
     */
    public Fix at(String issuer) {
        return command.isEmpty() ? this : new Fix(sentence, command.map(it -> Command.at(issuer, it)), who);
    }

    /** The same, to be done by a person other than the caller. */
    public Fix by(String actor) {
        return new Fix(sentence, command, Optional.of(actor));
    }
}
