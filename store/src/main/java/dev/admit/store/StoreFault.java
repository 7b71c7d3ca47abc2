package dev.admit.store;

import org.jspecify.annotations.Nullable;

/** The database did not do what was asked: the disk is full, the file is damaged. Nothing was half-written. */
public final class StoreFault extends RuntimeException {
    /** @param doing what was tried, such as {@code writing a batch} */
    public StoreFault(String doing, @Nullable Throwable cause) {
        super(
                "The database failed while " + doing + ": " + (cause == null ? "no cause given" : cause.getMessage()),
                cause);
    }

    /** Whether there was no room to write. */
    public boolean isDiskFull() {
        return String.valueOf(getMessage()).contains("SQLITE_FULL");
    }
}
