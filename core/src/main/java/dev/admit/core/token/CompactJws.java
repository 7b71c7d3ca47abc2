package dev.admit.core.token;

import com.nimbusds.jose.util.Base64URL;
import dev.admit.core.json.StrictJson;
import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.util.Base64;
import java.util.Map;
import java.util.Optional;

/**
 * A signed token in compact form (RFC 7515 §7.1), read so that each has one spelling only: base64url without padding,
 * white space or bits left over (RFC 7515 §2, RFC 4648 §3.5), and header and payload as strict JSON objects. Nothing of
 * it is verified yet.
 *
 * @param signingInput what the signature is of (RFC 7515 §5.2)
 */
public record CompactJws(
        Map<String, Object> header,
        Map<String, Object> payload,
        byte[] signingInput,
        Base64URL signature,
        Base64URL encodedHeader) {

    /** Empty when the text is no such token, or another spelling of one. */
    public static Optional<CompactJws> read(String text) {
        int first = text.indexOf('.');
        int last = text.lastIndexOf('.');
        if (first < 0 || text.indexOf('.', first + 1) != last || last == first) return Optional.empty();
        Optional<Map<String, Object>> header = bytes(text, 0, first).flatMap(CompactJws::object);
        Optional<Map<String, Object>> payload = bytes(text, first + 1, last).flatMap(CompactJws::object);
        Optional<byte[]> signature = bytes(text, last + 1, text.length());
        if (header.isEmpty() || payload.isEmpty() || signature.isEmpty()) return Optional.empty();
        return Optional.of(new CompactJws(
                header.get(),
                payload.get(),
                text.substring(0, last).getBytes(StandardCharsets.US_ASCII),
                new Base64URL(text.substring(last + 1)),
                new Base64URL(text.substring(0, first))));
    }

    private static Optional<byte[]> bytes(String text, int from, int to) {
        String part = text.substring(from, to);
        if (part.indexOf('=') >= 0) return Optional.empty(); // Java's decoder would take padding
        try {
            byte[] bytes = Base64.getUrlDecoder().decode(part);
            // The last character may have bits that stand for nothing; then several spell the same.
            return Base64.getUrlEncoder().withoutPadding().encodeToString(bytes).equals(part)
                    ? Optional.of(bytes)
                    : Optional.empty();
        } catch (IllegalArgumentException notInTheAlphabet) {
            return Optional.empty();
        }
    }

    private static Optional<Map<String, Object>> object(byte[] bytes) {
        try {
            return StrictJson.object(StandardCharsets.UTF_8
                    .newDecoder()
                    .decode(ByteBuffer.wrap(bytes))
                    .toString());
        } catch (CharacterCodingException notUtf8) {
            return Optional.empty();
        }
    }

    @Override
    public String toString() {
        return "CompactJws[hidden]";
    }
}
