package dev.admit.cli;

import dev.admit.contract.ApiSecretMade;
import dev.admit.contract.ApiView;
import dev.admit.contract.ApiWanted;
import dev.admit.contract.Changed;
import dev.admit.contract.CheckingView;
import dev.admit.contract.MintingView;
import dev.admit.contract.MintingWanted;
import dev.admit.contract.ScopeView;
import dev.admit.contract.SecretWanted;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.JsonNode;

@Command(name = "api", description = "Protected resource servers: audience, upstream, scopes.", subcommands = {ApiCommands.ListAll.class,
    ApiCommands.Show.class, ApiCommands.Add.class, ApiCommands.Change.class, ApiCommands.Remove.class, ApiCommands.Minting.class, ApiCommands.Checking.class, ApiCommands.Secret.class})
final class ApiCommands {

    @Command(name = "list", description = "List the APIs of an issuer.", footer = {"", "Example: admit api list"})
    static final class ListAll implements Runnable {
        @Mixin Common common;

        @Override public void run() {
            List<ApiView> all = common.admin().list(common.path("apis"), ApiView.class, 10_000);
            common.say(all, () -> {
                if (all.isEmpty()) common.out().done("No API yet.", "admit api add NAME --upstream URL");
                else common.out().table(List.of("API", "AUDIENCE", "UPSTREAM", "TITLE"), all.stream().map(it -> List.of(it.name(), it.audience(),
                        it.upstream() == null ? "" : it.upstream(), it.title())).toList());
            });
        }
    }

    @Command(name = "show", description = "Show an API with its scopes.", footer = {"", "Example: admit api show tides"})
    static final class Show implements Runnable {
        @Mixin Common common;
        @Parameters(paramLabel = "API") String name;

        @Override public void run() {
            Admin.Answer<ApiView> answer = common.admin().get(common.path("apis", name), ApiView.class);
            ApiView it = answer.value();
            common.say(answer.json(), () -> {
                common.out().fields("API", it.name(), "Title", it.title(), "Audience", it.audience(), "Upstream", it.upstream(), "Id", it.id(),
                        "Secrets", String.join(", ", it.secrets().stream().map(secret -> "%s (%s), ends %s".formatted(secret.label(), secret.id(), Output.relative(secret.expiresAt(), common.now()))).toList()),
                        "Made", Output.when(it.createdAt(), common.now()));
                List<ScopeView> scopes = common.admin().list(common.path("apis", name, "scopes"), ScopeView.class, 1000);
                common.out().line("");
                if (scopes.isEmpty()) common.out().done("It has no scope yet.", "admit scope add %s %s.read --effect reads --reach everyone --holders clients".formatted(name, name));
                else ScopeCommands.table(common.out(), scopes);
            });
        }
    }

    /** The fields that can be set. */
    static final class FieldOptions {
        @Option(names = "--title", description = "What people read.") String title;
        @Option(names = "--audience", paramLabel = "URI", description = "The aud of its tokens; one is proposed when left out.") String audience;
        @Option(names = "--outside-domains", description = "Said on purpose: the https audience may lie outside the issuer\'s domains.") Boolean outsideDomains;
        @Option(names = "--upstream", paramLabel = "URL", description = "Where its routes forward to.") String upstream;
    }

    @Command(name = "add", description = "Register an API.", footer = {"", "Example: admit api add tides --title 'Tide heights' --upstream http://127.0.0.1:9481"})
    static final class Add implements Runnable {
        @Mixin Common common;
        @Mixin FieldOptions fields;
        @Parameters(paramLabel = "NAME") String name;

        @Override public void run() {
            Admin.Answer<JsonNode> answer = common.admin().post(common.path("apis"), new ApiWanted(name, fields.title, fields.audience, fields.upstream, fields.outsideDomains), JsonNode.class);
            Changed<ApiView> made = common.admin().read(answer.json(), new TypeReference<>() {});
            common.say(answer.json(), () -> {
                common.out().notes(made.notes());
                common.out().done("The API %s is registered; its tokens carry the audience %s.".formatted(made.now().name(), made.now().audience()),
                        "admit scope add %s %s.read --effect reads --reach everyone --holders clients".formatted(made.now().name(), made.now().name()));
            });
        }
    }

    @Command(name = "change", description = "Change an API; what is not named stays.", footer = {"", "Example: admit api change tides --upstream http://127.0.0.1:9482"})
    static final class Change implements Runnable {
        @Mixin Common common;
        @Mixin FieldOptions fields;
        @Parameters(paramLabel = "API") String name;
        @Option(names = "--name", paramLabel = "NEW", description = "A new name.") String newName;
        @Option(names = "--confirm", paramLabel = "WORD", description = "Said when tokens in use would stop working.") String confirm;

