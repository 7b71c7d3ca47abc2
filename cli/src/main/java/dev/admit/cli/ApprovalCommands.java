package dev.admit.cli;

import dev.admit.contract.Answer;
import dev.admit.contract.ApiView;
import dev.admit.contract.ApprovalView;
import dev.admit.contract.Changed;
import dev.admit.contract.GrantWanted;
import dev.admit.contract.RoleView;
import dev.admit.contract.ScopeRequestWanted;
import dev.admit.contract.ScopeView;
import dev.admit.contract.StandingApprovalView;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.JsonNode;

@Command(
        name = "approval",
        description = "Scopes that clients request, and the answers.",
        subcommands = {
            ApprovalCommands.ListAll.class,
            ApprovalCommands.Standing.class,
            ApprovalCommands.Request.class,
            ApprovalCommands.Grant.class,
            ApprovalCommands.Decline.class,
            ApprovalCommands.Withdraw.class,
            ApprovalCommands.Drop.class,
            ApprovalCommands.Identity.class
        })
final class ApprovalCommands {

    @Command(
            name = "list",
            description = "List requests with their answers.",
            footer = {"", "Example: admit approval list --status waiting"})
    static final class ListAll implements Runnable {
        @Mixin
        Common common;

        @Option(
                names = "--status",
                paramLabel = "WORD",
                description = "waiting, granted, declined, withdrawn or expired.")
        String status;

        @Option(names = "--client", paramLabel = "CLIENT", description = "Only requests of this client.")
        String client;

        @Option(names = "--scope", paramLabel = "SCOPE", description = "Only requests for this scope.")
        String scope;

        @Option(names = "--limit", paramLabel = "N", description = "At most so many lines. Default: ${DEFAULT-VALUE}.")
        int most = 1000;

        @Override
        public void run() {
            List<ApprovalView> all = common.admin()
                    .list(
                            common.path("approvals") + Http.query("status", status, "client", client, "scope", scope),
                            ApprovalView.class,
                            most);
            common.say(all, () -> {
                if (all.isEmpty())
                    common.out()
                            .done(status == null ? "No client requests a scope." : "Nothing is " + status + ".", null);
                else
                    common.out()
                            .table(
                                    List.of("STATUS", "CLIENT", "SCOPE", "REQUESTED", "ANSWER", "UNTIL"),
                                    all.stream()
                                            .map(it -> List.of(
                                                    Output.mark(it.status()),
                                                    it.client(),
                                                    it.scope(),
                                                    Output.relative(it.requestedAt(), common.now()),
                                                    it.decidedAt() == null
                                                            ? it.waitsFor() == null ? "" : "waits for " + it.waitsFor()
                                                            : it.decidedBy()
                                                                    + (it.byStandingApproval() ? " ahead, " : ", ")
                                                                    + Output.relative(it.decidedAt(), common.now()),
                                                    it.expiresAt() == null
                                                            ? ""
                                                            : Output.relative(it.expiresAt(), common.now())))
                                            .toList(),
                                    4);
            });
        }
    }

    @Command(
            name = "standing",
            description = "List what is approved ahead: a client that fits has the scope as soon as it requests it.",
            footer = {"", "Example: admit approval standing"})
    static final class Standing implements Runnable {
        @Mixin
        Common common;

        @Override
        public void run() {
            List<StandingApprovalView> all =
                    common.admin().list(common.path("approvals", "standing"), StandingApprovalView.class, 1000);
            common.say(all, () -> {
                if (all.isEmpty())
                    common.out().done("Nothing is approved ahead.", "admit scope change API SCOPE --standing-tag TAG");
                else
                    all.forEach(it -> {
                        if (!it.equals(all.getFirst())) common.out().line("");
                        common.out()
                                .fields(
                                        "Scope",
                                        it.scope(),
                                        "Of",
                                        it.api(),
                                        "Approved ahead",
                                        "for " + it.sentence(),
                                        "Clients now",
                                        it.clients() + " have it by this",
                                        "Set",
                                        Output.when(it.setAt(), common.now()) + ", by " + it.setBy());
                    });
            });
        }
    }

    /** Client and scope, which together name a request. */
    abstract static class OfRequest implements Runnable {
        @Mixin
        Common common;

        @Parameters(index = "0", paramLabel = "CLIENT")
        String client;

        @Parameters(index = "1", paramLabel = "SCOPE")
        String scope;

