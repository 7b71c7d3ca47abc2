package dev.admit.core.tries;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.time.Duration;
import java.time.Instant;
import java.util.Locale;

/**
 * Gives so many tries at a secret in a stretch of time. A try is charged before the secret is looked at, so that of
 * many at once no more are looked at than there are tries; one that was right is given back.
 */
public final class Tries {
    /** At what. */
    public enum At {
        /** The password of one account, by anybody. */
        ACCOUNT(20, Duration.ofHours(1)),
        /** The same from a browser that signed in to it before, once the account's own are spent. */
        ACCOUNT_IN_KNOWN_BROWSER(10, Duration.ofHours(1)),
        /** Passwords of any account, from one network. */
        PASSWORD_FROM_NETWORK(100, Duration.ofHours(1)),
        /** The second factor of one person, by the one who has the password. */
        TIME_CODE(10, Duration.ofHours(1)),
        /** Codes of devices, in one browser (RFC 8628 §5.1). */
        USER_CODE_IN_BROWSER(5, Duration.ofMinutes(15)),
        /** Codes of devices, from one network. */
        USER_CODE_FROM_NETWORK(20, Duration.ofMinutes(15));

        private final int most;
        private final Duration stretch;

        At(int most, Duration stretch) {
            this.most = most;
            this.stretch = stretch;
        }

        public int most() {
            return most;
        }

        public Duration stretch() {
            return stretch;
        }

        String keyOf(String whose) {
            return name().toLowerCase(Locale.ROOT).replace('_', '-') + " " + whose;
        }
    }

    /**
     * The tries that were made, in the records. A stretch of time begins with the first try, so that no turn of the
     * clock's hour gives more.
     */
    public interface Stored {
        /**
         * Adds one.
         *
         * @param stretch how long the first and this one may lie apart; otherwise this one is the first of a stretch
         */
        Made add(String whose, Instant now, Duration stretch);

        /** Takes one off, where any is left of the stretch that still goes on. */
        void takeOff(String whose, Instant now, Duration stretch);

        /** @return how many of earlier stretches were forgotten */
        int drop(Instant before);
    }

    /**
     * @param tries how many there are in the stretch that goes on
     * @param since when it began
     */
    public record Made(int tries, Instant since) {}

    private final Stored kept;
    /** Those that are known to be spent, with the begin of their stretch: the one who goes on costs no write. */
    private final Cache<String, Instant> spent = Caffeine.newBuilder()
            .maximumSize(50_000)
            .expireAfterWrite(Duration.ofHours(1))
            .build();

    public Tries(Stored kept) {
        this.kept = kept;
    }

    /**
     * Charges one try.
     *
     * @return whether there was one left
     */
    public boolean charge(At at, String whose, Instant now) {
        String key = at.keyOf(whose);
        Instant since = spent.getIfPresent(key);
        if (since != null && Duration.between(since, now).abs().compareTo(at.stretch()) < 0) return false;
        Made made = kept.add(key, now, at.stretch());
        boolean left = made.tries() <= at.most();
        if (!left) spent.put(key, made.since());
        return left;
    }

    /** The try was right. */
    public void giveBack(At at, String whose, Instant now) {
        kept.takeOff(at.keyOf(whose), now, at.stretch());
        spent.invalidate(at.keyOf(whose));
    }
}
