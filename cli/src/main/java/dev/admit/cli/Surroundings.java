package dev.admit.cli;

import java.io.InputStream;
import java.io.PrintWriter;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Model.CommandSpec;

/**
 * What a command finds around it, so that one can be run inside another program as well.
 *
 * @param environment variables by name
 * @param in what is typed, or comes through a pipe
 * @param hasTerminal whether a person may be asked at the terminal
 */
public record Surroundings(
        Map<String, String> environment, InputStream in, PrintWriter out, PrintWriter err, boolean hasTerminal) {

    /** Leaves out the environment, which may hold secrets. */
    @Override
    public String toString() {
        return "Surroundings[terminal " + hasTerminal + "]";
    }

    /** Those that the whole command line was run in. */
    static Surroundings of(CommandSpec command) {
        return ((Admit) command.root().userObject()).around();
    }

    static Surroundings ofProcess() {
        return new Surroundings(
                System.getenv(),
                System.in,
                new PrintWriter(System.out, true, System.out.charset()),
                new PrintWriter(System.err, true, System.err.charset()),
                isAtTerminal());
    }

    @SuppressWarnings("SystemConsoleNull") // the launcher asks for the console that is null without a terminal
    private static boolean isAtTerminal() {
        return System.console() != null;
    }

    /** A variable; null where it is not set. */
    @Nullable
    String variable(String name) {
        return environment.get(name);
    }
}
