package dev.admit.cli;

import dev.admit.contract.FixedResponse;
import dev.admit.contract.PlaceholderView;
import dev.admit.contract.RouteLimits;
import dev.admit.contract.RouteRevised;
import dev.admit.contract.RouteTimeouts;
import dev.admit.contract.RouteTransform;
import dev.admit.contract.RouteView;
import dev.admit.contract.RouteWanted;
import dev.admit.contract.RouteWho;
import dev.admit.contract.TriedView;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

@Command(
        name = "route",
        description = "What the gateway checks, and where it forwards.",
        subcommands = {
            RouteCommands.ListAll.class,
            RouteCommands.Show.class,
            RouteCommands.Try.class,
            ApiDocument.CheckAgainst.class,
            RouteCommands.ShowPlaceholders.class,
            RouteCommands.Add.class,
            RouteCommands.Change.class,
            RouteCommands.Remove.class
        })
final class RouteCommands {

    private static String methods(RouteView it) {
        return it.methods().isEmpty() ? "any" : String.join(",", it.methods());
    }

    /** As decisions name it: a path alone for any method. */
    private static String label(RouteView it) {
        return it.methods().isEmpty() ? it.path() : methods(it) + " " + it.path();
    }

    private static String wants(RouteView it) {
        if (it.open()) return "open to anyone";
        return it.anyScope() ? "any token" : String.join("any-of".equals(it.mode()) ? " or " : " and ", it.scopes());
    }

    private static String goes(RouteView it) {
        return it.fixedResponse() != null
                ? "responds " + it.fixedResponse().status()
                : it.upstream() == null ? "its API" : it.upstream();
    }

    static void table(Output out, List<RouteView> routes) {
        out.table(
                List.of("METHODS", "PATH", "API", "WANTS", "GOES TO"),
                routes.stream()
                        .map(it ->
                                List.of(methods(it), it.path(), it.api() == null ? "" : it.api(), wants(it), goes(it)))
                        .toList(),
                3);
    }

    @Command(
            name = "list",
            description = "List the routes of an issuer.",
            footer = {"", "Example: admit route list"})
    static final class ListAll implements Runnable {
        @Mixin
        Common common;

        @Override
        public void run() {
            List<RouteView> all = common.admin().list(common.path("routes"), RouteView.class, 10_000);
            common.say(all, () -> {
                if (all.isEmpty())
                    common.out().done("No route yet.", "admit route add GET /PATH/** --api API --scope SCOPE");
                else table(common.out(), all);
            });
        }
    }

    /** A route named by its id, by its path when it takes any method, or by methods and path. */
    static RouteView find(Common common, String first, String second) {
        boolean pathAlone = second == null && first.contains("/");
        String idOrMethod = pathAlone ? "any" : first;
        String path = pathAlone ? first : second;
        if (path == null)
            return common.admin()
                    .get(common.path("routes", idOrMethod), RouteView.class)
                    .value();
        return common.admin().list(common.path("routes"), RouteView.class, 100_000).stream()
                .filter(it -> it.path().equals(path) && methods(it).equalsIgnoreCase(idOrMethod))
                .findFirst()
                .orElseThrow(() -> new Failure(
                        Failure.REFUSED,
                        "There is no route %s. List them with: admit route list"
                                .formatted(pathAlone ? path : idOrMethod + " " + path)));
    }

    @Command(
            name = "show",
            description = "Show a route.",
            footer = {"", "Example: admit route show GET '/tides/**'"})
    static final class Show implements Runnable {
        @Mixin
        Common common;

        @Parameters(index = "0", paramLabel = "ROUTE|METHODS|PATH")
        String idOrMethod;

        @Parameters(index = "1", paramLabel = "PATH", arity = "0..1")
        String path;

        @Override
        public void run() {
            RouteView it = find(common, idOrMethod, path);
            common.say(it, () -> {
                common.out()
                        .fields(
                                "Route",
                                label(it),
                                "API",
                                it.api(),
                                "Id",
                                it.id(),
                                "Made",
                                Output.when(it.createdAt(), common.now()));
                it.sentences().forEach(sentence -> common.out().line(Output.plain(sentence)));
            });
        }
    }

