package dev.admit.core.authorization;

import java.security.SecureRandom;
import java.util.Base64;

/** The texts that are handed out once and kept as hashes only. */
public final class OneTimeSecret {
    private static final SecureRandom RANDOM = new SecureRandom();

    private OneTimeSecret() {}

    /** 256 random bits behind a prefix by which one kind is told from another. */
    private static String text(String prefix) {
        byte[] bytes = new byte[32];
        RANDOM.nextBytes(bytes);
        return prefix + Base64.getUrlEncoder().withoutPadding().encodeToString(bytes);
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
