package dev.admit.cli;

import java.util.Map;
import picocli.CommandLine.Option;

/** Settings and programs that a developer takes over as they are, instead of a table. */
final class Programs {
    @Option(names = "--env", description = "The settings as a .env file, and nothing else.")
    boolean env;

    @Option(
            names = "--code",
            paramLabel = "FILE",
            description = "One program, and nothing else; without it they are listed.")
    String code;

    /**
     * Prints what was requested.
     *
     * @param settings a .env file.
     * @param programs file name → text.
     * @param otherwise says it all in a table
     */
    void tell(Output out, String settings, Map<String, String> programs, Runnable otherwise) {
        if (env) {
            out.line(settings.stripTrailing());
        } else if (code != null) {
            if (!programs.containsKey(code))
                throw new Failure(
                        Failure.WRONG_USAGE,
                        "--code is '%s'. Choose one of: %s.".formatted(code, String.join(", ", programs.keySet())));
            out.line(programs.get(code).stripTrailing());
        } else {
            otherwise.run();
        }
    }
}
