package dev.admit.cli;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Model.OptionSpec;

/**
 * Changes to lists. An option that may be said again, such as {@code --scope}, takes the place of the whole list;
 * {@code --add-scope} and {@code --remove-scope} beside it add to the list and take from it.
 */
final class Lists {
    static final String HELP =
            "An option that may be said again replaces the whole list. To add to the list or to take from it, say "
                    + "add- or remove- "
                    + "in front of the option's name, such as --add-%1$s and --remove-%1$s.";
    private static final String ADD = "--add-";
    private static final String REMOVE = "--remove-";

    private final CommandSpec command;

    private Lists(CommandSpec command) {
        this.command = command;
    }

    static Lists of(CommandSpec command) {
        return new Lists(command);
    }

    /** Gives each command that changes a thing the two options beside each list. */
    static void extend(CommandLine line) {
        line.getSubcommands().values().forEach(Lists::extend);
        CommandSpec spec = line.getCommandSpec();
        if (!spec.name().equals("change") && !spec.name().equals("minting")) return;
        List<OptionSpec> lists = List.copyOf(spec.options()).stream()
                .filter(OptionSpec::isMultiValue)
                .toList();
        for (OptionSpec list : lists) {
            String name = list.longestName().substring(2);
            spec.addOption(OptionSpec.builder(ADD + name)
                    .type(List.class)
                    .auxiliaryTypes(String.class)
                    .paramLabel(list.paramLabel())
                    .arity("1")
                    .hidden(true)
                    .build());
            spec.addOption(OptionSpec.builder(REMOVE + name)
                    .type(List.class)
                    .auxiliaryTypes(String.class)
                    .paramLabel(list.paramLabel())
                    .arity("1")
                    .hidden(true)
                    .build());
        }
        if (lists.isEmpty()) return;
        List<String> footer = new ArrayList<>(List.of(spec.usageMessage().footer()));
        footer.add(0, "");
        footer.add(1, HELP.formatted(lists.getFirst().longestName().substring(2)));
        spec.usageMessage().footer(footer.toArray(String[]::new));
    }

    /**
     * Whether anything was said of a list.
     *
     * @param option such as {@code --scope}
     */
    boolean isSaid(String option, @Nullable Object whole) {
        return whole != null
                || !said(ADD, option).isEmpty()
                || !said(REMOVE, option).isEmpty();
    }

    /**
     * @param whole what the option itself said; null for nothing, one blank for an empty list
     * @param before what is there
     * @return the list as it is wanted; null where nothing was said of it
     */
    @Nullable
    List<String> list(String option, @Nullable List<String> whole, @Nullable List<String> before) {
        if (!isSaid(option, whole)) return null;
        List<String> add = said(ADD, option);
        List<String> remove = said(REMOVE, option);
        if (whole != null) {
            refuseBoth(option, add, remove);
            return Common.whole(whole);
        }
        List<String> wanted = new ArrayList<>(before == null ? List.of() : before);
        for (String one : remove) if (!wanted.remove(one)) throw isNotThere(option, one, wanted);
        add.stream().filter(one -> !wanted.contains(one)).forEach(wanted::add);
        return wanted;
    }

    /**
     * The same for pairs, which are removed by their name alone.
     *
     * @return name → value, with null for what is to go, as a merge patch has it; null where nothing was said
     */
    @Nullable
    Map<String, @Nullable Object> pairs(
            String option, @Nullable Map<String, String> whole, @Nullable Map<String, ?> before) {
        if (!isSaid(option, whole)) return null;
        List<String> add = said(ADD, option);
        List<String> remove = said(REMOVE, option);
        Map<String, ?> there = before == null ? Map.of() : before;
        Map<String, @Nullable Object> patch = new LinkedHashMap<>();
        if (whole != null) {
            refuseBoth(option, add, remove);
            there.keySet().forEach(name -> patch.put(name, null));
            whole.forEach((name, value) -> {
                if (!name.isBlank()) patch.put(name, Objects.requireNonNullElse(value, ""));
            });
            return patch;
        }
        for (String name : remove) {
            if (!there.containsKey(name)) throw isNotThere(option, name, there.keySet());
            patch.put(name, null);
        }
        for (String pair : add) {
            int equals = pair.indexOf('=');
            if (equals < 1)
                throw new Failure(
                        Failure.WRONG_USAGE,
                        "%s%s wants NAME=VALUE, and got '%s'.".formatted(ADD, option.substring(2), pair));
            patch.put(pair.substring(0, equals), pair.substring(equals + 1));
        }
        return patch;
    }

    private List<String> said(String prefix, String option) {
        OptionSpec found = command.findOption(prefix + option.substring(2));
        List<String> value = found == null ? null : found.getValue();
        return value == null ? List.of() : value;
    }

    private static void refuseBoth(String option, List<String> add, List<String> remove) {
        if (add.isEmpty() && remove.isEmpty()) return;
        String other = (add.isEmpty() ? REMOVE : ADD) + option.substring(2);
        throw new Failure(
                Failure.WRONG_USAGE,
                "%s replaces the whole list, and %s changes it. Say one of the two.".formatted(option, other));
    }

    private static Failure isNotThere(String option, String one, java.util.Collection<String> there) {
        return new Failure(
                Failure.REFUSED,
                "%s%s: '%s' is not there. %s"
                        .formatted(
                                REMOVE,
                                option.substring(2),
                                one,
                                there.isEmpty()
                                        ? "The list is empty."
                                        : "There is: " + String.join(", ", there) + "."));
    }
}