    @Command(
            name = "placeholders",
            description =
                    "Show what the texts of a route may be filled in with, as {{NAME}}, each with what it held in "
                            + "the last request.",
            footer = {"", "Example: admit route placeholders GET '/tides/**'"})
    static final class ShowPlaceholders implements Runnable {
        @Mixin
        Common common;

        @Parameters(index = "0", paramLabel = "ROUTE|METHODS|PATH")
        String idOrMethod;

        @Parameters(index = "1", paramLabel = "PATH", arity = "0..1")
        String path;

        @Override
        public void run() {
            RouteView it = find(common, idOrMethod, path);
            List<PlaceholderView> all =
                    common.admin().list(common.path("routes", it.id(), "placeholders"), PlaceholderView.class, 100);
            common.say(all, () -> common.out()
                    .table(
                            List.of("NAME", "STANDS FOR", "IN THE LAST REQUEST"),
                            all.stream()
                                    .map(one -> List.of(
                                            "{{" + one.name() + "}}",
                                            one.means(),
                                            one.example() == null ? "" : one.example()))
                                    .toList(),
                            1));
        }
    }

    @Command(
            name = "try",
            description = "Say which route answers a method and path, and why. Nothing is sent.",
            footer = {"", "Example: admit route try GET /tides/north-quay"})
    static final class Try implements Runnable {
        @Mixin
        Common common;

        @Parameters(index = "0", paramLabel = "METHOD")
        String method;

        @Parameters(index = "1", paramLabel = "PATH")
        String path;

        @Option(names = "--host", description = "That the request would be for, where routes name hosts.")
        String host;

        @Override
        public void run() {
            Admin.Answer<TriedView> answer = common.admin()
                    .get(
                            common.path("table") + Http.query("method", method, "path", path, "host", host),
                            TriedView.class);
            common.say(answer.json(), () -> answer.value().said().forEach(common.out()::line));
        }
    }

    /** What a route checks and where it goes. */
    static final class FieldOptions {
        @Option(names = "--api", description = "{RouteWanted.api}.")
        String api;

        @Option(names = "--scope", description = "A scope it needs; may be said again.")
        List<String> scopes;

        @Option(names = "--any-of", description = "One of the scopes is enough.")
        boolean anyOf;

        @Option(names = "--any-scope", description = "Any token of the API passes. Said on purpose.")
        boolean anyScope;

        @Option(names = "--open", description = "Anyone passes, without a token. Said on purpose.")
        boolean open;

        @Option(
                names = "--upstream",
                paramLabel = "URL",
                description = "Where it forwards to, instead of the API's own upstream.")
        String upstream;

        @Option(
                names = "--fixed-response",
                paramLabel = "BODY",
                description = "A fixed response instead of an upstream.")
        String fixedResponse;

        @Option(names = "--fixed-status", paramLabel = "N", description = "Its status. Default: 200.")
        Integer fixedStatus;

        @Option(names = "--fixed-type", paramLabel = "TYPE", description = "Its media type. Default: plain text.")
        String fixedType;

        @Option(names = "--why", description = "Why; kept with the revision.")
        String why;

        @Option(names = "--cors", description = "Pages of browser clients may call it from their own origin.")
        boolean cors;

        @Option(
                names = "--token-issuer",
                paramLabel = "NAME",
                description = "Whose tokens pass: the issuer's own name, or a trusted one's; may be said again.")
        List<String> issuers;

        @Option(names = "--for", paramLabel = "WORD", description = "people or clients: whom the token must be for.")
        String forWhom;

        @Option(names = "--client", paramLabel = "CLIENT", description = "Only this client passes; may be said again.")
        List<String> clients;

        @Option(
                names = "--role",
                paramLabel = "ROLE",
                description = "Only people with this role in their token pass; may be said again.")
        List<String> roles;

        @Option(names = "--max-age", paramLabel = "TIME", description = "{RouteWho.maxAge}.")
        String maxAge;

