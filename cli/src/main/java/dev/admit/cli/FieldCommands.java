package dev.admit.cli;

import dev.admit.contract.FieldView;
import dev.admit.contract.FieldWanted;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

@Command(
        name = "profile-field",
        description = "What people have in their profiles, beside the standard fields.",
        subcommands = {
            FieldCommands.ListAll.class,
            FieldCommands.Add.class,
            FieldCommands.Change.class,
            FieldCommands.Remove.class
        })
final class FieldCommands {

    @Command(
            name = "list",
            description = "List the profile fields of an issuer.",
            footer = {"", "Example: admit profile-field list"})
    static final class ListAll implements Runnable {
        @Mixin
        Common common;

        @Override
        public void run() {
            List<FieldView> all = common.admin().list(common.path("profile-fields"), FieldView.class, 1000);
            common.say(all, () -> common.out()
                    .table(
                            List.of("FIELD", "TITLE", "TYPE", "AT SIGN-UP", "EDITED BY", "CLAIM"),
                            all.stream()
                                    .map(it -> List.of(
                                            it.name(),
                                            it.title(),
                                            it.choices().isEmpty() ? it.type() : String.join(" | ", it.choices()),
                                            it.atSignUp() ? "asked" : "",
                                            it.editable() ? "the person" : "administrators",
                                            it.claim() == null ? "" : it.claim()))
                                    .toList()));
        }
    }

    /** What a field is made with, and what of it can be changed. */
    static final class Members {
        @Option(names = "--title", description = "{FieldWanted.title}.")
        String title;

        @Option(names = "--type", paramLabel = "WORD", description = "{FieldWanted.type}.")
        String type;

        @Option(names = "--choice", paramLabel = "TEXT", description = "One of the choices; may be said again.")
        List<String> choices;

        @Option(names = "--pattern", paramLabel = "REGEX", description = "{FieldWanted.pattern}; '' for none.")
        String pattern;

        @Option(names = "--at-sign-up", arity = "1", paramLabel = "true|false", description = "{FieldWanted.atSignUp}.")
        Boolean atSignUp;

        @Option(names = "--editable", arity = "1", paramLabel = "true|false", description = "{FieldWanted.editable}.")
        Boolean editable;

        @Option(names = "--claim", paramLabel = "NAME", description = "{FieldWanted.claim}; '' for none.")
        String claim;

        @Option(
                names = "--on-profile-page",
                arity = "1",
                paramLabel = "true|false",
                description = "{FieldWanted.onProfilePage}.")
        Boolean onProfilePage;

        FieldWanted wanted(@Nullable String name) {
            return new FieldWanted(
                    name, title, type, Common.whole(choices), pattern, atSignUp, editable, claim, onProfilePage);
        }
    }

    @Command(
            name = "add",
            description = "Add a profile field.",
            footer = {
                "",
                "Example: admit profile-field add home_quay --title 'Home quay' --choice North --choice South "
                        + "--claim home_quay"
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
            Admin.Answer<JsonNode> answer =
                    common.admin().post(common.path("profile-fields"), members.wanted(name), JsonNode.class);
            common.say(answer.json(), () -> common.out()
                    .done(
                            "People may have the field %s.".formatted(name),
                            Http.command("admit person change ADDRESS --profile %s=VALUE", name)));
        }
    }

    @Command(
            name = "change",
            description = "Change a profile field; what is not named stays.",
            footer = {"", "Example: admit profile-field change home_quay --editable false"})
    static final class Change implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "FIELD")
        String name;

        @Mixin
        Members members;

        @Override
        public void run() {
            Admin.Answer<JsonNode> answer = common.admin()
                    .change("PATCH", common.path("profile-fields", name), "*", members.wanted(null), JsonNode.class);
            common.say(answer.json(), () -> common.out()
                    .done("The field %s is changed.".formatted(name), "admit profile-field list"));
        }
    }

    @Command(
            name = "remove",
            description = "Remove a profile field; what people have in it is kept unseen.",
            footer = {"", "Example: admit profile-field remove home_quay"})
    static final class Remove implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "FIELD")
        String name;

        @Override
        public void run() {
            common.admin().remove(common.path("profile-fields", name), JsonNode.class);
            common.say(Map.of("removed", name), () -> common.out()
                    .done(
                            "The field %s is gone from every profile, page and token.".formatted(name),
                            "admit profile-field list"));
        }
    }
}
