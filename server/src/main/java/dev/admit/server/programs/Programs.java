package dev.admit.server.programs;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Programs that ship with the service for developers to copy. */
public final class Programs {
    private Programs() {}

    /**
     * @param folder of the resources, such as {@code /checking}.
     * @return file name → text, in the order of the files
     */
    public static Map<String, String> in(String folder, List<String> files) {
        Map<String, String> programs = new LinkedHashMap<>();
        for (String file : files) {
            try (InputStream in = Programs.class.getResourceAsStream(folder + "/" + file)) {
                programs.put(file, new String(in.readAllBytes(), StandardCharsets.UTF_8));
            } catch (IOException broken) {
                throw new UncheckedIOException(broken);
            }
        }
        return programs;
    }
}
