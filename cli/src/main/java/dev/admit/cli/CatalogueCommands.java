package dev.admit.cli;

import dev.admit.contract.CatalogueEntry;
import dev.admit.contract.ChangeNote;
import dev.admit.contract.Changed;
import dev.admit.contract.PublicationView;
import dev.admit.contract.PublicationWanted;
import java.nio.file.Path;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.JsonNode;

@Command(
        name = "catalogue",
        description = "Where developers find APIs: who finds which, and what is said of each.",
        subcommands = {
            CatalogueCommands.ListAll.class,
            CatalogueCommands.Show.class,
            CatalogueCommands.Publish.class,
            CatalogueCommands.Unpublish.class
        })
final class CatalogueCommands {

    @Command(
            name = "list",
            description = "List the APIs that stand in the catalogue.",
            footer = {"", "Example: admit catalogue list --as public"})
    static final class ListAll implements Runnable {
        @Mixin
        Common common;

        @Option(
                names = "--search",
                paramLabel = "TEXT",
                description = "Only those with this in their name, title, description, scopes or operations.")
        String search;

        @Option(
                names = "--as",
                paramLabel = "READER",
                description = "What such a reader finds: public, signed-in or named.")
        String as;

        @Override
        public void run() {
            List<CatalogueEntry> all = common.admin()
                    .list(
                            common.path("catalogue") + Http.query("search", search, "as", as),
                            CatalogueEntry.class,
                            10_000);
            common.say(all, () -> {
                if (all.isEmpty())
                    common.out()
                            .done(
                                    search == null ? "No API is published here." : "No API here has that in it.",
                                    "admit catalogue publish API --readers signed-in");
                else
                    common.out()
                            .table(
                                    List.of("API", "READERS", "OPERATIONS", "SCOPES", "TITLE"),
                                    all.stream()
                                            .map(it -> List.of(
                                                    it.api(),
                                                    it.readers(),
                                                    String.valueOf(it.operations()),
                                                    String.join(" ", it.scopes()),
                                                    Output.plain(it.title())))
                                            .toList());
            });
        }
    }

    @Command(
            name = "show",
            description = "Show how an API stands in the catalogue.",
            footer = {"", "Example: admit catalogue show tides"})
    static final class Show implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "API")
        String name;

        @Override
        public void run() {
            Admin.Answer<PublicationView> answer =
                    common.admin().get(common.path("apis", name, "catalogue"), PublicationView.class);
            PublicationView it = answer.value();
            common.say(answer.json(), () -> {
                common.out()
                        .fields(
                                "API",
                                it.api(),
                                "Readers",
                                it.readers(),
                                "People",
                                String.join(", ", it.people()),
                                "Page",
                                it.page(),
                                "Description",
                                Output.plain(it.description()),
                                "Getting started",
                                it.gettingStarted().isEmpty()
                                        ? ""
                                        : it.gettingStarted().lines().count() + " lines",
                                "Changed",
                                it.changedAt() == null ? "" : Output.when(it.changedAt(), common.now()));
                it.sentences().forEach(common.out()::line);
                it.changes()
                        .forEach(note -> common.out().line("%s  %s".formatted(note.date(), Output.plain(note.text()))));
            });
        }
    }

    @Command(
            name = "publish",
            description = "Put an API into the catalogue, or change what is said of it there; what is not named stays.",
            footer = {
                "",
                "Example: admit catalogue publish tides --readers public --getting-started begin.md",
                "Example: admit catalogue publish tides --note 'The gauge at Fish Quay is new.'"
            })
    static final class Publish implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "API")
        String name;

        @Option(
                names = "--readers",
                paramLabel = "READERS",
                description = "Who finds it: public, signed-in or named. Default: as it is; of a new one, signed-in.")
        String readers;

        @Option(
                names = "--person",
                paramLabel = "EMAIL",
                description = "Someone who finds it, where its readers are named; may be said again.")
        List<String> people;

        @Option(names = "--description", paramLabel = "TEXT", description = "{PublicationWanted.description}.")
        String description;

        @Option(
                names = "--getting-started",
                paramLabel = "FILE",
                description =
                        "How to begin, in Markdown. {{client_id}}, {{issuer}}, {{gateway}} and {{audience}} in it "
                                + "are filled in for the reader.")
        Path gettingStarted;

        @Option(names = "--note", paramLabel = "TEXT", description = "What changed, dated today.")
        String note;

        @Override
        public void run() {
            String path = common.path("apis", name, "catalogue");
            Admin.Answer<PublicationView> old = common.admin().get(path, PublicationView.class);
            boolean isNew = old.value().readers().equals("none");
            Admin.Answer<JsonNode> answer = common.admin()
                    .change(
                            "PATCH",
                            path,
                            old.etag().orElse("*"),
                            new PublicationWanted(
                                    readers == null && isNew ? people == null ? "signed-in" : "named" : readers,
                                    people,
                                    description,
                                    gettingStarted == null
                                            ? null
                                            : TextFile.read(gettingStarted, "a file of Markdown in UTF-8"),
                                    note == null ? null : noted(old.value().changes())),
                            JsonNode.class);
            Changed<PublicationView> changed = common.admin().read(answer.json(), new TypeReference<>() {});
            common.say(answer.json(), () -> {
                common.out().notes(changed.notes());
                common.out()
                        .done(
                                changed.now().sentences().getFirst() + " Read it at "
                                        + changed.now().page(),
                                Http.command("admit catalogue show %s", name));
            });
        }

        private List<ChangeNote> noted(List<ChangeNote> before) {
            List<ChangeNote> all = new ArrayList<>(List.of(new ChangeNote(
                    LocalDate.ofInstant(common.now(), ZoneOffset.UTC).toString(), note)));
            all.addAll(before);
            return all;
        }
    }

    @Command(
            name = "unpublish",
            description = "Take an API out of the catalogue. What is said of it stays for later.",
            footer = {"", "Example: admit catalogue unpublish tides"})
    static final class Unpublish implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "API")
        String name;

        @Override
        public void run() {
            String path = common.path("apis", name, "catalogue");
            Admin.Answer<PublicationView> old = common.admin().get(path, PublicationView.class);
            Admin.Answer<JsonNode> answer = common.admin()
                    .change(
                            "PATCH",
                            path,
                            old.etag().orElse("*"),
                            PublicationWanted.forReaders("none"),
                            JsonNode.class);
            common.say(answer.json(), () -> common.out()
                    .done(
                            "The API %s is no longer in the catalogue.".formatted(name),
                            Http.command("admit catalogue publish %s --readers public", name)));
        }
    }
}
