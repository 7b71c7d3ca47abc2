package dev.admit.server;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine;
import picocli.CommandLine.IDefaultValueProvider;
import picocli.CommandLine.Model.ArgSpec;
import picocli.CommandLine.Model.OptionSpec;

/**
 * Where an option's value comes from when it is not on the command line: the environment ({@code ADMIT_GATEWAY_PORT}
 * for {@code --gateway-port}), then the configuration file, then what is usual. The file has one {@code name = value} a
 * line, named as the options are; {@code #} begins a comment.
 */
final class Defaults implements IDefaultValueProvider {
    private final Map<String, String> environment;
    private final Map<String, String> file;

    private Defaults(Map<String, String> environment, Map<String, String> file) {
        this.environment = environment;
        this.file = file;
    }

    /** @throws Settings.Senseless when the file that is named cannot be read, or names what is no option */
    static Defaults of(CommandLine command, List<String> arguments, Map<String, String> environment) {
        String path = environment.get("ADMIT_CONFIG");
        for (int i = 0; i < arguments.size(); i++) {
            if (arguments.get(i).equals("--config") && i + 1 < arguments.size()) path = arguments.get(i + 1);
            if (arguments.get(i).startsWith("--config="))
                path = arguments.get(i).substring("--config=".length());
        }
        if (path == null || path.isBlank()) return new Defaults(environment, Map.of());
        Set<String> names = new TreeSet<>();
        command.getCommandSpec().options().forEach(option -> names.add(name(option)));
        names.removeAll(List.of("config", "help", "version"));
        return new Defaults(environment, read(Path.of(path), names));
    }

    private static Map<String, String> read(Path path, Set<String> names) {
        Map<String, String> values = new LinkedHashMap<>();
        List<String> lines;
        try {
            lines = Files.readAllLines(path);
        } catch (IOException unreadable) {
            throw new Settings.Senseless(
                    "The configuration file %s is not there, or cannot be read. Name another with --config."
                            .formatted(path));
        }
        for (int i = 0; i < lines.size(); i++) {
            String line = lines.get(i).strip();
            if (line.isEmpty() || line.startsWith("#")) continue;
            int equals = line.indexOf('=');
            String name = equals < 0 ? line : line.substring(0, equals).strip();
            if (equals < 0
                    || !names.contains(name)
                    || values.put(name, line.substring(equals + 1).strip()) != null) {
                throw new Settings.Senseless(
                        "Line %d of %s is '%s'. Write name = value, each name once, with one of: %s."
                                .formatted(i + 1, path, line, String.join(", ", names)));
            }
        }
        return values;
    }

    @Override
    public @Nullable String defaultValue(ArgSpec argument) {
        if (!(argument instanceof OptionSpec option)) return null;
        String name = name(option);
        String fromEnvironment =
                environment.get("ADMIT_" + name.toUpperCase(Locale.ROOT).replace('-', '_'));
        return fromEnvironment != null && !fromEnvironment.isBlank() ? fromEnvironment : file.get(name);
    }

    private static String name(OptionSpec option) {
        return option.longestName().replaceFirst("^--", "");
    }
}
