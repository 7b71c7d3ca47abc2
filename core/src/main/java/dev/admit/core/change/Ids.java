package dev.admit.core.change;

import java.util.concurrent.ThreadLocalRandom;

/** Makes ids: URL-safe, with a short prefix for the kind of thing. */
public final class Ids {
    private static final char[] DIGITS = "0123456789abcdefghjkmnpqrstvwxyz".toCharArray();

    private Ids() {}

    /**
     * An id with 128 random bits, for things that must not be guessed.
     *
     * @param prefix such as {@code cl_}
     */
    public static String random(String prefix) {
        return prefix + RandomBits.text(16);
    }

    /**
     * An id that sorts by the time it was made, with 60 random bits behind it that are good against clashes but not
     * against guessing: for records whose id opens nothing.
     */
    public static String timeOrdered(String prefix, long epochMillis) {
        ThreadLocalRandom random = ThreadLocalRandom.current();
        char[] out = new char[prefix.length() + 22];
        prefix.getChars(0, prefix.length(), out, 0);
        int at = prefix.length();
        for (int shift = 45; shift >= 0; shift -= 5) out[at++] = DIGITS[(int) (epochMillis >>> shift) & 31];
        long bits = random.nextLong();
        for (int i = 0; i < 12; i++, bits >>>= 5) out[at++] = DIGITS[(int) bits & 31];
        return new String(out);
    }
}
