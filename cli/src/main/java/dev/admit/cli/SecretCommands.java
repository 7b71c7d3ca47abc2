package dev.admit.cli;

import dev.admit.contract.ClientView;
import dev.admit.contract.SecretMade;
import dev.admit.contract.SecretOnce;
import dev.admit.contract.SecretWanted;
import java.util.List;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

@Command(
        name = "secret",
        description = "Secrets of a client; several may overlap.",
        subcommands = {
            SecretCommands.ListAll.class,
            SecretCommands.Add.class,
            SecretCommands.Replace.class,
            SecretCommands.Remove.class
        })
final class SecretCommands {

    /** Keeps a secret on this machine, because it was requested. */
    static void keep(Common common, ClientView client, SecretOnce secret) {
        common.saved()
                .change(contents -> contents.changing(
                        common.admin().serverName(),
                        server -> server.withClient(
                                client.issuer() + "/" + client.name(),
                                new SavedServers.Credential(
                                        client.tokenEndpoint(),
                                        client.clientId(),
                                        secret.secret(),
                                        client.tokenEndpointAuthMethod()))));
    }

    @Command(
            name = "list",
            description = "List the secrets of a client, without what they are.",
            footer = {"", "Example: admit secret list old-crane"})
    static final class ListAll implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "CLIENT")
        String client;

        @Override
        public void run() {
            ClientView it = common.admin()
                    .get(common.path("clients", client), ClientView.class)
                    .value();
            common.say(it.secrets(), () -> common.out()
                    .table(
                            List.of("SECRET", "LABEL", "ENDS", "USED"),
                            it.secrets().stream()
                                    .map(secret -> List.of(
                                            secret.id(),
                                            secret.label(),
                                            secret.expiresAt() == null
                                                    ? "never"
                                                    : Output.when(secret.expiresAt(), common.now()),
                                            secret.usedAt() == null
                                                    ? "never"
                                                    : Output.relative(secret.usedAt(), common.now())))
                                    .toList()));
        }
    }

    @Command(
            name = "add",
            description = "Make another secret beside those that are there.",
            footer = {"", "Example: admit secret add old-crane --label winter --lifetime 30d"})
    static final class Add implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "CLIENT")
        String client;

        @Option(names = "--label", description = "Its label.")
        String label;

        @Option(
                names = "--lifetime",
                paramLabel = "TIME",
                description = "Such as 30d, or never where the issuer allows it. Default: the issuer's.")
        String lifetime;

        @Mixin
        ShownSecret shown;

        @Override
        public void run() {
            Admin.Answer<SecretMade> answer = common.admin()
                    .post(
                            common.path("clients", client, "secrets"),
                            new SecretWanted(label, lifetime, null),
                            SecretMade.class);
            shown.show(
                    common, answer.json(), answer.value().now(), answer.value().secret(), () -> {
                        common.out().notes(answer.value().notes());
                        common.out()
                                .done(
                                        "%s has %d secrets; each works."
                                                .formatted(
                                                        answer.value().now().name(),
                                                        answer.value()
                                                                .now()
                                                                .secrets()
                                                                .size()),
                                        Http.command("admit secret list %s", client));
                    });
        }
    }

    @Command(
            name = "replace",
            description = "Make a new secret; the others expire after an overlap, so that nothing stops.",
            footer = {"", "Example: admit secret replace old-crane --overlap 2d"})
    static final class Replace implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "CLIENT")
        String client;

        @Option(names = "--label", description = "The label of the new secret.")
        String label;

        @Option(names = "--lifetime", paramLabel = "TIME", description = "Of the new one. Default: the issuer's.")
        String lifetime;

        @Option(names = "--overlap", paramLabel = "TIME", description = "How long the others still work. Default: 1d.")
        String overlap;

        @Mixin
        ShownSecret shown;

        @Override
        public void run() {
            Admin.Answer<SecretMade> answer = common.admin()
                    .post(
                            common.path("clients", client, "secrets", "replace"),
                            new SecretWanted(label, lifetime, overlap),
                            SecretMade.class);
            shown.show(
                    common, answer.json(), answer.value().now(), answer.value().secret(), () -> {
                        common.out().notes(answer.value().notes());
                        common.out()
                                .done(
                                        "The new secret works now; the others expire within %s."
                                                .formatted(overlap == null ? "1d" : overlap),
                                        Http.command("admit secret list %s", client));
                    });
        }
    }

    @Command(
            name = "remove",
            description = "Remove a secret.",
            footer = {"", "Example: admit secret remove old-crane sec_…"})
    static final class Remove implements Runnable {
        @Mixin
        Common common;

        @Parameters(index = "0", paramLabel = "CLIENT")
        String client;

        @Parameters(index = "1", paramLabel = "SECRET")
        String secret;

        @Option(
                names = "--confirm",
                paramLabel = "NAME",
                description = "The client's name, when it is the last secret.")
        String confirm;

        @Override
        public void run() {
            common.admin()
                    .remove(common.path("clients", client, "secrets", secret) + Confirm.query(confirm), JsonNode.class);
            common.say(Map.of("removed", secret), () -> common.out()
                    .done(
                            "The secret no longer works; tokens fetched with it live until they expire.",
                            Http.command("admit secret list %s", client)));
        }
    }
}
