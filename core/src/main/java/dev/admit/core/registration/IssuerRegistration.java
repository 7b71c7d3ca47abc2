package dev.admit.core.registration;

import dev.admit.core.audit.Audit;
import dev.admit.core.change.Actor;
import dev.admit.core.change.Change;
import dev.admit.core.change.FieldFault;
import dev.admit.core.change.Fields;
import dev.admit.core.change.Ids;
import dev.admit.core.change.Republish;
import dev.admit.core.change.Transactions;
import dev.admit.core.key.MasterKey;
import dev.admit.core.key.SigningKey;
import dev.admit.core.key.SigningKeys;
import dev.admit.core.registry.Issuer;
import dev.admit.core.registry.Issuers;
import java.net.URI;
import java.time.Clock;
import java.util.Set;

/** Sets up issuers. */
public final class IssuerRegistration {
    /** First segments of the service's own addresses, which no issuer can take. */
    private static final Set<String> RESERVED =
            Set.of("admin", "console", "health", "ready", "metrics", "assets", "static", "error", "catalogue", "openapi");

    private final Transactions transactions;
    private final Issuers issuers;
    private final SigningKeys keys;
    private final MasterKey masterKey;
    private final Audit audit;
    private final Republish live;
    private final Clock clock;
    private final URI publicUrl;

    public IssuerRegistration(Transactions transactions, Issuers issuers, SigningKeys keys, MasterKey masterKey, Audit audit, Republish live,
                              Clock clock, URI publicUrl) {
        this.transactions = transactions;
        this.issuers = issuers;
        this.keys = keys;
        this.masterKey = masterKey;
        this.audit = audit;
        this.live = live;
        this.clock = clock;
        this.publicUrl = publicUrl;
    }

    /** @param title what people read; the name when empty */
    public record Wanted(String name, String title) {}

    /** Makes an issuer with its first signing key; its metadata answers when this returns. */
    public Change<Issuer> create(Wanted wanted, Actor by) {
        Fields fields = new Fields();
        String name = fields.name("/name", wanted.name());
        String title = fields.line("/title", wanted.title(), name, Fields.TEXT_LENGTH);
        if (RESERVED.contains(name)) {
            fields.fault("/name", "a name that is not an address of the service itself", Fields.quoted(name), "Choose another name.");
        }
        if (fields.faulty()) return new Change.Invalid<>(fields.faults());

        Issuer issuer = new Issuer(Ids.random("iss_"), name, title, Issuer.urlOf(publicUrl, name), 0, 1, clock.instant());
        SigningKey key = SigningKey.generate();
        Change<Issuer> change = transactions.inOne(() -> {
            if (issuers.named(name).isPresent()) {
                return new Change.Taken<>(new FieldFault("/name", "a name no issuer here has", Fields.quoted(name), "Choose another name."));
            }
            issuers.insert(issuer);
            keys.insert(new SigningKeys.Kept(key.kid(), issuer.id(), key.sealWith(masterKey), clock.millis()));
            audit.added(by, issuer.id(), "issuer.added", name, issuer);
            return new Change.Made<>(issuer, fields.notes());
        });
        if (change instanceof Change.Made<Issuer>) live.republish();
        return change;
    }
}
