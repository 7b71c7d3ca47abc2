package dev.admit.store;

/** The database did not do what was asked: the disk is full, the file is damaged. Nothing was half-written. */
public final class StoreFault extends RuntimeException {
    /** @param doing what was tried, such as {@code writing a batch} */
    public StoreFault(String doing, Throwable cause) {
        super("The database failed while " + doing + ": " + cause.getMessage(), cause);
    }

    /** Whether there was no room to write. */
    public boolean isDiskFull() {
        return getMessage().contains("SQLITE_FULL");
    }
}
