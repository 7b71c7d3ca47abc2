package dev.admit.core.decision;

import java.util.Optional;

/**
 * What would turn a refusal into a pass.
 *
 * @param sentence what to do, as a sentence
 * @param action the act that does it
 * @param who who must act when it is not the caller: {@code an administrator}
 */
public record Fix(String sentence, Optional<Action> action, Optional<String> who) {

    public static Fix of(String sentence) {
        return new Fix(sentence, Optional.empty(), Optional.empty());
    }

    public static Fix of(String sentence, Action action) {
        return new Fix(sentence, Optional.of(action), Optional.empty());
    }

    /** The same, done otherwise. */
    public Fix by(Action other) {
        return new Fix(sentence, Optional.of(other), who);
    }

    /** The same, to be done by a person other than the caller. */
    public Fix by(String actor) {
        return new Fix(sentence, action, Optional.of(actor));
    }

    /** The command that does it, ready to run. */
    public Optional<String> command() {
        return action.map(Command::line);
    }
}
