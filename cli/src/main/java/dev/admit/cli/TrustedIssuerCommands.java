package dev.admit.cli;

import dev.admit.contract.Changed;
import dev.admit.contract.StepsView;
import dev.admit.contract.TrustedIssuerView;
import dev.admit.contract.TrustedIssuerWanted;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.JsonNode;

@Command(
        name = "trusted-issuer",
        description = "Issuers elsewhere whose tokens routes may accept.",
        subcommands = {
            TrustedIssuerCommands.ListAll.class,
            TrustedIssuerCommands.Show.class,
            TrustedIssuerCommands.Add.class,
            TrustedIssuerCommands.Change.class,
            TrustedIssuerCommands.Look.class,
            TrustedIssuerCommands.Remove.class
        })
final class TrustedIssuerCommands {
    private static final String THINGS = "trusted-issuers";

    @Command(
            name = "list",
            description = "List the issuers elsewhere that this one trusts.",
            footer = {"", "Example: admit trusted-issuer list"})
    static final class ListAll implements Runnable {
        @Mixin
        Common common;

        @Override
        public void run() {
            List<TrustedIssuerView> all = common.admin().list(common.path(THINGS), TrustedIssuerView.class, 1000);
            common.say(all, () -> {
                if (all.isEmpty())
                    common.out().done("No issuer elsewhere is trusted.", "admit trusted-issuer add NAME --url URL");
                else
                    common.out()
                            .table(
                                    List.of("NAME", "ISSUER", "KEYS", "LAST LOOK"),
                                    all.stream()
                                            .map(it -> List.of(
                                                    it.name(),
                                                    it.url(),
                                                    String.valueOf(it.kids().size()),
                                                    it.fault() != null
                                                            ? "⊟ " + it.fault()
                                                            : it.pasted()
                                                                    ? "pasted"
                                                                    : it.foundAt() == null
                                                                            ? "◐ none yet"
                                                                            : "● "
                                                                                    + Output.when(
                                                                                            it.foundAt(),
                                                                                            common.now())))
                                            .toList());
            });
        }
    }

