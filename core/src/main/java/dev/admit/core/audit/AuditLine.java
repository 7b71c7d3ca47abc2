package dev.admit.core.audit;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Instant;
import java.util.HexFormat;
import java.util.Optional;

/**
 * One line of an issuer's audit: who changed what, from where, with what it was before and what it is after; or a token
 * that was issued or ended.
 *
 * @param seq 1 for the issuer's first line, then without a gap
 * @param what kind of thing and what happened to it: {@code client.changed}, {@code token.issued}
 * @param on the name of the thing
 * @param before what the change replaced, as JSON; empty text when there was nothing
 * @param after what is there since, as JSON; empty text when it is gone
 * @param token which token it is about, of a token event
 * @param hash of the line before this one and of this line's {@link #text}: the one who alters or removes a line breaks
 *     every later one
 */
public record AuditLine(
        String issuerId,
        long seq,
        Instant at,
        String what,
        String who,
        String whoId,
        String from,
        String on,
        String before,
        String after,
        Optional<Token> token,
        String hash) {

    /**
     * @param id its {@code jti}
     * @param expiresAt when it expires by itself
     */
    public record Token(String id, Instant expiresAt) {}

    /** What the hash chain starts from: the hash before the first line. */
    static final String START = "0".repeat(64);

    static AuditLine after(Chain.Link last, Entry entry) {
        AuditLine open = new AuditLine(
                entry.issuerId(),
                last.seq() + 1,
                entry.at(),
                entry.what(),
                entry.who(),
                entry.whoId(),
                entry.from(),
                entry.on(),
                entry.before(),
                entry.after(),
                entry.token(),
                "");
        return open.closed(hash(last.hash(), open.text()));
    }

    /** A line before it has its place in the chain; the same members. */
    public record Entry(
            String issuerId,
            Instant at,
            String what,
            String who,
            String whoId,
            String from,
            String on,
            String before,
            String after,
            Optional<Token> token) {}

    private AuditLine closed(String with) {
        return new AuditLine(issuerId, seq, at, what, who, whoId, from, on, before, after, token, with);
    }

    /** Whether it follows the line with that hash, unaltered. */
    boolean follows(Chain.Link last) {
        return seq == last.seq() + 1 && hash.equals(hash(last.hash(), text()));
    }

    /**
     * The line as one JSON object without its hash, always with the same members in the same order: what the hash is
     * of.
     */
    public String text() {
        // Written by hand: every token that is issued has a line, and the library's writer would cost more than the
        // hash.
        StringBuilder text = new StringBuilder(400).append("{\"issuer\":");
        quote(issuerId, text).append(",\"seq\":").append(seq).append(",\"at\":");
        quote(at.toString(), text).append(",\"what\":");
        quote(what, text).append(",\"who\":");
        quote(who, text).append(",\"who_id\":");
        quote(whoId, text).append(",\"from\":");
        quote(from, text).append(",\"on\":");
        quote(on, text).append(",\"before\":");
        quote(before, text).append(",\"after\":");
        quote(after, text).append(",\"token\":");
        quote(token.map(Token::id).orElse(""), text).append(",\"expires_at\":");
        return quote(token.map(it -> it.expiresAt().toString()).orElse(""), text)
                .append('}')
                .toString();
    }

    /** RFC 8259 §7. */
    private static StringBuilder quote(String value, StringBuilder to) {
        to.append('"');
        for (int i = 0; i < value.length(); i++) {
            char c = value.charAt(i);
            if (c == '"' || c == '\\') to.append('\\').append(c);
            else if (c < 0x20)
                to.append("\\u00").append(Character.forDigit(c >> 4, 16)).append(Character.forDigit(c & 15, 16));
            else to.append(c);
        }
        return to.append('"');
    }

    /**
     * SHA-256 over the hash before it, as 64 hexadecimal digits, and the text, in UTF-8; itself in hexadecimal digits.
     */
    static String hash(String before, String text) {
        try {
            MessageDigest digest = MessageDigest.getInstance("SHA-256");
            digest.update(before.getBytes(StandardCharsets.US_ASCII));
            return HexFormat.of().formatHex(digest.digest(text.getBytes(StandardCharsets.UTF_8)));
        } catch (NoSuchAlgorithmException everyJavaHasIt) {
            throw new IllegalStateException(everyJavaHasIt);
        }
    }
}
