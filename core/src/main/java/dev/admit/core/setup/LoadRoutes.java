package dev.admit.core.setup;

import dev.admit.contract.RouteWanted;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Expected;
import dev.admit.core.change.Fields;
import dev.admit.core.registry.Issuer;
import dev.admit.core.route.Route;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;

/** Loads the routes of a setup file. */
record LoadRoutes(LoadSetup.UseCases use, LoadSetup.Records records, SetupSteps steps, Actor by) {
    static final String FILE = "a setup file was loaded";

    void load(Issuer issuer, String at, Setup.@Nullable RoutePart part) {
        if (part == null || part.route() == null || part.route().strip().split("\\s+").length > 2) {
            steps.fault(
                    at + "/route",
                    "methods and a path, such as GET /tides/**, or a path alone for any method",
                    part == null || part.route() == null ? "nothing" : Fields.quoted(part.route()),
                    "Write it so.");
            return;
        }
        String[] words = part.route().strip().split("\\s+");
        List<String> methods = words.length == 1 ? List.of() : Arrays.asList(words[0].split(","));
        String path = words[words.length - 1];
        RouteWanted wanted = new RouteWanted(
                methods,
                path,
                part.api(),
                part.scopes(),
                part.mode(),
                part.open(),
                part.anyScope(),
                part.upstream(),
                part.fixedResponse(),
                part.cors(),
                part.who(),
                part.transform(),
                part.timeouts(),
                part.limits());
        Optional<Route> before = find(issuer, methods, path);
        steps.settle(
                        at,
                        before.isPresent()
                                ? use.routes()
                                        .replace(
                                                issuer,
                                                before.get().id(),
                                                wanted,
                                                Expected.ANY,
                                                before.get().pattern().toString(),
                                                FILE,
                                                by)
                                : use.routes().add(issuer, wanted, FILE, by))
                .ifPresent(after -> steps.step("route " + after.route().label(), before, after.route()));
    }

    private Optional<Route> find(Issuer issuer, List<String> methods, String path) {
        TreeSet<String> wanted = new TreeSet<>(
                methods.stream().map(it -> it.strip().toUpperCase(Locale.ROOT)).toList());
        return records.routes().of(issuer.id()).stream()
                .filter(it ->
                        it.methods().equals(wanted) && it.pattern().toString().equals(path))
                .findFirst();
    }
}
