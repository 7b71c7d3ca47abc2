package dev.admit.cli;

import dev.admit.contract.Changed;
import dev.admit.contract.InitialAccessTokenMade;
import dev.admit.contract.InitialAccessTokenView;
import dev.admit.contract.InitialAccessTokenWanted;
import dev.admit.contract.RegistrationLimits;
import dev.admit.contract.RegistrationView;
import dev.admit.contract.RegistrationWanted;
import java.util.List;
import java.util.Map;
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
        name = "registration",
        description = "Whether clients may register themselves, and with which initial access tokens.",
        subcommands = {
            RegistrationCommands.Show.class,
            RegistrationCommands.Change.class,
            RegistrationCommands.Tokens.class
        })
final class RegistrationCommands {

    @Command(
            name = "show",
            description = "Show whether clients may register themselves.",
            footer = {"", "Example: admit registration show"})
    static final class Show implements Runnable {
        @Mixin
        Common common;

        @Override
        public void run() {
            Admin.Answer<RegistrationView> answer =
                    common.admin().get(common.path("registration"), RegistrationView.class);
            RegistrationView it = answer.value();
            common.say(answer.json(), () -> {
                common.out()
                        .fields(
                                "Mode",
                                it.mode(),
                                "Approver",
                                it.approver(),
                                "Endpoint",
                                it.endpoint(),
                                "Never used",
                                it.unused() + (it.unused() == 1 ? " client" : " clients"));
                it.sentences().forEach(common.out()::line);
            });
        }
    }

    /** What clients may be that register themselves. */
    static final class LimitOptions {
        @Option(names = "--kind", paramLabel = "WORD", description = "{RegistrationLimits.kinds}; may be said again.")
        List<String> kinds;

        @Option(
                names = "--grant-type",
                paramLabel = "TYPE",
                description = "{RegistrationLimits.grantTypes}; may be said again.")
        List<String> grantTypes;

        @Option(names = "--scope", description = "{RegistrationLimits.scopes}; may be said again.")
        List<String> scopes;

        @Option(
                names = "--redirect-domain",
                paramLabel = "DOMAIN",
                description = "{RegistrationLimits.redirectDomains}; may be said again.")
        List<String> redirectDomains;
    }

    @Command(
            name = "change",
            description = "Say whether clients may register themselves; what is not named stays.",
            footer = {"", "Example: admit registration change --mode open --scope tides.read"})
    static final class Change implements Runnable {
        @Mixin
        Common common;

        @Mixin
        LimitOptions limits;

        @Option(
                names = "--mode",
                description = "closed: nobody; with-token: with an initial access token; open: everybody.")
        String mode;

        @Option(names = "--approver", paramLabel = "WORD", description = "{RegistrationWanted.approver}.")
        String approver;

        @Spec
        CommandSpec command;

        @Override
        public void run() {
            String path = common.path("registration");
            Admin.Answer<RegistrationView> old = common.admin().get(path, RegistrationView.class);
            Lists lists = Lists.of(command);
            RegistrationLimits was = old.value().limits();
            RegistrationLimits wanted = new RegistrationLimits(
                    lists.list("--kind", limits.kinds, was.kinds()),
                    lists.list("--grant-type", limits.grantTypes, was.grantTypes()),
                    lists.list("--scope", limits.scopes, was.scopes()),
                    lists.list("--redirect-domain", limits.redirectDomains, was.redirectDomains()));
            Admin.Answer<JsonNode> answer = common.admin()
                    .change(
                            "PATCH",
                            path,
                            old.etag().orElse("*"),
                            new RegistrationWanted(mode, wanted, approver),
                            JsonNode.class);
            Changed<RegistrationView> changed = common.admin().read(answer.json(), new TypeReference<>() {});
            common.say(answer.json(), () -> {
                common.out().notes(changed.notes());
                common.out()
                        .done(
                                changed.now().sentences().getFirst(),
                                changed.now().mode().equals("with-token")
                                        ? "admit registration token add LABEL"
                                        : "admit registration show");
            });
        }
    }

    @Command(
            name = "token",
            description = "Initial access tokens, with which clients register themselves.",
            subcommands = {TokenList.class, TokenAdd.class, TokenRemove.class})
    static final class Tokens {}

    @Command(
            name = "list",
            description = "List the initial access tokens.",
            footer = {"", "Example: admit registration token list"})
    static final class TokenList implements Runnable {
        @Mixin
        Common common;

        @Override
        public void run() {
            List<InitialAccessTokenView> all =
                    common.admin().list(common.path("registration", "tokens"), InitialAccessTokenView.class, 1000);
            common.say(all, () -> {
                if (all.isEmpty())
                    common.out().done("No initial access token yet.", "admit registration token add LABEL");
                else
                    common.out()
                            .table(
                                    List.of("LABEL", "USES LEFT", "ENDS", "MADE BY", "ID"),
                                    all.stream()
                                            .map(it -> List.of(
                                                    Output.plain(it.label()),
                                                    String.valueOf(it.uses()),
                                                    Output.relative(it.expiresAt(), common.now()),
                                                    it.madeBy(),
                                                    it.id()))
                                            .toList());
            });
        }
    }

    @Command(
            name = "add",
            description = "Make an initial access token. It is shown this once.",
            footer = {"", "Example: admit registration token add 'Chart tables' --uses 20 --kind native"})
    static final class TokenAdd implements Runnable {
        @Mixin
        Common common;

        @Mixin
        LimitOptions limits;

        @Parameters(paramLabel = "LABEL", description = "What it is for.")
        String label;

        @Option(names = "--uses", paramLabel = "N", description = "{InitialAccessTokenWanted.uses}.")
        Integer uses;

        @Option(names = "--lifetime", paramLabel = "TIME", description = "{InitialAccessTokenWanted.lifetime}.")
        String lifetime;

        @Override
        public void run() {
            Admin.Answer<InitialAccessTokenMade> answer = common.admin()
                    .post(
                            common.path("registration", "tokens"),
                            new InitialAccessTokenWanted(label, uses, lifetime, said(limits)),
                            InitialAccessTokenMade.class);
            InitialAccessTokenMade made = answer.value();
            common.say(answer.json(), () -> {
                common.out().notes(made.notes());
                common.out().fields("Token", made.token());
                common.out().line(made.curl());
                common.out()
                        .done(
                                "It is shown this once; %d %s register with it."
                                        .formatted(
                                                made.now().uses(),
                                                made.now().uses() == 1 ? "client may" : "clients may"),
                                "admit registration token list");
            });
        }

        private static @Nullable RegistrationLimits said(LimitOptions it) {
            boolean nothing =
                    it.kinds == null && it.grantTypes == null && it.scopes == null && it.redirectDomains == null;
            return nothing ? null : new RegistrationLimits(it.kinds, it.grantTypes, it.scopes, it.redirectDomains);
        }
    }

    @Command(
            name = "remove",
            description = "Remove an initial access token. Clients that registered with it stay.",
            footer = {"", "Example: admit registration token remove 'Chart tables'"})
    static final class TokenRemove implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "TOKEN", description = "Its label or its id.")
        String token;

        @Override
        public void run() {
            common.admin().remove(common.path("registration", "tokens", token), JsonNode.class);
            common.say(Map.of("removed", token), () -> common.out()
                    .done("Nobody registers with it any more.", "admit registration token list"));
        }
    }
}
