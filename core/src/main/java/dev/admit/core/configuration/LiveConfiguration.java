package dev.admit.core.configuration;

import dev.admit.core.change.Republish;
import dev.admit.core.key.MasterKey;
import dev.admit.core.token.Revocations;
import dev.admit.core.trust.TrustedKeys;
import dev.admit.core.upstream.Presenting;
import java.util.Objects;
import java.util.concurrent.atomic.AtomicReference;
import java.util.function.Predicate;
import java.util.function.Supplier;

/** The configuration in force: one immutable snapshot behind one reference. */
public final class LiveConfiguration implements Supplier<Configuration>, Republish.Held {
    private final AtomicReference<Configuration> current = new AtomicReference<>(Configuration.EMPTY);
    private final StoredConfiguration.Source source;
    private final Compile compile;
    private final ThreadLocal<Boolean> held = new ThreadLocal<>();

    public LiveConfiguration(
            StoredConfiguration.Source source,
            MasterKey masterKey,
            Revocations revocations,
            TrustedKeys trusted,
            Presenting presenting,
            Predicate<String> clientIsOn) {
        this.source = source;
        this.compile = new Compile(masterKey, revocations, trusted, presenting, clientIsOn);
    }

    @Override
    public Configuration get() {
        return Objects.requireNonNull(current.get()); // never without one: it starts with an empty one
    }

    // One at a time, so that a reading made earlier never replaces one made later.
    @Override
    public void republish() {
        if (held.get() == null) republishNow();
    }

    @Override
    public <T> T held(Supplier<T> work) {
        held.set(true);
        try {
            return work.get();
        } finally {
            held.remove();
        }
    }

    private synchronized void republishNow() {
        current.set(compile.compile(source.read(), get().serial() + 1));
    }
}