        ApprovalView find() {
            // By what is asked, not by the client: the one who answers for an API sees the requests it, and not every
            // client.
            List<ApprovalView> requested = common.admin()
                    .list(
                            common.path("approvals") + Http.query("client", client, "scope", scope),
                            ApprovalView.class,
                            1);
            return requested.stream()
                    .findFirst()
                    .orElseThrow(() -> new Failure(
                            Failure.REFUSED,
                            "%s does not request %s. See what it requests with: %s"
                                    .formatted(client, scope, Http.command("admit client show %s", client))));
        }

        void answer(String verb, Answer answer, String now, String next) {
            ApprovalView one = find();
            Admin.Answer<JsonNode> said = common.admin()
                    .change(
                            "POST",
                            common.path("approvals", one.id(), verb),
                            "\"" + one.version() + "\"",
                            answer,
                            JsonNode.class);
            Changed<ApprovalView> changed = common.admin().read(said.json(), new TypeReference<>() {});
            common.say(said.json(), () -> {
                common.out().notes(changed.notes());
                common.out()
                        .done(now.formatted(one.client(), one.scope()), Http.command(next, one.client(), one.scope()));
            });
        }
    }

    @Command(
            name = "request",
            description =
                    "Request a scope, or every scope of a role, for a client. It waits unless it is approved ahead.",
            footer = {"", "Example: admit approval request night-audit manifests.inspect"})
    static final class Request extends OfRequest {
        /** A scope has the name first; an API's roles are looked through only where no scope can have it. */
        private boolean isRole() {
            if (!scope.matches("[a-z0-9]+(-[a-z0-9]+)*")) return false; // no role has such a name
            List<ApiView> apis = common.admin().list(common.path("apis"), ApiView.class, 1000);
            boolean isScope = apis.stream()
                    .anyMatch(api ->
                            common
                                    .admin()
                                    .list(common.path("apis", api.name(), "scopes"), ScopeView.class, 1000)
                                    .stream()
                                    .anyMatch(it -> it.name().equals(scope)));
            return !isScope
                    && apis.stream()
                            .anyMatch(
                                    api -> common
                                            .admin()
                                            .list(common.path("apis", api.name(), "roles"), RoleView.class, 1000)
                                            .stream()
                                            .anyMatch(it -> it.name().equals(scope)));
        }

        @Override
        public void run() {
            if (isRole()) {
                Admin.Answer<JsonNode> answer = common.admin()
                        .post(
                                common.path("approvals", "roles"),
                                new ScopeRequestWanted(client, null, scope),
                                JsonNode.class);
                Changed<List<ApprovalView>> made = common.admin().read(answer.json(), new TypeReference<>() {});
                common.say(answer.json(), () -> common.out()
                        .done(
                                "%s requests %s, by the role %s."
                                        .formatted(
                                                client,
                                                String.join(
                                                        " and ",
                                                        made.now().stream()
                                                                .map(ApprovalView::scope)
                                                                .toList()),
                                                scope),
                                "admit approval list --status waiting"));
                return;
            }
            Admin.Answer<JsonNode> answer = common.admin()
                    .post(common.path("approvals"), new ScopeRequestWanted(client, scope, null), JsonNode.class);
            Changed<ApprovalView> made = common.admin().read(answer.json(), new TypeReference<>() {});
            common.say(answer.json(), () -> {
                common.out().notes(made.notes());
                boolean eachPerson = "each person".equals(made.now().waitsFor());
                common.out()
                        .done(
                                made.now().waitsFor() == null
                                        ? "%s requests %s; it is %s."
                                                .formatted(
                                                        made.now().client(),
                                                        made.now().scope(),
                                                        made.now().status())
                                        : "%s requests %s; it waits for %s."
                                                .formatted(
                                                        made.now().client(),
                                                        made.now().scope(),
                                                        made.now().waitsFor()),
                                made.now().status().equals("waiting") && !eachPerson
                                        ? Http.command(
                                                "admit approval grant %s %s",
                                                made.now().client(), made.now().scope())
                                        : null);
            });
        }
    }

    @Command(
            name = "grant",
            description = "Grant scopes, or the scopes of a role, to a client, for everyone. What the client has not "
                    + "requested is requested with it, by an administrator.",
            footer = {"", "Example: admit approval grant night-audit manifests.inspect --until 90d"})
    static final class Grant implements Runnable {
        @Mixin
        Common common;

        @Parameters(index = "0", paramLabel = "CLIENT")
        String client;

        @Parameters(index = "1..*", arity = "1..*", paramLabel = "SCOPE|ROLE")
        List<String> wanted;

