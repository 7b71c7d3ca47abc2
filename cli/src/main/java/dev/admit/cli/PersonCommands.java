package dev.admit.cli;

import dev.admit.contract.AdminRoleChangeView;
import dev.admit.contract.Changed;
import dev.admit.contract.PersonView;
import dev.admit.contract.PersonWanted;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
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
        name = "person",
        description = "People who sign in, with their roles.",
        subcommands = {
            PersonCommands.ListAll.class,
            PersonCommands.Show.class,
            PersonCommands.Add.class,
            PersonCommands.Change.class,
            PersonCommands.On.class,
            PersonCommands.Off.class,
            PersonCommands.SignOutAll.class,
            PersonCommands.Reset.class,
            PersonCommands.Remove.class,
            PersonCommands.AdminRoles.class
        })
final class PersonCommands {

    @Command(
            name = "list",
            description = "List the people of an issuer.",
            footer = {"", "Example: admit person list --search wren"})
    static final class ListAll implements Runnable {
        @Mixin
        Common common;

        @Option(
                names = "--search",
                paramLabel = "TEXT",
                description = "Only those with this in address, name or another field.")
        String search;

        @Option(names = "--role", paramLabel = "ROLE", description = "Only those who have it.")
        String role;

        @Option(names = "--limit", paramLabel = "N", description = "At most so many lines. Default: ${DEFAULT-VALUE}.")
        int most = 200;

        @Override
        public void run() {
            List<PersonView> all = common.admin()
                    .list(common.path("people") + Http.query("search", search, "role", role), PersonView.class, most);
            common.say(all, () -> {
                if (all.isEmpty()) common.out().done("Nobody here.", "admit person add ADDRESS --name NAME");
                else
                    common.out()
                            .table(
                                    List.of("ADDRESS", "NAME", "ROLES", "STATUS"),
                                    all.stream()
                                            .map(it -> List.of(it.email(), it.name(), roles(it), stands(it)))
                                            .toList(),
                                    2);
            });
        }
    }

    private static String roles(PersonView it) {
        String ofApis = String.join(" ", it.roles());
        return it.adminRole() == null ? ofApis : (it.adminRole() + " of Admit " + ofApis).strip();
    }

    private static String stands(PersonView it) {
        if (!it.enabled()) return "off";
        if (!it.hasPassword()) return "invited";
        return it.sessions().isEmpty() ? "on" : "signed in";
    }

