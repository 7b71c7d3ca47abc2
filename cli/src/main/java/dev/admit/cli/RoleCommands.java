package dev.admit.cli;

import dev.admit.contract.ApiView;
import dev.admit.contract.Changed;
import dev.admit.contract.RoleView;
import dev.admit.contract.RoleWanted;
import java.util.ArrayList;
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
        name = "role",
        description = "Named sets of an API's scopes; a client requests all of them by the name.",
        subcommands = {
            RoleCommands.ListAll.class,
            RoleCommands.Add.class,
            RoleCommands.Change.class,
            RoleCommands.Remove.class
        })
final class RoleCommands {

    @Command(
            name = "list",
            description = "List the roles of an API, or of all.",
            footer = {"", "Example: admit role list berths"})
    static final class ListAll implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "API", arity = "0..1")
        String api;

        @Override
        public void run() {
            List<RoleView> all = new ArrayList<>();
            List<String> apis = api != null
                    ? List.of(api)
                    : common.admin().list(common.path("apis"), ApiView.class, 1000).stream()
                            .map(ApiView::name)
                            .toList();
            for (String one : apis)
                all.addAll(common.admin().list(common.path("apis", one, "roles"), RoleView.class, 1000));
            common.say(all, () -> {
                if (all.isEmpty()) common.out().done("No role here.", "admit role add API NAME --scope SCOPE");
                else
                    common.out()
                            .table(
                                    List.of("ROLE", "API", "TITLE", "SCOPES"),
                                    all.stream()
                                            .map(it -> List.of(
                                                    it.name(), it.api(), it.title(), String.join(" ", it.scopes())))
                                            .toList());
            });
        }
    }

    @Command(
            name = "add",
            description = "Group scopes of an API under a name.",
            footer = {"", "Example: admit role add berths harbour-master --scope berths.read --scope berths.assign"})
    static final class Add implements Runnable {
        @Mixin
        Common common;

        @Parameters(index = "0", paramLabel = "API")
        String api;

        @Parameters(index = "1", paramLabel = "NAME")
        String name;

        @Option(names = "--title", description = "{RoleWanted.title}.")
        String title;

        @Option(names = "--scope", paramLabel = "SCOPE", description = "May be said again.")
        List<String> scopes = List.of();

        @Option(
                names = "--second-factor",
                arity = "1",
                paramLabel = "true|false",
                description = "{RoleWanted.secondFactor}.")
        Boolean secondFactor;

        @Override
        public void run() {
            Admin.Answer<JsonNode> answer = common.admin()
                    .post(
                            common.path("apis", api, "roles"),
                            new RoleWanted(name, title, scopes, secondFactor),
                            JsonNode.class);
            common.say(answer.json(), () -> common.out()
                    .done(
                            "The role %s stands for %s.".formatted(name, String.join(" ", scopes)),
                            Http.command("admit approval request CLIENT %s", name)));
        }
    }

    @Command(
            name = "change",
            description = "Change a role; what clients got by it stays; people lose what it no longer has.",
            footer = {"", "Example: admit role change berths harbour-master --scope berths.read"})
    static final class Change implements Runnable {
        @Mixin
        Common common;

        @Parameters(index = "0", paramLabel = "API")
        String api;

        @Parameters(index = "1", paramLabel = "ROLE")
        String name;

        @Option(names = "--title", description = "{RoleWanted.title}.")
        String title;

        @Option(names = "--scope", paramLabel = "SCOPE", description = "All of them, said one by one.")
        List<String> scopes;

        @Option(
                names = "--second-factor",
                arity = "1",
                paramLabel = "true|false",
                description = "{RoleWanted.secondFactor}.")
        Boolean secondFactor;

        @Spec
        CommandSpec command;

        @Override
        public void run() {
            String path = common.path("apis", api, "roles", name);
            Admin.Answer<RoleView> old = common.admin().get(path, RoleView.class);
            List<String> wanted =
                    Lists.of(command).list("--scope", scopes, old.value().scopes());
            Admin.Answer<JsonNode> answer = common.admin()
                    .change(
                            "PATCH",
                            path,
                            old.etag().orElse("*"),
                            new RoleWanted(null, title, wanted, secondFactor),
                            JsonNode.class);
            Changed<RoleView> changed = common.admin().read(answer.json(), new TypeReference<>() {});
            if (!common.json) common.out().notes(changed.notes());
            common.say(answer.json(), () -> common.out()
                    .done(
                            "The role %s stands for %s."
                                    .formatted(
                                            name, String.join(" ", changed.now().scopes())),
                            Http.command("admit role list %s", api)));
        }
    }

    @Command(
            name = "remove",
            description = "Remove a role; what clients got by it stays.",
            footer = {"", "Example: admit role remove berths harbour-master"})
    static final class Remove implements Runnable {
        @Mixin
        Common common;

        @Parameters(index = "0", paramLabel = "API")
        String api;

        @Parameters(index = "1", paramLabel = "ROLE")
        String name;

        @Override
        public void run() {
            common.admin().remove(common.path("apis", api, "roles", name), JsonNode.class);
            common.say(Map.of("removed", name), () -> common.out()
                    .done(
                            "The role %s is gone; its scopes stay.".formatted(name),
                            Http.command("admit role list %s", api)));
        }
    }
}
