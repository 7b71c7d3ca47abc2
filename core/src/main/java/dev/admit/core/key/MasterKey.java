package dev.admit.core.key;

import dev.admit.core.change.RandomBits;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import javax.crypto.Cipher;
import javax.crypto.Mac;
import javax.crypto.SecretKey;
import javax.crypto.spec.GCMParameterSpec;
import javax.crypto.spec.SecretKeySpec;

/** Seals what must not be read from the database: AES-256-GCM under a key that lives outside it. */
public final class MasterKey {
    private static final int NONCE = 12;
    private static final int TAG_BITS = 128;
    private final SecretKey key;

    /** @param bytes 32 of them */
    public MasterKey(byte[] bytes) {
        if (bytes.length != 32) throw new IllegalArgumentException("a master key has 32 bytes, not " + bytes.length);
        this.key = new SecretKeySpec(bytes, "AES");
    }

    public static byte[] generate() {
        return RandomBits.bytes(32);
    }

    /** @param name what is sealed; it opens under this name only, so that two sealed values cannot be swapped */
    public byte[] seal(byte[] plain, String name) {
        byte[] nonce = RandomBits.bytes(NONCE);
        try {
            Cipher cipher = cipher(Cipher.ENCRYPT_MODE, nonce, name);
            return ByteBuffer.allocate(NONCE + plain.length + TAG_BITS / 8)
                    .put(nonce)
                    .put(cipher.doFinal(plain))
                    .array();
        } catch (GeneralSecurityException broken) {
            throw new SigningFault("sealing " + name + " did not work", broken);
        }
    }

    /** @throws SigningFault when it was sealed with another master key, under another name, or was changed */
    public byte[] open(byte[] sealed, String name) {
        try {
            Cipher cipher = cipher(Cipher.DECRYPT_MODE, java.util.Arrays.copyOf(sealed, NONCE), name);
            return cipher.doFinal(sealed, NONCE, sealed.length - NONCE);
        } catch (GeneralSecurityException | IllegalArgumentException other) {
            throw new SigningFault(
                    "the master key does not open " + name + ": it is another one, or the record was changed", other);
        }
    }

    /**
     * A keyed hash (HMAC-SHA256), for what others carry and may read but not make.
     *
     * @param name what it is for: under another name the same text has another hash
     * @return 32 bytes
     */
    public byte[] mac(String text, String name) {
        try {
            byte[] own = mac(key.getEncoded(), "mac of " + name);
            return mac(own, text);
        } catch (GeneralSecurityException everyJavaHasIt) {
            throw new IllegalStateException(everyJavaHasIt);
        }
    }

    private static byte[] mac(byte[] under, String text) throws GeneralSecurityException {
        Mac mac = Mac.getInstance("HmacSHA256");
        mac.init(new SecretKeySpec(under, "HmacSHA256"));
        return mac.doFinal(text.getBytes(StandardCharsets.UTF_8));
    }

    private Cipher cipher(int mode, byte[] nonce, String name) throws GeneralSecurityException {
        Cipher cipher = Cipher.getInstance("AES/GCM/NoPadding");
        cipher.init(mode, key, new GCMParameterSpec(TAG_BITS, nonce));
        cipher.updateAAD(name.getBytes(StandardCharsets.UTF_8));
        return cipher;
    }

    @Override
    public String toString() {
        return "MasterKey[hidden]";
    }
}
