package dev.admit.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Base64;
import java.util.Locale;
import org.jspecify.annotations.Nullable;

/** Reads what an owner gives the pages: files here, texts on the wire. */
final class OwnLook {
    private OwnLook() {}

    /**
     * A picture as a data URI.
     *
     * @param file null or empty stays so
     */
    static @Nullable String picture(@Nullable String file) {
        if (file == null || file.isEmpty()) return file;
        String lower = file.toLowerCase(Locale.ROOT);
        String type = lower.endsWith(".png")
                ? "png"
                : lower.endsWith(".gif")
                        ? "gif"
                        : lower.endsWith(".webp")
                                ? "webp"
                                : lower.endsWith(".jpg") || lower.endsWith(".jpeg") ? "jpeg" : null;
        if (type == null)
            throw new Failure(
                    Failure.WRONG_USAGE,
                    "%s is no picture by its name. Give a .png, .jpg, .webp or .gif.".formatted(file));
        try {
            return "data:image/%s;base64,%s"
                    .formatted(type, Base64.getEncoder().encodeToString(Files.readAllBytes(Path.of(file))));
        } catch (IOException unreadable) {
            throw unreadable(file);
        }
    }

    static @Nullable String text(@Nullable String file) {
        if (file == null || file.isEmpty()) return file;
        try {
            return Files.readString(Path.of(file));
        } catch (IOException unreadable) {
            throw unreadable(file);
        }
    }

    private static Failure unreadable(String file) {
        return new Failure(Failure.WRONG_USAGE, "%s cannot be read. Name a file that is there.".formatted(file));
    }
}
