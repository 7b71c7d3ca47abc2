package dev.admit.server.admin;

import dev.admit.contract.ServiceCheck;
import dev.admit.core.access.AdminApi;
import dev.admit.core.access.AdminRole;
import dev.admit.core.access.Permission;
import dev.admit.core.audit.Audit;
import dev.admit.core.audit.AuditTrail;
import dev.admit.core.audit.TokenEvents;
import dev.admit.core.change.Actor;
import dev.admit.core.decision.BatchedJournal;
import dev.admit.core.registry.Issuers;
import dev.admit.server.ServiceFiles;
import dev.admit.store.Backup;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestAttribute;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** The service as a whole: a backup of its records, and whether they are whole. */
@RestController
@RequestMapping("/admin/service")
class ServiceEndpoints {
    private final ServiceFiles files;
    private final Audit audit;
    private final AuditTrail trail;
    private final TokenEvents events;
    private final BatchedJournal journal;
    private final Issuers issuers;

    ServiceEndpoints(
            ServiceFiles files,
            Audit audit,
            AuditTrail trail,
            TokenEvents events,
            BatchedJournal journal,
            Issuers issuers) {
        this.files = files;
        this.audit = audit;
        this.trail = trail;
        this.events = events;
        this.journal = journal;
        this.issuers = issuers;
    }

    /**
     * The database as of this moment, while the service goes on. Signing keys in it are sealed; the master key is not
     * in it.
     */
    @Permitted(value = AdminRole.ADMINISTRATOR, of = Permission.Of.SERVICE)
    @PostMapping("/backup")
    void backup(HttpServletResponse response, @RequestAttribute(AdminDoor.ACTOR) Actor actor) throws IOException {
        events.flush();
        journal.flush();
        audit.added(actor, issuers.named(AdminApi.ISSUER).orElseThrow().id(), "service.backup", "database", Map.of());
        Path copy = files.backup();
        try {
            response.setContentType("application/vnd.sqlite3");
            response.setContentLengthLong(Files.size(copy));
            Files.copy(copy, response.getOutputStream());
        } finally {
            Files.deleteIfExists(copy);
        }
    }

    /** Reads every page of the database and every line of every audit. */
    @Permitted(value = AdminRole.AUDITOR, of = Permission.Of.SERVICE)
    @GetMapping("/check")
    ServiceCheck check() {
        events.flush();
        List<String> faults = new ArrayList<>(Backup.faults(files.database()));
        for (String issuerId : trail.issuers()) {
            if (audit.verify(issuerId, seq -> {}) instanceof Audit.Proof.Broken(long seq, String fault))
                faults.add("The audit of %s: %s".formatted(issuerId, fault));
        }
        return new ServiceCheck(faults.isEmpty(), faults);
    }
}
