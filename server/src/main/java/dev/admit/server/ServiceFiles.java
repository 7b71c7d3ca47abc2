package dev.admit.server;

import dev.admit.store.Backup;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.springframework.stereotype.Component;

/** The files of a running service, for what reads them whole. */
@Component
public class ServiceFiles {
    private final AuthorizationServer.Opened opened;

    ServiceFiles(AuthorizationServer.Opened opened) {
        this.opened = opened;
    }

    public Path database() {
        return opened.folder().database();
    }

    /**
     * A copy of the database beside it, to be deleted by the caller.
     *
     * @throws dev.admit.store.StoreFault when there is no room for it
     */
    public Path backup() throws IOException {
        Path copy = Files.createTempFile(opened.folder().path(), "backup", ".db");
        Files.delete(copy); // what is there already is not written over
        try {
            Backup.write(database(), copy);
            return copy;
        } catch (RuntimeException fault) {
            Files.deleteIfExists(copy);
            throw fault;
        }
    }
}
