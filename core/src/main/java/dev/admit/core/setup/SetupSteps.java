package dev.admit.core.setup;

import dev.admit.core.audit.Audit;
import dev.admit.core.change.Change;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Fields;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** What one run through a setup file comes to: what it changed, and what it cannot take. */
final class SetupSteps {
    private static final int MOST_FAULTS = 20;

    private final List<SetupOutcome.Step> steps = new ArrayList<>();
    private final List<SetupOutcome.Made> made = new ArrayList<>();
    private final List<String> notes = new ArrayList<>();
    private final List<FieldFault> faults = new ArrayList<>();
    /** The notes of the change that was made last. */
    private List<String> said = List.of();

    SetupOutcome outcome() {
        return faults.isEmpty()
                ? new SetupOutcome.Fits(steps, made, notes)
                : new SetupOutcome.Refused(faults.subList(0, Math.min(MOST_FAULTS, faults.size())));
    }

    void made(SetupOutcome.Made one) {
        made.add(one);
    }

    /** Those so far, for the one who knows better where they stand. */
    List<FieldFault> faults() {
        return faults;
    }

    /** What a change came to; its faults are told at their place in the file. */
    <T> Optional<T> settle(String at, Change<T> change) {
        switch (change) {
            case Change.Made<T> it -> {
                said = it.notes();
                return Optional.of(it.value());
            }
            case Change.Invalid<T>(List<FieldFault> some) ->
                some.forEach(fault -> fault(at + fault.pointer(), fault.expected(), fault.received(), fault.fix()));
            case Change.Taken<T>(FieldFault fault) ->
                fault(at + fault.pointer(), fault.expected(), fault.received(), fault.fix());
            case Change.Absent<T>(String kind, String named) ->
                fault(at, "the name of a " + kind, Fields.quoted(named), "Correct it.");
            case Change.Stale<T> stale -> fault(at, "what it was when it was read", "another version", "Load again.");
            case Change.NeedsConfirmation<T>(String word, String what, List<String> wouldBreak) ->
                fault(
                        at,
                        "a change that breaks nothing",
                        String.join("; ", wouldBreak),
                        "Make this change by hand, where it can be confirmed.");
            case Change.Forbidden<T> forbidden ->
                fault(at, "a change that you may make", forbidden.sentence(), "Have one of them load it.");
            case Change.Refused<T>(String sentence, String fix) ->
                fault(at, "a change that the rules allow", sentence, fix);
        }
        return Optional.empty();
    }

    void fault(String at, String expected, String received, String fix) {
        faults.add(new FieldFault(at, expected, received, fix));
    }

    /**
     * Notes a step when something differs, with what was said about it; of what stays as it is there is nothing to say.
     */
    <T> void step(String what, Optional<T> before, T after) {
        if (before.isEmpty()) {
            add("added", what, List.of());
            return;
        }
        List<SetupOutcome.Difference> members = Audit.differences(before.get(), after).entrySet().stream()
                .map(it -> new SetupOutcome.Difference(
                        it.getKey(), it.getValue().getFirst(), it.getValue().getLast()))
                .toList();
        if (!members.isEmpty()) add("changed", what, members);
    }

    void add(String verb, String what, List<SetupOutcome.Difference> members) {
        steps.add(new SetupOutcome.Step(verb, what, members));
        said.forEach(note -> notes.add(Character.toUpperCase(what.charAt(0)) + what.substring(1) + ": " + note));
        said = List.of();
    }

    void removed(String what, Change<?> change) {
        if (settle("/", change).isPresent()) add("removed", what, List.of());
    }

    /** RFC 6901 §3. */
    static String escaped(String name) {
        return name.replace("~", "~0").replace("/", "~1");
    }

    static <V> Map<String, V> orNone(@Nullable Map<String, V> some) {
        return some == null ? Map.of() : some;
    }
}
