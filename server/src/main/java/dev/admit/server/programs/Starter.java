package dev.admit.server.programs;

import dev.admit.contract.ConnectingView;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.time.LocalDateTime;
import java.util.Map;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;

/** A small project to begin with, as a zip: the settings of a client, programs that read them, and how they are run. */
public final class Starter {
    /** The same bytes whenever it is made. */
    private static final LocalDateTime WHEN = LocalDateTime.of(2026, 1, 1, 0, 0);

    private static final Map<String, String> RUN = Map.of(
            "connect.py", "python3 connect.py                  # needs: pip install requests pyjwt cryptography",
            "connect.mjs", "node connect.mjs                    # needs: npm install jose",
            "connect.go", "go run connect.go",
            "Connect.java", "java -cp 'lib/*' Connect.java       # needs: nimbus-jose-jwt in lib",
            "Connect.cs", "dotnet run                          # in a console project",
            "connect.js", "import it from your page            # no secret is in it");

    private Starter() {}

    /** @param folder that everything lies in */
    public static byte[] zip(String folder, ConnectingView of) {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        try (ZipOutputStream zip = new ZipOutputStream(bytes)) {
            put(zip, folder + "/README.txt", readMe(of));
            put(zip, folder + "/.env", of.env());
            for (Map.Entry<String, String> it : of.code().entrySet())
                put(zip, folder + "/" + it.getKey(), it.getValue());
        } catch (IOException never) {
            throw new UncheckedIOException(never); // it is written to memory
        }
        return bytes.toByteArray();
    }

    private static void put(ZipOutputStream zip, String name, String text) throws IOException {
        ZipEntry entry = new ZipEntry(name);
        entry.setTimeLocal(WHEN);
        zip.putNextEntry(entry);
        zip.write(text.getBytes(StandardCharsets.UTF_8));
        zip.closeEntry();
    }

    private static String readMe(ConnectingView of) {
        StringBuilder text = new StringBuilder("""
                The first call of the client %s, which is of the kind %s.

                The settings are in .env. What is empty there is yours to fill in: a secret is shown once, when it is
                made, and belongs into no repository. Then:

                    set -a; . ./.env; set +a

                and one of

                """.formatted(of.clientId(), of.kind()));
        of.code().keySet().forEach(file -> text.append("    ")
                .append(RUN.getOrDefault(file, file))
                .append('\n'));
        return text.toString();
    }
}
