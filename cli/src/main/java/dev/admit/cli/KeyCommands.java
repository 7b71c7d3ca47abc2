package dev.admit.cli;

import dev.admit.contract.Changed;
import dev.admit.contract.KeyView;
import dev.admit.contract.KeyWanted;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.JsonNode;

@Command(
        name = "key",
        description = "Signing keys of an issuer: upcoming, active, retiring, retired.",
        subcommands = {KeyCommands.ListAll.class, KeyCommands.Rotate.class, KeyCommands.Remove.class})
final class KeyCommands {

    @Command(
            name = "list",
            description = "List the keys, the one that signs last first.",
            footer = {"", "Example: admit key list"})
    static final class ListAll implements Runnable {
        @Mixin
        Common common;

        @Override
        public void run() {
            List<KeyView> all = common.admin().list(common.path("keys"), KeyView.class, 1000);
            common.say(all, () -> {
                common.out()
                        .table(
                                List.of("KEY", "FOR", "ALG", "STATE", "SIGNS FROM", "UNTIL"),
                                all.stream()
                                        .map(it -> List.of(
                                                it.kid(),
                                                it.purpose(),
                                                it.alg(),
                                                Output.mark(it.state()),
                                                Output.relative(it.signsFrom(), common.now()),
                                                until(it)))
                                        .toList());
                if (all.stream().noneMatch(it -> it.state().equals("upcoming")))
                    common.out().done("No key is upcoming.", "admit key rotate");
            });
        }

        private String until(KeyView it) {
            return switch (it.state()) {
                case "removed" -> "removed " + Output.relative(it.removedAt(), common.now());
                case "retiring" -> "its last token ends " + Output.relative(it.verifiesUntil(), common.now());
                case "active", "upcoming" ->
                    it.signsUntil() == null
                            ? ""
                            : "the next takes over " + Output.relative(it.signsUntil(), common.now());
                default -> "";
            };
        }
    }

    @Command(
            name = "rotate",
            description =
                    "Publish the next key: published now, signing after a while, so that everyone has it by then.",
            footer = {
                "",
                "Example: admit key rotate",
                "Example: admit key rotate --alg EdDSA --after 1d",
                "Example: admit key rotate --import key.pem"
            })
    static final class Rotate implements Runnable {
        @Mixin
        Common common;

        @Option(
                names = "--purpose",
                paramLabel = "WORD",
                description = "access-token or id-token: which tokens it signs. Default: access-token.")
        String purpose;

        @Option(
                names = "--alg",
                paramLabel = "WORD",
                description = "ES256, RS256, PS256 or EdDSA. Default: that of the active key.")
        String alg;

        @Option(
                names = "--after",
                paramLabel = "TIME",
                description = "How long it is published before it signs; 0s for at once. Default: 10m.")
        String after;

        @Option(
                names = "--import",
                paramLabel = "FILE",
                description = "A private key in PEM (PKCS #8) or as JWK, instead of one made here.")
        Path file;

        @Option(
                names = "--confirm",
                paramLabel = "ISSUER",
                description = "The issuer's name, where the key would sign too soon.")
        String confirm;

        @Override
        public void run() {
            String imported = null;
            try {
                if (file != null) imported = Files.readString(file);
            } catch (IOException unreadable) {
                throw new Failure(
                        Failure.WRONG_USAGE,
                        "%s cannot be read (%s). Name a file with a private key."
                                .formatted(file, unreadable.getClass().getSimpleName()));
            }
            Admin.Answer<JsonNode> answer = common.admin()
                    .post(
                            common.path("keys") + Confirm.query(confirm),
                            new KeyWanted(purpose, alg, after, imported),
                            JsonNode.class);
            Changed<KeyView> changed = common.admin().read(answer.json(), new TypeReference<>() {});
            common.say(answer.json(), () -> {
                common.out().notes(changed.notes());
                KeyView it = changed.now();
                common.out()
                        .done(
                                it.state().equals("active")
                                        ? "%s (%s) signs now; the one before it stays until its last token is gone."
                                                .formatted(it.kid(), it.alg())
                                        : "%s (%s) is published, and signs %s."
                                                .formatted(
                                                        it.kid(), it.alg(), Output.when(it.signsFrom(), common.now())),
                                "admit key list");
            });
        }
    }

    @Command(
            name = "remove",
            description = "Remove a key in an emergency; every token it signed is refused from the next request on.",
            footer = {"", "Example: admit key remove key_… --confirm key_…"})
    static final class Remove implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "KEY")
        String kid;

        @Option(names = "--confirm", paramLabel = "KEY", description = "The key's id, said again.")
        String confirm;

        @Override
        public void run() {
            JsonNode removed = common.admin()
                    .remove(common.path("keys", kid) + Confirm.query(confirm), JsonNode.class)
                    .orElseThrow()
                    .json();
            common.say(removed, () -> common.out()
                    .done("%s is out: nothing it signed passes from now on.".formatted(kid), "admit key list"));
        }
    }
}
