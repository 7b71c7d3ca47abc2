package dev.admit.core.clientauth;

import com.github.benmanes.caffeine.cache.Caffeine;
import com.github.benmanes.caffeine.cache.LoadingCache;
import dev.admit.core.tries.Strangers;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** The clients that token requests request, read by primary key and remembered until the writer says otherwise. */
public final class KnownClients {
    private final KnownClient.Source source;
    private final Strangers strangers;
    private final LoadingCache<String, @Nullable KnownClient> known;

    @SuppressWarnings("NullAway") // a loader gives null for what is not there
    public KnownClients(KnownClient.Source source, Strangers strangers, int most) {
        this.source = source;
        this.strangers = strangers;
        this.known = Caffeine.newBuilder().maximumSize(most).build(id -> source.read(id)
                .orElse(null));
    }

    public Optional<KnownClient> find(String clientId) {
        return Optional.ofNullable(known.get(clientId));
    }

    /**
     * The same for an id that a stranger names. Once their network named many that are not there, the records are not
     * requested a while.
     */
    public Optional<KnownClient> findFor(String clientId, String address) {
        KnownClient remembered = known.getIfPresent(clientId);
        if (remembered != null) return Optional.of(remembered);
        if (!strangers.mayLookUp(address)) return Optional.empty();
        Optional<KnownClient> found = find(clientId);
        if (found.isEmpty()) strangers.missed(address);
        return found;
    }

    /** How many are remembered. */
    public long remembered() {
        return known.estimatedSize();
    }

    /**
     * Reads from the records whether the client is remembered or not, so that it takes as long as for one that is not
     * there.
     */
    public Optional<KnownClient> findAnew(String clientId) {
        return source.read(clientId);
    }

    /** To be called after a change of many. */
    public void forgetAll() {
        known.invalidateAll();
    }

    /** To be called after each change of a client, its secrets or its approvals, before that is answered. */
    public void forget(String clientId) {
        known.invalidate(clientId);
    }
}
