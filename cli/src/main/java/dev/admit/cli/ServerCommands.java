package dev.admit.cli;

import java.util.List;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Parameters;

@Command(
        name = "server",
        description = "The servers that were signed in to.",
        subcommands = {ServerCommands.ListAll.class, ServerCommands.Use.class})
final class ServerCommands {

    @Command(
            name = "list",
            description = "List them.",
            footer = {"", "Example: admit server list"})
    static final class ListAll implements Runnable {
        @Mixin
        Common common;

        @Override
        public void run() {
            SavedServers.Contents contents = common.saved().read();
            List<List<String>> rows = contents.servers().entrySet().stream()
                    .map(it -> List.of(
                            it.getKey().equals(contents.current()) ? "current" : "",
                            it.getKey(),
                            it.getValue().adminApi(),
                            it.getValue().issuer() == null ? "" : it.getValue().issuer()))
                    .toList();
            // Without what is secret in the file.
            Map<String, String> plain = new java.util.LinkedHashMap<>();
            contents.servers().forEach((name, server) -> plain.put(name, server.adminApi()));
            common.say(plain, () -> common.out().table(List.of("", "SERVER", "ADMIN API", "USUAL ISSUER"), rows));
        }
    }

    @Command(
            name = "use",
            description = "Make one the current server, with an issuer for commands that name none.",
            footer = {"", "Example: admit server use demo --issuer harbour"})
    static final class Use implements Runnable {
        @Mixin
        Common common;

        @Parameters(paramLabel = "SERVER")
        String name;

        @Override
        public void run() {
            SavedServers.Server server = common.saved()
                    .named(name)
                    .orElseThrow(() -> new Failure(
                            Failure.NOT_REACHABLE,
                            "No server '%s' was signed in to. List them with: admit server list".formatted(name)));
            SavedServers.Server meant = common.issuerName == null ? server : server.withIssuer(common.issuerName);
            common.saved().change(contents -> contents.with(name, meant, true));
            common.out()
                    .done(
                            "%s is the current server%s."
                                    .formatted(
                                            name,
                                            meant.issuer() == null ? "" : ", " + meant.issuer() + " its usual issuer"),
                            "admit api list");
        }
    }
}