        @Option(names = "--acr", paramLabel = "ACR", description = "{RouteWho.acr}.")
        String acr;

        @Option(
                names = "--sign-in",
                paramLabel = "CLIENT",
                description = "Browsers that come without a token sign in as this client.")
        String signIn;

        @Option(
                names = "--subscription",
                description = "Only clients pass that are subscribed to a plan that covers the request.")
        boolean subscription;

        @Option(names = "--condition", paramLabel = "CEL", description = "{RouteWho.condition}.")
        String condition;

        @Option(
                names = "--upstream-path",
                paramLabel = "PATH",
                description = "What the path becomes, with the names of the route's own: /v2/{gauge}/**.")
        String upstreamPath;

        @Option(
                names = "--request-header",
                paramLabel = "NAME=TEXT",
                description = "Set on the request; may be said again. The text may hold {{decision}}, {{route}}, "
                        + "{{method}}, {{path.NAME}} and {{claims.NAME}}: admit route placeholders shows them.")
        Map<String, String> requestHeaders;

        @Option(
                names = "--rename-request-header",
                paramLabel = "NAME=NEW",
                description = "Passed on under another name; may be said again.")
        Map<String, String> renamed;

        @Option(names = "--drop-request-header", paramLabel = "NAME", description = "Not passed on; may be said again.")
        List<String> dropRequest;

        @Option(
                names = "--response-header",
                paramLabel = "NAME=TEXT",
                description = "Set on the response; may be said again.")
        Map<String, String> responseHeaders;

        @Option(
                names = "--drop-response-header",
                paramLabel = "NAME",
                description = "Removed from the response; may be said again.")
        List<String> dropResponse;

        @Option(
                names = "--connect-timeout",
                paramLabel = "TIME",
                description = "How long the gateway waits for a connection to the upstream, such as 5s.")
        String connectTimeout;

        @Option(
                names = "--idle-timeout",
                paramLabel = "TIME",
                description = "How long the upstream may send nothing, such as 30s.")
        String idleTimeout;

        @Option(
                names = "--total-timeout",
                paramLabel = "TIME",
                description = "How long the whole exchange may take, such as 2m.")
        String totalTimeout;

        @Option(names = "--credential", paramLabel = "NAME", description = "{RouteTransform.credential}.")
        String credential;

        @Option(
                names = "--refusal",
                paramLabel = "WHEN=TEXT",
                description = "What a refusal says, by its reason, its status, or any; may be said again. The text may "
                        + "hold {{sentence}}, {{expected}}, {{received}}, {{fix}}, {{status}}, {{reason}}, "
                        + "{{needed}}, {{decision}} and {{route}}.")
        Map<String, String> refusals;

        @Option(names = "--refusal-type", paramLabel = "TYPE", description = "Their media type. Default: plain text.")
        String refusalType;

        @Option(names = "--proof", paramLabel = "WORD", description = "{RouteTransform.proof}.")
        String proof;

        @Option(names = "--rate", paramLabel = "TEXT", description = "{RouteLimits.rates}; may be said again.")
        List<String> rates;

        @Option(names = "--quota", paramLabel = "TEXT", description = "{RouteLimits.quotas}; may be said again.")
        List<String> quotas;

        @Option(
                names = "--header-bytes",
                paramLabel = "BYTES",
                description = "The most that a request's headers may have together.")
        Integer headerBytes;

        @Option(names = "--concurrent", paramLabel = "N", description = "{RouteLimits.concurrent}.")
        Integer concurrent;

        @Option(names = "--body", paramLabel = "BYTES", description = "The largest request body.")
        Long body;

        private @Nullable RouteWho who() {
            boolean nothing = issuers == null
                    && forWhom == null
                    && clients == null
                    && roles == null
                    && maxAge == null
                    && acr == null
                    && condition == null
                    && signIn == null
                    && !subscription;
            return nothing
                    ? null
                    : new RouteWho(
                            issuers,
                            forWhom,
                            clients,
                            roles,
                            maxAge,
                            acr,
                            condition,
                            signIn,
                            subscription ? true : null);
        }

