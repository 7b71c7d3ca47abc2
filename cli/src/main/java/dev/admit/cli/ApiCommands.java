package dev.admit.cli;

import dev.admit.contract.ApiSecretMade;
import dev.admit.contract.ApiView;
import dev.admit.contract.ApiWanted;
import dev.admit.contract.Changed;
import dev.admit.contract.ScopeView;
import dev.admit.contract.SecretWanted;
import java.util.List;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.JsonNode;

@Command(
        name = "api",
        description = "Protected resource servers: audience, upstream, scopes.",
        subcommands = {
            ApiCommands.ListAll.class,
            ApiCommands.Show.class,
            ApiCommands.Add.class,
            ApiCommands.Change.class,
            ApiCommands.Remove.class,
            ApiMinting.class,
            ApiChecking.class,
            ApiDocument.Import.class,
            ApiDocument.Print.class,
            ApiCommands.Secret.class
        })
final class ApiCommands {

    @Command(
            name = "list",
            description = "List the APIs of an issuer.",
            footer = {"", "Example: admit api list"})
    static final class ListAll implements Runnable {
        @Mixin
        Common common;

        @Override
        public void run() {
            List<ApiView> all = common.admin().list(common.path("apis"), ApiView.class, 10_000);
            common.say(all, () -> {
                if (all.isEmpty()) common.out().done("No API yet.", "admit api add NAME --upstream URL");
                else
                    common.out()
                            .table(
                                    List.of("API", "AUDIENCE", "UPSTREAM", "TITLE"),
                                    all.stream()
                                            .map(it -> List.of(
                                                    it.name(),
                                                    it.audience(),
                                                    it.upstream() == null ? "" : it.upstream(),
                                                    it.title()))
                                            .toList());
            });
        }
    }