        @Option(
                names = "--until",
                paramLabel = "TIME",
                description = "A time, or a length such as 90d. Default: until withdrawn.")
        String until;

        @Override
        public void run() {
            if (wanted.size() == 1) {
                // An owner of the API grants what waits; what nobody requested is for administrators.
                List<ApprovalView> requested = common.admin()
                        .list(
                                common.path("approvals") + Http.query("scope", wanted.getFirst(), "client", client),
                                ApprovalView.class,
                                1);
                if (!requested.isEmpty()) {
                    ApprovalView one = requested.getFirst();
                    Admin.Answer<JsonNode> said = common.admin()
                            .change(
                                    "POST",
                                    common.path("approvals", one.id(), "grant"),
                                    "\"" + one.version() + "\"",
                                    new Answer(until, null),
                                    JsonNode.class);
                    Changed<ApprovalView> changed = common.admin().read(said.json(), new TypeReference<>() {});
                    tell(said.json(), List.of(changed.now()), changed.notes());
                    return;
                }
            }
            Admin.Answer<JsonNode> said = common.admin()
                    .post(common.path("approvals", "grant"), new GrantWanted(client, wanted, until), JsonNode.class);
            Changed<List<ApprovalView>> changed = common.admin().read(said.json(), new TypeReference<>() {});
            tell(said.json(), changed.now(), changed.notes());
        }

        private void tell(JsonNode json, List<ApprovalView> granted, List<String> notes) {
            common.say(json, () -> {
                common.out().notes(notes);
                common.out()
                        .done(
                                "%s may hold %s from its next token on."
                                        .formatted(
                                                granted.getFirst().client(),
                                                String.join(
                                                        " and ",
                                                        granted.stream()
                                                                .map(ApprovalView::scope)
                                                                .toList())),
                                Http.command(
                                        "admit client show %s",
                                        granted.getFirst().client()));
            });
        }
    }

    @Command(
            name = "openid",
            description = "Approve a client's OpenID scopes (openid and the like) for everyone, so that no person is "
                    + "asked; or withdraw that approval.",
            footer = {
                "",
                "Example: admit approval openid berth-desk",
                "Example: admit approval openid berth-desk --withdraw"
            })
    static final class Identity implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "CLIENT")
        String client;

        @Option(
                names = "--withdraw",
                description = "Ask each person again; tokens that lean on it are refused from the next request on.")
        boolean withdraw;

        @Override
        public void run() {
            Admin.Answer<tools.jackson.databind.JsonNode> answer = common.admin()
                    .post(
                            common.path("clients", client, "openid", withdraw ? "withdraw" : "grant"),
                            java.util.Map.of(),
                            tools.jackson.databind.JsonNode.class);
            common.say(answer.json(), () -> common.out()
                    .done(
                            withdraw
                                    ? "Each person is asked whether %s may know of them.".formatted(client)
                                    : "Nobody is asked any more whether %s may know of them.".formatted(client),
                            Http.command("admit client show %s", client)));
        }
    }

    @Command(
            name = "decline",
            description = "Decline a request that waits.",
            footer = {"", "Example: admit approval decline night-audit manifests.inspect --reason 'Use the day report'"
            })
    static final class Decline extends OfRequest {
        @Option(names = "--reason", description = "Why, for the client's owners.")
        String reason;

        @Override
        public void run() {
            answer("decline", new Answer(null, reason), "%s does not get %s.", "admit approval list --status waiting");
        }
    }

    @Command(
            name = "withdraw",
            description = "Withdraw an approval; tokens that lean on it are refused from the next request on.",
            footer = {"", "Example: admit approval withdraw tide-buoy-07 tides.publish"})
    static final class Withdraw extends OfRequest {
        @Option(names = "--reason", description = "Why.")
        String reason;

        @Override
        public void run() {
            answer(
                    "withdraw",
                    new Answer(null, reason),
                    "%s no longer has %s; tokens that lean on it are refused from now on.",
                    "admit decision list --reason revoked");
        }
    }

    @Command(
            name = "drop",
            description = "Remove a request of a client, with its approval.",
            footer = {"", "Example: admit approval drop night-audit manifests.inspect"})
    static final class Drop extends OfRequest {
        @Override
        public void run() {
            ApprovalView one = find();
            common.admin().remove(common.path("approvals", one.id()), JsonNode.class);
            common.say(java.util.Map.of("removed", one.id()), () -> common.out()
                    .done(
                            "%s no longer requests %s.".formatted(one.client(), one.scope()),
                            Http.command("admit client show %s", one.client())));
        }
    }
}
