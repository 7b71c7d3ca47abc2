package dev.admit.core.audit;

import dev.admit.core.key.MasterKey;
import dev.admit.core.key.SigningFault;
import java.nio.charset.StandardCharsets;
import java.util.Optional;

/**
 * Where an issuer's audit begins and ends. Stored sealed under the master key, which lies outside the database, so that
 * a person who writes to the database cannot take lines off the end, or compute the whole chain anew.
 *
 * @param first the line before the first that is still kept: the start, or the last one that was let go after its time
 * @param last the line that the next one follows
 */
public record Chain(Link first, Link last) {

    /** @param seq 0 before the first line */
    public record Link(long seq, String hash) {}

    static final Chain EMPTY = new Chain(new Link(0, AuditLine.START), new Link(0, AuditLine.START));

    Chain endingWith(AuditLine line) {
        return new Chain(first, new Link(line.seq(), line.hash()));
    }

    Chain beginningAfter(AuditLine line) {
        return new Chain(new Link(line.seq(), line.hash()), last);
    }

    byte[] sealWith(MasterKey masterKey, String issuerId) {
        String text = first.seq() + " " + first.hash() + " " + last.seq() + " " + last.hash();
        return masterKey.seal(text.getBytes(StandardCharsets.US_ASCII), "audit of " + issuerId);
    }

    /** @throws SigningFault when it was sealed with another master key or altered */
    static Chain unseal(Optional<byte[]> sealed, MasterKey masterKey, String issuerId) {
        if (sealed.isEmpty()) return EMPTY;
        String[] parts =
                new String(masterKey.open(sealed.get(), "audit of " + issuerId), StandardCharsets.US_ASCII).split(" ");
        return new Chain(new Link(Long.parseLong(parts[0]), parts[1]), new Link(Long.parseLong(parts[2]), parts[3]));
    }
}
