package dev.admit.cli;

import dev.admit.contract.SetupView;
import dev.admit.contract.SetupWanted;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Parameters;

@Command(
        name = "edit",
        description = "Edit a client as text, in the editor that $EDITOR names; what changed is shown and loaded.",
        footer = {"", "Example: EDITOR=vi admit client edit tide-buoy-07"})
final class EditClient implements Runnable {
    @Mixin
    Common common;

    @Parameters(paramLabel = "CLIENT")
    String name;

    @Override
    public void run() {
        String before = common.admin().text(common.path("setup") + Http.query("client", name));
        String after = edited(before, common.around().variable("EDITOR"));
        if (after.equals(before)) {
            common.out().done("Nothing was changed.", Http.command("admit client show %s", name));
            return;
        }
        Admin.Answer<SetupView> loaded =
                common.admin().post("/setup/load", new SetupWanted(after, null, Map.of(), null), SetupView.class);
        common.say(loaded.json(), () -> {
            SetupCommands.tell(common.out(), loaded.value());
            common.out()
                    .done(
                            loaded.value().steps().isEmpty() ? "Nothing differs from what is there." : "It is live.",
                            Http.command("admit client show %s", name));
        });
    }

    private static String edited(String text, @Nullable String editor) {
        if (editor == null || editor.isBlank())
            throw new Failure(
                    Failure.WRONG_USAGE,
                    "No editor is named. Set EDITOR, such as EDITOR=vi, or use: admit setup export --client NAME");
        try {
            Path file = Files.createTempFile("client", ".yaml");
            try {
                Files.writeString(file, text);
                int code = new ProcessBuilder("sh", "-c", editor + " \"$0\"", file.toString())
                        .inheritIO()
                        .start()
                        .waitFor();
                if (code != 0)
                    throw new Failure(
                            Failure.REFUSED, "The editor ended with %d; nothing was changed.".formatted(code));
                return Files.readString(file);
            } finally {
                Files.deleteIfExists(file);
            }
        } catch (IOException fault) {
            throw new Failure(Failure.FAULT, "The editor '%s' cannot be started.".formatted(editor));
        } catch (InterruptedException interrupted) {
            Thread.currentThread().interrupt();
            throw new Failure(Failure.FAULT, "Interrupted.");
        }
    }
}
