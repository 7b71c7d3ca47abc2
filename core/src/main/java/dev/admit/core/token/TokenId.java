package dev.admit.core.token;

import java.time.Instant;
import java.util.Optional;
import java.util.UUID;

/**
 * The {@code jti} of a token: a UUIDv7 (RFC 9562 §5.7) whose upper half grows with every token of this authorization
 * server, so that "minted before" is a comparison even within one millisecond.
 */
public record TokenId(UUID value) {

    public TokenId {
        if (value.version() != 7) throw new IllegalArgumentException("a token id is a UUIDv7");
    }

    /** The time-ordered half. */
    public long order() {
        return value.getMostSignificantBits();
    }

    /** When it was minted, in milliseconds, by the order of the one who minted it. */
    public Instant time() {
        return Instant.ofEpochMilli(order() >>> 16);
    }

    /** Empty when the text is no UUIDv7. */
    public static Optional<TokenId> read(String text) {
        try {
            if (text == null || text.length() != 36) return Optional.empty();
            return Optional.of(new TokenId(UUID.fromString(text)));
        } catch (IllegalArgumentException none) {
            return Optional.empty();
        }
    }

    /**
     * For a token of another authorization server, which has no id that could be compared: as if minted just before its
     * second, so that a withdrawal within that second takes it along.
     *
     * @param issuedAt in epoch seconds
     * @param print by which it is told from others of that second
     */
    public static TokenId elsewhere(long issuedAt, long print) {
        long millis = Math.clamp(issuedAt, 1, (1L << 47) / 1000) * 1000 - 1;
        return new TokenId(new UUID(millis << 16 | 0x7000, 0x8000_0000_0000_0000L | print >>> 2));
    }

    @Override
    public String toString() {
        return value.toString();
    }
}