        private @Nullable RouteTransform transform() {
            boolean nothing = upstreamPath == null
                    && requestHeaders == null
                    && renamed == null
                    && dropRequest == null
                    && responseHeaders == null
                    && dropResponse == null
                    && credential == null
                    && refusals == null
                    && proof == null;
            return nothing
                    ? null
                    : new RouteTransform(
                            upstreamPath,
                            requestHeaders,
                            renamed,
                            dropRequest,
                            responseHeaders,
                            dropResponse,
                            credential,
                            texts(),
                            proof);
        }

        private @Nullable RouteTimeouts timeouts() {
            boolean nothing = connectTimeout == null && idleTimeout == null && totalTimeout == null;
            return nothing ? null : new RouteTimeouts(connectTimeout, idleTimeout, totalTimeout);
        }

        private @Nullable Map<String, RouteTransform.OwnText> texts() {
            if (refusals == null) return null;
            Map<String, RouteTransform.OwnText> texts = new LinkedHashMap<>();
            refusals.forEach((when, text) -> texts.put(when, new RouteTransform.OwnText(refusalType, text)));
            return texts;
        }

        private @Nullable RouteLimits limits() {
            boolean nothing =
                    rates == null && quotas == null && concurrent == null && body == null && headerBytes == null;
            return nothing ? null : new RouteLimits(rates, quotas, concurrent, body, headerBytes);
        }

        void refuseContradictions() {
            Contradiction.refuse("--open", open, "--api", api != null);
            Contradiction.refuse("--open", open, "--scope", scopes != null);
            Contradiction.refuse("--open", open, "--any-scope", anyScope);
            Contradiction.refuse("--open", open, "--any-of", anyOf);
            Contradiction.refuse("--open", open, "--subscription", subscription);
            Contradiction.refuse("--scope", scopes != null, "--any-scope", anyScope);
            Contradiction.refuse("--fixed-response", fixedResponse != null, "--upstream", upstream != null);
            Contradiction.refuse("--fixed-response", fixedResponse != null, "--credential", credential != null);
            Contradiction.refuse("--fixed-response", fixedResponse != null, "--upstream-path", upstreamPath != null);
        }

        RouteWanted wanted(@Nullable String methods, String path) {
            refuseContradictions();
            Contradiction.refuseAlone("--fixed-status", fixedStatus != null, "--fixed-response", fixedResponse != null);
            Contradiction.refuseAlone("--fixed-type", fixedType != null, "--fixed-response", fixedResponse != null);
            Contradiction.refuseAlone("--refusal-type", refusalType != null, "--refusal", refusals != null);
            List<String> named = methods == null ? List.of() : List.of(methods.split(","));
            return new RouteWanted(
                    named,
                    path,
                    api,
                    scopes,
                    anyOf ? "any-of" : null,
                    open ? true : null,
                    anyScope ? true : null,
                    upstream,
                    fixedResponse == null ? null : new FixedResponse(fixedStatus, fixedType, fixedResponse),
                    cors ? true : null,
                    who(),
                    transform(),
                    timeouts(),
                    limits());
        }
    }

    /** A path that the pattern matches. */
    private static String example(String pattern) {
        String path =
                pattern.substring(pattern.indexOf('/')).replace("/**", "/x").replaceAll("\\{([^}]+)}", "$1");
        return path.isEmpty() ? "/" : path;
    }

    private static void tell(Common common, Admin.Answer<RouteRevised> answer, String how) {
        RouteRevised it = answer.value();
        common.say(answer.json(), () -> {
            common.out().notes(it.notes());
            common.out()
                    .done(
                            "The route %s is %s, live with revision %d.".formatted(label(it.now()), how, it.revision()),
                            how.equals("gone")
                                    ? "admit route list"
                                    : Http.command(
                                            "admit call %s %s --as CLIENT",
                                            it.now().methods().isEmpty()
                                                    ? "GET"
                                                    : it.now().methods().getFirst(),
                                            example(it.now().path())));
        });
    }

