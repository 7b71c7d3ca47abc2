package dev.admit.core.accessmap;

import dev.admit.core.change.Known;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/**
 * Who can call what, and what passed: callers with their requests, and the traffic of each to each route. Few clients
 * stand for themselves; many are put together where they are of one kind and have the same asks with the same answers,
 * so that thousands stay readable.
 *
 * @param callers those that are shown, the busiest first
 * @param traffic by caller and route
 * @param unknown what came of an unknown caller, by route; the caller is empty
 * @param clients how many clients there are that fit
 * @param together whether clients are put together
 */
public record AccessMap(
        List<Caller> callers, List<Traffic> traffic, List<Traffic> unknown, int clients, boolean together) {
    /** So many clients can be told apart in one picture. */
    public static final int APART = 40;

    private static final int NAMED = 8;

    /**
     * One client as the records have it.
     *
     * @param scopes scope → the state of its approval
     */
    public record CallerRow(String id, String name, String kind, boolean enabled, TreeMap<String, String> scopes) {}

    /** What passed and what did not, of one client at one route. */
    public record Passed(String clientId, String route, long admitted, long refused) {}

    /**
     * One client, or several that may do the same.
     *
     * @param names at most eight of them
     * @param members how many there are
     */
    public record Caller(
            String id, String kind, boolean enabled, List<String> names, int members, Map<String, String> scopes) {}

    public record Traffic(String caller, String route, long admitted, long refused) {}

    /** Where the records of clients and their requests come from. */
    public interface Callers {
        /** @param search part of a name, title or tag; empty for all */
        List<CallerRow> of(String issuerId, String search);
    }

    /** @param only the members of one caller; empty for all */
    public static AccessMap of(List<CallerRow> clients, List<Passed> passed, String only) {
        List<CallerRow> fitting = only.isEmpty()
                ? clients
                : clients.stream().filter(it -> key(it).equals(only)).toList();
        boolean together = fitting.size() > APART && only.isEmpty();
        Map<String, List<CallerRow>> groups = new LinkedHashMap<>();
        for (CallerRow it : fitting)
            groups.computeIfAbsent(together ? key(it) : it.id(), fresh -> new ArrayList<>())
                    .add(it);
        Map<String, String> callerOf = new HashMap<>();
        groups.forEach((key, members) -> members.forEach(it -> callerOf.put(it.id(), key)));
        boolean everybody = only.isEmpty() && clients.size() == fitting.size();
        List<Traffic> traffic = added(passed.stream()
                .filter(it -> callerOf.containsKey(it.clientId()))
                .map(it -> new Traffic(Known.in(callerOf, it.clientId()), it.route(), it.admitted(), it.refused()))
                .toList());
        List<Traffic> unknown = everybody
                ? added(passed.stream()
                        .filter(it -> it.clientId().isEmpty())
                        .map(it -> new Traffic("", it.route(), it.admitted(), it.refused()))
                        .toList())
                : List.of();
        Map<String, Long> busy = new HashMap<>();
        traffic.forEach(it -> busy.merge(it.caller(), it.admitted() + it.refused(), Long::sum));
        List<Caller> callers = groups.entrySet().stream()
                .map(it -> caller(it.getKey(), it.getValue()))
                .sorted(Comparator.comparing((Caller it) -> -busy.getOrDefault(it.id(), 0L))
                        .thenComparing(it -> -it.members())
                        .thenComparing(it -> it.names().getFirst()))
                .limit(APART)
                .toList();
        return new AccessMap(callers, traffic, unknown, fitting.size(), together);
    }

    private static List<Traffic> added(List<Traffic> parts) {
        Map<List<String>, Traffic> sums = new LinkedHashMap<>();
        for (Traffic it : parts) {
            sums.merge(
                    List.of(it.caller(), it.route()),
                    it,
                    (one, other) -> new Traffic(
                            one.caller(),
                            one.route(),
                            one.admitted() + other.admitted(),
                            one.refused() + other.refused()));
        }
        return List.copyOf(sums.values());
    }

    private static Caller caller(String id, List<CallerRow> members) {
        CallerRow first = members.getFirst();
        return new Caller(
                id,
                first.kind(),
                first.enabled(),
                members.stream().map(CallerRow::name).sorted().limit(NAMED).toList(),
                members.size(),
                first.scopes());
    }

    /** What makes clients the same here: kind, switch, and every request with its answer. */
    private static String key(CallerRow it) {
        return it.kind()
                + (it.enabled() ? "" : " off")
                + it.scopes().entrySet().stream()
                        .map(one -> " " + one.getKey() + ":" + one.getValue())
                        .reduce("", String::concat);
    }
}
