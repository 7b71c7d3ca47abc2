package dev.admit.cli;

import dev.admit.contract.Changed;
import dev.admit.contract.StepsView;
import dev.admit.contract.UpstreamCredentialView;
import dev.admit.contract.UpstreamCredentialWanted;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.JsonNode;

@Command(
        name = "upstream-credential",
        description = "What the gateway itself presents to upstreams.",
        subcommands = {
            UpstreamCredentialCommands.ListAll.class,
            UpstreamCredentialCommands.Show.class,
            UpstreamCredentialCommands.Add.class,
            UpstreamCredentialCommands.Change.class,
            UpstreamCredentialCommands.Check.class,
            UpstreamCredentialCommands.Remove.class
        })
final class UpstreamCredentialCommands {
    private static final String THINGS = "upstream-credentials";

    private static String form(UpstreamCredentialView it) {
        return switch (it.form()) {
            case "header" -> "the header " + it.header();
            case "login" -> "a login as " + it.user();
            default -> "a token, as " + it.clientId();
        };
    }

    @Command(
            name = "list",
            description = "List what the gateway presents to upstreams.",
            footer = {"", "Example: admit upstream-credential list"})
    static final class ListAll implements Runnable {
        @Mixin
        Common common;

        @Override
        public void run() {
            List<UpstreamCredentialView> all =
                    common.admin().list(common.path(THINGS), UpstreamCredentialView.class, 1000);
            common.say(all, () -> {
                if (all.isEmpty())
                    common.out()
                            .done(
                                    "The gateway presents nothing of its own to any upstream.",
                                    "admit upstream-credential add NAME --upstream URL --header NAME");
                else
                    common.out()
                            .table(
                                    List.of("NAME", "PRESENTS", "TO", "ROUTES"),
                                    all.stream()
                                            .map(it -> List.of(
                                                    it.name(),
                                                    form(it),
                                                    it.upstream(),
                                                    it.routes().isEmpty()
                                                            ? "none yet"
                                                            : String.join(", ", it.routes())))
                                            .toList());
            });
        }
    }

