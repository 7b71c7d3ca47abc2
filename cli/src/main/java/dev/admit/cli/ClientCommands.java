package dev.admit.cli;

import dev.admit.contract.ApprovalView;
import dev.admit.contract.Changed;
import dev.admit.contract.ClientMade;
import dev.admit.contract.ClientView;
import dev.admit.contract.ClientWanted;
import dev.admit.contract.SecretOnce;
import dev.admit.contract.SecretView;
import java.util.List;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.JsonNode;

@Command(name = "client", description = "Callers, with what they ask for.", subcommands = {ClientCommands.ListAll.class, ClientCommands.Show.class,
    ClientCommands.Add.class, ClientCommands.Change.class, ClientCommands.On.class, ClientCommands.Off.class, ClientCommands.Remove.class})
final class ClientCommands {

    @Command(name = "list", description = "List the clients of an issuer.", footer = {"", "Example: admit client list --holding buoy"})
    static final class ListAll implements Runnable {
        @Mixin Common common;
        @Option(names = "--holding", paramLabel = "TEXT", description = "Only those with this in name, id or title.") String holding;
        @Option(names = "--most", paramLabel = "N", description = "At most so many. Default: ${DEFAULT-VALUE}.") int most = 200;

        @Override public void run() {
            List<ClientView> all = common.admin().list(common.path("clients") + (holding == null ? "" : "?holding=" + Http.encoded(holding)), ClientView.class, most);
            common.say(all, () -> {
                if (all.isEmpty()) common.out().done("No client here.", "admit client add NAME --ask SCOPE");
                else common.out().table(List.of("CLIENT", "CLIENT ID", "KIND", "MAY HOLD", "TO DO"), all.stream().map(it -> List.of(it.name(), it.clientId(), it.kind(),
                        it.asks().stream().filter(ask -> ask.status().equals("given")).map(ApprovalView::scope).collect(Collectors.joining(" ")),
                        it.missing().isEmpty() ? "" : it.missing().size() + " to do")).toList(), 3);
            });
        }
    }

    @Command(name = "show", description = "Show a client: what it may do, and what it still lacks to work.", footer = {"", "Example: admit client show tide-buoy-07"})
    static final class Show implements Runnable {
        @Mixin Common common;
        @Parameters(paramLabel = "CLIENT") String name;

        @Override public void run() {
            Admin.Answer<ClientView> answer = common.admin().get(common.path("clients", name), ClientView.class);
            ClientView it = answer.value();
            common.say(answer.json(), () -> {
                Output out = common.out();
                out.fields("Client", it.name(), "Title", it.title(), "Client id", it.clientId(), "Kind", it.kind(), "Switched", it.enabled() ? "on" : "off", "Proves itself", "by " + it.authMethod(),
                        "Owner", it.owner().isEmpty() ? "nobody" : it.owner(), "Token endpoint", it.tokenEndpoint(), "Made", Output.when(it.createdAt(), common.now()));
                out.line("");
                for (ApprovalView ask : it.asks()) out.line("%s  %s  %s".formatted(out.verdict(ask.status()), ask.scope(), out.faint(Output.plain(ask.words()))));
                for (SecretView secret : it.secrets()) {
                    out.line("Secret %s (%s) ends %s".formatted(secret.label(), secret.id(), Output.when(secret.expiresAt(), common.now())));
                }
                if (it.missing().isEmpty()) out.done("Nothing is missing: it can fetch tokens.", "admit token fetch " + it.name());
                else it.missing().forEach(lack -> out.fields("To do", lack));
            });
        }
    }

    /** Shows a secret, the one time it can be shown. */
    static void tellSecret(Output out, SecretOnce secret) {
        out.line("");
        out.line(out.strong("The secret is shown now and never again:"));
        out.fields("Secret", secret.secret(), "Ends", Output.exact(secret.expiresAt()));
        out.line("Authorization: " + secret.authorization());
        out.line(secret.curl());
        out.line("");
    }

    @Command(name = "add", description = "Register a client with its first secret.", footer = {"", "Example: admit client add tide-buoy-07 --ask tides.read --ask tides.publish --keep"})
    static final class Add implements Runnable {
        @Mixin Common common;
        @Parameters(paramLabel = "NAME") String name;
        @Option(names = "--title", description = "What people read.") String title;
        @Option(names = "--kind", description = "service: a program that acts for nobody but itself.") String kind;
        @Option(names = "--auth-method", paramLabel = "WORD", description = "client_secret_basic or client_secret_post.") String authMethod;
        @Option(names = "--owner", description = "Who answers for it.") String owner;
        @Option(names = "--ask", paramLabel = "SCOPE", description = "A scope it asks for; may be said again.") List<String> asks;
        @Option(names = "--secret-lifetime", paramLabel = "TIME", description = "Such as 30d. Default: 90d.") String lifetime;
        @Option(names = "--keep", description = "Keep the secret on this machine, for admit token fetch and admit call.") boolean keep;