        @Override public void run() {
            String path = common.path("apis", name);
            String etag = common.admin().get(path, ApiView.class).etag().orElse("*");
            Admin.Answer<JsonNode> answer = common.admin().change("PATCH", path + Confirm.query(confirm), etag,
                    new ApiWanted(newName, fields.title, fields.audience, fields.upstream, fields.outsideDomains), JsonNode.class);
            Changed<ApiView> changed = common.admin().read(answer.json(), new TypeReference<>() {});
            common.say(answer.json(), () -> {
                common.out().notes(changed.notes());
                common.out().done("The API %s is changed; it is live.".formatted(changed.now().name()), "admit api show " + changed.now().name());
            });
        }
    }

    @Command(name = "remove", description = "Remove an API with its scopes, routes and approvals.", footer = {"", "Example: admit api remove tides --confirm tides"})
    static final class Remove implements Runnable {
        @Mixin Common common;
        @Parameters(paramLabel = "API") String name;
        @Option(names = "--confirm", paramLabel = "WORD", description = "Said when something leans on it.") String confirm;

        @Override public void run() {
            common.admin().remove(common.path("apis", name) + Confirm.query(confirm), JsonNode.class);
            common.say(Map.of("removed", name), () -> common.out().done("The API %s is gone; tokens for it are refused from now on.".formatted(name), "admit api list"));
        }
    }

    @Command(name = "minting", description = "Show or change how an API's tokens are made. Of all that applies the strictest counts.",
            footer = {"", "Example: admit api minting tides", "Example: admit api minting tides --lifetime 5m --claim 'tags=client.tags'",
                "Example: admit api minting tides --exception 'name=night,tags=night-shift,lifetime=2m'"})
    static final class Minting implements Runnable {
        @Mixin Common common;
        @Parameters(paramLabel = "API") String name;
        @Option(names = "--lifetime", paramLabel = "TIME", description = "How long its tokens live, such as 15m.") String lifetime;
        @Option(names = "--format", paramLabel = "WORD", description = "jwt or opaque.") String format;
        @Option(names = "--claim", paramLabel = "NAME=CEL", description = "An extra claim and its expression; may be said again. '' for none.") List<String> claims;
        @Option(names = "--exception", paramLabel = "FIELDS", description = "name=, clients=, tags=, grant_types=, lifetime=, format=, without=, joined by commas; several values by +. May be said again. '' for none.")
        List<String> exceptions;

        @Override public void run() {
            String path = common.path("apis", name, "minting");
            Admin.Answer<MintingView> before = common.admin().get(path, MintingView.class);
            if (lifetime == null && format == null && claims == null && exceptions == null) {
                common.say(before.json(), () -> tell(common.out(), before.value()));
                return;
            }
            MintingWanted wanted = new MintingWanted(lifetime, format, claims == null ? null : claims.stream().filter(it -> !it.isBlank()).map(Minting::claim).toList(),
                    exceptions == null ? null : exceptions.stream().filter(it -> !it.isBlank()).map(Minting::exempt).toList());
            Admin.Answer<JsonNode> answer = common.admin().change("PATCH", path, before.etag().orElse("*"), wanted, JsonNode.class);
            Changed<MintingView> changed = common.admin().read(answer.json(), new TypeReference<>() {});
            common.say(answer.json(), () -> {
                common.out().notes(changed.notes());
                tell(common.out(), changed.now());
                common.out().done("Tokens for %s are made so from now on; those that are out stay as they are.".formatted(name), "admit client minting CLIENT");
            });
        }

        private static void tell(Output out, MintingView it) {
            out.fields("API", it.api(), "Lifetime", it.lifetime(), "Format", it.format());
            it.claims().forEach(claim -> out.line("Claim      %s = %s".formatted(claim.name(), claim.expression())));
            for (MintingView.Exempt one : it.exceptions()) {
                List<String> when = new ArrayList<>();
                if (!one.clients().isEmpty()) when.add("clients " + String.join(" ", one.clients()));
                if (!one.tags().isEmpty()) when.add("tags " + String.join(" ", one.tags()));
                if (!one.grantTypes().isEmpty()) when.add("grant types " + String.join(" ", one.grantTypes()));
                List<String> then = new ArrayList<>();
                if (one.lifetime() != null) then.add("at most " + one.lifetime());
                if (one.format() != null) then.add(one.format());
                if (!one.without().isEmpty()) then.add("without " + String.join(" ", one.without()));
                out.line("Exception  %s: for %s: %s".formatted(one.name(), String.join(" and ", when), String.join(", ", then)));
            }
        }

