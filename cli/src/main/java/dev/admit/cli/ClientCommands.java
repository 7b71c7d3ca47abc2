package dev.admit.cli;

import dev.admit.contract.ApprovalView;
import dev.admit.contract.Changed;
import dev.admit.contract.ClientMade;
import dev.admit.contract.ClientView;
import dev.admit.contract.GrantWanted;
import dev.admit.contract.MintingPreview;
import dev.admit.contract.NameWanted;
import dev.admit.contract.SecretView;
import dev.admit.contract.SelfRegistrationView;
import dev.admit.contract.WatchView;
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
        name = "client",
        description = "Clients, with the scopes they request.",
        subcommands = {
            ClientCommands.ListAll.class,
            ClientCommands.Show.class,
            ClientCommands.Add.class,
            ClientCommands.Copy.class,
            EditClient.class,
            ClientCommands.Change.class,
            ClientConnecting.class,
            ClientCommands.Minting.class,
            ClientCommands.Watch.class,
            ClientCommands.On.class,
            ClientCommands.Off.class,
            ClientCommands.Remove.class
        })
final class ClientCommands {

    @Command(
            name = "list",
            description = "List the clients of an issuer.",
            footer = {"", "Example: admit client list --search buoy"})
    static final class ListAll implements Runnable {
        @Mixin
        Common common;

        @Option(
                names = "--search",
                paramLabel = "TEXT",
                description = "Only those with this in name, id, texts, contacts, links or tags.")
        String search;

        @Option(names = "--kind", paramLabel = "WORD", description = "Only of this kind.")
        String kind;

        @Option(names = "--tag", paramLabel = "WORD", description = "Only with this tag.")
        String tag;

        @Option(names = "--contact", paramLabel = "TEXT", description = "Only those that this one answers for.")
        String contact;

        @Option(
                names = "--enabled",
                arity = "1",
                paramLabel = "true|false",
                description = "Only those that are on, or off.")
        Boolean enabled;

        @Option(names = "--self-registered", description = "Only those that registered themselves.")
        boolean selfRegistered;

        @Option(names = "--newest", description = "The newest first, instead of by name.")
        boolean newest;

        @Option(names = "--limit", paramLabel = "N", description = "At most so many lines. Default: ${DEFAULT-VALUE}.")
        int most = 200;

        @Override
        public void run() {
            List<ClientView> all = common.admin()
                    .list(
                            common.path("clients")
                                    + Http.query(
                                            "search",
                                            search,
                                            "kind",
                                            kind,
                                            "tag",
                                            tag,
                                            "contact",
                                            contact,
                                            "enabled",
                                            enabled == null ? null : enabled.toString(),
                                            "self_registered",
                                            selfRegistered ? "true" : null,
                                            "sort",
                                            newest ? "-created" : null),
                            ClientView.class,
                            most);
            common.say(all, () -> {
                if (all.isEmpty()) common.out().done("No client here.", "admit client add NAME --scope SCOPE");
                else
                    common.out()
                            .table(
                                    List.of("CLIENT", "CLIENT ID", "KIND", "MAY HOLD", "STATUS"),
                                    all.stream()
                                            .map(it -> List.of(
                                                    it.name(),
                                                    it.clientId(),
                                                    it.kind(),
                                                    it.scopes().stream()
                                                            .filter(one ->
                                                                    one.status().equals("granted")
                                                                            || "each person".equals(one.waitsFor()))
                                                            .map(ApprovalView::scope)
                                                            .collect(Collectors.joining(" ")),
                                                    it.missing().isEmpty()
                                                            ? ""
                                                            : it.missing().size() + " to do"))
                                            .toList(),
                                    3);
            });
        }
    }

    private static String owners(ClientView it) {
        return it.owners().isEmpty() ? "nobody" : String.join(", ", it.owners());
    }

    /** Where a client came from that registered itself. */
    private static String from(@Nullable SelfRegistrationView it) {
        if (it == null) return "";
        return ", from " + it.address()
                + (it.by().isEmpty() ? "" : ", with the initial access token " + Output.plain(it.by()));
    }

