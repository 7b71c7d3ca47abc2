package dev.admit.core.change;

import java.util.function.Supplier;

/** Opens the one transaction in which the writes of a use case stand or fall together. */
public interface Transactions {

    /**
     * Runs the work alone among all writers; every port that it calls writes into the same transaction. The work may
     * run twice, so it must change nothing but the records. Work that comes to a {@link Change} other than one that was
     * made leaves nothing behind: a refusal halfway through a list takes back the half before it.
     *
     * @return what the work returned, once it is durable
     * @throws RuntimeException what the work threw; then nothing of it was written
     */
    <T> T inOne(Supplier<T> work);

    /**
     * Runs the work as {@link #inOne} does, and leaves nothing of it behind: what a change would come to. The work must
     * put nothing in force beside the records. Not for a piece of a larger transaction, which would keep what it wrote.
     *
     * @return what the work returned
     */
    @SuppressWarnings("unchecked") // the outcome is this very call's
    default <T> T rehearse(Supplier<T> work) {
        try {
            return inOne(() -> {
                throw new TakenBack(work.get());
            });
        } catch (TakenBack taken) {
            return (T) taken.outcome();
        }
    }
}
