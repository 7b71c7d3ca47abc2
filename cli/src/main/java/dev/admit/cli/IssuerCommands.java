package dev.admit.cli;

import dev.admit.contract.Changed;
import dev.admit.contract.IssuerView;
import dev.admit.contract.IssuerWanted;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

@Command(name = "issuer", description = "Authorization servers on this service, each with its own keys, APIs and clients.",
        subcommands = {IssuerCommands.ListAll.class, IssuerCommands.Show.class, IssuerCommands.Add.class})
final class IssuerCommands {

    @Command(name = "list", description = "List the issuers.", footer = {"", "Example: admit issuer list"})
    static final class ListAll implements Runnable {
        @Mixin Common common;

        @Override public void run() {
            List<IssuerView> all = common.admin().list("/issuers", IssuerView.class, 1000);
            common.say(all, () -> common.out().table(List.of("ISSUER", "URL", "TITLE"),
                    all.stream().map(it -> List.of(it.name(), it.url(), it.title())).toList()));
        }
    }

    @Command(name = "show", description = "Show an issuer and where its metadata is.", footer = {"", "Example: admit issuer show harbour"})
    static final class Show implements Runnable {
        @Mixin Common common;
        @Parameters(paramLabel = "ISSUER", arity = "0..1") String name;

        @Override public void run() {
            Admin.Answer<IssuerView> answer = common.admin().get("/issuers/" + Http.encoded(name == null ? common.issuer() : name), IssuerView.class);
            IssuerView it = answer.value();
            common.say(answer.json(), () -> common.out().fields("Issuer", it.name(), "Title", it.title(), "URL", it.url(),
                    "Metadata", it.url() + "/.well-known/oauth-authorization-server", "Token endpoint", it.url() + "/token", "Keys", it.url() + "/jwks",
                    "Routes", "revision " + it.revision(), "Made", Output.when(it.createdAt(), common.now())));
        }
    }

    @Command(name = "add", description = "Make an issuer with its first signing key.", footer = {"", "Example: admit issuer add harbour --title 'Saltmarsh Harbour Authority'"})
    static final class Add implements Runnable {
        @Mixin Common common;
        @Parameters(paramLabel = "NAME") String name;
        @Option(names = "--title", description = "What people read.") String title;

        @Override public void run() {
            Admin.Answer<JsonNode> answer = common.admin().post("/issuers", new IssuerWanted(name, title), JsonNode.class);
            Changed<IssuerView> made = common.admin().read(answer.json(), new tools.jackson.core.type.TypeReference<>() {});
            common.saved().change(contents -> contents.servers().get(common.admin().serverName()).issuer() != null ? contents
                    : contents.with(common.admin().serverName(), contents.servers().get(common.admin().serverName()).withIssuer(made.now().name()), false));
            common.say(answer.json(), () -> {
                common.out().notes(made.notes());
                common.out().done("The issuer %s answers at %s.".formatted(made.now().name(), made.now().url()), "admit api add NAME --upstream URL");
            });
        }
    }
}
