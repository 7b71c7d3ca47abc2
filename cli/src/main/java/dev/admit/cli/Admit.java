package dev.admit.cli;

import java.util.List;
import picocli.AutoComplete;
import picocli.CommandLine;
import picocli.CommandLine.Command;

/** The command line of Admit. */
@Command(
        name = "admit",
        mixinStandardHelpOptions = true,
        scope = CommandLine.ScopeType.INHERIT,
        version = "admit 0.1.0",
        synopsisSubcommandLabel = "THING VERB",
        description = {
            "Registers APIs and clients, approves what they request, and shows why a request was let through or "
                    + "refused.",
            ""
        },
        commandListHeading = "%nThings, in the order of the work:%n",
        footer = {
            "",
            "The service itself:",
            "  admit demo    starts it with the demo data of Saltmarsh Harbour",
            "  admit start   starts it on a data folder that stays",
            "",
            "Exit codes: 0 done, 1 refused by a rule, 2 wrong usage, 3 not reachable or not signed in, 4 a fault."
        })
public final class Admit {

    private static final List<Class<?>> THINGS = List.of(
            SignIn.class,
            SignOut.class,
            ServerCommands.class,
            IssuerCommands.class,
            KeyCommands.class,
            ApiCommands.class,
            ScopeCommands.class,
            RoleCommands.class,
            CatalogueCommands.class,
            ClientCommands.class,
            RegistrationCommands.class,
            SecretCommands.class,
            ApprovalCommands.class,
            PlanCommands.class,
            SubscriptionCommands.class,
            PersonCommands.class,
            OwnerCommands.class,
            FieldCommands.class,
            MailCommands.class,
            TrustedIssuerCommands.class,
            UpstreamCredentialCommands.class,
            RouteCommands.class,
            RevisionCommands.class,
            TokenCommands.class,
            Call.class,
            DecisionCommands.class,
            Explain.class,
            AuditCommands.class,
            SetupCommands.class,
            ServiceCommands.class,
            Completion.class);

    private final Surroundings around;

    Admit(Surroundings around) {
        this.around = around;
    }

    public static void main(String[] args) {
        System.exit(run(Surroundings.ofProcess(), args));
    }

    /** @return the exit code */
    public static int run(Surroundings around, String... args) {
        return commandLine(around, args)
                .setOut(around.out())
                .setErr(around.err())
                .execute(args);
    }

    Surroundings around() {
        return around;
    }

    /**
     * With the one thing that is meant, because reading the annotations of all of them takes longer than most commands
     * do.
     */
    static CommandLine commandLine(Surroundings around, String... args) {
        CommandLine line = new CommandLine(new Admit(around));
        List<Class<?>> meant = THINGS.stream()
                .filter(thing -> args.length > 0 && name(thing).equals(args[0]) && thing != Completion.class)
                .toList();
        boolean nothing = args.length == 1 && (args[0].equals("--version") || args[0].equals("-V"));
        for (Class<?> thing : nothing ? List.<Class<?>>of() : meant.isEmpty() ? THINGS : meant)
            line.addSubcommand(name(thing), new CommandLine(thing));
        Lists.extend(line);
        line.setExecutionExceptionHandler(Admit::tell);
        line.setUsageHelpLongOptionsMaxWidth(30);
        line.setHelpFactory(Descriptions::help);
        return line;
    }

    private static String name(Class<?> thing) {
        return thing.getAnnotation(Command.class).name();
    }

    private static int tell(Exception fault, CommandLine command, CommandLine.ParseResult parsed) {
        boolean debug = parsed.expandedArgs().contains("--debug");
        Failure failure =
                switch (fault) {
                    case Failure told -> told;
                    case Http.TokenRefused refused -> refused.asFailure();
                    default ->
                        new Failure(
                                Failure.FAULT,
                                "A fault in this command: %s. Run it again with --debug to see where."
                                        .formatted(fault));
                };
        for (String line : failure.said().split("\n")) {
            // A line with a command in it stays whole, so that it can be copied.
            String indent = " ".repeat(line.length() - line.stripLeading().length());
            (line.contains("admit ")
                            ? List.of(line.stripLeading())
                            : Output.wrapped(line.stripLeading(), 100 - indent.length()))
                    .forEach(part -> command.getErr().println(indent + part));
        }
        if (debug) fault.printStackTrace(command.getErr());
        return failure.exitCode();
    }

    @Command(
            name = "completion",
            description = "Print a completion script for bash and zsh.",
            footer = {"", "Example: source <(admit completion)"})
    static final class Completion implements Runnable {
        @CommandLine.Spec
        CommandLine.Model.CommandSpec command;

        @Override
        public void run() {
            command.commandLine()
                    .getOut()
                    .print(AutoComplete.bash("admit", command.root().commandLine()));
            command.commandLine().getOut().flush();
        }
    }
}
