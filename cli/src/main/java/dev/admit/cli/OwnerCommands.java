package dev.admit.cli;

import dev.admit.contract.Changed;
import dev.admit.contract.HandOverWanted;
import dev.admit.contract.OwnerView;
import dev.admit.contract.OwnerWanted;
import java.util.List;
import java.util.stream.Collectors;
import picocli.CommandLine.ArgGroup;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.JsonNode;

@Command(
        name = "owner",
        description =
                "People who answer for an API or a client: they see, change and approve what is theirs, and nothing "
                        + "else.",
        subcommands = {
            OwnerCommands.ListAll.class,
            OwnerCommands.Add.class,
            OwnerCommands.Remove.class,
            OwnerCommands.HandOver.class
        })
final class OwnerCommands {

    /** What is answered for: one thing. */
    static final class Thing {
        @Option(
                names = "--api",
                paramLabel = "API",
                description = "An API: its texts, scopes, roles and minting, and what clients request of it.")
        String api;

        @Option(
                names = "--client",
                paramLabel = "CLIENT",
                description = "A client: its texts, addresses and secrets, and what it requests.")
        String client;

        @Override
        public String toString() {
            return api != null ? "the API " + api : "the client " + client;
        }
    }

    @Command(
            name = "list",
            description = "List who answers for what.",
            footer = {"", "Example: admit owner list --api berths"})
    static final class ListAll implements Runnable {
        @Mixin
        Common common;

        @Option(names = "--of", paramLabel = "PERSON", description = "Only what this person answers for.")
        String person;

        @ArgGroup
        Thing thing;

        @Option(names = "--limit", paramLabel = "N", description = "At most so many lines. Default: ${DEFAULT-VALUE}.")
        int most = 200;

        @Override
        public void run() {
            if (person != null && thing != null)
                throw new Failure(Failure.WRONG_USAGE, "Say --of, --api or --client: one of them.");
            List<OwnerView> all = common.admin()
                    .list(
                            common.path("owners")
                                    + Http.query(
                                            "person",
                                            person,
                                            "api",
                                            thing == null ? null : thing.api,
                                            "client",
                                            thing == null ? null : thing.client),
                            OwnerView.class,
                            most);
            common.say(all, () -> {
                if (all.isEmpty())
                    common.out()
                            .done(
                                    person != null ? person + " answers for nothing." : "Nobody answers for it.",
                                    "admit owner add ADDRESS --api API");
                else
                    common.out()
                            .table(
                                    List.of("PERSON", "ANSWERS FOR", "SINCE", "NAMED BY"),
                                    all.stream()
                                            .map(it -> List.of(
                                                    it.email(),
                                                    "the %s %s".formatted(it.kind(), it.name()),
                                                    Output.relative(it.since(), common.now()),
                                                    it.namedBy()))
                                            .toList(),
                                    3);
            });
        }
    }

    @Command(
            name = "add",
            description = "Have a person answer for an API or a client.",
            footer = {"", "Example: admit owner add isolde.marrin@saltmarsh.example --api berths"})
    static final class Add implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "PERSON")
        String person;

        @ArgGroup(multiplicity = "1")
        Thing thing;

        @Override
        public void run() {
            Admin.Answer<JsonNode> answer = common.admin()
                    .post(common.path("owners"), new OwnerWanted(person, thing.api, thing.client), JsonNode.class);
            Changed<OwnerView> made = common.admin().read(answer.json(), new TypeReference<>() {});
            common.say(answer.json(), () -> {
                common.out().notes(made.notes());
                common.out()
                        .done(
                                "%s answers for %s: may see and change it%s."
                                        .formatted(
                                                made.now().email(),
                                                thing,
                                                thing.api == null ? "" : ", and answers what is asked of it"),
                                Http.command(
                                        "admit owner list --of %s", made.now().email()));
            });
        }
    }

    @Command(
            name = "remove",
            description = "A person no longer answers for an API or a client.",
            footer = {"", "Example: admit owner remove isolde.marrin@saltmarsh.example --api berths"})
    static final class Remove implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "PERSON")
        String person;

        @ArgGroup(multiplicity = "1")
        Thing thing;

        @Override
        public void run() {
            Admin.Answer<JsonNode> answer = common.admin()
                    .remove(
                            common.path("owners")
                                    + Http.query("person", person, "api", thing.api, "client", thing.client),
                            JsonNode.class)
                    .orElseThrow();
            Changed<OwnerView> gone = common.admin().read(answer.json(), new TypeReference<>() {});
            common.say(answer.json(), () -> {
                common.out().notes(gone.notes());
                common.out()
                        .done(
                                "%s no longer answers for %s."
                                        .formatted(gone.now().email(), thing),
                                "admit owner list");
            });
        }
    }

    @Command(
            name = "hand-over",
            description = "Hand over all APIs and clients of one owner to another, such as when the first one leaves.",
            footer = {"", "Example: admit owner hand-over junia.hale@saltmarsh.example isolde.marrin@saltmarsh.example"
            })
    static final class HandOver implements Runnable {
        @Mixin
        Common common;

        @Parameters(index = "0", paramLabel = "FROM")
        String from;

        @Parameters(index = "1", paramLabel = "TO")
        String to;

        @Override
        public void run() {
            Admin.Answer<JsonNode> answer = common.admin()
                    .post(common.path("owners", "hand-over"), new HandOverWanted(from, to), JsonNode.class);
            Changed<List<OwnerView>> handed = common.admin().read(answer.json(), new TypeReference<>() {});
            common.say(answer.json(), () -> {
                common.out().notes(handed.notes());
                if (!handed.now().isEmpty()) {
                    String things = handed.now().stream()
                            .map(it -> "the %s %s".formatted(it.kind(), it.name()))
                            .collect(Collectors.joining(" and "));
                    common.out()
                            .done(
                                    "%s now answers for %s."
                                            .formatted(handed.now().getFirst().email(), things),
                                    Http.command("admit person off %s", from));
                }
            });
        }
    }
}
