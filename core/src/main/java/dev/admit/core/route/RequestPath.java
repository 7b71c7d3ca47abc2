package dev.admit.core.route;

import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;

/**
 * The path of a request, normalised once: what is matched against the routes is what is forwarded.
 *
 * @param segments decoded; an empty last one stands for a trailing slash
 * @param encoded the same path for the wire, with one spelling for each character (RFC 3986 §6.2.2)
 */
public record RequestPath(List<String> segments, String encoded) {
    /** What may stand in a segment as it is (RFC 3986 §3.3), but for ; whose parameters backends read differently. */
    private static final boolean[] PLAIN = new boolean[128];

    static {
        for (char c : "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789-._~!$&'()*+,=:@".toCharArray())
            PLAIN[c] = true;
    }

    private static final int LONGEST = 4000;

    public sealed interface Reading {
        record Good(RequestPath path) implements Reading {}

        /**
         * A path that the gateway and an upstream could read differently.
         *
         * @param received which trick it was
         */
        record Unsafe(String received) implements Reading {}
    }

    /** @param raw the path as it came on the request line, without the query */
    public static Reading read(String raw) {
        if (raw.isEmpty() || raw.charAt(0) != '/') return new Reading.Unsafe("a path that does not begin with /");
        if (raw.length() > LONGEST) return new Reading.Unsafe("a path of more than " + LONGEST + " characters");
        List<String> segments = new ArrayList<>(6);
        StringBuilder encoded = null; // only made when the spelling changes
        int start = 1;
        for (int i = 1; i <= raw.length(); i++) {
            if (i < raw.length() && raw.charAt(i) != '/') {
                char c = raw.charAt(i);
                if (c == '%') {
                    if (encoded == null) encoded = new StringBuilder(raw.length());
                } else if (!isPlain(c)) {
                    return new Reading.Unsafe(nameOf(c));
                }
                continue;
            }
            String segment = raw.substring(start, i);
            boolean last = i == raw.length();
            if (segment.isEmpty() && !last) return new Reading.Unsafe("a doubled slash");
            if (segment.indexOf('%') >= 0) {
                switch (decode(segment)) {
                    case Decoded.Unsafe(String received) -> {
                        return new Reading.Unsafe(received);
                    }
                    case Decoded.Good(String decoded) -> segment = decoded;
                }
            }
            if (segment.equals(".") || segment.equals("..")) return new Reading.Unsafe("a dot segment");
            if (!(last && segment.isEmpty() && raw.length() == 1)) segments.add(segment);
            start = i + 1;
        }
        return new Reading.Good(new RequestPath(segments, encoded == null ? raw : encode(segments, encoded)));
    }

    private sealed interface Decoded {
        record Good(String text) implements Decoded {}

        record Unsafe(String received) implements Decoded {}
    }

    private static Decoded decode(String segment) {
        byte[] bytes = new byte[segment.length()];
        int n = 0;
        for (int i = 0; i < segment.length(); i++) {
            char c = segment.charAt(i);
            if (c != '%') {
                bytes[n++] = (byte) c;
                continue;
            }
            int high = i + 2 < segment.length() ? Character.digit(segment.charAt(i + 1), 16) : -1;
            int low = i + 2 < segment.length() ? Character.digit(segment.charAt(i + 2), 16) : -1;
            if (high < 0 || low < 0) return new Decoded.Unsafe("a % without two hexadecimal digits");
            int value = high << 4 | low;
            if (value == '/') return new Decoded.Unsafe("an encoded slash");
            if (value == '%') return new Decoded.Unsafe("an encoded percent sign, which could be decoded twice");
            if (value < 0x80 && value != ' ' && !isPlain((char) value) && "\"<>^`{}|[]#?".indexOf(value) < 0) {
                return new Decoded.Unsafe(nameOf((char) value));
            }
            bytes[n++] = (byte) value;
            i += 2;
        }
        try {
            return new Decoded.Good(StandardCharsets.UTF_8
                    .newDecoder()
                    .decode(ByteBuffer.wrap(bytes, 0, n))
                    .toString());
        } catch (CharacterCodingException notUtf8) {
            return new Decoded.Unsafe("encoded bytes that are no UTF-8");
        }
    }

    /**
     * @param segments decoded.
     * @return them as one path for the wire
     */
    static String encoded(List<String> segments) {
        return segments.isEmpty() ? "/" : encode(segments, new StringBuilder());
    }

    private static String encode(List<String> segments, StringBuilder out) {
        for (String segment : segments) {
            out.append('/');
            for (byte b : segment.getBytes(StandardCharsets.UTF_8)) {
                char c = (char) (b & 0xff);
                if (c < 0x80 && isPlain(c)) out.append(c);
                else out.append('%').append(HEX.charAt(c >> 4)).append(HEX.charAt(c & 15));
            }
        }
        return out.toString();
    }

    private static final String HEX = "0123456789ABCDEF";

    private static boolean isPlain(char c) {
        return c < 128 && PLAIN[c];
    }

    private static String nameOf(char c) {
        return switch (c) {
            case '\\' -> "a backslash";
            case ';' -> "a path parameter (;)";
            case 0 -> "a NUL";
            default -> c < 0x20 || c == 0x7f ? "a control character" : "the bare character U+%04X".formatted((int) c);
        };
    }
}
