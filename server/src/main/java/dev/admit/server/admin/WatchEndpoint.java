package dev.admit.server.admin;

import dev.admit.contract.WatchView;
import dev.admit.core.access.AdminRole;
import dev.admit.core.access.Permission;
import dev.admit.core.clientauth.KnownClients;
import dev.admit.core.clientstatus.WatchClient;
import dev.admit.core.decision.BatchedJournal;
import dev.admit.core.decision.Decisions;
import dev.admit.core.registry.Issuer;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestAttribute;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** How far a client has come while its developer works elsewhere. */
@RestController
class WatchEndpoint {
    private static final Duration USUAL = Duration.ofMinutes(10);
    private final WatchClient watch;
    private final BatchedJournal journal;
    private final Lookup lookup;
    private final Times times;
    private final Clock clock;

    WatchEndpoint(
            Decisions decisions,
            KnownClients clients,
            BatchedJournal journal,
            Lookup lookup,
            Times times,
            Clock clock) {
        this.watch = new WatchClient(decisions, clients);
        this.journal = journal;
        this.lookup = lookup;
        this.times = times;
        this.clock = clock;
    }

    /** @param since a time, or a length of time ago; ten minutes when null */
    @Permitted(value = AdminRole.AUDITOR, owner = Permission.OwnerOf.CLIENT)
    @GetMapping("/admin/issuers/{issuer}/clients/{client}/watch")
    WatchView watch(
            @PathVariable String issuer,
            @PathVariable String client,
            @RequestParam(required = false) String since,
            @RequestAttribute(name = AdminDoor.OWNED_BY, required = false) String ownedBy) {
        Issuer owner = lookup.issuer(issuer);
        journal.flush(); // what was decided a moment ago is wanted most
        Instant from =
                times.ago("/since", since).orElseGet(() -> clock.instant().minus(USUAL));
        WatchClient.Progress it = watch.since(owner, lookup.client(owner, client), from, ownedBy == null);
        return new WatchView(
                it.steps().stream()
                        .map(step -> new WatchView.Step(step.done(), step.said()))
                        .toList(),
                it.next().map(Views::fix).orElse(null),
                it.received().stream().map(Views::decision).toList(),
                it.admitted(),
                clock.instant());
    }
}
