package dev.admit.cli;

import dev.admit.contract.ApiView;
import dev.admit.contract.Changed;
import dev.admit.contract.ScopePreview;
import dev.admit.contract.ScopeView;
import dev.admit.contract.ScopeWanted;
import dev.admit.contract.StandingApprovalView;
import dev.admit.contract.StandingApprovalWanted;
import java.util.ArrayList;
import java.util.List;
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
        name = "scope",
        description = "Named permissions of an API.",
        subcommands = {
            ScopeCommands.ListAll.class,
            ScopeCommands.Show.class,
            ScopeCommands.Add.class,
            ScopeCommands.Change.class,
            ScopeCommands.Remove.class
        })
final class ScopeCommands {

    static void table(Output out, List<ScopeView> scopes) {
        out.table(
                List.of("SCOPE", "DOES", "REACHES", "FOR", "APPROVED BY", "STATUS", "CONSEQUENCE"),
                scopes.stream()
                        .map(it -> List.of(
                                it.name(),
                                it.effect(),
                                it.reach(),
                                it.forWhom(),
                                it.approver(),
                                it.status(),
                                it.consequenceReads().administrator()))
                        .toList());
    }

    /** A name with a slash and the like is no segment of an address, so such a scope is addressed by its id. */
    private static String scopePath(Common common, String api, String name) {
        if (name.matches("[A-Za-z0-9._:~-]+")) return common.path("apis", api, "scopes", name);
        List<ScopeView> all = common.admin().list(common.path("apis", api, "scopes"), ScopeView.class, 1000);
        String id = all.stream()
                .filter(it -> it.name().equals(name))
                .findFirst()
                .map(ScopeView::id)
                .orElseThrow(() -> new Failure(
                        Failure.REFUSED,
                        "There is no scope %s at %s. List them with: %s"
                                .formatted(name, api, Http.command("admit scope list %s", api))));
        return common.path("apis", api, "scopes", id);
    }

