package dev.admit.acceptance;

import java.nio.ByteBuffer;
import java.time.Instant;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;

/** An authenticator of its own (RFC 6238), so that the service is not tested against itself. */
final class TimeCodes {
    private TimeCodes() {}

    static String now(String base32) throws Exception {
        ByteBuffer seed = ByteBuffer.allocate(base32.length() * 5 / 8);
        int bits = 0;
        int held = 0;
        for (char c : base32.toCharArray()) {
            held = held << 5 | "ABCDEFGHIJKLMNOPQRSTUVWXYZ234567".indexOf(c);
            bits += 5;
            if (bits >= 8) seed.put((byte) (held >>> (bits -= 8)));
        }
        Mac mac = Mac.getInstance("HmacSHA1");
        mac.init(new SecretKeySpec(seed.array(), "HmacSHA1"));
        byte[] hash = mac.doFinal(ByteBuffer.allocate(8)
                .putLong(Instant.now().getEpochSecond() / 30)
                .array());
        int at = hash[19] & 15;
        return "%06d".formatted((ByteBuffer.wrap(hash, at, 4).getInt() & 0x7fffffff) % 1_000_000);
    }
}
