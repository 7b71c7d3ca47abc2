package dev.admit.core.authorization;

import dev.admit.core.change.RandomBits;

/** The texts that are handed out once and kept as hashes only. */
public final class OneTimeSecret {

    private OneTimeSecret() {}

    /** 256 random bits behind a prefix by which one kind is told from another. */
    private static String text(String prefix) {
        return prefix + RandomBits.text(32);
    }

    public static String code() {
        return text("admco_");
    }

    public static String refreshToken() {
        return text("admre_");
    }

    public static String deviceCode() {
        return text("admdc_");
    }

    /** What a browser is known by. */
    public static String browser() {
        return text("");
    }

    public static boolean isRefreshToken(String text) {
        return text.startsWith("admre_");
    }
}