    @Command(
            name = "list",
            description = "List the scopes of an API, or of all.",
            footer = {"", "Example: admit scope list tides"})
    static final class ListAll implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "API", arity = "0..1")
        String api;

        @Override
        public void run() {
            List<String> apis = api != null
                    ? List.of(api)
                    : common.admin().list(common.path("apis"), ApiView.class, 1000).stream()
                            .map(ApiView::name)
                            .toList();
            List<ScopeView> all = new ArrayList<>();
            for (String one : apis)
                all.addAll(common.admin().list(common.path("apis", one, "scopes"), ScopeView.class, 1000));
            common.say(all, () -> {
                if (all.isEmpty())
                    common.out()
                            .done(
                                    "No scope yet.",
                                    "admit scope add API NAME --effect reads --reach everyone --for clients");
                else table(common.out(), all);
            });
        }
    }

    @Command(
            name = "show",
            description = "Show a scope.",
            footer = {"", "Example: admit scope show tides tides.read"})
    static final class Show implements Runnable {
        @Mixin
        Common common;

        @Parameters(index = "0", paramLabel = "API")
        String api;

        @Parameters(index = "1", paramLabel = "SCOPE")
        String name;

        @Override
        public void run() {
            Admin.Answer<ScopeView> answer = common.admin().get(scopePath(common, api, name), ScopeView.class);
            ScopeView it = answer.value();
            common.say(answer.json(), () -> common.out()
                    .fields(
                            "Scope",
                            it.name(),
                            "Of",
                            it.api(),
                            "Does",
                            it.effect(),
                            "Reaches",
                            it.reach(),
                            "For",
                            it.forWhom(),
                            "Consequence",
                            it.consequenceReads().administrator(),
                            "To a person",
                            it.forWhom().equals("clients")
                                    ? ""
                                    : it.consequenceReads().person(),
                            "Approved by",
                            it.approver(),
                            "Open",
                            it.byRole() ? "by role" : "to all",
                            "Status",
                            it.status(),
                            "Closes",
                            Output.when(it.closesOn(), common.now()),
                            "Metadata",
                            it.listed() ? "listed" : "left out",
                            "Approved ahead",
                            it.standingApproval() == null
                                    ? ""
                                    : "for " + it.standingApproval().sentence()));
        }
    }

    /** The fields that can be set. */
    static final class FieldOptions {
        @Option(names = "--effect", paramLabel = "WORD", description = "{ScopeWanted.effect}.")
        String effect;

        @Option(names = "--reach", paramLabel = "WORD", description = "{ScopeWanted.reach}.")
        String reach;

        @Option(names = "--for", paramLabel = "WORD", description = "{ScopeWanted.forWhom}.")
        String forWhom;

        @Option(
                names = "--consequence",
                paramLabel = "TEXT",
                description = "One sentence that says what holding it allows; proposed when left out. {whose} in it "
                        + "reads your, everyone's or the caller's own.")
        String consequence;

        @Option(names = "--approver", paramLabel = "WORD", description = "{ScopeWanted.approver}.")
        String approver;

        @Option(names = "--by-role", negatable = true, description = "{ScopeWanted.byRole}.")
        Boolean byRole;

        @Option(names = "--status", paramLabel = "WORD", description = "draft, in-use, or closing with --closes-on.")
        String status;

        @Option(names = "--closes-on", paramLabel = "TIME", description = "{ScopeWanted.closesOn}.")
        String closesOn;

        @Option(names = "--listed", negatable = true, description = "{ScopeWanted.listed}.")
        Boolean listed;

        @Option(
                names = "--standing-kind",
                paramLabel = "KIND",
                description = "Approve ahead for clients of this kind: one that fits all that is said has the scope as "
                        + "soon as it requests it.")
        List<String> kinds;

        @Option(names = "--standing-tag", paramLabel = "TAG", description = "Approve ahead for clients with this tag.")
        List<String> tags;

        @Option(
                names = "--standing-owner",
                paramLabel = "EMAIL",
                description = "Approve ahead for clients that this person answers for.")
        List<String> owners;

        @Option(names = "--no-standing-approval", description = "Approve nothing ahead any more.")
        boolean noStanding;

        /** @param before the standing approval that is there; null for none */
        ScopeWanted wanted(@Nullable String name, Lists lists, @Nullable StandingApprovalView before) {
            boolean said = lists.isSaid("--standing-kind", kinds)
                    || lists.isSaid("--standing-tag", tags)
                    || lists.isSaid("--standing-owner", owners);
            Contradiction.refuse(
                    "--no-standing-approval", noStanding, "--standing-kind, --standing-tag or --standing-owner", said);
            StandingApprovalWanted standing = noStanding
                    ? new StandingApprovalWanted(List.of(), List.of(), List.of())
                    : said
                            ? new StandingApprovalWanted(
                                    lists.list("--standing-kind", kinds, before == null ? null : before.kinds()),
                                    lists.list("--standing-tag", tags, before == null ? null : before.tags()),
                                    lists.list("--standing-owner", owners, before == null ? null : before.owners()))
                            : null;
            return new ScopeWanted(
                    name, effect, reach, forWhom, consequence, approver, byRole, status, closesOn, listed, standing);
        }
    }

    @Command(
            name = "add",
            description = "Add a scope, or several, to an API.",
            footer = {
                "",
                "Example: admit scope add tides tides.read --effect reads --reach everyone --for both --default"
            })
    static final class Add implements Runnable {
        @Mixin
        Common common;

        @Mixin
        FieldOptions fields;

        @Parameters(index = "0", paramLabel = "API")
        String api;

        @Parameters(index = "1..*", arity = "1..*", paramLabel = "NAME", description = "Several get the same options.")
        List<String> names;

        @Option(
                names = "--preview",
                description = "Only say what a person and an administrator would read; nothing is saved.")
        boolean preview;

        @Spec
        CommandSpec command;

        @Override
        public void run() {
            if (names.size() > 1)
                Contradiction.refuse("--consequence", fields.consequence != null, "several names", true);
            names.forEach(preview ? this::preview : this::add);
        }

        private void preview(String name) {
            Admin.Answer<ScopePreview> told = common.admin()
                    .post(
                            common.path("apis", api, "scopes", "preview"),
                            fields.wanted(name, Lists.of(command), null),
                            ScopePreview.class);
            ScopeView.Reads reads = told.value().consequenceReads();
            common.say(told.json(), () -> common.out()
                    .fields(
                            "Scope", name,
                            "The person reads", reads.person(),
                            "An administrator reads", reads.administrator()));
        }

        private void add(String name) {
            Admin.Answer<JsonNode> answer = common.admin()
                    .post(
                            common.path("apis", api, "scopes"),
                            fields.wanted(name, Lists.of(command), null),
                            JsonNode.class);
            Changed<ScopeView> made = common.admin().read(answer.json(), new TypeReference<>() {});
            common.say(answer.json(), () -> {
                common.out().notes(made.notes());
                common.out()
                        .done(
                                "Clients can request %s. Who approves: %s."
                                        .formatted(
                                                made.now().name(),
                                                made.now().approver().equals("person")
                                                        ? "each person for themselves, an administrator for a "
                                                                + "client on its own"
                                                        : "an administrator"),
                                Http.command(
                                        "admit client add NAME --scope %s",
                                        made.now().name()));
            });
        }
    }

    @Command(
            name = "change",
            description = "Change a scope; what is not named stays.",
            footer = {"", "Example: admit scope change tides tides.read --no-default"})
    static final class Change implements Runnable {
        @Mixin
        Common common;

        @Mixin
        FieldOptions fields;

        @Parameters(index = "0", paramLabel = "API")
        String api;

        @Parameters(index = "1", paramLabel = "SCOPE")
        String name;

        @Spec
        CommandSpec command;

        @Override
        public void run() {
            String path = scopePath(common, api, name);
            Admin.Answer<ScopeView> old = common.admin().get(path, ScopeView.class);
            ScopeWanted wanted =
                    fields.wanted(null, Lists.of(command), old.value().standingApproval());
            Admin.Answer<JsonNode> answer =
                    common.admin().change("PATCH", path, old.etag().orElse("*"), wanted, JsonNode.class);
            Changed<ScopeView> changed = common.admin().read(answer.json(), new TypeReference<>() {});
            common.say(answer.json(), () -> {
                common.out().notes(changed.notes());
                common.out()
                        .done(
                                "The scope %s is changed; it is live."
                                        .formatted(changed.now().name()),
                                Http.command("admit scope show %s %s", api, name));
            });
        }
    }

    @Command(
            name = "remove",
            description = "Remove a scope that no route needs.",
            footer = {"", "Example: admit scope remove tides tides.publish --confirm tides.publish"})
    static final class Remove implements Runnable {
        @Mixin
        Common common;

        @Parameters(index = "0", paramLabel = "API")
        String api;

        @Parameters(index = "1", paramLabel = "SCOPE")
        String name;

        @Option(
                names = "--confirm",
                paramLabel = "WORD",
                description = "The scope's name, said again, when clients hold it.")
        String confirm;

        @Override
        public void run() {
            common.admin().remove(scopePath(common, api, name) + Confirm.query(confirm), JsonNode.class);
            common.say(java.util.Map.of("removed", name), () -> common.out()
                    .done(
                            "The scope %s is gone; tokens that lean on it are refused from now on.".formatted(name),
                            Http.command("admit scope list %s", api)));
        }
    }
}
