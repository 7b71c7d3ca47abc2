package dev.admit.server;

import dev.admit.store.CannotOpen;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.concurrent.CountDownLatch;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

/** {@code admit start}: the service on a data folder that stays. */
@Command(
        name = "admit start",
        mixinStandardHelpOptions = true,
        sortOptions = false,
        description = "Starts the authorization server and the gateway on a data folder that stays.",
        footer = {"", "Example: admit start --data /var/lib/admit --public-url https://login.saltmarsh.example"})
public final class Main implements Callable<Integer> {
    @Mixin
    @SuppressWarnings("NullAway.Init") // by the command line
    private StartOptions options;

    @Option(
            names = "--data",
            paramLabel = "DIR",
            description = "Folder of database and master key. Default: ./admit-data.")
    private Path data = Path.of("admit-data");

    public static void main(String[] args) {
        System.exit(run(new Main(), args));
    }

    /** Runs a command with its options from the command line, the environment and a file, in that order. */
    public static int run(Object command, String... args) {
        CommandLine line = commandLine(command);
        try {
            line.setDefaultValueProvider(Defaults.of(line, List.of(args), System.getenv()));
        } catch (Settings.Senseless senseless) {
            System.err.println(senseless.getMessage());
            return 2;
        }
        return line.execute(args);
    }

    /** A command that starts a service: its faults become one sentence and an exit code. */
    public static CommandLine commandLine(Object command) {
        CommandLine line = new CommandLine(command);
        line.setExecutionExceptionHandler((fault, failed, parsed) -> {
            failed.getErr().println(fault.getMessage());
            return switch (fault) {
                case Settings.Senseless senseless -> 2;
                case AuthorizationServer.PortTaken taken -> 4;
                case CannotOpen cannotOpen -> 4;
                default -> {
                    fault.printStackTrace(failed.getErr());
                    yield 4;
                }
            };
        });
        return line;
    }

    @Override
    public Integer call() throws InterruptedException {
        AuthorizationServer server = AuthorizationServer.start(options.settings(data));
        Optional<FirstStart.Credential> first = server.part(FirstStart.class).prepare();
        System.out.println("Server     " + server.publicUrl());
        server.elsewhere().ifPresent(note -> System.out.println("Note       " + note));
        System.out.println("Gateway    " + server.gatewayUrl());
        System.out.println("Console    " + server.publicUrl() + "/console"
                + (first.isPresent() ? "   open it to say who runs this service" : ""));
        first.ifPresent(credential -> {
            System.out.println("Operator   made; its credential lies in " + FirstStart.credentialFile(data)
                    + ", readable by you alone");
            System.out.println("Next       "
                    + dev.admit.core.decision.Command.of(
                            "sign-in",
                            "--credential",
                            FirstStart.credentialFile(data).toString()));
        });
        stopOnSignal(server).await();
        return 0;
    }

    /**
     * Stops the service when the process is asked to end.
     *
     * @return opens once it has stopped
     */
    public static CountDownLatch stopOnSignal(AutoCloseable service) {
        CountDownLatch stopped = new CountDownLatch(1);
        Runtime.getRuntime()
                .addShutdownHook(new Thread(
                        () -> {
                            try {
                                service.close();
                            } catch (Exception fault) {
                                System.err.println("Stopping failed: " + fault.getMessage());
                            }
                            stopped.countDown();
                        },
                        "stop"));
        return stopped;
    }
}
