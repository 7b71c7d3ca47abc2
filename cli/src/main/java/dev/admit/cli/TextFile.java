package dev.admit.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;

/** A file of text that a command takes. */
final class TextFile {
    private TextFile() {}

    /**
     * @param expected such as {@code an OpenAPI document in JSON or YAML}
     * @throws Failure when it cannot be read
     */
    static String read(Path file, String expected) {
        try {
            return Files.readString(file);
        } catch (IOException unreadable) {
            throw new Failure(
                    Failure.WRONG_USAGE,
                    "%s cannot be read (%s). Name %s."
                            .formatted(file, unreadable.getClass().getSimpleName(), expected));
        }
    }
}
