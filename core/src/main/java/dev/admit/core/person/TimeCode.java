package dev.admit.core.person;

import dev.admit.core.change.RandomBits;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.MessageDigest;
import java.time.Instant;
import java.util.OptionalLong;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;
import org.apache.commons.codec.binary.Base32;

/**
 * Codes that change with the time (RFC 6238): six digits, steps of 30 seconds, HMAC-SHA-1, as every authenticator has
 * them.
 */
public final class TimeCode {
    private static final int STEP_SECONDS = 30;
    /** RFC 6238 §5.2: one step to either side, for clocks that differ. */
    private static final int WINDOW = 1;

    private TimeCode() {}

    /** 160 random bits (RFC 4226 §4). */
    public static byte[] newSeed() {
        return RandomBits.bytes(20);
    }

    /** @return the time step that the code is of; empty when it is of none that is near */
    public static OptionalLong stepOf(String code, byte[] seed, Instant now) {
        long current = now.getEpochSecond() / STEP_SECONDS;
        OptionalLong found = OptionalLong.empty();
        for (long step = current - WINDOW; step <= current + WINDOW; step++) {
            if (MessageDigest.isEqual(
                    at(seed, step).getBytes(StandardCharsets.US_ASCII), code.getBytes(StandardCharsets.US_ASCII)))
                found = OptionalLong.of(step);
        }
        return found;
    }

    public static String at(byte[] seed, Instant time) {
        return at(seed, time.getEpochSecond() / STEP_SECONDS);
    }

    /** RFC 4226 §5.3. */
    private static String at(byte[] seed, long step) {
        try {
            Mac mac = Mac.getInstance("HmacSHA1");
            mac.init(new SecretKeySpec(seed, "HmacSHA1"));
            byte[] hash = mac.doFinal(ByteBuffer.allocate(8).putLong(step).array());
            int binary = ByteBuffer.wrap(hash, hash[hash.length - 1] & 0xf, 4).getInt() & 0x7fffffff;
            return "%06d".formatted(binary % 1_000_000);
        } catch (GeneralSecurityException everyJavaHasIt) {
            throw new IllegalStateException(everyJavaHasIt);
        }
    }

    /** RFC 4648 §6, without padding: how authenticators take a seed. */
    public static String base32(byte[] seed) {
        return Base32.builder().get().encodeToString(seed).replace("=", "");
    }
}
