package dev.admit.core.token;

import java.util.concurrent.locks.StampedLock;
import java.util.function.Function;

/**
 * Orders minting against withdrawing. A token's id is drawn before what it leans on is read, and a withdrawal draws its
 * cut-off while no such reading is under way; so a token that leaned on what was withdrawn always has an id before the
 * cut-off, and one that leans on a later approval never has.
 */
public final class MintingOrder {
    private final StampedLock lock = new StampedLock();
    private final TokenIds ids;

    public MintingOrder(TokenIds ids) {
        this.ids = ids;
    }

    /**
     * Runs a reading of approvals and the like, beside other readings.
     *
     * @param read gets the token's id
     */
    public <T> T minting(Function<TokenId, T> read) {
        long stamp = lock.readLock();
        try {
            return read.apply(ids.next());
        } finally {
            lock.unlockRead(stamp);
        }
    }

    /**
     * Runs a withdrawal alone.
     *
     * @param write gets the cut-off: every token with an earlier id is meant
     */
    public <T> T withdrawing(Function<TokenId, T> write) {
        long stamp = lock.writeLock();
        try {
            return write.apply(ids.next());
        } finally {
            lock.unlockWrite(stamp);
        }
    }
}