    @Command(
            name = "show",
            description = "Show a trusted issuer, and how its tokens are read.",
            footer = {"", "Example: admit trusted-issuer show coastguard"})
    static final class Show implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "NAME")
        String name;

        @Override
        public void run() {
            TrustedIssuerView it = common.admin()
                    .get(common.path(THINGS, name), TrustedIssuerView.class)
                    .value();
            common.say(it, () -> common.out()
                    .fields(
                            "Name",
                            it.name(),
                            "Issuer",
                            it.url(),
                            "Keys from",
                            it.pasted() ? "what was pasted" : it.metadata() != null ? it.metadata() : it.jwksUri(),
                            "Known keys",
                            it.kids().isEmpty() ? "none" : String.join(", ", it.kids()),
                            "Found",
                            Output.when(it.foundAt(), common.now()),
                            "Last look",
                            it.fault(),
                            "Algorithms",
                            String.join(", ", it.algorithms()),
                            "Types",
                            String.join(", ", it.types()),
                            "Audience",
                            it.audience() == null ? "that of the API behind the route" : it.audience(),
                            "Scopes in",
                            it.scopeClaim(),
                            "Roles in",
                            it.rolesClaim(),
                            "Person in",
                            it.personClaim(),
                            "Client in",
                            it.clientClaim(),
                            "Scopes",
                            it.scopes().isEmpty() ? "as they are" : pairs(it.scopes(), " counts as "),
                            "Clients",
                            pairs(it.clients(), " is "),
                            "Id",
                            it.id()));
        }

        private static String pairs(Map<String, String> pairs, String between) {
            return String.join(
                    "\n",
                    pairs.entrySet().stream()
                            .map(it -> it.getKey() + between + it.getValue())
                            .toList());
        }
    }

    /** What is known of one. */
    static final class Members {
        @Option(names = "--url", description = "{TrustedIssuerWanted.url}.")
        String url;

        @Option(
                names = "--metadata",
                paramLabel = "URL",
                description = "Where its metadata is. As usual: /.well-known/openid-configuration below its url.")
        String metadata;

        @Option(names = "--jwks-uri", paramLabel = "URL", description = "Where its key set is, instead of metadata.")
        String jwksUri;

        @Option(names = "--jwks", paramLabel = "FILE", description = "A file with its key set, instead of either.")
        Path jwks;

        @Option(
                names = "--algorithm",
                paramLabel = "ALG",
                description = "{TrustedIssuerWanted.algorithms}; may be said again.")
        List<String> algorithms;

        @Option(
                names = "--type",
                paramLabel = "TYP",
                description =
                        "The typ of its access tokens; none for tokens without; may be said again. As usual: at+jwt.")
        List<String> types;

        @Option(
                names = "--audience",
                description = "That its tokens must be for; '' for the audience of the API behind the route.")
        String audience;

        @Option(
                names = "--scope-claim",
                paramLabel = "CLAIM",
                description = "Where scopes stand: a claim, or a JSON Pointer such as /harbour/scopes.")
        String scopeClaim;

        @Option(names = "--roles-claim", paramLabel = "CLAIM", description = "{TrustedIssuerWanted.rolesClaim}.")
        String rolesClaim;

        @Option(
                names = "--person-claim",
                paramLabel = "CLAIM",
                description =
                        "Where the person stands; without one, or where it is the client, a client acts on its own.")
        String personClaim;

        @Option(names = "--client-claim", paramLabel = "CLAIM", description = "{TrustedIssuerWanted.clientClaim}.")
        String clientClaim;

        @Option(
                names = "--scope",
                paramLabel = "THEIRS=OURS",
                description =
                        "What a scope of theirs counts as; may be said again. Where some are said, no other counts.")
        Map<String, String> scopes;

        @Option(
                names = "--client",
                paramLabel = "THEIRS=OURS",
                description = "The client here that a client of theirs is; may be said again.")
        Map<String, String> clients;

        TrustedIssuerWanted wanted(String name) {
            return new TrustedIssuerWanted(
                    name,
                    url,
                    metadata,
                    jwksUri,
                    jwks == null ? null : read(jwks),
                    algorithms,
                    types,
                    audience,
                    scopeClaim,
                    rolesClaim,
                    personClaim,
                    clientClaim,
                    scopes,
                    clients);
        }

        /** What a change says of one that is there, as a merge patch: pairs that are to go are null. */
        Map<String, Object> change(TrustedIssuerView old, Lists lists) {
            TrustedIssuerWanted plain = new TrustedIssuerWanted(
                    null,
                    url,
                    metadata,
                    jwksUri,
                    jwks == null ? null : read(jwks),
                    lists.list("--algorithm", algorithms, old.algorithms()),
                    lists.list("--type", types, old.types()),
                    audience,
                    scopeClaim,
                    rolesClaim,
                    personClaim,
                    clientClaim,
                    null,
                    null);
            Map<String, Object> patch = Http.JSON.convertValue(plain, new TypeReference<>() {});
            Map<String, Object> theirScopes = lists.pairs("--scope", scopes, old.scopes());
            Map<String, Object> theirClients = lists.pairs("--client", clients, old.clients());
            if (theirScopes != null) patch.put("scopes", theirScopes);
            if (theirClients != null) patch.put("clients", theirClients);
            return patch;
        }

        private static String read(Path file) {
            try {
                return Files.readString(file);
            } catch (IOException none) {
                throw new Failure(
                        Failure.WRONG_USAGE, "The file %s cannot be read: %s".formatted(file, none.getMessage()));
            }
        }
    }

    private static void tell(Common common, JsonNode json, String done, String next) {
        Changed<TrustedIssuerView> changed = common.admin().read(json, new TypeReference<>() {});
        common.say(json, () -> {
            common.out().notes(changed.notes());
            common.out()
                    .done(
                            done.formatted(changed.now().name()),
                            Http.command(next, changed.now().name()));
        });
    }

    @Command(
            name = "add",
            description = "Trust an issuer elsewhere. Routes take its tokens once they name it.",
            footer = {
                "",
                "Example: admit trusted-issuer add coastguard --url https://coastguard.example --scope "
                        + "sea.read=tides.read"
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
            tell(
                    common,
                    common.admin()
                            .post(common.path(THINGS), members.wanted(name), JsonNode.class)
                            .json(),
                    "The issuer %s is trusted; no route takes its tokens yet.",
                    "admit route change METHODS PATH --add-token-issuer %s");
        }
    }

    @Command(
            name = "change",
            description = "Change a trusted issuer; what is not named stays.",
            footer = {"", "Example: admit trusted-issuer change coastguard --client patrol-boat=tide-buoy-07"})
    static final class Change implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "NAME")
        String name;

        @Mixin
        Members members;

        @Spec
        CommandSpec command;

        @Override
        public void run() {
            Admin.Answer<TrustedIssuerView> old =
                    common.admin().get(common.path(THINGS, name), TrustedIssuerView.class);
            Map<String, Object> patch = members.change(old.value(), Lists.of(command));
            tell(
                    common,
                    common.admin()
                            .change(
                                    "PATCH",
                                    common.path(THINGS, name),
                                    old.etag().orElse("*"),
                                    patch,
                                    JsonNode.class)
                            .json(),
                    "The trusted issuer %s is changed, at every route.",
                    "admit trusted-issuer show %s");
        }
    }

    @Command(
            name = "check",
            description = "Check the keys of a trusted issuer now, step by step.",
            footer = {"", "Example: admit trusted-issuer check coastguard"})
    static final class Look implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "NAME")
        String name;

        @Override
        public void run() {
            Admin.Answer<StepsView> answer =
                    common.admin().post(common.path(THINGS, name, "check"), Map.of(), StepsView.class);
            common.say(answer.json(), () -> common.out().steps(answer.value()));
            if (!answer.value().good()) throw new Failure(Failure.REFUSED, "The keys that were known stay in force.");
        }
    }

    @Command(
            name = "remove",
            description = "Trust an issuer no longer. No route may still name it.",
            footer = {"", "Example: admit trusted-issuer remove coastguard"})
    static final class Remove implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "NAME")
        String name;

        @Override
        public void run() {
            common.admin().remove(common.path(THINGS, name), JsonNode.class);
            common.say(Map.of("removed", name), () -> common.out()
                    .done("The issuer %s is trusted no longer.".formatted(name), "admit trusted-issuer list"));
        }
    }
}
