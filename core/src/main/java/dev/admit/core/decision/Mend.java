package dev.admit.core.decision;

import java.util.Optional;

/**
 * What would turn a refusal into a pass.
 *
 * @param sentence what to do, as a sentence
 * @param command the command that does it, ready to run
 * @param who who must act when it is not the caller: {@code an administrator}
 */
public record Mend(String sentence, Optional<String> command, Optional<String> who) {

    public static Mend of(String sentence) {
        return new Mend(sentence, Optional.empty(), Optional.empty());
    }

    public static Mend of(String sentence, String command) {
        return new Mend(sentence, Optional.of(command), Optional.empty());
    }

    /** The same, with the issuer in its command. @param issuer empty for none */
    public Mend at(String issuer) {
        return command.isEmpty() ? this : new Mend(sentence, command.map(it -> Command.at(issuer, it)), who);
    }

    /** The same, to be done by somebody other than the caller. */
    public Mend by(String somebody) {
        return new Mend(sentence, command, Optional.of(somebody));
    }
}
