package dev.admit.server;

import dev.admit.core.person.PasswordHashing;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import org.springframework.security.crypto.argon2.Argon2PasswordEncoder;

/**
 * Argon2id (RFC 9106) with 19 MiB and two passes. So few at once, and with rests, that a flood of sign-ins leaves most
 * of the processors to tokens, and so few waiting that it does not fill the memory.
 */
final class Argon2 implements PasswordHashing {
    private static final int SALT = 16;
    private static final int HASH = 32;
    private static final int KIBIBYTES = 19 * 1024;
    private static final int PASSES = 2;
    private static final long PATIENCE_SECONDS = 10;
    /**
     * Of random bytes that were kept nowhere, with the same parameters: made once for all, because every start would
     * wait for it.
     */
    private static final String NOBODYS =
            "$argon2id$v=19$m=19456,t=2,p=1$pdVh+HK7386jYOLSdCLJNg$PQ2BFh+lcFVQrZE7rGOT9neLjcL5YUA1k1jlyr7c27s";

    private final Argon2PasswordEncoder encoder = new Argon2PasswordEncoder(SALT, HASH, 1, KIBIBYTES, PASSES);
    private final Semaphore atOnce =
            new Semaphore(Math.max(1, Runtime.getRuntime().availableProcessors() / 2), true);
    private final Semaphore waiting = new Semaphore(200);

    @Override
    public String hash(String password) {
        return inTurn(() -> encoder.encode(password));
    }

    @Override
    public boolean matches(String password, String hash) {
        return inTurn(() -> encoder.matches(password, hash));
    }

    @Override
    public String nobodys() {
        return NOBODYS;
    }

    private interface Work<T> {
        T run();
    }

    /**
     * While others wait, the turn goes on resting as long as it worked: on few processors half of one is enough for a
     * flood.
     */
    private void rest(long worked) throws InterruptedException {
        if (atOnce.hasQueuedThreads()) TimeUnit.NANOSECONDS.sleep(Math.min(worked, TimeUnit.MILLISECONDS.toNanos(200)));
    }

    private <T> T inTurn(Work<T> work) {
        if (!waiting.tryAcquire()) throw new Busy();
        try {
            if (!atOnce.tryAcquire(PATIENCE_SECONDS, TimeUnit.SECONDS)) throw new Busy();
            long begun = System.nanoTime();
            try {
                return work.run();
            } finally {
                rest(System.nanoTime() - begun);
                atOnce.release();
            }
        } catch (InterruptedException stopping) {
            Thread.currentThread().interrupt();
            throw new Busy();
        } finally {
            waiting.release();
        }
    }
}
