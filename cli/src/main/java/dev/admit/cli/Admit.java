package dev.admit.cli;

import picocli.AutoComplete;
import picocli.CommandLine;
import picocli.CommandLine.Command;

/** The command line of Admit. */
@Command(name = "admit", mixinStandardHelpOptions = true, version = "admit 0.1.0", synopsisSubcommandLabel = "THING VERB",
        description = {"Registers APIs and clients, approves what they ask for, and shows why a request was let through or refused.", ""},
        commandListHeading = "%nThings, in the order of the work:%n",
        subcommands = {SignIn.class, SignOut.class, ServerCommands.class, IssuerCommands.class, ApiCommands.class, ScopeCommands.class,
            ClientCommands.class, SecretCommands.class, ApprovalCommands.class, RouteCommands.class, TokenCommands.class, Call.class,
            DecisionCommands.class, Admit.Completion.class},
        footer = {"", "The service itself:",
            "  admit demo    starts it with the demo data of Saltmarsh Harbour",
            "  admit start   starts it on a data folder that stays",
            "", "Exit codes: 0 done, 1 refused by a rule, 2 wrong usage, 3 not reachable or not signed in, 4 a fault."})
public final class Admit {

    public static void main(String[] args) {
        System.exit(commandLine().execute(args));
    }

    static CommandLine commandLine() {
        CommandLine line = new CommandLine(new Admit());
        line.setExecutionExceptionHandler(Admit::tell);
        line.setUsageHelpLongOptionsMaxWidth(30);
        return line;
    }

    private static int tell(Exception fault, CommandLine command, CommandLine.ParseResult parsed) {
        boolean debug = parsed.expandedArgs().contains("--debug");
        Failure failure = switch (fault) {
            case Failure told -> told;
            case Http.TokenRefused refused -> refused.asFailure();
            default -> new Failure(Failure.FAULT, "A fault in this command: %s. Run it again with --debug to see where.".formatted(fault));
        };
        command.getErr().println(failure.getMessage());
        if (debug) fault.printStackTrace(command.getErr());
        return failure.exitCode();
    }

    @Command(name = "completion", description = "Print a completion script for bash and zsh.",
            footer = {"", "Example: source <(admit completion)"})
    static final class Completion implements Runnable {
        @CommandLine.Spec CommandLine.Model.CommandSpec command;

        @Override public void run() {
            command.commandLine().getOut().print(AutoComplete.bash("admit", command.root().commandLine()));
            command.commandLine().getOut().flush();
        }
    }
}
