package dev.admit.cli;

import dev.admit.contract.RouteRevised;
import dev.admit.contract.RouteView;
import dev.admit.contract.RouteWanted;
import dev.admit.contract.StandingAnswer;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

@Command(name = "route", description = "What the gateway checks, and where it forwards.", subcommands = {RouteCommands.ListAll.class, RouteCommands.Show.class,
    RouteCommands.Add.class, RouteCommands.Change.class, RouteCommands.Remove.class})
final class RouteCommands {

    private static String methods(RouteView it) {
        return it.methods().isEmpty() ? "ANY" : String.join(",", it.methods());
    }

    private static String wants(RouteView it) {
        if (it.open()) return "open to anyone";
        return it.anyScope() ? "any token" : String.join(it.mode().equals("any-of") ? " or " : " and ", it.scopes());
    }

    private static String goes(RouteView it) {
        return it.answer() != null ? "answers " + it.answer().status() : it.upstream() == null ? "its API" : it.upstream();
    }

    @Command(name = "list", description = "List the routes of an issuer.", footer = {"", "Example: admit route list"})
    static final class ListAll implements Runnable {
        @Mixin Common common;

        @Override public void run() {
            List<RouteView> all = common.admin().list(common.path("routes"), RouteView.class, 10_000);
            common.say(all, () -> {
                if (all.isEmpty()) common.out().done("No route yet.", "admit route add GET /PATH/** --api API --scope SCOPE");
                else common.out().table(List.of("METHODS", "PATH", "API", "WANTS", "GOES TO"), all.stream().map(it -> List.of(methods(it), it.path(),
                        it.api() == null ? "" : it.api(), wants(it), goes(it))).toList(), 3);
            });
        }
    }

    /** A route named by its id, or by method and path as a list shows them. */
    static RouteView find(Common common, String idOrMethod, String path) {
        if (path == null) return common.admin().get(common.path("routes", idOrMethod), RouteView.class).value();
        return common.admin().list(common.path("routes"), RouteView.class, 100_000).stream()
                .filter(it -> it.path().equals(path) && methods(it).equalsIgnoreCase(idOrMethod)).findFirst()
                .orElseThrow(() -> new Failure(Failure.REFUSED, "There is no route %s %s. List them with: admit route list".formatted(idOrMethod, path)));
    }

    @Command(name = "show", description = "Show a route.", footer = {"", "Example: admit route show GET '/tides/**'"})
    static final class Show implements Runnable {
        @Mixin Common common;
        @Parameters(index = "0", paramLabel = "ROUTE|METHODS") String idOrMethod;
        @Parameters(index = "1", paramLabel = "PATH", arity = "0..1") String path;

        @Override public void run() {
            RouteView it = find(common, idOrMethod, path);
            common.say(it, () -> common.out().fields("Route", methods(it) + " " + it.path(), "Wants", wants(it), "API", it.api(), "Goes to", goes(it), "Pages", it.cors() ? "of browser clients may call it" : "", "Id", it.id(),
                    "Made", Output.when(it.createdAt(), common.now())));
        }
    }

    /** What a route checks and where it goes. */
    static final class FieldOptions {
        @Option(names = "--api", description = "The API whose tokens may pass.") String api;
        @Option(names = "--scope", description = "A scope it needs; may be said again.") List<String> scopes;
        @Option(names = "--any-of", description = "One of the scopes is enough.") boolean anyOf;
        @Option(names = "--any-scope", description = "Any token of the API passes. Said on purpose.") boolean anyScope;
        @Option(names = "--open", description = "Anyone passes, without a token. Said on purpose.") boolean open;
        @Option(names = "--upstream", paramLabel = "URL", description = "Where it forwards to, instead of the API's own upstream.") String upstream;
        @Option(names = "--answer", paramLabel = "BODY", description = "A standing answer instead of an upstream.") String answer;
        @Option(names = "--answer-status", paramLabel = "N", description = "Its status. Default: 200.") Integer answerStatus;
        @Option(names = "--answer-type", paramLabel = "TYPE", description = "Its media type. Default: plain text.") String answerType;

        @Option(names = "--cors", description = "Pages of browser clients may call it from their own origin.") boolean cors;

        RouteWanted wanted(String methods, String path) {
            List<String> named = methods.equalsIgnoreCase("ANY") ? List.of() : List.of(methods.split(","));
            return new RouteWanted(named, path, api, scopes, anyOf ? "any-of" : null, open ? true : null, anyScope ? true : null, upstream,
                    answer == null ? null : new StandingAnswer(answerStatus, answerType, answer), cors ? true : null);
        }
    }

    private static void tell(Common common, Admin.Answer<RouteRevised> answer, String how) {
        RouteRevised it = answer.value();
        common.say(answer.json(), () -> {
            common.out().notes(it.notes());
            common.out().done("The route %s %s is %s, live with revision %d.".formatted(methods(it.now()), it.now().path(), how, it.revision()),
                    how.equals("gone") ? "admit route list" : "admit call %s %s --as CLIENT".formatted(it.now().methods().isEmpty() ? "GET" : it.now().methods().getFirst(), it.now().path().replace("/**", "")));
        });
    }

    @Command(name = "add", description = "Add a route. It is live when the command returns.", footer = {"", "Example: admit route add GET '/tides/**' --api tides --scope tides.read"})
    static final class Add implements Runnable {
        @Mixin Common common;
        @Mixin FieldOptions fields;
        @Parameters(index = "0", paramLabel = "METHODS", description = "Such as GET or GET,POST; ANY for any.") String methods;
        @Parameters(index = "1", paramLabel = "PATH", description = "{name} stands for a segment, /** at the end for the rest.") String path;

        @Override public void run() {
            tell(common, common.admin().post(common.path("routes"), fields.wanted(methods, path), RouteRevised.class), "there");
        }
    }

    @Command(name = "change", description = "Put a route in the place of one that is there.", footer = {"", "Example: admit route change GET '/tides/**' --api tides --scope tides.read --scope tides.publish --any-of"})
    static final class Change implements Runnable {
        @Mixin Common common;
        @Mixin FieldOptions fields;
        @Parameters(index = "0", paramLabel = "METHODS") String methods;
        @Parameters(index = "1", paramLabel = "PATH") String path;
        @Option(names = "--new-methods", paramLabel = "METHODS", description = "Other methods than before.") String newMethods;
        @Option(names = "--new-path", paramLabel = "PATH", description = "Another path than before.") String newPath;

        @Override public void run() {
            RouteView old = find(common, methods, path);
            RouteWanted wanted = fields.wanted(newMethods == null ? methods : newMethods, newPath == null ? path : newPath);
            tell(common, common.admin().change("PUT", common.path("routes", old.id()), "\"" + old.version() + "\"", wanted, RouteRevised.class), "changed");
        }
    }

    @Command(name = "remove", description = "Remove a route.", footer = {"", "Example: admit route remove GET '/tides/**'"})
    static final class Remove implements Runnable {
        @Mixin Common common;
        @Parameters(index = "0", paramLabel = "ROUTE|METHODS") String idOrMethod;
        @Parameters(index = "1", paramLabel = "PATH", arity = "0..1") String path;

        @Override public void run() {
            RouteView old = find(common, idOrMethod, path);
            tell(common, common.admin().remove(common.path("routes", old.id()), RouteRevised.class).orElseThrow(), "gone");
        }
    }
}
