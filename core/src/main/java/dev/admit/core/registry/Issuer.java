package dev.admit.core.registry;

import java.net.URI;
import java.time.Instant;

/**
 * One authorization server among those that the service carries, with its own URL, keys, APIs and clients.
 *
 * @param url the issuer identifier (RFC 8414 §2): compared as an exact string wherever tokens are checked
 * @param revision the number of the present state of its routes
 * @param version grows with each change of this object; the ETag
 */
public record Issuer(
        String id,
        String name,
        String title,
        String description,
        URI url,
        IssuerSettings settings,
        long revision,
        long version,
        Instant createdAt) {

    /** What issuer identifiers on this service begin with: {@code <public url>/<name>}. */
    public static URI urlOf(URI publicUrl, String name) {
        return URI.create(publicUrl + "/" + name);
    }
}
