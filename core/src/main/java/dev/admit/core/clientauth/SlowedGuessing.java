package dev.admit.core.clientauth;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import dev.admit.core.decision.CheckResult;
import dev.admit.core.decision.Checked;
import dev.admit.core.decision.Fix;
import dev.admit.core.decision.Reason;
import java.time.Duration;
import java.util.concurrent.atomic.AtomicInteger;

/**
 * Slows the one who guesses credentials, by address and by client. Only wrong ones are counted, held back and in the
 * end turned away; the right one is always looked at and let in at once, so no stranger can lock a client out.
 */
public final class SlowedGuessing {
    /** So many wrong ones are taken for mistakes. */
    private static final int FREE = 3;

    private static final Duration STEP = Duration.ofMillis(100);
    private static final Duration LONGEST = Duration.ofSeconds(2);
    /** From so many a minute on, wrong ones from an address get one short answer, without holding anything up here. */
    private static final int MOST_OF_ADDRESS = 60;

    private static final Duration WINDOW = Duration.ofMinutes(1);

    private final Cache<String, AtomicInteger> byAddress = counters();
    private final Cache<String, AtomicInteger> byClient = counters();

    private static Cache<String, AtomicInteger> counters() {
        return Caffeine.newBuilder()
                .maximumSize(50_000)
                .expireAfterWrite(WINDOW)
                .build();
    }

    /**
     * Counts a wrong credential.
     *
     * @param said the id that came with it; may be empty
     * @param from the address that it came from
     * @return its refusal, and how long the answer waits
     */
    public <T> Checked<T> refused(String said, CheckResult.Refused refused, String from) {
        int ofAddress = one(byAddress, from);
        int wrong = said.isEmpty() ? ofAddress : Math.max(ofAddress, one(byClient, said));
        if (ofAddress > MOST_OF_ADDRESS)
            return Checked.refused(
                    refused.check(),
                    Reason.TOO_MANY_WRONG_CREDENTIALS,
                    "an address that sends few wrong credentials",
                    "one that sent many",
                    Fix.of("Wait a minute, and check the credential before the next try; the right one is "
                            + "taken at any time."));
        if (wrong <= FREE) return Checked.refused(refused);
        Duration wait = STEP.multipliedBy(1L << Math.min(wrong - FREE - 1, 10));
        return new Checked.Refused<>(refused, wait.compareTo(LONGEST) > 0 ? LONGEST : wait);
    }

    private static int one(Cache<String, AtomicInteger> counters, String of) {
        return counters.get(of, fresh -> new AtomicInteger()).incrementAndGet();
    }
}
