package dev.admit.core.decision;

import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;

/**
 * An act on a thing of Admit: what a person would do about a refusal. Each surface shows it its own way: the command
 * line as a line to run ({@link Command#line}), the console as a link to the page where it is done.
 *
 * @param issuer at which it is done; empty where it is not known, or of no issuer
 * @param thing {@code client}, as the command line calls it
 * @param act {@code change}
 * @param on what it is done to, in order; upper case stands for what the reader fills in
 * @param options what it is done with
 */
public record Action(String issuer, String thing, String act, List<String> on, List<Option> options) {

    /** @param value empty where the name says it all */
    public record Option(String name, String value) {}

    public static Action of(String thing, String act, String... on) {
        return new Action("", thing, act, List.of(on), List.of());
    }

    /**
     * On a route.
     *
     * @param label methods and path, or a path alone, as routes are named
     */
    public static Action onRoute(String act, String label) {
        return of("route", act, label.split(" ", 2));
    }

    public Action with(String name, String value) {
        return new Action(
                issuer,
                thing,
                act,
                on,
                Stream.concat(options.stream(), Stream.of(new Option(name, value)))
                        .toList());
    }

    /** The same at an issuer, unless it says another. */
    public Action at(String name) {
        return issuer.isEmpty() ? new Action(name, thing, act, on, options) : this;
    }

    /** The same, with what it is done to called as people know it, where only its id was at hand. */
    public Action named(String id, String name) {
        if (on.isEmpty() || !on.getFirst().equals(id)) return this;
        List<String> other = new ArrayList<>(on);
        other.set(0, name);
        return new Action(issuer, thing, act, List.copyOf(other), options);
    }
}