    @Command(
            name = "add",
            description = "Add a route. It is live when the command returns.",
            footer = {"", "Example: admit route add GET '/tides/**' --api tides --scope tides.read"})
    static final class Add implements Runnable {
        @Mixin
        Common common;

        @Mixin
        FieldOptions fields;

        @Parameters(
                index = "0",
                paramLabel = "METHODS|PATH",
                description = "Such as GET or GET,POST; leave METHODS out for any method.")
        String first;

        @Parameters(
                index = "1",
                paramLabel = "PATH",
                arity = "0..1",
                description = "{name} stands for a segment, /** at the end for the rest. A host may stand before it: "
                        + "tides.saltmarsh.example/tides/**.")
        String second;

        @Option(names = "--preview", description = "Only say what the route would mean; nothing is saved.")
        boolean preview;

        @Override
        public void run() {
            RouteWanted wanted = second == null ? fields.wanted(null, first) : fields.wanted(first, second);
            if (preview) {
                common.preview("routes", wanted);
                return;
            }
            tell(
                    common,
                    common.admin()
                            .post(common.path("routes") + Http.query("why", fields.why), wanted, RouteRevised.class),
                    "there");
        }
    }

    @Command(
            name = "change",
            description = "Change a route; what is not named stays. '' takes a text away. A change that lets more pass "
                    + "wants a word of confirmation.",
            footer = {
                "",
                "Example: admit route change GET '/tides/**' --add-scope tides.publish --any-of --confirm '/tides/**'"
            })
    static final class Change implements Runnable {
        @Mixin
        Common common;

        @Mixin
        FieldOptions fields;

        @Parameters(index = "0", paramLabel = "ROUTE|METHODS|PATH")
        String methods;

        @Parameters(index = "1", paramLabel = "PATH", arity = "0..1")
        String path;

        @Option(names = "--all-of", description = "Each of the scopes is needed.")
        boolean allOf;

        @Option(
                names = "--no-limit",
                paramLabel = "WORD",
                description = "Remove a limit: concurrent, body or header-bytes; may be said again.",
                split = ",")
        List<String> noLimits;

        @Option(names = "--no-cors", description = "Pages of browser clients may not call it.")
        boolean noCors;

        @Option(names = "--no-subscription", description = "Clients need no subscription any more.")
        boolean noSubscription;

        @Option(
                names = "--confirm",
                paramLabel = "PATH",
                description = "The route's path, said again, when the change lets more pass.")
        String confirm;

        @Option(
                names = "--new-methods",
                paramLabel = "METHODS",
                description = "Other methods than before; '' for any method.")
        String newMethods;

        @Option(names = "--new-path", paramLabel = "PATH", description = "Another path than before.")
        String newPath;

        @Spec
        CommandSpec command;

        @Override
        public void run() {
            RouteView old = find(common, methods, path);
            Map<String, Object> patch = new RoutePatch(
                            fields, old, common.issuer(), noLimits == null ? List.of() : noLimits, Lists.of(command))
                    .members(new RoutePatch.Leaving(allOf, noCors, noSubscription), newMethods, newPath);
            tell(
                    common,
                    common.admin()
                            .change(
                                    "PATCH",
                                    common.path("routes", old.id()) + Http.query("confirm", confirm, "why", fields.why),
                                    "\"" + old.version() + "\"",
                                    patch,
                                    RouteRevised.class),
                    "changed");
        }
    }

    @Command(
            name = "remove",
            description = "Remove a route.",
            footer = {"", "Example: admit route remove GET '/tides/**'"})
    static final class Remove implements Runnable {
        @Mixin
        Common common;

        @Parameters(index = "0", paramLabel = "ROUTE|METHODS|PATH")
        String idOrMethod;

        @Parameters(index = "1", paramLabel = "PATH", arity = "0..1")
        String path;

        @Option(names = "--why", description = "Why; kept with the revision.")
        String why;

        @Override
        public void run() {
            RouteView old = find(common, idOrMethod, path);
            tell(
                    common,
                    common.admin()
                            .remove(common.path("routes", old.id()) + Http.query("why", why), RouteRevised.class)
                            .orElseThrow(),
                    "gone");
        }
    }
}