    @Command(
            name = "show",
            description = "Show a client: what it may do, and what it still lacks to work.",
            footer = {"", "Example: admit client show tide-buoy-07"})
    static final class Show implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "CLIENT")
        String name;

        @Override
        public void run() {
            Admin.Answer<ClientView> answer = common.admin().get(common.path("clients", name), ClientView.class);
            ClientView it = answer.value();
            common.say(answer.json(), () -> {
                Output out = common.out();
                out.fields(
                        "Client",
                        it.name(),
                        "Client name",
                        it.clientName(),
                        "Description",
                        it.description(),
                        "Client id",
                        it.clientId(),
                        "Kind",
                        it.kind(),
                        "Switched",
                        it.enabled() ? "on" : "off",
                        "Proves itself",
                        "by " + it.tokenEndpointAuthMethod()
                                + (it.tokenEndpointAuthSigningAlg() == null
                                        ? ""
                                        : ", " + it.tokenEndpointAuthSigningAlg()),
                        "Keys",
                        it.jwksUri() != null ? "at " + it.jwksUri() : it.jwks() != null ? "in the registration" : "",
                        "May use",
                        it.grantTypes().isEmpty() ? "no grant type" : String.join(", ", it.grantTypes()),
                        "Owners",
                        owners(it),
                        "Contacts",
                        String.join(", ", it.contacts()),
                        "Links",
                        String.join(" ", it.links()),
                        "Tags",
                        String.join(" ", it.tags()),
                        "Redirects",
                        String.join(" ", it.redirectUris()),
                        "Origins",
                        String.join(" ", it.origins()),
                        "Of a person",
                        String.join(" ", it.openidScopes()),
                        "Introspects",
                        it.mayIntrospect() ? "every token of its issuer" : "",
                        "Token endpoint",
                        it.tokenEndpoint(),
                        it.selfRegistration() == null ? "Made" : "Registered itself",
                        Output.when(it.createdAt(), common.now()) + from(it.selfRegistration()));
                out.line("");
                for (String may : it.may())
                    out.told(out.verdict("granted").replace("granted", "may"), "● may".length(), Output.plain(may));
                for (ApprovalView one : it.scopes()) {
                    if (!one.status().equals("granted") && !"each person".equals(one.waitsFor()))
                        out.told(
                                out.verdict(one.status()),
                                ("● " + one.status()).length(),
                                one.scope() + ": " + Output.plain(one.consequence()));
                }
                for (SecretView secret : it.secrets()) {
                    out.line("Secret %s (%s) %s, %s"
                            .formatted(
                                    secret.label(),
                                    secret.id(),
                                    secret.expiresAt() == null
                                            ? "never ends"
                                            : "ends " + Output.when(secret.expiresAt(), common.now()),
                                    secret.usedAt() == null
                                            ? "never used"
                                            : "used " + Output.relative(secret.usedAt(), common.now())));
                }
                it.remarks().forEach(remark -> out.hint("Look", remark));
                if (it.missing().isEmpty())
                    out.done(
                            "Nothing is missing.",
                            it.grantTypes().contains("client_credentials")
                                    ? it.scopes().stream()
                                            .filter(one -> one.status().equals("granted"))
                                            .findFirst()
                                            .map(one -> Http.command(
                                                    "admit token fetch %s --scope %s", it.name(), one.scope()))
                                            .orElse(null)
                                    : null);
                else it.missing().forEach(lack -> out.hint("Missing", lack));
            });
        }
    }

    static void tellMade(Common common, ClientMade made, String verb) {
        common.out().notes(made.notes());
        List<ApprovalView> waiting = made.now().scopes().stream()
                .filter(one -> one.status().equals("waiting"))
                .toList();
        List<String> granted = made.now().scopes().stream()
                .filter(one -> one.status().equals("granted"))
                .map(ApprovalView::scope)
                .toList();
        String requests = made.now().scopes().isEmpty()
                ? "; it requests nothing yet"
                : (granted.isEmpty() ? "" : "; it has " + String.join(" and ", granted))
                        + (waiting.isEmpty() ? "" : "; what it requests waits");
        common.out()
                .done(
                        "The client %s is %s as %s%s."
                                .formatted(made.now().name(), verb, made.now().clientId(), requests),
                        !waiting.isEmpty()
                                ? Http.command(
                                        "admit approval grant %s %s",
                                        made.now().name(), waiting.getFirst().scope())
                                : granted.isEmpty()
                                        ? Http.command(
                                                "admit approval request %s SCOPE",
                                                made.now().name())
                                        : Http.command(
                                                "admit client show %s",
                                                made.now().name()));
    }

    @Command(
            name = "add",
            description = "Register a client; one with a secret gets its first.",
            footer = {
                "",
                "Example: admit client add tide-buoy-07 --scope tides.read --scope tides.publish --keep",
                "Example: admit client add customs-sync --make-key customs.pem --scope manifests.inspect",
                "Example: admit client add quayside-board --kind browser --redirect-uri "
                        + "https://board.saltmarsh.example/back"
            })
    static final class Add implements Runnable {
        @Mixin
        Common common;

        @Mixin
        ClientFields fields;

        @Parameters(paramLabel = "NAME")
        String name;

        @Option(names = "--scope", paramLabel = "SCOPE", description = "A scope it requests; may be said again.")
        List<String> scopes;

        @Option(
                names = "--client-id",
                paramLabel = "ID",
                description = "An id of your choice, such as one from elsewhere. Default: Admit makes one.")
        String clientId;

        @Option(
                names = "--grant",
                paramLabel = "SCOPE|ROLE",
                description = "Request it and grant it at once, as an administrator may; may be said again.")
        List<String> grants;

        @Option(names = "--secret-lifetime", paramLabel = "TIME", description = "Such as 30d. Default: the issuer's.")
        String lifetime;

        @Option(names = "--preview", description = "Only say what the client would mean; nothing is saved.")
        boolean preview;

        @Mixin
        ShownSecret shown;

        @Override
        public void run() {
            if (preview) {
                Contradiction.refuse("--preview", true, "--make-key", fields.makeKey != null);
                common.preview("clients", fields.wanted(name, scopes, lifetime, clientId));
                return;
            }
            Admin.Answer<ClientMade> answer = fields.send(() -> common.admin()
                    .post(common.path("clients"), fields.wanted(name, scopes, lifetime, clientId), ClientMade.class));
            ClientMade made = answer.value();
            if (grants != null) granted(made.now());
            shown.show(common, answer.json(), made.now(), made.secret(), () -> tellMade(common, made, "registered"));
        }

        /** The client is there by now, and its secret is shown whatever comes of this. */
        private void granted(ClientView client) {
            try {
                common.admin()
                        .post(
                                common.path("approvals", "grant"),
                                new GrantWanted(client.clientId(), grants, null),
                                JsonNode.class);
                if (!common.json) common.out().notes(List.of("Granted: %s.".formatted(String.join(" and ", grants))));
            } catch (Failure refused) {
                if (!common.json)
                    common.out().notes(List.of("Not granted. " + refused.said().replace('\n', ' ')));
            }
        }
    }

    @Command(
            name = "copy",
            description = "Register another client like one that is there; what it requests waits anew.",
            footer = {"", "Example: admit client copy tide-buoy-07 tide-buoy-08"})
    static final class Copy implements Runnable {
        @Mixin
        Common common;

        @Parameters(index = "0", paramLabel = "CLIENT")
        String client;

        @Parameters(index = "1", paramLabel = "NAME")
        String name;

        @Mixin
        ShownSecret shown;

        @Override
        public void run() {
            Admin.Answer<ClientMade> answer =
                    common.admin().post(common.path("clients", client, "copy"), new NameWanted(name), ClientMade.class);
            shown.show(
                    common,
                    answer.json(),
                    answer.value().now(),
                    answer.value().secret(),
                    () -> tellMade(common, answer.value(), "registered like " + client));
        }
    }

    @Command(
            name = "minting",
            description = "Show the token that would come for a client, with where each value comes from.",
            footer = {"", "Example: admit client minting tide-buoy-07"})
    static final class Minting implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "CLIENT")
        String name;

        @Override
        public void run() {
            Admin.Answer<MintingPreview[]> answer =
                    common.admin().get(common.path("clients", name, "minting"), MintingPreview[].class);
            common.say(answer.json(), () -> {
                if (answer.value().length == 0)
                    common.out().done("It may call no API on its own.", Http.command("admit client show %s", name));
                for (MintingPreview it : answer.value()) {
                    common.out().line(common.out().strong(it.api()) + "  " + it.audience());
                    if (it.fault() != null)
                        common.out().line("  " + common.out().verdict("refused") + "  " + it.fault());
                    it.why().forEach(why -> common.out().line("  " + why));
                    it.claims().forEach((claim, value) -> common.out().line("  %s = %s".formatted(claim, value)));
                    common.out().line("");
                }
            });
        }
    }

    @Command(
            name = "change",
            description = "Change a client; what is not named stays.",
            footer = {"", "Example: admit client change old-crane --contact 'Isolde Marrin' --tag crane"})
    static final class Change implements Runnable {
        @Mixin
        Common common;

        @Mixin
        ClientFields fields;

        @Parameters(paramLabel = "CLIENT")
        String name;

        @Option(names = "--name", paramLabel = "NEW", description = "A new name.")
        String newName;

        @Spec
        CommandSpec command;

        @Override
        public void run() {
            String path = common.path("clients", name);
            Admin.Answer<ClientView> old = common.admin().get(path, ClientView.class);
            Admin.Answer<JsonNode> answer = fields.send(() -> common.admin()
                    .change(
                            "PATCH",
                            path,
                            old.etag().orElse("*"),
                            fields.change(newName, old.value(), Lists.of(command)),
                            JsonNode.class));
            Changed<ClientView> changed = common.admin().read(answer.json(), new TypeReference<>() {});
            common.say(answer.json(), () -> {
                common.out().notes(changed.notes());
                common.out()
                        .done(
                                "The client %s is changed."
                                        .formatted(changed.now().name()),
                                Http.command(
                                        "admit client show %s", changed.now().name()));
            });
        }
    }

    private static void switchTo(Common common, String name, String word, String now, String next) {
        Admin.Answer<JsonNode> answer =
                common.admin().post(common.path("clients", name, word), Map.of(), JsonNode.class);
        Changed<ClientView> switched = common.admin().read(answer.json(), new TypeReference<>() {});
        common.say(answer.json(), () -> {
            common.out().notes(switched.notes());
            common.out()
                    .done(
                            now.formatted(switched.now().name()),
                            Http.command(next, switched.now().name()));
        });
    }

    @Command(
            name = "watch",
            description = "Watch a client while its developer works elsewhere, until its first call passes.",
            footer = {"", "Example: admit client watch night-audit"})
    static final class Watch implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "CLIENT")
        String name;

        @Option(
                names = "--since",
                paramLabel = "TIME",
                description = "A time, or so long ago. Default: now; with --once 10m.")
        String since;

        @Option(names = "--once", description = "Show the state once, and end.")
        boolean once;

        @Override
        public void run() {
            String from = since;
            String told = "";
            List<String> seen = new java.util.ArrayList<>();
            while (true) {
                Admin.Answer<WatchView> answer = common.admin()
                        .get(
                                common.path("clients", name, "watch")
                                        + Http.query("since", from == null && !once ? "1s" : from),
                                WatchView.class);
                WatchView it = answer.value();
                if (from == null && !once) from = it.now().minusSeconds(1).toString(); // of the service's clock
                for (var one : it.decisions().reversed()) {
                    if (seen.contains(one.id())) continue;
                    seen.add(one.id());
                    if (!once) common.say(one, () -> common.out().line(String.join("  ", DecisionCommands.row(one))));
                }
                String words = it.steps().toString() + it.next();
                if (!words.equals(told) && (!common.json || once))
                    common.say(answer.json(), () -> tell(common.out(), it));
                told = words;
                if (once || it.admitted()) return;
                DecisionCommands.pause();
            }
        }

        private static void tell(Output out, WatchView it) {
            it.steps().forEach(step -> out.line((step.done() ? "● " : "◐ ") + Output.plain(step.said())));
            if (it.next() != null)
                out.fields(
                        "  Next",
                        it.next().sentence(),
                        "  Command",
                        it.next().command(),
                        "  Who acts",
                        it.next().who());
        }
    }

    @Command(
            name = "on",
            description = "Switch a client on. Tokens that ended when it was switched off stay ended.",
            footer = {"", "Example: admit client on old-crane"})
    static final class On implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "CLIENT")
        String name;

        @Override
        public void run() {
            switchTo(common, name, "on", "The client %s is on; it can fetch new tokens.", "admit client show %s");
        }
    }

    @Command(
            name = "off",
            description = "Switch a client off; its tokens are refused from the next request on.",
            footer = {"", "Example: admit client off old-crane"})
    static final class Off implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "CLIENT")
        String name;

        @Override
        public void run() {
            switchTo(
                    common,
                    name,
                    "off",
                    "The client %s is off; it gets no tokens, and those it has are refused from now on.",
                    "admit client on %s");
        }
    }

    @Command(
            name = "remove",
            description = "Remove a client; its tokens are refused from the next request on.",
            footer = {"", "Example: admit client remove old-crane --confirm old-crane"})
    static final class Remove implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "CLIENT")
        String name;

        @Option(names = "--confirm", paramLabel = "NAME", description = "The client's name, said again.")
        String confirm;

        @Override
        public void run() {
            common.admin().remove(common.path("clients", name) + Confirm.query(confirm), JsonNode.class);
            common.say(Map.of("removed", name), () -> common.out()
                    .done(
                            "The client %s is gone; its tokens are refused from now on.".formatted(name),
                            "admit client list"));
        }
    }
}