    @Command(
            name = "show",
            description = "Show a person: profile, roles, where they are signed in, what they approved.",
            footer = {"", "Example: admit person show tobias.wren@saltmarsh.example"})
    static final class Show implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "PERSON")
        String name;

        @Override
        public void run() {
            Admin.Answer<PersonView> answer = common.admin().get(common.path("people", name), PersonView.class);
            PersonView it = answer.value();
            common.say(answer.json(), () -> {
                Output out = common.out();
                out.fields(
                        "Person",
                        it.name(),
                        "Address",
                        it.email() + (it.emailVerified() ? "" : ", not proven"),
                        "Id",
                        it.id(),
                        "Status",
                        stands(it),
                        "Roles",
                        roles(it),
                        "Second factor",
                        it.hasFactor() ? "yes" : "no",
                        "Made",
                        Output.when(it.createdAt(), common.now()));
                it.profile().forEach((field, value) -> out.line("%s = %s".formatted(field, Output.plain(value))));
                for (PersonView.SessionView session : it.sessions()) {
                    out.line("Signed in %s from %s, %s"
                            .formatted(
                                    Output.when(session.signedInAt(), common.now()),
                                    session.from(),
                                    Output.plain(session.agent())));
                }
                it.approved().stream()
                        .collect(Collectors.groupingBy(
                                PersonView.Approved::client,
                                LinkedHashMap::new,
                                Collectors.mapping(PersonView.Approved::scope, Collectors.joining(" "))))
                        .forEach((holder, names) -> out.line("Approved for %s: %s".formatted(holder, names)));
                out.done(
                        it.enabled() ? "They may sign in." : "They may not sign in.",
                        it.hasPassword() ? null : Http.command("admit person reset %s --password", it.email()));
            });
        }
    }

    /** What is known of a person. */
    static final class Members {
        @Option(names = "--name", description = "The person's name.")
        String name;

        @Option(
                names = "--profile",
                paramLabel = "FIELD=VALUE",
                description = "May be said again; an empty value takes the field away.")
        Map<String, String> profile;

        @Option(names = "--role", paramLabel = "ROLE", description = "All of them, said one by one; '' for none.")
        List<String> roles;

        @Option(
                names = "--admin-role",
                paramLabel = "WORD",
                description = "administrator, operator or auditor of Admit itself; none for nothing.")
        String adminRole;

        /** What a change says of a person who is there. */
        PersonWanted change(String email, PersonView old, Lists lists) {
            Map<String, String> all = new LinkedHashMap<>();
            Map<String, Object> said = lists.pairs("--profile", null, old.profile());
            if (profile != null) all.putAll(profile);
            if (said != null) said.forEach((field, value) -> all.put(field, value == null ? "" : value.toString()));
            if (name != null) all.put("name", name);
            return new PersonWanted(
                    email, all.isEmpty() ? null : all, lists.list("--role", roles, old.roles()), adminRole, null);
        }

        PersonWanted wanted(String email, @Nullable String password) {
            Map<String, String> all = new LinkedHashMap<>(profile == null ? Map.of() : profile);
            if (name != null) all.put("name", name);
            return new PersonWanted(email, all.isEmpty() ? null : all, Common.whole(roles), adminRole, password);
        }
    }

    @Command(
            name = "add",
            description = "Add a person. Without --password they choose one themselves, by mail.",
            footer = {"", "Example: admit person add tobias.wren@saltmarsh.example --name 'Tobias Wren' --role pilot"})
    static final class Add implements Runnable {
        @Mixin
        Common common;

        @Mixin
        Members members;

        @Parameters(paramLabel = "ADDRESS")
        String email;

        @Option(
                names = "--password",
                description = "Set the first password. The command asks for it, or reads it from standard input.")
        boolean password;

        @Override
        public void run() {
            Admin.Answer<JsonNode> answer = common.admin()
                    .post(
                            common.path("people"),
                            members.wanted(email, password ? common.readSecret("Password of " + email) : null),
                            JsonNode.class);
            common.say(answer.json(), () -> common.out()
                    .done(
                            "%s is here%s."
                                    .formatted(email, password ? " and can sign in" : "; an invitation was mailed"),
                            Http.command("admit person show %s", email)));
        }
    }

    @Command(
            name = "change",
            description = "Change a person; what is not named stays. A role they lose ends the tokens that lean on it.",
            footer = {
                "",
                "Example: admit person change tobias.wren@saltmarsh.example --role pilot --role harbour-master"
            })
    static final class Change implements Runnable {
        @Mixin
        Common common;

        @Mixin
        Members members;

        @Parameters(paramLabel = "PERSON")
        String person;

        @Option(names = "--email", paramLabel = "ADDRESS", description = "Another address.")
        String email;

        @Spec
        CommandSpec command;

        @Override
        public void run() {
            String path = common.path("people", person);
            Admin.Answer<PersonView> old = common.admin().get(path, PersonView.class);
            Admin.Answer<JsonNode> answer = common.admin()
                    .change(
                            "PATCH",
                            path,
                            old.etag().orElse("*"),
                            members.change(email, old.value(), Lists.of(command)),
                            JsonNode.class);
            tell(common, answer.json(), "%s is changed.", "admit person show %s");
        }
    }

    private static void tell(Common common, JsonNode json, String now, String next) {
        Changed<PersonView> changed = common.admin().read(json, new TypeReference<>() {});
        common.say(json, () -> {
            common.out().notes(changed.notes());
            common.out()
                    .done(
                            now.formatted(changed.now().email()),
                            Http.command(next, changed.now().email()));
        });
    }

    private static void act(Common common, String person, String verb, String now, String next) {
        tell(
                common,
                common.admin()
                        .post(common.path("people", person, verb), Map.of(), JsonNode.class)
                        .json(),
                now,
                next);
    }

    @Command(
            name = "on",
            description = "Let a person sign in again.",
            footer = {"", "Example: admit person on tobias.wren@saltmarsh.example"})
    static final class On implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "PERSON")
        String person;

        @Override
        public void run() {
            act(common, person, "on", "%s may sign in.", "admit person show %s");
        }
    }

    @Command(
            name = "off",
            description = "Switch a person off; tokens on their behalf are refused from the next request on.",
            footer = {"", "Example: admit person off tobias.wren@saltmarsh.example"})
    static final class Off implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "PERSON")
        String person;

        @Override
        public void run() {
            act(
                    common,
                    person,
                    "off",
                    "%s is off: signed out, and tokens on their behalf are refused from now on.",
                    "admit person on %s");
        }
    }

    @Command(
            name = "sign-out",
            description = "Sign a person out everywhere; tokens on their behalf are refused from the next request on.",
            footer = {"", "Example: admit person sign-out tobias.wren@saltmarsh.example"})
    static final class SignOutAll implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "PERSON")
        String person;

        @Override
        public void run() {
            act(common, person, "end-sessions", "%s is signed out everywhere.", "admit person show %s");
        }
    }

    @Command(
            name = "reset",
            description =
                    "Help a person who cannot sign in: mail them a code for another password, or remove a lost second "
                            + "factor away.",
            footer = {"", "Example: admit person reset ama.keld@saltmarsh.example --factor"})
    static final class Reset implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "PERSON")
        String person;

        @Option(names = "--password", description = "Mail a code with which they choose another.")
        boolean password;

        @Option(names = "--factor", description = "Remove the second factor.")
        boolean factor;

        @Override
        public void run() {
            if (password == factor) throw new Failure(Failure.WRONG_USAGE, "Say --password or --factor.");
            if (password)
                act(
                        common,
                        person,
                        "reset-password",
                        "%s gets a code by mail, and chooses another password with it.",
                        "admit outbox list");
            else act(common, person, "reset-factor", "%s has no second factor any more.", "admit person show %s");
        }
    }

    @Command(
            name = "remove",
            description = "Remove a person with all they approved; tokens on their behalf are refused from the next "
                    + "request on.",
            footer = {
                "",
                "Example: admit person remove tobias.wren@saltmarsh.example --confirm tobias.wren@saltmarsh.example"
            })
    static final class Remove implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "PERSON")
        String person;

        @Option(names = "--confirm", paramLabel = "ADDRESS", description = "The address, said again.")
        String confirm;

        @Override
        public void run() {
            common.admin().remove(common.path("people", person) + Confirm.query(confirm), JsonNode.class);
            common.say(Map.of("removed", person), () -> common.out()
                    .done(
                            "%s is gone; tokens on their behalf are refused from now on.".formatted(person),
                            "admit person list"));
        }
    }

    @Command(
            name = "admin-roles",
            description = "List whose admin role changed, and who changed it.",
            footer = {"", "Example: admit person admin-roles --since 30d"})
    static final class AdminRoles implements Runnable {
        @Mixin
        Common common;

        @Option(
                names = "--since",
                paramLabel = "TIME",
                description = "A time, or a length of time ago. Default: ${DEFAULT-VALUE}.")
        String since = "30d";

        @Option(names = "--limit", paramLabel = "N", description = "At most so many lines. Default: ${DEFAULT-VALUE}.")
        int most = 200;

        @Override
        public void run() {
            List<AdminRoleChangeView> all = common.admin()
                    .list(
                            common.path("people", "admin-roles") + Http.query("since", since),
                            AdminRoleChangeView.class,
                            most);
            common.say(all, () -> {
                if (all.isEmpty()) common.out().done("Nobody's admin role changed since then.", null);
                else
                    common.out()
                            .table(
                                    List.of("PERSON", "BEFORE", "AFTER", "BY", "WHEN"),
                                    all.stream()
                                            .map(it -> List.of(
                                                    it.email(),
                                                    it.before(),
                                                    it.after(),
                                                    it.by(),
                                                    Output.relative(it.at(), common.now())))
                                            .toList(),
                                    0);
            });
        }
    }
}