    @Command(
            name = "show",
            description = "Show an API with its scopes.",
            footer = {"", "Example: admit api show tides"})
    static final class Show implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "API")
        String name;

        @Override
        public void run() {
            Admin.Answer<ApiView> answer = common.admin().get(common.path("apis", name), ApiView.class);
            ApiView it = answer.value();
            common.say(answer.json(), () -> {
                common.out()
                        .fields(
                                "API",
                                it.name(),
                                "Title",
                                it.title(),
                                "Audience",
                                it.audience(),
                                "OpenAPI document",
                                ApiDocument.summary(it.openapi()),
                                "Upstream",
                                it.upstream(),
                                "Default scopes",
                                it.allByDefault()
                                        ? "all that a client is approved for"
                                        : String.join(", ", it.defaultScopes()),
                                "Owners",
                                String.join(", ", it.owners()),
                                "Id",
                                it.id(),
                                "Secrets",
                                String.join(
                                        ", ",
                                        it.secrets().stream()
                                                .map(secret -> "%s (%s), ends %s"
                                                        .formatted(
                                                                secret.label(),
                                                                secret.id(),
                                                                Output.relative(secret.expiresAt(), common.now())))
                                                .toList()),
                                "Made",
                                Output.when(it.createdAt(), common.now()));
                List<ScopeView> scopes =
                        common.admin().list(common.path("apis", name, "scopes"), ScopeView.class, 1000);
                common.out().line("");
                if (scopes.isEmpty())
                    common.out()
                            .done(
                                    "It has no scope yet.",
                                    Http.command(
                                            "admit scope add %s %s.read --effect reads --reach everyone --for "
                                                    + "clients",
                                            name, name));
                else ScopeCommands.table(common.out(), scopes);
            });
        }
    }

    /** The fields that can be set. */
    static final class FieldOptions {
        @Option(names = "--title", description = "{ApiWanted.title}.")
        String title;

        @Option(names = "--audience", paramLabel = "URI", description = "{ApiWanted.audience}.")
        String audience;

        @Option(names = "--outside-domains", description = "{ApiWanted.outsideDomains}.")
        Boolean outsideDomains;

        @Option(
                names = "--all-by-default",
                arity = "1",
                paramLabel = "true|false",
                description = "{ApiWanted.allByDefault}.")
        Boolean allByDefault;

        @Option(names = "--upstream", paramLabel = "URL", description = "{ApiWanted.upstream}.")
        String upstream;
    }

    @Command(
            name = "add",
            description = "Register an API.",
            footer = {"", "Example: admit api add tides --title 'Tide heights' --upstream http://127.0.0.1:9481"})
    static final class Add implements Runnable {
        @Mixin
        Common common;

        @Mixin
        FieldOptions fields;

        @Parameters(paramLabel = "NAME")
        String name;

        @Option(names = "--preview", description = "Only say what the API would mean; nothing is saved.")
        boolean preview;

        @Override
        public void run() {
            ApiWanted wanted = new ApiWanted(
                    name,
                    fields.title,
                    fields.audience,
                    fields.upstream,
                    fields.outsideDomains,
                    null,
                    fields.allByDefault);
            if (preview) {
                common.preview("apis", wanted);
                return;
            }
            Admin.Answer<JsonNode> answer = common.admin().post(common.path("apis"), wanted, JsonNode.class);
            Changed<ApiView> made = common.admin().read(answer.json(), new TypeReference<>() {});
            common.say(answer.json(), () -> {
                common.out().notes(made.notes());
                common.out()
                        .done(
                                "The API %s is registered; its tokens carry the audience %s."
                                        .formatted(made.now().name(), made.now().audience()),
                                Http.command(
                                        "admit scope add %s %s.read --effect reads --reach everyone --for clients",
                                        made.now().name(), made.now().name()));
            });
        }
    }

    @Command(
            name = "change",
            description = "Change an API; what is not named stays.",
            footer = {"", "Example: admit api change tides --upstream http://127.0.0.1:9482"})
    static final class Change implements Runnable {
        @Mixin
        Common common;

        @Mixin
        FieldOptions fields;

        @Parameters(paramLabel = "API")
        String name;

        @Option(names = "--name", paramLabel = "NEW", description = "A new name.")
        String newName;

        @Option(
                names = "--default-scope",
                paramLabel = "SCOPE",
                description = "{ApiWanted.defaultScopes}; may be said again.")
        List<String> defaultScopes;

        @Option(
                names = "--confirm",
                paramLabel = "WORD",
                description = "The API's name, said again, when tokens in use would stop working.")
        String confirm;

        @Spec
        CommandSpec command;

        @Override
        public void run() {
            String path = common.path("apis", name);
            Admin.Answer<ApiView> old = common.admin().get(path, ApiView.class);
            Admin.Answer<JsonNode> answer = common.admin()
                    .change(
                            "PATCH",
                            path + Confirm.query(confirm),
                            old.etag().orElse("*"),
                            new ApiWanted(
                                    newName,
                                    fields.title,
                                    fields.audience,
                                    fields.upstream,
                                    fields.outsideDomains,
                                    Lists.of(command)
                                            .list(
                                                    "--default-scope",
                                                    defaultScopes,
                                                    old.value().defaultScopes()),
                                    fields.allByDefault),
                            JsonNode.class);
            Changed<ApiView> changed = common.admin().read(answer.json(), new TypeReference<>() {});
            common.say(answer.json(), () -> {
                common.out().notes(changed.notes());
                common.out()
                        .done(
                                "The API %s is changed; it is live."
                                        .formatted(changed.now().name()),
                                Http.command("admit api show %s", changed.now().name()));
            });
        }
    }

    @Command(
            name = "remove",
            description = "Remove an API with its scopes, routes and approvals.",
            footer = {"", "Example: admit api remove tides --confirm tides"})
    static final class Remove implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "API")
        String name;

        @Option(
                names = "--confirm",
                paramLabel = "WORD",
                description = "The API's name, said again, when routes or approvals need it.")
        String confirm;

        @Override
        public void run() {
            common.admin().remove(common.path("apis", name) + Confirm.query(confirm), JsonNode.class);
            common.say(Map.of("removed", name), () -> common.out()
                    .done(
                            "The API %s is gone; tokens for it are refused from now on.".formatted(name),
                            "admit api list"));
        }
    }

    @Command(
            name = "secret",
            description = "Secrets of an API, with which it asks about tokens at the introspection endpoint.",
            subcommands = {SecretAdd.class, SecretRemove.class})
    static final class Secret {}

    @Command(
            name = "add",
            description = "Make a secret for an API.",
            footer = {"", "Example: admit api secret add tides"})
    static final class SecretAdd implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "API")
        String name;

        @Option(names = "--label", description = "Its label.")
        String label;

        @Option(names = "--lifetime", paramLabel = "TIME", description = "Such as 90d. Default: a year.")
        String lifetime;

        @Override
        public void run() {
            Admin.Answer<ApiSecretMade> answer = common.admin()
                    .post(
                            common.path("apis", name, "secrets"),
                            new SecretWanted(label, lifetime, null),
                            ApiSecretMade.class);
            common.say(answer.json(), () -> {
                ShownSecret.tell(common.out(), answer.value().secret());
                common.out()
                        .done(
                                "The API %s can ask about its tokens.".formatted(name),
                                Http.command("admit api show %s", name));
            });
        }
    }

    @Command(
            name = "remove",
            description = "Remove a secret of an API.",
            footer = {"", "Example: admit api secret remove tides sec_…"})
    static final class SecretRemove implements Runnable {
        @Mixin
        Common common;

        @Parameters(index = "0", paramLabel = "API")
        String name;

        @Parameters(index = "1", paramLabel = "SECRET")
        String secret;

        @Override
        public void run() {
            common.admin().remove(common.path("apis", name, "secrets", secret), JsonNode.class);
            common.say(Map.of("removed", secret), () -> common.out()
                    .done("The secret no longer works.", Http.command("admit api show %s", name)));
        }
    }
}
