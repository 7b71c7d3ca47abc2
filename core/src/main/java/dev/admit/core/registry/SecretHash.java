package dev.admit.core.registry;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;

/** The SHA-256 of a secret that Admit made with 256 random bits; at that length a slow hash adds nothing. */
public final class SecretHash {
    private final byte[] bytes;

    private SecretHash(byte[] bytes) {
        this.bytes = bytes;
    }

    /** From the 32 bytes that {@link #bytes()} gave. */
    public static SecretHash stored(byte[] bytes) {
        if (bytes.length != 32) throw new IllegalArgumentException("a SHA-256 has 32 bytes, not " + bytes.length);
        return new SecretHash(bytes.clone());
    }

    public static SecretHash of(String secret) {
        try {
            return new SecretHash(MessageDigest.getInstance("SHA-256").digest(secret.getBytes(StandardCharsets.UTF_8)));
        } catch (NoSuchAlgorithmException everyJavaHasIt) {
            throw new IllegalStateException(everyJavaHasIt);
        }
    }

    public byte[] bytes() {
        return bytes.clone();
    }

    /** Compares in constant time. */
    public boolean matches(SecretHash other) {
        return MessageDigest.isEqual(bytes, other.bytes);
    }

    @Override
    public boolean equals(Object other) {
        return other instanceof SecretHash hash && matches(hash);
    }

    @Override
    public int hashCode() {
        return java.util.Arrays.hashCode(bytes);
    }

    @Override
    public String toString() {
        return "SecretHash[hidden]";
    }
}
