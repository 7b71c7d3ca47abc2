package dev.admit.server;

import dev.admit.store.Database;
import dev.admit.store.SqliteSettings;
import java.net.URI;
import java.util.Optional;

/**
 * What issuer URLs begin with: decided on the first start and kept with the data, so that no later port renames an
 * issuer.
 */
final class PublicUrl {
    private static final String NAME = "public_url";

    private PublicUrl() {}

    static URI settle(Settings settings, Database database) {
        SqliteSettings kept = new SqliteSettings(database);
        Optional<URI> before = kept.find(NAME).map(URI::create);
        if (before.isPresent()) {
            if (settings.publicUrl()
                    .filter(wanted -> !wanted.equals(before.get()))
                    .isPresent()) {
                throw new Settings.Senseless(
                        ("The issuers in %s have URLs under %s, which clients and tokens hold; --public-url %s "
                                        + "would rename "
                                        + "them. Leave the option out, or use another data folder.")
                                .formatted(
                                        settings.data(),
                                        before.get(),
                                        settings.publicUrl().get()));
            }
            return before.get();
        }
        URI url =
                settings.publicUrl().orElseGet(() -> URI.create(settings.scheme() + "://127.0.0.1:" + settings.port()));
        kept.put(NAME, url.toString());
        return url;
    }
}