        @Override public void run() {
            Admin.Answer<ClientMade> answer = common.admin().post(common.path("clients"), new ClientWanted(name, title, kind, authMethod, owner, asks, lifetime), ClientMade.class);
            ClientMade made = answer.value();
            if (keep) SecretCommands.keep(common, made.now(), made.secret());
            common.say(answer.json(), () -> {
                common.out().notes(made.notes());
                tellSecret(common.out(), made.secret());
                List<ApprovalView> waiting = made.now().asks().stream().filter(ask -> ask.status().equals("waiting")).toList();
                common.out().done("The client %s is registered as %s%s.".formatted(made.now().name(), made.now().clientId(),
                        waiting.isEmpty() ? "; it asks for nothing yet" : "; what it asks for waits"), waiting.isEmpty() ? "admit approval ask %s SCOPE".formatted(name)
                        : "admit approval give %s %s".formatted(made.now().name(), waiting.getFirst().scope()));
            });
        }
    }

    @Command(name = "change", description = "Change a client; what is not named stays.", footer = {"", "Example: admit client change old-crane --owner 'Isolde Marrin'"})
    static final class Change implements Runnable {
        @Mixin Common common;
        @Parameters(paramLabel = "CLIENT") String name;
        @Option(names = "--name", paramLabel = "NEW", description = "A new name.") String newName;
        @Option(names = "--title", description = "What people read.") String title;
        @Option(names = "--auth-method", paramLabel = "WORD", description = "client_secret_basic or client_secret_post.") String authMethod;
        @Option(names = "--owner", description = "Who answers for it; '' for nobody.") String owner;

        @Override public void run() {
            String path = common.path("clients", name);
            String etag = common.admin().get(path, ClientView.class).etag().orElse("*");
            Admin.Answer<JsonNode> answer = common.admin().change("PATCH", path, etag, new ClientWanted(newName, title, null, authMethod, owner, null, null), JsonNode.class);
            Changed<ClientView> changed = common.admin().read(answer.json(), new TypeReference<>() {});
            common.say(answer.json(), () -> {
                common.out().notes(changed.notes());
                common.out().done("The client %s is changed.".formatted(changed.now().name()), "admit client show " + changed.now().name());
            });
        }
    }

    private static void switchTo(Common common, String name, String word, String now, String next) {
        Admin.Answer<JsonNode> answer = common.admin().post(common.path("clients", name, word), java.util.Map.of(), JsonNode.class);
        Changed<ClientView> switched = common.admin().read(answer.json(), new TypeReference<>() {});
        common.say(answer.json(), () -> {
            common.out().notes(switched.notes());
            common.out().done(now.formatted(switched.now().name()), next.formatted(switched.now().name()));
        });
    }

    @Command(name = "on", description = "Switch a client on. Tokens that ended when it was switched off stay ended.", footer = {"", "Example: admit client on old-crane"})
    static final class On implements Runnable {
        @Mixin Common common;
        @Parameters(paramLabel = "CLIENT") String name;

        @Override public void run() {
            switchTo(common, name, "on", "The client %s is on; it can fetch new tokens.", "admit client show %s");
        }
    }

    @Command(name = "off", description = "Switch a client off; its tokens are refused from the next request on.", footer = {"", "Example: admit client off old-crane"})
    static final class Off implements Runnable {
        @Mixin Common common;
        @Parameters(paramLabel = "CLIENT") String name;

        @Override public void run() {
            switchTo(common, name, "off", "The client %s is off; it gets no tokens, and those it has are refused from now on.", "admit client on %s");
        }
    }

    @Command(name = "remove", description = "Remove a client; its tokens are refused from the next request on.", footer = {"", "Example: admit client remove old-crane --confirm old-crane"})
    static final class Remove implements Runnable {
        @Mixin Common common;
        @Parameters(paramLabel = "CLIENT") String name;
        @Option(names = "--confirm", paramLabel = "NAME", description = "The client's name, said again.") String confirm;

        @Override public void run() {
            common.admin().remove(common.path("clients", name) + Confirm.query(confirm), JsonNode.class);
            common.say(java.util.Map.of("removed", name), () -> common.out().done("The client %s is gone; its tokens are refused from now on.".formatted(name), "admit client list"));
        }
    }
}
