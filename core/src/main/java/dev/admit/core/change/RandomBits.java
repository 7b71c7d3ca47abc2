package dev.admit.core.change;

import java.security.SecureRandom;
import java.util.Base64;

/**
 * All that must not be guessed is drawn here, from the system's generator. On purpose no port: a generator that
 * somebody can put another in place of is one that an attacker can.
 */
public final class RandomBits {
    private static final SecureRandom RANDOM = new SecureRandom();

    private RandomBits() {}

    public static byte[] bytes(int length) {
        byte[] bytes = new byte[length];
        RANDOM.nextBytes(bytes);
        return bytes;
    }

    /** @return so many random bytes in the letters of base64url (RFC 4648 §5), without padding */
    public static String text(int bytes) {
        return Base64.getUrlEncoder().withoutPadding().encodeToString(bytes(bytes));
    }

    /** @return a number from 0, below {@code bound} */
    public static int below(int bound) {
        return RANDOM.nextInt(bound);
    }

    /** @return so many of these letters, each as likely as another */
    public static String letters(String of, int length) {
        StringBuilder text = new StringBuilder(length);
        for (int i = 0; i < length; i++) text.append(of.charAt(below(of.length())));
        return text.toString();
    }
}