    @Command(
            name = "show",
            description = "Show an upstream credential; its secret is shown to nobody.",
            footer = {"", "Example: admit upstream-credential show coastguard-warnings"})
    static final class Show implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "NAME")
        String name;

        @Override
        public void run() {
            UpstreamCredentialView it = common.admin()
                    .get(common.path(THINGS, name), UpstreamCredentialView.class)
                    .value();
            common.say(it, () -> common.out()
                    .fields(
                            "Name",
                            it.name(),
                            "Presents",
                            form(it),
                            "To",
                            it.upstream() + " and what lies below it, and nowhere else",
                            "Issuer",
                            it.issuer(),
                            "Token endpoint",
                            it.tokenEndpoint(),
                            "Asks with",
                            it.auth() == null
                                    ? null
                                    : it.auth().equals("body")
                                            ? "id and secret in the body"
                                            : "id and secret in the header",
                            "Scope",
                            it.scope(),
                            "And",
                            it.parameters() == null
                                    ? null
                                    : String.join(
                                            ", ",
                                            it.parameters().entrySet().stream()
                                                    .map(Object::toString)
                                                    .toList()),
                            "Routes",
                            it.routes().isEmpty() ? "none yet" : String.join(", ", it.routes()),
                            "Id",
                            it.id()));
        }
    }

    /** What is known of one. The secret is read without echo, or from standard input. */
    static final class Members {
        @Option(names = "--upstream", paramLabel = "URL", description = "{UpstreamCredentialWanted.upstream}.")
        String upstream;

        @Option(names = "--header", paramLabel = "NAME", description = "It is the value of this header.")
        String header;

        @Option(names = "--user", paramLabel = "NAME", description = "It is the password of this login.")
        String user;

        @Option(
                names = "--client-id",
                paramLabel = "ID",
                description = "It is this client's secret; a token is fetched with it, by client credentials.")
        String clientId;

        @Option(
                names = "--issuer-url",
                paramLabel = "URL",
                description = "The issuer whose client it is; its metadata names the token endpoint.")
        String issuer;

        @Option(names = "--token-endpoint", paramLabel = "URL", description = "The token endpoint by hand, instead.")
        String tokenEndpoint;

        @Option(names = "--auth", paramLabel = "WORD", description = "{UpstreamCredentialWanted.auth}.")
        String auth;

        @Option(names = "--scope", description = "{UpstreamCredentialWanted.scope}.")
        String scope;

        @Option(
                names = "--parameter",
                paramLabel = "NAME=VALUE",
                description = "{UpstreamCredentialWanted.parameters}; may be said again.")
        Map<String, String> parameters;

        UpstreamCredentialWanted wanted(@Nullable String name, @Nullable String secret) {
            return new UpstreamCredentialWanted(
                    name, upstream, header, user, clientId, secret, issuer, tokenEndpoint, auth, scope, parameters);
        }
    }

    private static void tell(Common common, JsonNode json, String done) {
        Changed<UpstreamCredentialView> changed = common.admin().read(json, new TypeReference<>() {});
        common.say(json, () -> {
            common.out().notes(changed.notes());
            common.out()
                    .done(
                            done.formatted(changed.now().name()),
                            Http.command(
                                    "admit upstream-credential check %s",
                                    changed.now().name()));
        });
    }

    @Command(
            name = "add",
            description =
                    "Add an upstream credential. The command asks for its secret, or reads it from standard input.",
            footer = {
                "",
                "Example: admit upstream-credential add coastguard-warnings --upstream "
                        + "https://warnings.coastguard.example --client-id harbour-office --issuer-url "
                        + "https://coastguard.example < secret.txt"
            })
    static final class Add implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "NAME")
        String name;

        @Mixin
        Members members;

        @Override
        public void run() {
            String secret = common.readSecret("Secret of " + name);
            tell(
                    common,
                    common.admin()
                            .post(common.path(THINGS), members.wanted(name, secret), JsonNode.class)
                            .json(),
                    "The credential %s is sealed; no route presents it yet.");
        }
    }

    @Command(
            name = "change",
            description = "Change an upstream credential; what is not named stays.",
            footer = {"", "Example: admit upstream-credential change coastguard-warnings --new-secret < secret.txt"})
    static final class Change implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "NAME")
        String name;

        @Mixin
        Members members;

        @Option(names = "--new-secret", description = "Ask for another secret, or read it from standard input.")
        boolean newSecret;

        @Spec
        CommandSpec command;

        @Override
        public void run() {
            String secret = newSecret ? common.readSecret("Secret of " + name) : null;
            Admin.Answer<UpstreamCredentialView> old =
                    common.admin().get(common.path(THINGS, name), UpstreamCredentialView.class);
            Map<String, Object> patch = Http.JSON.convertValue(members.wanted(null, secret), new TypeReference<>() {});
            Map<String, Object> parameters = Lists.of(command)
                    .pairs("--parameter", members.parameters, old.value().parameters());
            if (parameters != null) patch.put("parameters", parameters);
            tell(
                    common,
                    common.admin()
                            .change(
                                    "PATCH",
                                    common.path(THINGS, name),
                                    old.etag().orElse("*"),
                                    patch,
                                    JsonNode.class)
                            .json(),
                    "The credential %s is changed, at every route.");
        }
    }

    @Command(
            name = "check",
            description = "Present an upstream credential to its upstream now, step by step.",
            footer = {"", "Example: admit upstream-credential check coastguard-warnings --path /warnings"})
    static final class Check implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "NAME")
        String name;

        @Option(names = "--path", description = "The path below the upstream that is called, with GET.")
        String path;

        @Override
        public void run() {
            Admin.Answer<StepsView> answer = common.admin()
                    .post(common.path(THINGS, name, "check") + Http.query("path", path), Map.of(), StepsView.class);
            common.say(answer.json(), () -> common.out().steps(answer.value()));
            if (!answer.value().good()) throw new Failure(Failure.REFUSED, "The last step says what is in the way.");
        }
    }

    @Command(
            name = "remove",
            description = "Remove an upstream credential. No route may still present it.",
            footer = {"", "Example: admit upstream-credential remove coastguard-warnings"})
    static final class Remove implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "NAME")
        String name;

        @Override
        public void run() {
            common.admin().remove(common.path(THINGS, name), JsonNode.class);
            common.say(Map.of("removed", name), () -> common.out()
                    .done(
                            "The credential %s and its secret are gone.".formatted(name),
                            "admit upstream-credential list"));
        }
    }
}