        private static MintingView.Claim claim(String text) {
            int equals = text.indexOf('=');
            if (equals < 1) throw new Failure(Failure.WRONG_USAGE, "--claim is '%s'. Write NAME=EXPRESSION, such as tags=client.tags.".formatted(text));
            return new MintingView.Claim(text.substring(0, equals), text.substring(equals + 1));
        }

        private static MintingView.Exempt exempt(String text) {
            Map<String, String> fields = new HashMap<>();
            for (String field : text.split(",")) {
                int equals = field.indexOf('=');
                String key = equals < 1 ? field : field.substring(0, equals).strip();
                if (equals < 1 || !Set.of("name", "clients", "tags", "grant_types", "lifetime", "format", "without").contains(key)) {
                    throw new Failure(Failure.WRONG_USAGE, "--exception has '%s'. Write name=NIGHT,tags=night-shift,lifetime=2m.".formatted(field));
                }
                fields.put(key, field.substring(equals + 1).strip());
            }
            return new MintingView.Exempt(fields.get("name"), several(fields.get("clients")), several(fields.get("tags")), several(fields.get("grant_types")), fields.get("lifetime"),
                    fields.get("format"), several(fields.get("without")));
        }

        private static List<String> several(String text) {
            return text == null || text.isEmpty() ? List.of() : List.of(text.split("\\+"));
        }
    }

    @Command(name = "checking", description = "Print what an API that checks tokens itself needs: the values, and examples that work with them.",
            footer = {"", "Example: admit api checking tides", "Example: admit api checking tides --env > .env", "Example: admit api checking tides --code check.py > check.py"})
    static final class Checking implements Runnable {
        @Mixin Common common;
        @Parameters(paramLabel = "API") String name;
        @Option(names = "--env", description = "The values as a .env file, and nothing else.") boolean env;
        @Option(names = "--code", paramLabel = "FILE", description = "One example, and nothing else: Check.java, check.mjs or check.py.") String code;

        @Override public void run() {
            Admin.Answer<CheckingView> answer = common.admin().get(common.path("apis", name, "checking"), CheckingView.class);
            CheckingView it = answer.value();
            if (env) {
                common.out().line(it.env().stripTrailing());
            } else if (code != null) {
                if (!it.code().containsKey(code)) throw new Failure(Failure.WRONG_USAGE, "--code is '%s'. Choose one of: %s.".formatted(code, String.join(", ", it.code().keySet())));
                common.out().line(it.code().get(code).stripTrailing());
            } else {
                common.say(answer.json(), () -> {
                    common.out().fields("Issuer", it.issuer(), "Keys", it.jwksUri(), "Audience", it.audience(), "Algorithms", String.join(" ", it.algorithms()), "Scopes", String.join(" ", it.scopes()),
                            "Introspection", it.introspectionEndpoint());
                    common.out().notes(it.notes());
                    common.out().done("Examples: " + String.join(", ", it.code().keySet()) + ".", "admit api checking %s --code check.py".formatted(name));
                });
            }
        }
    }

    @Command(name = "secret", description = "Secrets of an API, with which it asks about tokens at the introspection endpoint.", subcommands = {SecretAdd.class, SecretRemove.class})
    static final class Secret {
    }

    @Command(name = "add", description = "Make a secret for an API.", footer = {"", "Example: admit api secret add tides"})
    static final class SecretAdd implements Runnable {
        @Mixin Common common;
        @Parameters(paramLabel = "API") String name;
        @Option(names = "--label", description = "What to call it.") String label;
        @Option(names = "--lifetime", paramLabel = "TIME", description = "Such as 90d. Default: a year.") String lifetime;

        @Override public void run() {
            Admin.Answer<ApiSecretMade> answer = common.admin().post(common.path("apis", name, "secrets"), new SecretWanted(label, lifetime, null), ApiSecretMade.class);
            common.say(answer.json(), () -> {
                ShownSecret.tell(common.out(), answer.value().secret());
                common.out().done("The API %s can ask about its tokens.".formatted(name), "admit api show " + name);
            });
        }
    }

    @Command(name = "remove", description = "Remove a secret of an API.", footer = {"", "Example: admit api secret remove tides sec_…"})
    static final class SecretRemove implements Runnable {
        @Mixin Common common;
        @Parameters(index = "0", paramLabel = "API") String name;
        @Parameters(index = "1", paramLabel = "SECRET") String secret;

        @Override public void run() {
            common.admin().remove(common.path("apis", name, "secrets", secret), JsonNode.class);
            common.say(Map.of("removed", secret), () -> common.out().done("The secret no longer works.", "admit api show " + name));
        }
    }
}
