package dev.admit.server;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.security.KeyStore;
import java.util.Optional;
import org.eclipse.jetty.util.ssl.SslContextFactory;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.boot.ssl.pem.PemSslStore;
import org.springframework.boot.ssl.pem.PemSslStoreBundle;
import org.springframework.boot.ssl.pem.PemSslStoreDetails;

/** Certificate and key from PEM files, for both ports; read again when the files change, while connections go on. */
public final class TlsFiles {
    private static final Logger LOG = LoggerFactory.getLogger(TlsFiles.class);
    private final Path certificate;
    private final Path key;
    private final SslContextFactory.Server factory = new SslContextFactory.Server();
    private @Nullable FileTime readAt;

    private TlsFiles(Path certificate, Path key) {
        this.certificate = certificate;
        this.key = key;
    }

    /** @throws Settings.Senseless when they hold no certificate with its key */
    static Optional<TlsFiles> of(Settings settings) {
        if (settings.tlsCertificate().isEmpty()) return Optional.empty();
        TlsFiles files =
                new TlsFiles(settings.tlsCertificate().get(), settings.tlsKey().orElseThrow());
        try {
            files.readAt = files.changedAt();
            files.factory.setKeyStore(files.load());
            files.factory.setKeyStorePassword("");
            files.factory.setSniRequired(false);
            files.factory.setIncludeProtocols("TLSv1.3", "TLSv1.2");
        } catch (IOException | RuntimeException unusable) {
            throw new Settings.Senseless(
                    ("--tls-certificate %s and --tls-key %s hold no certificate with its private key (%s). Give PEM "
                                    + "files, the key without a passphrase.")
                            .formatted(files.certificate, files.key, unusable.getMessage()));
        }
        return Optional.of(files);
    }

    SslContextFactory.Server factory() {
        return factory;
    }

    private @Nullable KeyStore load() {
        PemSslStoreDetails details = PemSslStoreDetails.forCertificate("file:" + certificate.toAbsolutePath())
                .withPrivateKey("file:" + key.toAbsolutePath())
                .withAlias("admit");
        return new PemSslStoreBundle(PemSslStore.load(details), null).getKeyStore();
    }

    private FileTime changedAt() throws IOException {
        FileTime one = Files.getLastModifiedTime(certificate);
        FileTime other = Files.getLastModifiedTime(key);
        return one.compareTo(other) > 0 ? one : other;
    }

    /** Looks whether the files changed. What cannot be used is told, and the one in use goes on. */
    void refresh() {
        try {
            FileTime now = changedAt();
            if (now.equals(readAt)) return;
            KeyStore fresh = load();
            factory.reload(it -> it.setKeyStore(fresh));
            readAt = now;
            LOG.info("the certificate in {} is in use from now on", certificate);
        } catch (Exception unusable) {
            LOG.error("the certificate in {} cannot be used; the one before stays in use", certificate, unusable);
        }
    }
}
