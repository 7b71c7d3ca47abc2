package dev.admit.cli;

import dev.admit.contract.Preview;
import java.io.BufferedReader;
import java.io.Console;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Spec;

/** What every command has: its options, the saved servers, a way to speak. */
final class Common {
    @Option(names = "--json", description = "Print JSON, whole and for machines.")
    boolean json;

    @Option(
            names = "--server",
            paramLabel = "NAME",
            description = "A server that was signed in to, instead of the current one.")
    String serverName;

    @Option(
            names = "--issuer",
            paramLabel = "NAME",
            description = "The issuer that is meant, instead of the server's usual one.")
    String issuerName;

    @Option(names = "--debug", description = "On a fault, print the stack trace too.")
    boolean debug;

    @Spec(Spec.Target.MIXEE)
    CommandSpec command;

    private @Nullable Http http;
    private @Nullable Admin admin;

    /** Made when first used: help and completion need none. */
    Http http() {
        if (http == null) http = new Http(around().variable("ADMIT_CA"));
        return http;
    }

    Surroundings around() {
        return Surroundings.of(command);
    }

    SavedServers saved() {
        return SavedServers.of(around().environment());
    }

    Output out() {
        // The launcher sees whether standard output is a terminal; Java 21 alone cannot tell.
        boolean colour = around().variable("NO_COLOR") == null && Boolean.getBoolean("admit.terminal");
        return new Output(
                command.commandLine().getOut(),
                colour,
                (issuerName == null ? "" : " --issuer " + issuerName)
                        + (serverName == null ? "" : " --server " + serverName));
    }

    Instant now() {
        return Instant.now();
    }

    /** The admin API of the server that is meant. */
    Admin admin() {
        if (admin == null) {
            SavedServers.Contents contents = saved().read();
            String name = serverName != null ? serverName : contents.current();
            SavedServers.Server server =
                    name == null ? null : contents.servers().get(name);
            if (name == null || server == null) {
                throw new Failure(
                        Failure.NOT_REACHABLE,
                        serverName != null
                                ? "No server '%s' was signed in to. List them with: admit server list"
                                        .formatted(serverName)
                                : "Not signed in to a server. Sign in with: admit sign-in --credential FILE");
            }
            admin = new Admin(http(), saved(), name, server);
        }
        return admin;
    }

    String issuer() {
        return admin().issuer(issuerName);
    }

    /**
     * The address of a thing of the issuer that is meant.
     *
     * @param parts put behind it, each encoded
     */
    String path(String... parts) {
        StringBuilder path = new StringBuilder("/issuers/").append(Http.encoded(issuer()));
        for (String part : parts) path.append('/').append(Http.encoded(part));
        return path.toString();
    }

    /** A list that was said option by option; '' alone says that it is to be empty. */
    static @Nullable List<String> whole(@Nullable List<String> said) {
        return said == null ? null : said.stream().filter(one -> !one.isBlank()).toList();
    }

    /** The JSON when that is wanted, the words else. */
    void say(Object json, Runnable words) {
        if (this.json) out().json(json);
        else words.run();
    }

    /**
     * Says what a thing would mean that is not saved.
     *
     * @param things such as {@code routes}
     */
    void preview(String things, Object wanted) {
        Admin.Answer<Preview> told = admin().post(path(things, "preview"), wanted, Preview.class);
        say(told.json(), () -> {
            told.value().sentences().forEach(sentence -> out().line(Output.plain(sentence)));
            out().notes(told.value().missing());
        });
    }

    /** A secret from the terminal without echo, or the first line of standard input. */
    String readSecret(String prompt) {
        Console terminal = around().hasTerminal() ? System.console() : null;
        if (terminal != null) {
            char[] typed = terminal.readPassword("%s: ", prompt);
            return typed == null ? "" : new String(typed).strip();
        }
        try {
            String line = new BufferedReader(new InputStreamReader(around().in(), StandardCharsets.UTF_8)).readLine();
            return line == null ? "" : line.strip();
        } catch (IOException cause) {
            throw new Failure(Failure.FAULT, "Standard input cannot be read: " + cause.getMessage());
        }
    }
}
